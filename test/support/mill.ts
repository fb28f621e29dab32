import { readInput, readLevel, readTuning } from 'apperin/files';
import type { InputRow, Level, Tuning } from 'apperin';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const text = (name: string): string =>
  readFileSync(fileURLToPath(new URL(`../../examples/tide-mill/${name}`, import.meta.url)), 'utf8');

/** The files of the example game, read. */
export const mill = {
  level: readLevel(text('mill.level.yaml')).level as Level,
  tuning: readTuning(text('brindle.tuning.yaml')).tuning as Tuning,
  /** The recording that finishes it. */
  get finish(): readonly InputRow[] {
    return readInput(text('finish.input.csv')).rows;
  },
};
