import { join } from 'node:path';
import type { TracePiece } from 'apperin';
import { writeInput } from 'apperin/files';
import { survey, type Surveyed, type SurveyOptions } from 'apperin/lab';
import { surveyFigure } from '../figures/index.js';
import { abilitiesHere, remarkMissing } from './abilities.js';
import { asked } from './asked.js';
import { exploring } from './exploring.js';
import { figureFile, writeFigure } from './figure-file.js';
import { loadLevel, only, sortFiles } from './load.js';
import type { Long, Shared } from './options.js';
import { counter, cut, number, print, printJson, remark, table, wrote } from './print.js';
import { oneTuning } from './sheet.js';
import { inThreads, mostThreads } from './threads.js';
import { refuseOutput, writeOutput } from './write.js';

/** What a survey can be asked besides its files. */
export interface Asked extends Shared, Long {
  at?: string;
  to?: string[];
  avoid?: string[];
  home?: string[];
  spend?: number;
}

/** So many places are named in a list. */
const NAMED = 12;

/** `apperin survey` without an input: where does this character get to in this level? */
export async function surveyLevel(files: readonly string[], options: Asked): Promise<void> {
  const { out } = options;
  if (out !== undefined) refuseOutput(join(out, 'survey.json'), 'survey');
  const { name, file, surveyed, level, seconds } = await surveyFiles(files, options);
  const { survey: found } = surveyed;
  const { proofs, written } = out === undefined ? { proofs: new Map<number, Written>(), written: [] } : await writeProofs(out, surveyed);
  const places = found.places.map((place) => ({ ...place, care: proofs.get(place.id)?.care ?? null, proof: proofs.get(place.id)?.file ?? null }));
  const answer = { ...found, level: file, tuning: name, places };
  if (out !== undefined) {
    await writeOutput(join(out, 'survey.json'), 'survey', `${JSON.stringify(answer, null, 2)}\n`);
    await writeOutput(join(out, 'survey.svg'), 'figure', surveyFigure(level, found, flightsOf(surveyed), name));
    wrote([...written, join(out, 'survey.json'), join(out, 'survey.svg')], options.quiet);
  }
  remark(`${found.spent} events in ${number(seconds, 1)} s`, options.quiet || options.json);
  if (options.json) return printJson(answer);
  print(said(surveyed, name, level.title || 'the level'));
} // prettier-ignore

/** `apperin draw survey`. */
export async function drawSurvey(files: readonly string[], options: Asked & { width?: number }): Promise<void> {
  figureFile('survey', options);
  const { name, surveyed, level } = await surveyFiles(files, { ...options, json: true });
  const out = await writeFigure('survey', surveyFigure(level, surveyed.survey, flightsOf(surveyed), name), options);
  if (options.json) printJson({ figure: 'survey', file: out, tuning: name, total: surveyed.survey.total });
  else wrote([out], options.quiet);
} // prettier-ignore

/** Surveys what a call names. */
async function surveyFiles(files: readonly string[], options: Asked): Promise<{ name: string; file: string; surveyed: Surveyed; level: ReturnType<typeof loadLevel>['compiled']; seconds: number }> {
  const sorted = sortFiles(files, options);
  const file = only('level', sorted.level, true)!;
  const { level: written, compiled: level } = loadLevel(file);
  const { name, motion } = oneTuning(only('tuning', sorted.tuning, false), options);
  remarkMissing(motion, 'surveyed', options);
  const about: Omit<SurveyOptions, 'abilities' | 'progress'> = {
    level: written,
    tuning: motion.full,
    ...(options.at === undefined ? {} : { at: spotOf(options.at) }),
    ...(options.to === undefined ? {} : { to: options.to.map(spotOf) }),
    ...(options.avoid === undefined ? {} : { avoid: options.avoid }),
    ...(options.home === undefined ? {} : { home: options.home }),
    ...(options.spend === undefined ? {} : { spend: options.spend }),
  };
  const count = counter('places', undefined, options);
  const began = performance.now();
  const surveyed = await inThreads(options.workers ?? mostThreads(), (text) => remark(text, options.quiet), (threads) =>
    asked(() => survey(
      {
        ...about,
        level,
        abilities: abilitiesHere(),
        progress: ({ reached }) => {
          count(reached);
          return !threads.stopped();
        },
      },
      exploring(threads, about, options.abilities),
    )));
  count();
  return { name, file, surveyed, level, seconds: (performance.now() - began) / 1000 };
} // prettier-ignore

/** A spawn's name, or x,y. */
function spotOf(text: string): string | [number, number] {
  const numbers = text.split(',').map(Number);
  return text.includes(',') && numbers.length === 2 && numbers.every(Number.isFinite)
    ? [numbers[0]!, numbers[1]!]
    : text;
}

const flightsOf = (surveyed: Surveyed): TracePiece[][] => surveyed.survey.links.map((_, i) => surveyed.linkPieces(i));

/** The input of a way to a place, and with how much care it is to be played, s. */
interface Written {
  file: string;
  care: number;
}

/** Writes the ways that were found into a folder: to what was asked for, and to every place. */
async function writeProofs(folder: string, surveyed: Surveyed): Promise<{ proofs: Map<number, Written>; written: string[] }> {
  const { targets, places } = surveyed.survey;
  const proofs = new Map<number, Written>();
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
  return { proofs, written };
} // prettier-ignore

/** What a survey has found, for people. */
function said({ survey: { targets, total, places, deadEnds, stopped, at } }: Surveyed, name: string, title: string): string {
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
  if (deadEnds.length > 0) lines.push('', `No way back is known from ${deadEnds.length} of them: ${cut(deadEnds.map(({ place, answer }) => `${place} (${answer})`).join(', '), 90)}.`);
  return lines.join('\n');
} // prettier-ignore

function shortOf({ by, of, from }: { by: number; of: string; from: number | null }): string {
  if (of === 'shut') return 'no way that it fits through';
  const what = of === 'height' ? 'too high' : of === 'distance' ? 'too far' : 'too high and too far';
  return `${number(by)} ${what}${from === null ? '' : `, from ${from}`}`;
}
