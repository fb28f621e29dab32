import { tightestPress } from '../margins.js';
import type { Verified } from '../verify.js';
import { levelOf, survey, type Surveyed, type SurveyOptions } from './survey.js';
import type { Doing } from './search.js';

/** Something that is promised of where a character gets to in a level. */
export type PromisedSurvey = { name: string } & (
  | {
      /** A spawn, or a zone by its name: whether it is reached, or is not. */
      to: string;
      answer: 'yes' | 'no';
    }
  | {
      /** No press on the way there is tighter, s; directions are none. */
      to: string;
      tightest: number;
    }
  | {
      /** So many places at most from which there is no way back; what is undecided counts. */
      deadEnds: number;
    }
);

/**
 * Do the promised ways still hold? Each level is surveyed once for all its promises.
 * @throws what `survey` throws; RangeError where neither a spawn nor a zone has such a name
 * @example
 * ```ts
 * await verifySurvey({ level: { rows: ['@...', '####'] }, tuning: brindle, spend: 5000 }, [{ name: 'nobody gets stuck', deadEnds: 0 }]);
 * ```
 */
export async function verifySurvey(options: SurveyOptions, promises: readonly PromisedSurvey[], doing?: Doing): Promise<Verified[]> {
  return verdicts(await survey(options, doing), options, promises);
} // prettier-ignore

/** What a survey that was made says of promises. @throws RangeError where neither a spawn nor a zone has such a name */
export function verdicts(surveyed: Surveyed, options: SurveyOptions, promises: readonly PromisedSurvey[]): Verified[] {
  return promises.map((promise): Verified => {
    const { name } = promise;
    if ('deadEnds' in promise) return ofDeadEnds(surveyed, name, promise.deadEnds);
    const target = surveyed.survey.targets.find((one) => one.name === promise.to);
    if (target === undefined) throw new RangeError(`there is no spawn or zone ${promise.to} to get to; there are ${surveyed.survey.targets.map((one) => one.name).join(', ') || 'none'}`);
    const shown = { name, unit: 's', least: null, most: null };
    if ('answer' in promise) {
      const kept = target.answer === promise.answer;
      const said = target.answer === 'not found' ? 'not found: neither yes nor no' : target.answer === 'yes' ? 'yes' : 'no, it is out of reach';
      return { ...shown, kept, value: target.time, remark: said, ...(target.answer === 'not found' ? OPEN : {}) };
    }
    const { tightest } = promise;
    if (target.proof === null) return { ...shown, least: tightest, kept: false, value: null, ...(target.answer === 'no' ? { remark: 'it is out of reach' } : { remark: 'no way there was found', ...OPEN }) };
    const { tuning, at, opposed, abilities, host } = options;
    const press = tightestPress({ level: levelOf(options), tuning, input: target.proof, ...(at === undefined ? {} : { at }), ...(opposed === undefined ? {} : { opposed }), ...(abilities === undefined ? {} : { abilities }), ...(host === undefined ? {} : { host }) });
    if (press === undefined) return { ...shown, least: tightest, kept: true, value: null, remark: 'no press on the way has an end' };
    const { window } = press.press;
    return { ...shown, least: tightest, kept: window! >= tightest, value: window, remark: `${press.action} at ${Math.floor(press.at * 1000 + 0.5) / 1000} s` };
  });
} // prettier-ignore

const OPEN = { open: true } as const;

function ofDeadEnds({ survey: { deadEnds } }: Surveyed, name: string, most: number): Verified {
  const undecided = deadEnds.filter(({ answer }) => answer === 'not found').length;
  const remark =
    deadEnds.length === 0
      ? ''
      : `from ${deadEnds.map(({ place }) => place).join(', ')}${undecided > 0 ? `; of ${undecided} it is not known` : ''}`;
  // Those that are none for certain may be few enough.
  const isOpen = deadEnds.length > most && deadEnds.length - undecided <= most;
  return { name, kept: deadEnds.length <= most, value: deadEnds.length, unit: 'places', least: null, most, remark, ...(isOpen ? OPEN : {}) };
} // prettier-ignore
