import { dirname, join } from 'node:path';
import type { Motion } from 'apperin';
import type { WrittenPromise } from 'apperin/files';
import { verifySurvey, type PromisedSurvey, type Verified } from 'apperin/lab';
import { abilitiesHere } from './abilities.js';
import { asked } from './asked.js';
import { loadLevel } from './load.js';
import { remark } from './print.js';
import { oneTuning } from './sheet.js';
import { Exploring } from './exploring.js';
import { switches, type Long, type Shared } from './options.js';
import { inThreads, mostThreads } from './threads.js';

export const isSurvey = ({ survey, deadEnds }: WrittenPromise): boolean =>
  survey !== undefined || deadEnds !== undefined;

/** Verifies promises about where a character gets to: each level is surveyed once for all that ask the same of it. */
export async function verifySurveys(promises: readonly WrittenPromise[], of: { motion: Motion; tuning: string | undefined; file: string }, options: Shared & Long): Promise<Verified[]> {
  const beside = (name: string): string => join(dirname(of.file), name);
  const groups = new Map<string, WrittenPromise[]>();
  for (const promise of promises) {
    const { level, tuning, at, avoid, spend, shapes } = promise;
    const key = JSON.stringify([level, tuning, at, avoid, spend, shapes]);
    groups.set(key, [...(groups.get(key) ?? []), promise]);
  }
  const verified = new Map<WrittenPromise, Verified>();
  for (const group of groups.values()) {
    const { level: file, tuning, at, avoid, spend, shapes } = group[0]!;
    const { level: written, compiled: level } = loadLevel(beside(file!));
    const motion = tuning === undefined ? of.motion : oneTuning(beside(tuning), options).motion;
    const about = {
      level: written,
      tuning: motion.full,
      ...(at === undefined ? {} : { at }),
      ...(avoid === undefined ? {} : { avoid }),
      ...(spend === undefined ? {} : { spend }),
      ...(shapes === undefined ? {} : { shapes: switches(shapes) }),
    };
    const answers = await inThreads(options.workers ?? mostThreads(), (text) => remark(text, options.quiet || options.json), (threads) =>
      asked(() => verifySurvey({ ...about, ...(shapes === undefined ? { level } : {}), abilities: abilitiesHere() }, group.map(promisedOf), new Exploring(threads, about, options).doing), of.file), 'shared');
    group.forEach((promise, i) => verified.set(promise, answers[i]!));
  }
  return promises.map((promise) => verified.get(promise)!);
} // prettier-ignore

function promisedOf({ name, survey, answer, tightest, deadEnds }: WrittenPromise): PromisedSurvey {
  if (deadEnds !== undefined) return { name, deadEnds };
  return answer === undefined ? { name, to: survey!, tightest: tightest! } : { name, to: survey!, answer };
}
