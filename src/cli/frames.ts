import { compileTuning, type Tuning } from '../core/index.js';
import { editTuning, writeFrames, type Edit } from '../files/index.js';
import { fromFrames, toFrames, type FrameOrder } from '../lab/index.js';
import { asked } from './asked.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import { loadFrames, loadTuning } from './load.js';
import type { Shared } from './options.js';
import { number, printJson, remark } from './print.js';
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
  { text, made, bound, notes, shown, ...rest }: { text: string; made: 'tuning' | 'frames'; bound: number; notes: string[]; shown: string },
  options: Shared,
): Promise<void> {
  if (options.out !== undefined) await writeOutput(options.out, made, text);
  if (options.json) {
    printJson({ converted: file, ...rest, bound, notes, ...(options.out === undefined ? {} : { file: options.out }) });
    return;
  }
  if (options.out === undefined) call().out(text.endsWith('\n') ? text : `${text}\n`);
  const apart = bound < 1e-9 ? 'the same at every frame' : `at most ${number(bound, bound < 0.01 ? 6 : 3)} units apart at any frame`;
  remark(`${shown}; a full jump and its fall are ${apart}`, options.quiet);
  for (const note of notes) remark(`  ${note}`, options.quiet);
  if (options.out !== undefined && options.out !== '-') remark(`wrote ${options.out}`, options.quiet);
} // prettier-ignore

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
