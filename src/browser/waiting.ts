import { Intents, stamp, type Driver } from '../core/index.js';

/** What has happened on the page since the last tick, in order. */
export class Waiting {
  private readonly intents = new Intents();

  /** @param ms the moment on the page's clock, as its events and frames have it */
  push(ms: number, action: number, value: number): void {
    this.intents.push(stamp(ms / 1000), action, value);
  }

  /** Hands over what belongs to a tick. */
  readonly read: Driver['read'] = (into) => {
    const { intents } = this;
    let taken = 0;
    for (; taken < intents.count && intents.time[taken]! < into.until; taken++)
      into.push(intents.time[taken]!, intents.action[taken]!, intents.value[taken]!);
    intents.drop(taken);
  };

  clear(): void {
    this.intents.count = 0;
  }
}

/** Calls back when the page loses its focus or is hidden. @returns a function that ends it */
export function whenLeft(page: Window, left: (ms: number) => void): () => void {
  const onBlur = (event: Event): void => left(event.timeStamp);
  const onHidden = (event: Event): void => {
    if (page.document.visibilityState === 'hidden') left(event.timeStamp);
  };
  page.addEventListener('blur', onBlur);
  page.document.addEventListener('visibilitychange', onHidden);
  return () => {
    page.removeEventListener('blur', onBlur);
    page.document.removeEventListener('visibilitychange', onHidden);
  };
}
