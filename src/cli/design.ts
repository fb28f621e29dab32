import { valueOfKey, type Tuning } from 'apperin';
import { editTuning, type Edit } from 'apperin/files';
import { design, type Design, type FreeKey } from 'apperin/lab';
import { abilitiesHere } from './abilities.js';
import { asked } from './asked.js';
import { call } from './call.js';
import { CallError, EXIT } from './exit.js';
import { kindOf } from './kinds.js';
import { applySets, loadTuning, only, sortFiles } from './load.js';
import type { Shared } from './options.js';
import { number, paragraph, print, printJson, remark, table, wrote } from './print.js';
import { refuseOutput, writeOutput } from './write.js';

/** `apperin design`: I want it this high, this far, this quick: which numbers? 0 found, 1 the goals contradict each other. */
export async function designCommand(words: readonly string[], options: Shared & { free?: string[] }): Promise<void> {
  const isGoal = (word: string): boolean => /^[A-Za-z0-9.]+=/.test(word) && kindOf(word) === undefined;
  const goals: Record<string, number> = {};
  for (const word of words.filter(isGoal)) {
    const [, id, text] = /^([^=]+)=(.*)$/.exec(word)!;
    const value = Number(text);
    if (text === '' || !Number.isFinite(value)) throw new CallError(`${word}: it must be a goal and a number, such as height=3`);
    if (id! in goals) throw new CallError(`${id} is given twice`);
    goals[id!] = value;
  }
  if (Object.keys(goals).length === 0)
    throw new CallError('design wants goals: height=3 riseTime=0.4 reach=6. Any measure of the sheet is one (apperin sheet --json lists their ids)');
  const sorted = sortFiles(words.filter((word) => !isGoal(word)), options);
  const file = only('tuning', sorted.tuning, false);
  if (options.out !== undefined && options.out !== '-' && kindOf(options.out) !== 'tuning')
    throw new CallError(`--out ${options.out}: its name must end in .tuning.yaml`);
  if (options.out !== undefined && file !== undefined && options.set !== undefined)
    throw new CallError('--set and --out do not go together: write the changes into the tuning first');
  const free = options.free?.map(freeKey);
  const loaded = file === undefined ? undefined : loadTuning(file, options.set);
  const base: Tuning = loaded?.tuning ?? applySets({}, options.set ?? []);
  if (options.out !== undefined) refuseOutput(options.out, 'tuning');
  const { rate } = options;
  const made = asked(() => design(base, goals, { abilities: abilitiesHere(), ...(free ? { free } : {}), ...(rate === undefined ? {} : { rate }) }));
  if (made.contradiction !== '') call().status = EXIT.no;
  if (options.out !== undefined && made.contradiction === '')
    await writeOutput(options.out, 'tuning', editTuning(loaded?.text ?? '', editsOf(made), file), { fresh: true });
  if (options.json) {
    printJson({ ...made, ...(options.out !== undefined && made.contradiction === '' ? { file: options.out } : {}) });
    return;
  }
  print(report(made));
  if (made.contradiction === '') wrote([options.out], options.quiet);
  else if (options.out !== undefined) remark('nothing was written', options.quiet);
} // prettier-ignore

/** What is to be written: of a list, the whole of it. */
function editsOf({ keys, tuning }: Design): Edit[] {
  return keys.map(({ key, now }) => {
    const list = key.replace(/\.\d+$/, '');
    return list === key ? { key, value: now } : { key: list, value: valueOfKey(tuning, list) as readonly number[] };
  });
}

/** `key`, or `key=least..most`. */
function freeKey(text: string): FreeKey {
  const [, key, least, most] = /^([^=]+?)(?:=(.+)\.\.(.+))?$/.exec(text) ?? [];
  const [low, high] = [Number(least), Number(most)];
  if (key === undefined || key.includes('=') || (least !== undefined && !(low <= high)))
    throw new CallError(`--free ${text}: it must be a key, or a key and its range: run.speed=5..9`);
  return least === undefined ? { key } : { key, least: low, most: high };
}

function report({ goals, keys, sensitivity, undecided, contradiction, conflict, evaluations }: Design): string {
  const parts = [
    table(
      ['goal', 'what it is', 'wanted', 'comes to', 'unit', ''],
      goals.map(({ id, name, unit, wanted, got, met }) => [id, name, number(wanted), number(got), unit, met ? 'met' : 'MISSED']),
      [false, false, true, true],
    ),
  ];
  if (contradiction !== '') return [...parts, paragraph(`${contradiction.includes('cannot all be met') ? 'These goals contradict each other' : conflict.length < 2 ? 'This goal cannot be met' : 'These goals cannot be met'}: ${contradiction}.`), 'Let other keys move (--free), or ask for less.'].join('\n\n');
  parts.push(
    table(
      ['key', 'was', 'now', 'one percent more of it changes'],
      keys.map(({ key, before, now }) => [
        key,
        before === undefined ? '–' : number(before),
        number(now, 6),
        sensitivity.filter((one) => one.key === key).map(({ id, percent }) => `${id} by ${percent > 0 ? '+' : ''}${percent.toFixed(2)} %`).join(', '),
      ]),
      [false, true, true],
    ),
  );
  if (undecided.length > 0) parts.push(`Not decided by these goals: ${undecided.join(', ')}; as before.`);
  parts.push(`${evaluations} tuning${evaluations === 1 ? '' : 's'} tried.`);
  return parts.join('\n\n');
} // prettier-ignore
