import { InvalidArgumentError, type Command } from 'commander';
import { call } from './call.js';
import { CallError } from './exit.js';
import type { Shared } from './options.js';

/** What commands have in common: options, their checks, an example. */

export const collect = (value: string, before: string[] = []): string[] => [...before, value];

export function between(least: number, most: number, unit: string) {
  return (text: string): number => {
    const value = Number(text);
    if (text.trim() === '' || !(value >= least && value <= most))
      throw new InvalidArgumentError(`It must be ${least} to ${most} ${unit}.`);
    return value;
  };
}

/** The result is the same with any number. */
export const WORKERS = ['--workers <n>', 'threads for long work (one for each processor, at most 8, unless given)', between(1, 64, 'threads')] as const; // prettier-ignore

const OPTIONS = {
  tuning: ['--tuning <file>', 'a tuning (*.tuning.yaml)', collect],
  level: ['--level <file>', 'a level (*.level.yaml)', collect],
  input: ['--input <file>', 'an input (*.input.csv)', collect],
  set: ['--set <key=value>', 'change a key of every tuning, e.g. run.speed=8', collect],
  abilities: ['--abilities <module>', 'abilities of your game: a module (*.js) that exports them', collect],
  rate: ['--rate <n>', 'ticks per second (60 unless given)', between(1, 10000, 'ticks per second')],
  seconds: ['--seconds <s>', 'how long to play', between(0, 100000, 'seconds')],
  out: ['--out <file>', 'where to write'],
  format: ['--format <name>', 'svg or png'],
  json: ['--json', 'print one JSON document and nothing else'],
  quiet: ['--quiet', 'print only what was asked for'],
} as const;

/** The name of one that several commands take. */
export type SharedOption = keyof typeof OPTIONS;

/** Gives a command the shared options it takes, and an example. */
export function equip(made: Command, options: readonly SharedOption[], example: string): Command {
  made.helpOption('-h, --help', 'explain this command').exitOverride();
  for (const option of options) {
    const [flags, text, parse] = OPTIONS[option] as readonly [string, string, ((value: string) => unknown)?];
    if (parse) made.option(flags, text, parse);
    else made.option(flags, text);
  }
  return made.addHelpText('after', `\nExample, on files that come with the package:\n  ${example}\n`);
}

/** What of rows that keep as much is better. */
export const BEST = ['--best <measure>', 'a measure of the sheet by which rows that keep as much are ordered: reach, stopping=least, airTime=0.7', collect] as const; // prettier-ignore

/** What of a level is switched off. */
export const SHAPES = ['--shapes <name=off>', 'a named shape that is switched off from the start', collect] as const;

/** What a game adds to the stage. */
export const HOST = ['--host <module>', 'a module (ESM) that exports host(stage, hero): what the game adds, such as springs in handlers; its code is run'] as const; // prettier-ignore

/** What a survey can be asked. */
export function surveying(made: Command): Command {
  return made
    .option('--at <spawn>', 'the spawn to start from, or x,y')
    .option('--to <spawn>', 'what to get to: a spawn, or x,y (every spawn unless given)', collect)
    .option('--avoid <tag>', 'a tag of zones that must not be entered', collect)
    .option('--home <spawn>', 'from where nobody is lost (the start unless given)', collect)
    .option(
      '--care <s>',
      'by how much each press of a way should be free to come sooner or later, s (0.02 unless given)',
      between(0, 0.1, 'seconds'),
    )
    .option(...SHAPES)
    .option(...HOST)
    .option(
      '--spend <n>',
      'how many events of the core may be spent (2000000 unless given)',
      between(1, 1e12, 'events'),
    )
    .option('--within <s>', 'how long to look at most, s: what is known by then is kept', between(0, 1e6, 'seconds'))
    .option(...WORKERS);
}

/** What is said of captures. */
export function capturing(made: Command): Command {
  return made
    .option('--time <column>', 'the column that has the time (time or t unless given)')
    .option('--per-second <n>', 'how much of that is a second: 1000 of milliseconds, 60 of frames (1 unless given)', between(1e-9, 1e12, 'a second'))
    .option('--x <column>', 'the column of places across (x unless given)')
    .option('--y <column>', 'the column of heights (y unless given)')
    .option('--who <column>', 'a column that tells bodies apart, or one of them: name=Brindle')
    .option('--scale <n>', 'lengths of the capture in a unit: 16 for pixels, 16 of them a unit (1 unless given)', between(1e-9, 1e9, 'in a unit'))
    .option('--y-points <way>', 'up or down (found from how things fall unless given)')
    .option('--keys <action=column>', 'columns that say which keys are held: jump=space,right=d', collect)
    .argument('<files...>', 'captures (CSV, or objects as JSON Lines), a tuning to start from');
} // prettier-ignore

/** Standard output is for one thing: a JSON document, one output named `-`, or what is for people. */
export function claim(options: Shared & { trace?: string; events?: string; pieces?: string; junit?: string }): void {
  const named = (['out', 'trace', 'events', 'pieces', 'junit'] as const).filter((name) => options[name] === '-').map((name) => `--${name} -`);
  if (options.json) named.unshift('--json');
  if (named.length > 1) throw new CallError(`${named.join(' and ')} do not go together: both want standard output`);
  call().taken = named.length > 0 && !options.json;
  const { format } = options;
  if (format !== undefined && format !== 'svg' && format !== 'png') throw new CallError(`--format ${format}: it must be svg or png`);
} // prettier-ignore
