import { EventQueue, type StageEvent } from '../trace/events.js';
import type { Cast } from './cast.js';
import type { Character, Handler } from './character.js';

/** So many rounds of calls made by handlers of the calls before are followed at one moment. */
const ROUNDS = 16;

/**
 * Tells what happened, and sees to what is asked meanwhile. One rule: what a handler asks waits until all are told everything; what comes of it is told
 * next, and so on, for at most so many rounds. An error of one listener keeps nothing from the others: it reaches the caller when all is done.
 */
export class Telling {
  readonly queue = new EventQueue();
  private listeners: readonly Handler[] = [];
  private waiting: (() => void)[] = [];
  private errors: unknown[] = [];
  private telling = false;
  /** While a tick is played, calls wait as well. */
  playing = false;

  /** Rounds of calls at the present moment, and which that is. */
  private rounds = 0;
  private moment = NaN;

  constructor(private readonly cast: Cast) {}

  /** Whether what is asked now has to wait. */
  get busy(): boolean {
    return this.telling || this.playing;
  }

  /** What the present code is called by, where that is the stage itself. */
  get by(): string {
    return this.telling ? 'an event handler' : 'what is part of a tick';
  }

  listen(listener: Handler): () => void {
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
    this.rounds = 0;
    act();
    this.tell();
    this.complain();
  }

  /** Forgets what was not told and not done: the tick that it belongs to has not happened. */
  drop(): void {
    this.queue.clear();
    this.cast.keepAll();
    this.waiting = [];
    this.errors = [];
    this.playing = false;
  }

  /** Whether there is anything to tell, or to do. */
  get isDue(): boolean {
    return this.queue.count > 0 || this.waiting.length > 0;
  }

  /** Within a tick: tells what has happened up to a moment, and does what is asked then. Errors wait for the tick's end. */
  tellAt(moment: number): void {
    if (moment !== this.moment) {
      this.moment = moment;
      this.rounds = 0;
    }
    this.playing = false;
    this.tell();
    this.playing = true;
  }

  /** Tells everything to everyone, and does what they ask meanwhile, round after round. */
  private tell(): void {
    this.telling = true;
    for (;;) {
      this.hand();
      if (this.waiting.length === 0) break;
      const { waiting } = this;
      this.waiting = [];
      if (this.rounds++ === ROUNDS) {
        this.errors.push(new Error(`event handlers called the characters ${ROUNDS} times in a row at one moment`));
        break;
      }
      for (const act of waiting) this.attempt(act);
    }
    this.telling = false;
  }

  private attempt(act: () => void): void {
    try {
      act();
    } catch (error) {
      this.errors.push(error);
    }
  }

  /** All is told: who was removed for good is forgotten, and what listeners have thrown is handed over. */
  complain(): void {
    this.cast.forget();
    const { errors } = this;
    if (errors.length === 0) return;
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
    const { queue, listeners, cast } = this;
    for (let i = 0; i < queue.count; i++) {
      const event = queue.at(i);
      const { character: who } = cast.numbered(event.whose)!;
      const other = event.whom < 0 ? undefined : cast.numbered(event.whom)!.character;
      for (let k = 0; k < listeners.length; k++) this.call(listeners[k]!, event, who, other);
      const handlers = who.handlersOf(event.event);
      if (handlers !== undefined) for (let n = 0; n < handlers.length; n++) this.call(handlers[n]!, event, who, other);
    }
    queue.clear();
  }

  private call(listener: Handler, event: StageEvent, who: Character, other: Character | undefined): void {
    try {
      listener(event, who, other);
    } catch (error) {
      this.errors.push(error);
    }
  }
}
