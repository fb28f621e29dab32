import { margins, tightestOf, type Host, type MarginOptions, type PressMargin } from 'apperin/lab';
import { abilitiesHere, remarkMissing } from './abilities.js';
import { asked } from './asked.js';
import { CallError } from './exit.js';
import { loadInput, loadLevel, only, sortFiles } from './load.js';
import { loadHost } from './host.js';
import { helpOf, ms } from './margin-cells.js';
import type { Shared } from './options.js';
import { number, print, printJson, table } from './print.js';
import { oneTuning } from './sheet.js';
import type { Asked } from './survey-level.js';

/** `apperin survey`: where does a character get to; with an input, how tight is each of its presses? */
export async function survey(files: readonly string[], options: Asked): Promise<void> {
  if (sortFiles(files, options).input.length === 0) return (await import('./survey-level.js')).surveyLevel(files, options);
  if (options.out !== undefined) throw new CallError('--out is for a survey of a level: without an input');
  tightness(files, options, options.host === undefined ? {} : { host: await loadHost(options.host) });
} // prettier-ignore

function tightness(files: readonly string[], options: Shared & { at?: string }, host: { host?: Host }): void {
  const { name, title, ...shared } = inputOf(files, options);
  const given = { ...shared, ...host };
  const presses = asked(() => margins(given));
  if (options.json) return printJson({ tuning: name, presses });
  if (presses.length === 0) throw new CallError('no press of this input leads to a landing');
  print(`${name} in ${title}: how tight each press is, as far as the ground goes that it leads to\n`);
  print(table(['press', 'at, s', 'lands at, s', 'earlier, ms', 'later, ms', 'window, ms', 'frames at 60', 'held, s', 'help, ms'], presses.map(cellsOf), [false, true, true, true, true, true, true, false, false]));
  const tightest = tightestOf(presses);
  if (tightest) print(`\nThe tightest: ${tightest.action} at ${number(tightest.at)} s, ${ms(tightest.press.window!)} ms or ${frames(tightest.press.window!)} frames at 60.`);
} // prettier-ignore

/** What a call asks of an input: its level, tuning and rows. */
export function inputOf(files: readonly string[], options: Shared & { at?: string }): MarginOptions & { name: string; title: string } {
  const sorted = sortFiles(files, options);
  const { compiled: level } = loadLevel(only('level', sorted.level, true)!);
  const { name, motion } = oneTuning(only('tuning', sorted.tuning, false), options);
  const input = loadInput(only('input', sorted.input, true)!).rows;
  remarkMissing(motion, 'played', options);
  const { rate, at } = options;
  return { name, title: level.title ?? 'the level', level, tuning: motion, input, abilities: abilitiesHere(), ...(rate === undefined ? {} : { rate }), ...(at === undefined ? {} : { at }) };
} // prettier-ignore

const frames = (seconds: number): string => number(seconds * 60, 1);

function cellsOf({ action, at, until, lands, press, hold, adds }: PressMargin): string[] {
  const { earliest, latest, window } = press;
  const held = until === null ? '' : `${hold.least === null ? 'any' : number(hold.least)} … ${hold.most === null ? 'any' : number(hold.most)}`;
  return [
    action,
    number(at),
    number(lands.time),
    earliest === null ? '' : ms(at - earliest),
    latest === null ? '' : ms(latest - at),
    window === null ? '' : ms(window),
    window === null ? '' : frames(window),
    held,
    helpOf(adds),
  ];
} // prettier-ignore
