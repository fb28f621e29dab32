import { AsyncLocalStorage } from 'node:async_hooks';
import type { Ability } from 'apperin';

/** What lives for one call of the command line. */
export interface Call {
  /** Standard output, to the byte. */
  out(data: string | Uint8Array): void;
  /** Standard error. */
  err(text: string): void;
  /** Whether somebody looks at standard error as it comes. */
  watched: boolean;
  /** Its exit status so far. */
  status: number;
  /** The files that have been read, by what tells a file from others whatever it is called: the name it was given. */
  inputs: Map<string, string>;
  /** The files that have been written, likewise. */
  outputs: Map<string, string>;
  /** What standard input holds: it is read once. */
  stdin(most: number): Uint8Array;
  /** Abilities of a game that it knows. */
  abilities: readonly Ability[];
  /** Whether standard output is for an output of the call (named `-`): then what is for people goes to standard error. */
  taken: boolean;
}

const calls = new AsyncLocalStorage<Call>();

/** The call that is being answered. */
export function call(): Call {
  const now = calls.getStore();
  if (!now) throw new Error('there is no call');
  return now;
}

/** Answers a call: whatever is done within, at once or later, belongs to it. */
export function during<T>(of: Call, work: () => T): T {
  return calls.run(of, work);
}
