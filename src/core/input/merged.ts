import { SLACK } from '../tolerance.js';
import { MOST } from './actions.js';
import { type DriverOf, HOST, Intents, MOVE, checkDriver } from './intents.js';

/**
 * Several drivers as one: keyboard, pad and touch at once. An action is held as long as any of them holds it, so two keys of one action are one
 * press; of two axes the one pushed farther counts.
 * @example
 * ```ts
 * hero.drive(merged(script(rows), bot(() => ({ walk: true }))));
 * ```
 */
export function merged<Who>(...drivers: readonly DriverOf<Who>[]): DriverOf<Who> {
  drivers.forEach(checkDriver);
  const parts = drivers.map((driver) => ({ driver, into: new Intents(), next: 0, values: new Float64Array(MOST) }));
  const together = (action: number): number => {
    let most = 0;
    for (const { values } of parts) if (Math.abs(values[action]!) > Math.abs(most)) most = values[action]!;
    return most;
  };
  let last = 0;
  const holding = (start: number): void => {
    for (const { driver, values } of parts) driver.holding?.(start, values);
  };
  return {
    hasCalls: drivers.some(({ hasCalls }) => hasCalls === true),
    read(into, who) {
      // The stage went back in time, or forward.
      if (Math.abs(into.start - last) > 2 * SLACK) holding(into.start);
      last = into.until - into.from + into.start;
      for (const part of parts) {
        part.into.count = part.next = 0;
        part.into.span.set(into.span);
        part.driver.read(part.into, who);
      }
      for (;;) {
        // What comes first, of those alike of the driver named first.
        let first: (typeof parts)[number] | undefined;
        for (const part of parts) {
          if (part.next === part.into.count) continue;
          if (first === undefined || part.into.time[part.next]! < first.into.time[first.next]!) first = part;
        }
        if (first === undefined) return;
        const at = first.next++;
        const [time, action, value] = [first.into.time[at]!, first.into.action[at]!, first.into.value[at]!];
        if (action === HOST) {
          into.pushCall(time, first.into.calls[at]!);
          continue;
        }
        const before = together(action);
        first.values[action] = value;
        const after = together(action);
        if (after !== before || (action === MOVE && after !== 0)) into.push(time, action, after);
      }
    },
    fresh() {
      for (const { driver, values } of parts) {
        values.fill(0);
        driver.fresh?.();
      }
    },
    holding(start, values) {
      holding(start);
      for (let action = 0; action < MOST; action++) values[action] = together(action);
    },
    isLive: drivers.some(({ isLive }) => isLive === true),
  };
}
