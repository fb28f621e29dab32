import { extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeEvents, writeTrace } from 'apperin/files';
import { reportPage, searchFigure, surveyFigure, traceFigure, trailsFigure, varyFigure } from '../figures/index.js';
import { compareRuns, design, family, headOf, play, search, sheet, survey, tightestPress, vary } from 'apperin/lab';
import { figure } from './draw.js';
import { toPng } from './figure-file.js';
import { CallError } from './exit.js';
import { loadInput, loadLevel, loadTuning } from './load.js';
import { inputsOf, planned } from './planned.js';
import type { Shared } from './options.js';
import { number, print, printJson } from './print.js';
import { compiled, sheetTable } from './sheet.js';
import { windowsOf } from './survey-level.js';
import { writeOutput, type Made } from './write.js';

/** The demo scenario that ships with the package: the tide mill at Saltreave. */
export const DEMO = fileURLToPath(new URL('../../data/tide-mill/', import.meta.url));

/** What is played: which input, by which tuning, in which level, and what it is about. */
export const SCENES = [
  ['leap', 'brindle', 'yard', 'a jump over the gap, and a press just before the landing'],
  ['late', 'brindle', 'yard', 'a press just after the edge'],
  ['double', 'nimble', 'wheelhouse', 'a jump in the air'],
  ['slab', 'nimble', 'wheelhouse', 'a head that clips a corner'],
  ['sill', 'nimble', 'wheelhouse', 'a jump that just misses a top'],
  ['shaft', 'nimble', 'wheelhouse', 'sliding down walls and jumping off them'],
  ['ledge', 'nimble', 'wheelhouse', 'hanging from a ledge and climbing up'],
  ['grating', 'nimble', 'wheelhouse', 'up through a grating, and down again'],
  ['beam', 'nimble', 'wheelhouse', 'crouching under a beam'],
  ['loft', 'nimble', 'wheelhouse', 'gliding, then diving'],
  ['spring', 'spring', 'wheelhouse', 'two charged jumps'],
  ['weir', 'brindle', 'weir', 'up a ramp, and a jump that lands on its far side'],
  ['bucket', 'brindle', 'lifts.level.svg', 'up with a bucket, over on a cart with a belt'],
  ['ferry', 'brindle', 'lifts.level.svg', 'a plank that turns round, and jumps off it'],
  ['sluice', 'brindle', 'lifts.level.svg', 'a gate that waits for whoever stands under it'],
  ['hoist', 'brindle', 'hoist', 'a platform that passes the floor, and a stamp'],
  ['ramps', 'nimble', 'saltreave.level.svg', 'ramps, steps, silt and a hill, into the race'],
] as const;

/** `apperin demo`: everything, on the demo data. */
export async function demo(options: Shared): Promise<void> {
  const out = options.out ?? join('out', 'demo');
  if (out === '-') throw new CallError('demo writes a folder of files: --out names it');
  const { tuning } = loadTuning(join(DEMO, 'brindle.tuning.yaml'));
  const motion = compiled(tuning);
  const say = (text: string): void => {
    if (!options.json && !options.quiet) print(text);
  };
  const written: string[] = [];
  const write = async (name: string, content: string | Uint8Array): Promise<void> => {
    const file = join(out, name);
    await writeOutput(file, madeBy(name), content);
    written.push(file);
  };
  say('Brindle, a brass mill-hand, in the tide mill at Saltreave.\n');
  const measures = sheet(motion);
  await write('sheet.txt', `${sheetTable(measures)}\n`);
  const value = (id: string): string => number(measures.find((measure) => measure.id === id)!.value, 2);
  say(
    `A full jump rises ${value('apexHeight')} units in ${value('riseTime')} s and reaches ${value('reach')} across; a tap rises ${value('lowestHop')}.`,
  );
  for (const kind of ['arcs', 'time', 'speed'] as const) {
    const svg = figure(kind, [{ name: 'brindle', motion }]);
    await write(`${kind}.svg`, svg);
    await write(`${kind}.png`, await toPng(svg));
  }
  const nimble = compiled(loadTuning(join(DEMO, 'nimble.tuning.yaml')).tuning);
  const moves = figure('arcs', [{ name: 'nimble', motion: nimble }]);
  await write('moves.svg', moves);
  await write('moves.png', await toPng(moves));
  for (const [name, who, where, about] of SCENES) {
    const { compiled: level } = loadLevel(join(DEMO, where.includes('.') ? where : `${where}.level.yaml`));
    const input = loadInput(join(DEMO, `${name}.input.csv`)).rows;
    const played = play({
      level,
      tuning: compiled(loadTuning(join(DEMO, `${who}.tuning.yaml`)).tuning),
      input,
    });
    await write(`${name}.trace.csv`, writeTrace(played));
    await write(`${name}.events.jsonl`, writeEvents(played.events));
    await write(`${name}.svg`, traceFigure(level, played, input, who));
    const told = played.events
      .filter(({ event }) => event !== 'turned' && event !== 'footfall')
      .map(({ event, time, by }) => `${event}${by ? ` (${by})` : ''} ${number(time!, 2)} s`);
    const lowest = Math.min(...played.rows.map(({ height }) => height));
    if (lowest < played.rows[0]!.height) told.push(`crouched to ${number(lowest, 1)} units`);
    say(`\n${level.title}: ${about}\n  ${wrapped(told)}`);
  }
  await lab(write, say);
  await surveys(write, say);
  await searched(write, say);
  if (options.json) printJson({ folder: out, files: written });
  else if (options.quiet) print(written.join('\n'));
  else
    say(
      `\nLook at ${join(out, 'arcs.png')} (the jump, to scale), ${join(out, 'moves.png')} (every move),\n${join(out, 'time.png')} (a jump over time) and ${join(out, 'speed.png')} (run-up, stop and turn);\n${join(out, 'vary.png')} (two keys varied), ${join(out, 'compare.png')} (two tunings, one input);\n${join(out, 'survey.png')} (where Brindle gets to, and where not);\n${join(out, 'search.png')} (which tunings keep every room playable);\n${join(out, 'brindle.report.html')} has all of it on one page, and\n${join(out, 'sheet.txt')} has every measure; traces, events and a picture of each run are beside it.`,
    );
}

/** What a file of the demo is, by its name. */
function madeBy(name: string): Made {
  const made: Readonly<Record<string, Made>> = {
    '.csv': 'trace',
    '.jsonl': 'events',
    '.html': 'report',
    '.txt': 'sheet',
  };
  return made[extname(name)] ?? 'figure';
}

/** What the lab says of Brindle: numbers for a goal, a key varied, two tunings on the same input, the report. */
async function lab(write: (name: string, content: string | Uint8Array) => Promise<void>, say: (text: string) => void): Promise<void> {
  const load = (name: string) => loadTuning(join(DEMO, `${name}.tuning.yaml`)).tuning;
  const [brindle, nimble] = [load('brindle'), load('nimble')];
  const made = design(brindle, { height: 3, riseTime: 0.35, reach: 6 });
  say(`\nFor three tiles in 0.35 s, and six across: ${made.keys.map(({ key, now }) => `${key} ${number(now, 2)}`).join(', ')}.`);
  const varied = vary(brindle, [{ key: 'jump.height', values: [2, 2.5, 3, 3.5, 4] }, { key: 'gravity.falling', values: [1, 2] }]);
  const variedFigure = varyFigure(varied, family(varied));
  await write('vary.svg', variedFigure);
  await write('vary.png', await toPng(variedFigure));
  const { compiled: level } = loadLevel(join(DEMO, 'yard.level.yaml'));
  const input = loadInput(join(DEMO, 'leap.input.csv')).rows;
  const heavy = { ...brindle, gravity: { ...brindle.gravity, falling: 2.4 } };
  const { runs, names } = compareRuns([{ name: 'brindle', tuning: brindle }, { name: 'gravity.falling=2.4', tuning: heavy }], { level, input });
  const ways = trailsFigure(level, runs.map((trace, i) => ({ name: names[i]!, trace })), input);
  await write('compare.svg', ways);
  await write('compare.png', await toPng(ways));
  const about = (name: string, tuning: typeof brindle) => ({ name, motion: compiled(tuning) });
  await write('brindle.report.html', reportPage(about('brindle', brindle), about('nimble', nimble)));
} // prettier-ignore

/** Where Brindle gets to in the yard and in the wheelhouse, and how tight the way is. */
async function surveys(write: (name: string, content: string | Uint8Array) => Promise<void>, say: (text: string) => void): Promise<void> {
  const { tuning } = loadTuning(join(DEMO, 'brindle.tuning.yaml'));
  for (const [where, name] of [['yard', 'yard-survey'], ['wheelhouse', 'survey']] as const) {
    const { compiled: level } = loadLevel(join(DEMO, `${where}.level.yaml`));
    const surveyed = await survey({ level, tuning });
    const { targets, total, places } = surveyed.survey;
    const windows = windowsOf(new Map(surveyed.tightestLinks().map((i) => [i, surveyed.presses(i)])));
    const svg = surveyFigure(level, surveyed.survey, surveyed.survey.links.map((_, i) => surveyed.linkPieces(i)), 'brindle', windows);
    await write(`${name}.svg`, svg);
    await write(`${name}.png`, await toPng(svg));
    const told = targets.map(({ name: to, answer, time }) => (answer === 'yes' ? `the ${to} after ${number(time!, 2)} s` : `the ${to}: ${answer}`));
    const nearest = places.filter(({ short }) => short !== null && short.of !== 'shut').sort((one, other) => one.short!.by - other.short!.by)[0];
    say(`\n${level.title}: ${total.yes} of ${places.length} places are reached\n  ${wrapped(told)}`);
    if (nearest) say(`  nearest out of reach: the ground at ${number(nearest.x1, 1)} … ${number(nearest.x2, 1)}, ${number(nearest.short!.by, 2)} units short`);
    const far = targets.filter(({ proof }) => proof !== null).sort((one, other) => other.time! - one.time!)[0];
    const press = far && tightestPress({ level, tuning, input: far.proof! });
    if (press) say(`  the tightest press on the way to the ${far.name}: ${press.action} at ${number(press.at, 2)} s, within ${number(1000 * press.press.window!, 0)} ms`);
  }
} // prettier-ignore

/** Which of a few tunings keep what the small rooms of the mill count on. */
async function searched(write: (name: string, content: string | Uint8Array) => Promise<void>, say: (text: string) => void): Promise<void> {
  const keys = [{ key: 'jump.height', values: [2.5, 3.1, 3.7, 4.3] }, { key: 'run.speed', values: [5, 7.5, 10] }];
  const plan = planned({ tuning: undefined, promises: join(DEMO, 'rooms.promises.yaml'), keys, spend: 20_000 }, {});
  const rows = await search(plan.plan, inputsOf(plan, (hash) => plan.texts[hash]!));
  const svg = searchFigure({ head: headOf(plan.plan, plan.hash), rows });
  await write('search.svg', svg);
  await write('search.png', await toPng(svg));
  const keep = rows.filter(({ promises }) => promises.every(({ answer }) => answer === 'holds'));
  say(`\nOf ${rows.length} tunings ${keep.length} keep all ${plan.plan.promises.length} promises of the eight small rooms\n  ${wrapped(keep.map(({ set }) => `${number(set['jump.height']!, 1)} high at ${number(set['run.speed']!, 1)}`))}`);
} // prettier-ignore

/** Words in lines of at most 90 characters. */
function wrapped(words: readonly string[]): string {
  const lines = [''];
  for (const word of words) {
    const line = lines[lines.length - 1]!;
    if (line === '') lines[lines.length - 1] = word;
    else if (line.length + word.length < 88) lines[lines.length - 1] = `${line}, ${word}`;
    else lines.push(word);
  }
  return lines.join(',\n  ');
}
