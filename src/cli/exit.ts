import { visible } from 'apperin/text';
import { call } from './call.js';

/** Exit status: 0 done, 1 the answer is "no", 2 the call or a file is wrong. */
export const EXIT = { done: 0, no: 1, wrong: 2 } as const;

/** The call was wrong in a way that only the command could see; the message says what to do. */
export class CallError extends Error {
  override readonly name = 'CallError';
}

/** Says what went wrong, without a stack trace, and sets the exit status. */
export function fail(error: unknown): void {
  const message = error instanceof Error ? error.message : String(error);
  call().err(`${visible(message)}\n`);
  call().status = EXIT.wrong;
}
