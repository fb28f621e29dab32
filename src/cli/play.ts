import type { CompiledLevel, InputRow, Motion } from 'apperin';
import { beginPlay, type PlayedTrace, type Playing } from 'apperin/lab';
import { abilitiesHere, remarkMissing } from './abilities.js';
import { asked } from './asked.js';
import { loadHost } from './host.js';
import { loadInput, loadLevel, only, sortFiles } from './load.js';
import { shapesOf, type Shared } from './options.js';
import { counter, remark } from './print.js';
import { oneTuning } from './sheet.js';

/** A call's level, tuning and input, and what came of them. */
export interface Played {
  level: CompiledLevel;
  name: string;
  motion: Motion;
  input: readonly InputRow[];
  played: PlayedTrace;
}

/** Plays the input of a call in its level. */
export async function playFiles(
  files: readonly string[],
  options: Shared & { at?: string; shapes?: string[]; host?: string },
): Promise<Played> {
  const sorted = sortFiles(files, options);
  const { compiled: level } = loadLevel(only('level', sorted.level, true)!);
  const { name, motion } = oneTuning(only('tuning', sorted.tuning, false), options);
  const inputFile = only('input', sorted.input, false);
  const input = inputFile === undefined ? [] : loadInput(inputFile).rows;
  remarkMissing(motion, 'played', options);
  const host = options.host === undefined ? undefined : await loadHost(options.host);
  const playing = asked(() =>
    beginPlay({
      level,
      tuning: motion,
      input,
      abilities: abilitiesHere(),
      shapes: shapesOf(options.shapes),
      ...(host === undefined ? {} : { host }),
      ...(options.rate === undefined ? {} : { rate: options.rate }),
      ...(options.seconds === undefined ? {} : { seconds: options.seconds }),
      ...(options.at === undefined ? {} : { at: options.at }),
    }),
  );
  if (playing.ticks <= SHORT) playing.run(SHORT);
  else await playLong(playing, options);
  return { level, name, motion, input, played: playing.trace };
}

/** So many ticks are played at once. */
const SHORT = 10_000;

/** A long play says how far it is, and may be interrupted: what has been played is kept. */
async function playLong(playing: Playing, options: Shared): Promise<void> {
  const { inThreads } = await import('./threads.js');
  const tell = (text: string): void => remark(text, options.quiet);
  const count = counter('ticks', playing.ticks, options);
  await inThreads(1, tell, async ({ stopped }) => {
    while (playing.done < playing.ticks && !stopped()) {
      playing.run(SHORT);
      count(playing.done);
      await new Promise((next) => setImmediate(next));
    }
  });
  count();
  if (playing.done < playing.ticks) tell(`interrupted: ${playing.done} of ${playing.ticks} ticks`);
}
