import { CallError } from './exit.js';

/** Options that mean the same in every command. */
export interface Shared {
  tuning?: string[];
  level?: string[];
  input?: string[];
  set?: string[];
  abilities?: string[];
  rate?: number;
  seconds?: number;
  out?: string;
  format?: string;
  json?: boolean;
  quiet?: boolean;
}

/** Of commands that may take long. */
export interface Long {
  workers?: number;
}

/** Which shapes are switched off: gate=off. */
export function shapesOf(given: readonly string[] = []): Record<string, boolean> {
  return Object.fromEntries(
    given.map((text) => {
      const [, name, state] = /^(.+)=(on|off)$/.exec(text) ?? [];
      if (name === undefined) throw new CallError(`--shapes ${text}: it must be the name of a shape with on or off: gate=off`);
      return [name, state === 'on'] as const;
    }),
  );
} // prettier-ignore
