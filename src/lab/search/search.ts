import type { Ability } from '../../core/index.js';
import { SearchJobs, type JobDone, type SearchInputs, type SearchRow } from './job.js';
import type { SearchPlan } from './plan.js';

/** How a plan is done. */
export interface SearchOptions {
  abilities?: readonly Ability[];
  /** Told each row as it is found: `false` ends the search early. */
  progress?: (row: SearchRow) => boolean;
}

/**
 * Does all of a plan, here and now, one row after the other: which promises hold where. The command line does the same jobs in threads and on several machines.
 * @param inputs the levels and inputs that the plan names
 * @example
 * ```ts
 * await search(searchPlan({ build: 'mine', tuning: brindle, keys: [{ key: 'jump.height', values: [2, 3] }], promises: [{ name: 'clears two', measure: 'apexHeight', least: 2 }] }), { level: () => openGround(), input: () => [] });
 * ```
 */
export async function search(plan: SearchPlan, inputs: SearchInputs, { abilities = [], progress }: SearchOptions = {}): Promise<SearchRow[]> {
  const jobs = new SearchJobs(plan, inputs, abilities);
  const rows: SearchRow[] = [];
  for (let row = 0; row < plan.rows; row++) {
    const done: JobDone[] = [];
    for (let job = 0; job < jobs.jobs; job++) done.push(await jobs.done(row, job));
    rows.push(jobs.rowOf(row, done));
    if (progress?.(rows.at(-1)!) === false) break;
  }
  return rows;
} // prettier-ignore
