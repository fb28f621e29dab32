import { Explorer } from './explore.js';
import { Search, type Doing } from './search.js';
import { sceneOf, SPEND, type Answer, type SurveyOptions } from './survey.js';

/** Whether somebody gets there, and no more. */
export interface Reached {
  /** One for each name, in their order. */
  answers: Answer[];
  /** Events of the core. */
  spent: number;
  /** Whether it ended because all that may be spent was. */
  ended: boolean;
}

/**
 * Whether somewhere is come to: the same answers as those of a survey, which is over as soon as they are known. Nothing else of the level is looked for.
 * @param names spawns and zones
 * @throws what `survey` throws; RangeError where neither a spawn nor a zone has such a name
 * @example
 * ```ts
 * (await reaches({ level: { rows: ['@...', '####'], spawns: { exit: [3.5, 1] } }, tuning: brindle, spend: 5000 }, ['exit'])).answers
 * ```
 */
export async function reaches(options: SurveyOptions, names: readonly string[], doing?: Doing): Promise<Reached> {
  const { spend = SPEND, seed = 1, kept, progress } = options;
  const scene = sceneOf(options);
  const wanted = names.map((name) => {
    const one = scene.wanted.find((target) => target.name === name);
    if (one === undefined) throw new RangeError(`there is no spawn or zone ${name} to get to; there are ${scene.wanted.map((target) => target.name).join(', ') || 'none'}`);
    return one;
  });
  const search = new Search(new Explorer({ ...scene, wanted }), { spend, seed, enough: true, progress, ...(kept ? { kept } : {}) }, doing);
  await search.run();
  const answers = wanted.map((_, i): Answer => (search.found.has(i) ? 'yes' : search.bound.mayCome(i) ? 'not found' : 'no'));
  return { answers, spent: search.spent, ended: search.spent >= spend };
} // prettier-ignore
