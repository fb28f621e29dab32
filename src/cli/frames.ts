import { compileTuning, type Tuning } from 'apperin';
import { editTuning, writeFrames, type Edit } from 'apperin/files';
import { fromFrames, toFrames, type FrameOrder, type Manoeuvre } from 'apperin/lab';
import { asked } from './asked.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import { loadFrames, loadTuning } from './load.js';
import type { Shared } from './options.js';
import { number, printJson, remark, table, wrote } from './print.js';
import { writeOutput } from './write.js';

/** `apperin convert` of numbers by frames: a tuning in seconds, and how near the two are. */
export async function convertFrames(file: string, options: Shared): Promise<void> {
  const { frames } = loadFrames(file);
  const made = asked(() => fromFrames(frames));
  await answer(file, { ...made, made: 'tuning', text: tuningText(made.tuning), shown: 'a tuning in seconds' }, options);
}

/** The other way: a tuning as numbers by frames. */
export async function convertToFrames(file: string, options: Shared & { frames: number; order?: string }): Promise<void> {
  const { tuning } = loadTuning(file, options.set);
  const order = options.order ?? 'velocity-first';
  if (order !== 'velocity-first' && order !== 'position-first')
    throw new CallError(`--order ${order}: it must be velocity-first or position-first`);
  const made = asked(() => toFrames(compileTuning(tuning), options.frames, order satisfies FrameOrder));
  await answer(file, { ...made, made: 'frames', text: writeFrames(made.frames), shown: `numbers for ${options.frames} frames a second` }, options);
} // prettier-ignore

async function answer(
  file: string,
  { text, made, bound, notes, manoeuvres, shown, ...rest }: { text: string; made: 'tuning' | 'frames'; bound: number; notes: string[]; manoeuvres: readonly Manoeuvre[]; shown: string },
  options: Shared,
): Promise<void> {
  if (options.out !== undefined) await writeOutput(options.out, made, text);
  if (options.json) {
    printJson({ converted: file, ...rest, bound, manoeuvres, notes, ...(options.out === undefined ? {} : { file: options.out }) });
    return;
  }
  if (options.out === undefined) call().out(text.endsWith('\n') ? text : `${text}\n`);
  const apart = bound < 1e-9 ? 'the same at every frame' : `at most ${number(bound, bound < 0.01 ? 6 : 3)} units apart at any frame`;
  remark(`${shown}; a full jump and its fall are ${apart}`, options.quiet);
  for (const note of notes) remark(`  ${note}`, options.quiet);
  remark(`played by both, the loop and the tuning: how high, and how far apart (across in frames of top speed)\n${apartTable(manoeuvres)}`, options.quiet);
  wrote([options.out], options.quiet);
} // prettier-ignore

/** How far the two are apart, manoeuvre by manoeuvre. */
function apartTable(manoeuvres: readonly Manoeuvre[]): string {
  const rows = manoeuvres.map(({ name, height, across, landing }) => [
    name,
    number(height.loop, 3),
    number(height.tuning, 3),
    number(height.apart, 4),
    number(across.apart, 2),
    landing === undefined ? '' : number(landing.apart, 2),
  ]);
  const right = [false, true, true, true, true, true];
  return table(['', 'loop, units', 'tuning', 'apart, tiles', 'across, frames', 'landing, frames'], rows, right);
}

/** A tuning of numbers and words as a file's text. */
function tuningText(tuning: Tuning): string {
  const edits: Edit[] = [];
  const walk = (group: object, prefix: string): void => {
    for (const [key, value] of Object.entries(group))
      if (typeof value === 'object' && value !== null) walk(value as object, `${prefix}${key}.`);
      else edits.push({ key: `${prefix}${key}`, value: value as number | string });
  };
  walk(tuning, '');
  return editTuning('', edits);
}
