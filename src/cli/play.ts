import type { CompiledLevel, InputRow, Motion } from '../core/index.js';
import { play } from '../lab/index.js';
import { CallError } from './exit.js';
import { loadInput, loadLevel, only, sortFiles } from './load.js';
import type { Shared } from './options.js';
import { remark } from './print.js';
import { oneTuning } from './sheet.js';

/** A call's level, tuning and input, and what came of them. */
export interface Played {
  level: CompiledLevel;
  name: string;
  motion: Motion;
  input: readonly InputRow[];
  played: ReturnType<typeof play>;
}

/** Plays the input of a call in its level. */
export function playFiles(files: readonly string[], options: Shared & { at?: string }): Played {
  const sorted = sortFiles(files, options);
  const { compiled: level } = loadLevel(only('level', sorted.level, true)!);
  const { name, motion } = oneTuning(only('tuning', sorted.tuning, false), options);
  const inputFile = only('input', sorted.input, false);
  const input = inputFile === undefined ? [] : loadInput(inputFile).rows;
  const games = Object.keys(motion.full.own);
  if (games.length > 0)
    remark(`played without ${games.join(', ')}: abilities of a game are not known here`, options.quiet || options.json);
  try {
    const played = play({
      level,
      tuning: motion,
      input,
      ...(options.rate === undefined ? {} : { rate: options.rate }),
      ...(options.seconds === undefined ? {} : { seconds: options.seconds }),
      ...(options.at === undefined ? {} : { at: options.at }),
    });
    return { level, name, motion, input, played };
  } catch (error) {
    if (error instanceof RangeError) throw new CallError(error.message);
    throw error;
  }
}
