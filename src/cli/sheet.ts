import { TuningError, compileTuning, type Motion, type Tuning } from 'apperin';
import { MEASURE_GROUPS, sheet, type Measure } from 'apperin/lab';
import { abilitiesHere, remarkMissing } from './abilities.js';
import { CallError } from './exit.js';
import { applySets, loadTuning, only, sortFiles } from './load.js';
import type { Shared } from './options.js';
import { number, print, printJson, remark, table } from './print.js';

/** `apperin sheet`: what do these numbers amount to? */
export function sheetCommand(files: readonly string[], options: Shared): void {
  const loaded = tuningOf(files, options);
  remarkMissing(loaded.motion, 'reckoned', options);
  const rate = options.rate ?? 60;
  const measures = sheet(loaded.motion, { rate, abilities: abilitiesHere() });
  if (options.json) {
    printJson({ tuning: loaded.name, rate, measures });
    return;
  }
  print(
    `${loaded.name}: what these numbers amount to (1 tile = ${loaded.motion.full.tile} unit${loaded.motion.full.tile === 1 ? '' : 's'})\n`,
  );
  print(sheetTable(measures));
}

/** The one tuning of a call, compiled; the defaults where there is none. */
export function tuningOf(files: readonly string[], options: Shared): { name: string; motion: Motion } {
  const sorted = sortFiles(files, options);
  for (const kind of ['level', 'input'] as const)
    if (sorted[kind].length > 0) throw new CallError(`a ${kind} is of no use here: ${sorted[kind].join(', ')}`);
  return oneTuning(only('tuning', sorted.tuning, false), options);
}

export function oneTuning(file: string | undefined, options: Shared): { name: string; motion: Motion } {
  if (file === undefined) remark('no tuning given: these are the defaults', options.quiet || options.json);
  const { tuning, name } =
    file === undefined ? { tuning: applySets({}, options.set ?? []), name: 'defaults' } : loadTuning(file, options.set);
  return { name, motion: compiled(tuning) };
}

/** Compiles a tuning; what is wrong with it now came from `--set`, since the file was read without complaint. */
export function compiled(tuning: Tuning): Motion {
  try {
    return compileTuning(tuning);
  } catch (error) {
    if (error instanceof TuningError) throw new CallError(`--set: ${error.message}`);
    throw error;
  }
}

/** The measures as a table for people. */
export function sheetTable(measures: readonly Measure[]): string {
  const rows: string[][] = [];
  let group = '';
  for (const measure of measures) {
    if (measure.group !== group) {
      if (group) rows.push([]);
      group = measure.group;
      rows.push([MEASURE_GROUPS[measure.group]]);
    }
    rows.push([
      `  ${measure.name}`,
      number(measure.value),
      measure.unit,
      measure.tiles === null ? '' : number(measure.tiles),
      measure.how,
    ]);
  }
  return table(['measure', 'value', 'unit', 'tiles', 'how'], rows, [false, true, false, true, false]);
}
