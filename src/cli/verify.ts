import { dirname, join } from 'node:path';
import type { WrittenPromise } from 'apperin/files';
import { verify, type Promised, type Verified } from 'apperin/lab';
import { abilitiesHere } from './abilities.js';
import { asked } from './asked.js';
import { call } from './call.js';
import { CallError, EXIT } from './exit.js';
import { loadInput, loadLevel, loadPromises, only, sortFiles } from './load.js';
import { writeJunit } from './junit.js';
import type { Long, Shared } from './options.js';
import { overLevels } from './over-levels.js';
import { cut, number, print, printJson, table, wrote } from './print.js';
import { oneTuning } from './sheet.js';
import { isSurvey, verifySurveys } from './verify-survey.js';
import { refuseOutput, writeOutput } from './write.js';

/** `apperin verify`: do the promised measures still hold? 0 all do, 1 one does not, 2 a file is wrong. */
export async function verifyCommand(files: readonly string[], options: Shared & Long & { junit?: string }): Promise<void> {
  const sorted = sortFiles(files, options);
  if (sorted.promises.length === 0) throw new CallError('promises are wanted: name a file that ends in .promises.yaml');
  if (options.junit !== undefined) refuseOutput(options.junit, 'checks');
  const given = only('tuning', sorted.tuning, false);
  const answers: { file: string; tuning: string; rate: number; promises: Verified[] }[] = [];
  for (const file of sorted.promises) {
    const { promises, ...written } = loadPromises(file);
    const all = overLevels(promises, file);
    const beside = (name: string): string => join(dirname(file), name);
    const tuningFile = given ?? (written.tuning === undefined ? undefined : beside(written.tuning));
    const { name, motion } = oneTuning(tuningFile, options);
    const rate = options.rate ?? written.rate ?? 60;
    const plain = all.filter((one) => !isSurvey(one));
    const verified = asked(() => verify(motion, plain.map((one) => promised(one, beside)), { rate, abilities: abilitiesHere() }), file);
    const surveyed = await verifySurveys(all.filter(isSurvey), { motion, tuning: tuningFile, file }, options);
    answers.push({ file, tuning: name, rate, promises: all.map((one) => (isSurvey(one) ? surveyed.shift()! : verified.shift()!)) });
  }
  const broken = answers.flatMap(({ promises }) => promises).filter(({ kept }) => !kept).length;
  if (broken > 0) call().status = EXIT.no;
  if (options.junit !== undefined) await writeOutput(options.junit, 'checks', writeJunit(Object.fromEntries(answers.map(({ file, promises }) => [file, promises.map((one) => ({ name: one.name, failure: one.kept ? '' : why(one) }))]))));
  if (options.json) {
    printJson({ kept: broken === 0, files: answers });
    return;
  }
  for (const { file, tuning, promises } of answers) {
    print(`${file}: ${tuning}\n`);
    print(table(['', 'promise', 'least', 'is', 'most', 'unit', ''], promises.map(cells), [false, false, true, true, true]));
    const failed = promises.filter(({ kept }) => !kept).length;
    print(`\n${failed === 0 ? `All ${promises.length} promises are kept.` : `${failed} of ${promises.length} promises ${failed === 1 ? 'is' : 'are'} broken.`}`);
  }
  wrote([options.junit], options.quiet);
} // prettier-ignore

function promised(
  { name, measure, gap, sameAt, level, input, least, most }: WrittenPromise,
  beside: (name: string) => string,
): Promised {
  const scene = level === undefined ? undefined : { level: loadLevel(beside(level)).compiled, input: loadInput(beside(input!)).rows }; // prettier-ignore
  if (sameAt !== undefined) return { name, sameAt, scene: scene! };
  const bounds = { ...(least === undefined ? {} : { least }), ...(most === undefined ? {} : { most }) };
  if (gap !== undefined) return { name, gap, ...bounds };
  return { name, measure: measure!, ...bounds, ...(scene ? { scene } : {}) };
}

function why({ value, unit, least, most, remark: said }: Verified): string {
  if (value === null || (least === null && most === null)) return said;
  const bounds = [least === null ? '' : `at least ${least}`, most === null ? '' : `at most ${most}`].filter(Boolean);
  return `it is ${value} ${unit}; promised ${bounds.join(' and ')}`;
}

function cells({ name, kept, value, unit, least, most, remark: said }: Verified): string[] {
  const bound = (one: number | null): string => (one === null ? '' : number(one));
  const fine =
    least === null && most === null && value !== null && value < 1e-3 ? value.toExponential(1) : bound(value);
  return [kept ? 'kept' : 'BROKEN', cut(name, 40), bound(least), fine, bound(most), unit, said];
}
