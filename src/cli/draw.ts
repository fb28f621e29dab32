import type { Motion } from 'apperin';
import {
  arcsFigure,
  levelFigure,
  marginsFigure,
  searchFigure,
  speedFigure,
  timeFigure,
  traceFigure,
} from '../figures/index.js';
import { arcs, pressMap, speedCurves, timeCurves } from 'apperin/lab';
import { asked } from './asked.js';
import { CallError } from './exit.js';
import { loadFound } from './found-file.js';
import { loadLevel, loadTuning, only, sortFiles } from './load.js';
import type { Shared } from './options.js';
import { playFiles } from './play.js';
import { printJson, wrote } from './print.js';
import { compiled, oneTuning } from './sheet.js';
import { inputOf } from './survey.js';
import { figureFile, writeFigure } from './figure-file.js';

/** The figures that show tunings. */
export type FigureKind = 'arcs' | 'time' | 'speed';

/** `apperin draw arcs`, `time` and `speed`. */
export async function draw(
  kind: FigureKind,
  files: readonly string[],
  options: Shared & { width?: number },
): Promise<void> {
  figureFile(kind, options);
  const sorted = sortFiles(files, options);
  if (sorted.level.length + sorted.input.length > 0) throw new CallError(`draw ${kind} shows tunings only`);
  const named = namedTunings(sorted.tuning, options);
  if (named.length > 6) throw new CallError(`draw ${kind} shows one to six tunings, not ${named.length}`);
  await write(kind, figure(kind, named), options, { tunings: named.map(({ name }) => name) });
}

/** `apperin draw level` and `apperin draw trace`. */
export async function drawLevel(
  kind: 'level' | 'trace',
  files: readonly string[],
  options: Shared & { width?: number; at?: string; edges?: boolean },
): Promise<void> {
  figureFile(kind, options);
  if (kind === 'trace') {
    const { level, name, input, played } = await playFiles(files, options);
    await write(kind, traceFigure(level, played, input, name), options, { tuning: name });
    return;
  }
  const sorted = sortFiles(files, options);
  if (sorted.tuning.length + sorted.input.length > 0) throw new CallError('draw level shows a level only');
  await write(
    kind,
    levelFigure(loadLevel(only('level', sorted.level, true)!).compiled, { edges: options.edges === true }),
    options,
    {},
  );
}

/** `apperin draw margins`: a press of an input against its hold. */
export async function drawMargins(
  files: readonly string[],
  options: Shared & { width?: number; at?: string; press?: number },
): Promise<void> {
  figureFile('margins', options);
  const { name, ...given } = inputOf(files, options);
  const map = asked(() => {
    try {
      return pressMap({ ...given, ...(options.press === undefined ? {} : { index: options.press - 1 }) });
    } catch (error) {
      // Here presses are counted from 1.
      throw new RangeError((error as Error).message.replace(/^index is \d+/, `--press ${options.press}`), { cause: error }); // prettier-ignore
    }
  });
  const about = { tuning: name, press: map.index + 1, margin: map.margin };
  await write('margins', marginsFigure(map, name), options, about);
}

/** `apperin draw search`: which promises hold where. */
export async function drawSearch(file: string, options: Shared & { width?: number; over?: string[] }): Promise<void> {
  figureFile('search', options);
  const found = loadFound(file);
  const { over = [] } = options;
  const keys = found.head.keys.map(({ key }) => key);
  const unknown = over.find((key) => !keys.includes(key));
  if (unknown !== undefined)
    throw new CallError(`--over ${unknown}: that key was not searched; there are ${keys.join(', ')}`);
  if (over.length > 2) throw new CallError(`--over: one or two keys are drawn, not ${over.length}`);
  await write('search', searchFigure(found, over), options, { rows: found.rows.length });
}

/** Writes a figure where, and as, the options say. */
async function write(
  kind: string,
  svg: string,
  options: Shared & { width?: number },
  about: Record<string, unknown>,
): Promise<void> {
  const out = await writeFigure(kind, svg, options);
  if (options.json) printJson({ figure: kind, file: out, format: out.slice(-3), ...about });
  else wrote([out], options.quiet);
}

export function figure(kind: FigureKind, named: readonly { name: string; motion: Motion }[]): string {
  switch (kind) {
    case 'arcs':
      return arcsFigure(named.map(({ name, motion }) => arcs(name, motion)));
    case 'time':
      return timeFigure(named.map(({ name, motion }) => timeCurves(name, motion)));
    case 'speed':
      return speedFigure(named.map(({ name, motion }) => speedCurves(name, motion)));
  }
}

function namedTunings(files: readonly string[], options: Shared): { name: string; motion: Motion }[] {
  if (files.length === 0) return [oneTuning(undefined, options)];
  return files.map((file) => {
    const { name, tuning } = loadTuning(file, options.set);
    return { name, motion: compiled(tuning) };
  });
}
