import { ConvertError, drawingOf, edgesOf, rowsOf } from 'apperin/files';
import { levelFigure } from '../figures/index.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import { loadLevel, only, sortFiles } from './load.js';
import type { Shared } from './options.js';
import { printJson, wrote } from './print.js';
import { refuseOutput, writeOutput } from './write.js';

const FORMS = ['rows', 'drawing', 'edges'] as const;

/** `apperin convert`: a level in the other form, or as its compiled edges. */
export async function convert(
  files: readonly string[],
  options: Shared & { to?: string; tile?: number; frames?: number; order?: string },
): Promise<void> {
  const { to: form } = options;
  if (form !== undefined && !(FORMS as readonly string[]).includes(form))
    throw new CallError(`--to ${form}: it must be ${FORMS.join(', ')}`);
  const sorted = sortFiles(files, options);
  const frames = only('frames', sorted.frames, false);
  if (frames !== undefined) return (await import('./frames.js')).convertFrames(frames, options);
  const tuning = only('tuning', sorted.tuning, false);
  if (tuning !== undefined) {
    if (options.frames === undefined)
      throw new CallError('a tuning is converted into numbers by frames: say how many a second, --frames 60');
    return (await import('./frames.js')).convertToFrames(tuning, { ...options, frames: options.frames });
  }
  if (sorted.input.length > 0) throw new CallError('convert takes a level, a tuning, or numbers by frames');
  const file = only('level', sorted.level, true)!;
  const loaded = loadLevel(file);
  const isDrawing = file.endsWith('.svg');
  const to = options.to ?? (isDrawing ? 'rows' : 'drawing');
  const svg = to === 'edges' && (options.format === 'svg' || options.out?.endsWith('.svg') === true);
  if (options.format !== undefined && !svg)
    throw new CallError(`--format ${options.format}: only edges are drawn, as svg (--to edges --format svg)`);
  const made = svg ? 'figure' : to === 'edges' ? 'edges' : 'level';
  if (options.out !== undefined) refuseOutput(options.out, made);
  let text: string;
  try {
    if (to === 'edges')
      text = svg
        ? levelFigure(loaded.compiled, { edges: true })
        : `${JSON.stringify(edgesOf(loaded.compiled), null, 1)}\n`;
    else if (to === 'rows') {
      if ('rows' in loaded.level) throw new CallError(`${file} is in rows already`);
      text = rowsOf({ compiled: loaded.compiled, level: loaded.level }, options.tile ?? 1);
    } else {
      if (isDrawing) throw new CallError(`${file} is a drawing already`);
      text = drawingOf(loaded.level, loaded.compiled.extent);
    }
  } catch (error) {
    if (error instanceof ConvertError) throw new CallError(`${file}: ${error.message}`);
    throw error;
  }
  if (options.out !== undefined) await writeOutput(options.out, made, text);
  if (options.json) {
    // Edges are JSON as they are; a text is one of its strings.
    if (options.out !== undefined) printJson({ converted: file, to, file: options.out });
    else if (made === 'edges') call().out(text);
    else printJson({ converted: file, to, text });
    return;
  }
  if (options.out === undefined) call().out(text.endsWith('\n') ? text : `${text}\n`);
  wrote([options.out], options.quiet);
}
