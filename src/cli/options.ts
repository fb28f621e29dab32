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

/** Which shapes are on, as promises say it. */
export const switches = (shapes: Readonly<Record<string, 'on' | 'off'>>): Record<string, boolean> =>
  Object.fromEntries(Object.entries(shapes).map(([name, state]) => [name, state === 'on']));

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
