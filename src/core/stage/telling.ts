import { EventQueue, type StageEvent } from '../trace/events.js';
import type { Character } from './character.js';

type Listener = (event: Readonly<StageEvent>) => void;

/** So many rounds of calls made by handlers of the calls before are followed. */
const ROUNDS = 16;

/**
 * Tells what happened, and sees to what is asked meanwhile. One rule: what a handler asks waits until all are told everything; what comes of it is told
 * next, and so on, for at most so many rounds. An error of one listener keeps nothing from the others: it reaches the caller when all is done.
 */
export class Telling {
  readonly queue = new EventQueue();
  private listeners: readonly Listener[] = [];
  private waiting: (() => void)[] = [];
  private errors: unknown[] = [];
  private telling = false;
  /** While a tick is played, calls wait as well. */
  playing = false;

  constructor(private readonly characters: readonly Character[]) {}

  /** Whether what is asked now has to wait. */
  get busy(): boolean {
    return this.telling || this.playing;
  }

  /** What the present code is called by, where that is the stage itself. */
  get by(): string {
    return this.telling ? 'an event handler' : 'what is part of a tick';
  }

  listen(listener: Listener): () => void {
    if (typeof listener !== 'function') throw new RangeError(`a listener is ${typeof listener}; it must be a function`);
    this.listeners = [...this.listeners, listener];
    return () => {
      this.listeners = this.listeners.filter((kept) => kept !== listener);
    };
  }

  /** Does what is asked, and tells what comes of it: now, or once all are told what is being told. */
  ask(act: () => void): void {
    if (this.busy) {
      this.waiting.push(act);
      return;
    }
    act();
    this.tell();
  }

  /** Forgets what was not told and not done: the tick that it belongs to has not happened. */
  drop(): void {
    this.queue.clear();
    this.waiting = [];
    this.playing = false;
  }

  /** Tells everything to everyone. */
  tell(): void {
    if (this.busy || (this.queue.count === 0 && this.waiting.length === 0)) return;
    this.telling = true;
    for (let rounds = 0; ; rounds++) {
      this.hand();
      if (this.waiting.length === 0) break;
      const { waiting } = this;
      this.waiting = [];
      if (rounds === ROUNDS) {
        this.errors.push(new Error(`event handlers called the characters ${ROUNDS} times in a row between two ticks`));
        break;
      }
      for (const act of waiting) this.attempt(act);
    }
    this.telling = false;
    if (this.errors.length > 0) this.complain();
  }

  private attempt(act: () => void): void {
    try {
      act();
    } catch (error) {
      this.errors.push(error);
    }
  }

  private complain(): void {
    const { errors } = this;
    this.errors = [];
    if (errors.length === 1) throw errors[0];
    const [first] = errors;
    throw new AggregateError(
      errors,
      `${errors.length} errors of event handlers; the first: ${first instanceof Error ? first.message : String(first)}`,
    );
  }

  /** Hands every event to whoever listens. */
  private hand(): void {
    const { queue, listeners, characters } = this;
    for (let i = 0; i < queue.count; i++) {
      const event = queue.at(i);
      // What is added from now on comes behind it.
      queue.told = i + 1;
      for (let k = 0; k < listeners.length; k++) this.call(listeners[k]!, event);
      for (let k = 0; k < characters.length; k++) {
        const character = characters[k]!;
        if (character.name !== event.who) continue;
        const handlers = character.handlersOf(event.event);
        if (handlers !== undefined) for (let n = 0; n < handlers.length; n++) this.call(handlers[n]!, event);
      }
    }
    queue.clear();
  }

  private call(listener: Listener, event: StageEvent): void {
    try {
      listener(event);
    } catch (error) {
      this.errors.push(error);
    }
  }
}
