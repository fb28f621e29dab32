import { join } from 'node:path';
import { openStage, type TracePiece } from 'apperin';
import { writeInput } from 'apperin/files';
import { survey, tightestOf, withoutShapes, type PressMargin, type Surveyed, type SurveyOptions } from 'apperin/lab';
import { surveyFigure, type ReportedLevel } from '../figures/index.js';
import { abilitiesHere, remarkMissing } from './abilities.js';
import { asked } from './asked.js';
import { Exploring } from './exploring.js';
import { figureFile, writeFigure } from './figure-file.js';
import { loadLevel, only, sortFiles } from './load.js';
import { helpOf } from './margin-cells.js';
import { shapesOf, type Long, type Shared } from './options.js';
import { counter, cut, number, print, printJson, remark, table, wrote } from './print.js';
import { oneTuning } from './sheet.js';
import { loadHost } from './host.js';
import { inThreads, mostThreads } from './threads.js';
import { refuseOutput, writeOutput } from './write.js';

/** What a survey can be asked besides its files. */
export interface Asked extends Shared, Long {
  at?: string;
  to?: string[];
  avoid?: string[];
  home?: string[];
  spend?: number;
  within?: number;
  margins?: 'all';
  care?: number;
  shapes?: string[];
  host?: string;
}

/** So many places are named in a list. */
const NAMED = 12;
/** So many of the tightest presses are listed. */
const SHOWN = 5;

/** `apperin survey` without an input: where does this character get to in this level? */
export async function surveyLevel(files: readonly string[], options: Asked): Promise<void> {
  const { out } = options;
  if (out !== undefined) refuseOutput(join(out, 'survey.json'), 'survey');
  const { name, file, surveyed, tight, level, seconds } = await surveyFiles(files, options, options.json || out !== undefined);
  const { survey: found } = surveyed;
  const { proofs, ways, written } = out === undefined ? NOTHING : await writeProofs(out, surveyed, tight.links);
  const places = found.places.map((place) => ({ ...place, care: proofs.get(place.id)?.care ?? null, proof: proofs.get(place.id)?.file ?? null }));
  const links = found.links.map((link, i) => ({ ...link, proof: ways.get(i) ?? null, presses: tight.links.get(i) ?? null }));
  const targets = found.targets.map((target, i) => ({ ...target, presses: tight.targets[i]! }));
  const answer = { ...found, level: file, tuning: name, host: options.host ?? null, places, targets, links };
  if (out !== undefined) {
    await writeOutput(join(out, 'survey.json'), 'survey', `${JSON.stringify(answer, null, 2)}\n`);
    await writeOutput(join(out, 'survey.svg'), 'figure', surveyFigure(level, found, flightsOf(surveyed), name, windowsOf(tight.links)));
    wrote([...written, join(out, 'survey.json'), join(out, 'survey.svg')], options.quiet);
  }
  remark(`${found.spent} events in ${number(seconds, 1)} s`, options.quiet || options.json);
  if (options.json) return printJson(answer);
  print(said(surveyed, name, level.title || 'the level', tight.links));
} // prettier-ignore

/** `apperin draw survey`. */
export async function drawSurvey(files: readonly string[], options: Asked & { width?: number }): Promise<void> {
  figureFile('survey', options);
  const { name, surveyed, tight, level } = await surveyFiles(files, { ...options, json: true });
  const out = await writeFigure('survey', surveyFigure(level, surveyed.survey, flightsOf(surveyed), name, windowsOf(tight.links)), options);
  if (options.json) printJson({ figure: 'survey', file: out, tuning: name, total: surveyed.survey.total });
  else wrote([out], options.quiet);
} // prettier-ignore

/** A level that a report is about. */
export async function reportedLevel(level: string, tuning: string | undefined, options: Asked): Promise<ReportedLevel> {
  const { name, surveyed, tight, level: compiled } = await surveyFiles(tuning === undefined ? [level] : [level, tuning], options);
  const { links } = tight;
  const windows = windowsOf(links);
  const tightest = tightestFirst(windows).map(([i]) => ({ ...surveyed.survey.links[i]!, press: tightestOf(links.get(i)!)! }));
  return { title: compiled.title || 'a level', svg: surveyFigure(compiled, surveyed.survey, flightsOf(surveyed), name, windows), survey: surveyed.survey, tightest };
} // prettier-ignore

/** The tightest of links, by their numbers. */
function tightestFirst(windows: ReadonlyMap<number, number>): [number, number][] {
  return [...windows].sort(([i, one], [k, other]) => one - other || i - k).slice(0, SHOWN);
}

/** Surveys what a call names, and how tight it is. @param ways those on the ways to targets too */
async function surveyFiles(files: readonly string[], options: Asked, ways = false): Promise<{ name: string; file: string; surveyed: Surveyed; tight: Tightness; level: ReturnType<typeof loadLevel>['compiled']; seconds: number }> {
  const sorted = sortFiles(files, options);
  const file = only('level', sorted.level, true)!;
  const { level: written, compiled } = loadLevel(file);
  const shapes = shapesOf(options.shapes);
  const off = Object.keys(shapes).filter((name) => shapes[name] === false);
  // What is switched off is not drawn either.
  const level = off.length === 0 ? compiled : openStage(asked(() => withoutShapes(written, off))).level;
  const { name, motion } = oneTuning(only('tuning', sorted.tuning, false), options);
  remarkMissing(motion, 'surveyed', options);
  const about: Omit<SurveyOptions, 'abilities' | 'progress' | 'host'> = {
    level: written,
    tuning: motion.full,
    ...(options.at === undefined ? {} : { at: spotOf(options.at) }),
    ...(options.to === undefined ? {} : { to: options.to.map(spotOf) }),
    ...(options.avoid === undefined ? {} : { avoid: options.avoid }),
    ...(options.home === undefined ? {} : { home: options.home }),
    ...(options.spend === undefined ? {} : { spend: options.spend }),
    ...(options.care === undefined ? {} : { care: options.care }),
    ...(off.length === 0 ? {} : { shapes }),
  };
  const host = options.host === undefined ? undefined : await loadHost(options.host);
  const count = counter('places', undefined, options);
  const began = performance.now();
  const found = await inThreads(options.workers ?? mostThreads(), (text) => remark(text, options.quiet), async (threads) => {
    const exploring = new Exploring(threads, about, options);
    const surveyed = await asked(() => survey(
      {
        ...about,
        ...(off.length === 0 ? { level } : {}),
        ...(host === undefined ? {} : { host }),
        abilities: abilitiesHere(),
        progress: ({ reached }) => {
          count(reached);
          return !threads.stopped() && (performance.now() - began) / 1000 < (options.within ?? Infinity);
        },
      },
      exploring.doing,
    ));
    return { surveyed, tight: await tightnessOf(surveyed, options.margins === 'all', ways, exploring) };
  }, 'shared');
  count();
  return { name, file, ...found, level, seconds: (performance.now() - began) / 1000 };
} // prettier-ignore

/** A spawn's name, or x,y. */
function spotOf(text: string): string | [number, number] {
  const numbers = text.split(',').map(Number);
  return text.includes(',') && numbers.length === 2 && numbers.every(Number.isFinite)
    ? [numbers[0]!, numbers[1]!]
    : text;
}

const flightsOf = (surveyed: Surveyed): TracePiece[][] => surveyed.survey.links.map((_, i) => surveyed.linkPieces(i));

/** How tight presses are: on the way to each target, and those of links by their numbers. */
interface Tightness {
  targets: (PressMargin[] | null)[];
  links: Map<number, PressMargin[]>;
}

/** What was not looked at when it was stopped is not known. */
async function tightnessOf(surveyed: Surveyed, all: boolean, ways: boolean, exploring: Exploring): Promise<Tightness> {
  const { targets, links } = surveyed.survey;
  const looked = all ? links.map((_, i) => i) : surveyed.tightestLinks();
  const asked = ways ? targets.map((_, i) => i).filter((i) => surveyed.targetTask(i) !== undefined) : [];
  const tasks = [...asked.map((i) => surveyed.targetTask(i)!), ...looked.map((i) => surveyed.pressTask(i))];
  const found = await exploring.presses(tasks, surveyed.explorer);
  return {
    targets: targets.map((_, i) => found[asked.indexOf(i)] ?? null),
    links: new Map(looked.flatMap((link, k) => {
      const presses = found[asked.length + k];
      return presses ? [[link, surveyed.presses(link, presses)] as const] : [];
    })),
  };
} // prettier-ignore

/** The narrowest window of each link that was looked at and has one, s. */
export function windowsOf(links: Tightness['links']): Map<number, number> {
  const found = new Map<number, number>();
  for (const [i, presses] of links) {
    const tightest = tightestOf(presses);
    if (tightest) found.set(i, tightest.press.window!);
  }
  return found;
}

/** The input of a way to a place, and with how much care it is to be played, s. */
interface Written {
  file: string;
  care: number;
}

/** What was written of the ways that were found: to places, and along links, by their numbers. */
interface Ways {
  proofs: ReadonlyMap<number, Written>;
  ways: ReadonlyMap<number, string>;
  written: readonly string[];
}
const NOTHING: Ways = { proofs: new Map(), ways: new Map(), written: [] };

/** Writes the ways that were found into a folder: to what was asked for, to every place, and along the links that were looked at. */
async function writeProofs(folder: string, surveyed: Surveyed, links: Tightness['links']): Promise<Ways> {
  const { targets, places } = surveyed.survey;
  const proofs = new Map<number, Written>();
  const ways = new Map<number, string>();
  const written: string[] = [];
  for (const { name, proof } of targets) {
    if (proof === null) continue;
    const file = `${name.replace(/[^\w.-]+/g, '-')}.input.csv`;
    await writeOutput(join(folder, file), 'input', writeInput(proof));
    written.push(join(folder, file));
  }
  for (const { id, answer } of places) {
    const proof = answer === 'yes' ? surveyed.proof(id) : undefined;
    if (proof === undefined) continue;
    const file = `place-${id}.input.csv`;
    await writeOutput(join(folder, file), 'input', writeInput(proof.rows));
    proofs.set(id, { file, care: proof.care });
  }
  for (const i of links.keys()) {
    const file = `link-${i}.input.csv`;
    await writeOutput(join(folder, file), 'input', writeInput(surveyed.linkProof(i)));
    ways.set(i, file);
  }
  return { proofs, ways, written };
} // prettier-ignore

/** What a survey has found, for people. */
function said({ survey: { targets, total, places, links, deadEnds, stopped, at } }: Surveyed, name: string, title: string, tight: Tightness['links']): string {
  const lines = [`${name} in ${title}, from ${String(at)}\n`];
  if (targets.length > 0)
    lines.push(
      table(
        ['to', '', 'answer', 'after, s', 'care, ms', 'by way of places'],
        targets.map(({ name: to, kind, answer, time, care, via }) => [cut(to, 30), kind, answer, time === null ? '' : number(time), care === null ? '' : number(1000 * care, 0), via === null ? '' : cut(via.join(' '), 40)]),
        [false, false, false, true, true],
      ),
      '',
    );
  lines.push(`Of ${places.length} places ${total.yes} are reached, ${total.no} are out of reach, ${total['not found']} were not found${stopped ? ' (ended early)' : ''}.`);
  const others = places.filter(({ answer }) => answer !== 'yes').slice(0, NAMED);
  if (others.length > 0)
    lines.push(
      '',
      table(
        ['place', 'kind', 'from x', 'to x', 'y', 'answer', ''],
        others.map(({ id, kind, x1, x2, y1, answer, short, tried }) => [`${id}`, kind, number(x1), number(x2), number(y1), answer, short ? shortOf(short) : `${tried} ways tried`]),
        [true, false, true, true, true],
      ),
    );
  const tightest = tightestFirst(windowsOf(tight));
  if (tightest.length > 0)
    lines.push(
      '',
      'The tightest presses between them, as far as the ground goes that they lead to:',
      table(
        ['from', 'to', 'how', 'key', 'at, s', 'window, ms', 'frames at 60', 'help, ms'],
        tightest.map(([i, window]) => {
          const { action, at: after, adds } = tightestOf(tight.get(i)!)!;
          const { from, to, how } = links[i]!;
          return [`${from}`, `${to}`, how, action, number(after), number(1000 * window, 1), number(60 * window, 1), helpOf(adds)];
        }),
        [true, true, false, false, true, true, true],
      ),
    );
  if (deadEnds.length > 0) lines.push('', `No way back is known from ${deadEnds.length} of them: ${cut(deadEnds.map(({ place, answer }) => `${place} (${answer})`).join(', '), 90)}.`);
  return lines.join('\n');
} // prettier-ignore

function shortOf({ by, of, from }: { by: number; of: string; from: number | null }): string {
  if (of === 'shut') return 'no way that it fits through';
  const what = of === 'height' ? 'too high' : of === 'distance' ? 'too far' : 'too high and too far';
  return `${number(by)} ${what}${from === null ? '' : `, from ${from}`}`;
}
