import type { PlannedFiles } from 'apperin/files';
import {
  Explorer,
  SearchJobs,
  sceneOf,
  varyPoint,
  type Answered,
  type JobDone,
  type PressMargin,
  type PressTask,
  type SurveyOptions,
  type Task,
  type VariedKey,
  type VariedPoint,
} from 'apperin/lab';
import type { Tuning } from 'apperin';
import { deserialize } from 'node:v8';
import { loadAbilities } from './abilities.js';
import { loadHost } from './host.js';
import { inputsOf } from './planned.js';

/** What other threads do of long work: nothing here depends on which of them does it. */

export interface VaryTask {
  tuning: Tuning;
  keys: readonly VariedKey[];
  points: readonly number[][];
  rate: number;
  /** Modules of abilities of the game's own. */
  modules: readonly string[];
}

export async function varyPoints({
  tuning,
  keys,
  points,
  rate,
  modules,
}: VaryTask): Promise<Omit<VariedPoint, 'motion'>[]> {
  const abilities = await loadAbilities(modules);
  return points.map((values) => {
    const { measures, why } = varyPoint(tuning, keys, values, rate, abilities);
    return { values, measures, why };
  });
}

/** What a survey is about, and the modules of abilities, which each thread loads. */
export interface Surveying {
  about: Omit<SurveyOptions, 'abilities' | 'progress' | 'host'>;
  abilities: readonly string[];
  /** The module of what the game adds. */
  host?: string;
}

/** A task of a survey: the number of that within this process, and what it is about as bytes that all threads share. */
export interface ExploreTask {
  name: number;
  shared: Uint8Array;
  task: Task;
}

/** The same of presses. */
export interface ExplorePressTask extends Omit<ExploreTask, 'task'> {
  task: PressTask;
}

let explored: { name: number; explorer: Explorer } | undefined;

export async function explore({ task, ...about }: ExploreTask): Promise<Answered> {
  return (await explorerOf(about)).answer(task);
}

export async function explorePresses({ task, ...about }: ExplorePressTask): Promise<PressMargin[]> {
  return (await explorerOf(about)).presses(task);
}

async function explorerOf({ name, shared }: Omit<ExploreTask, 'task'>): Promise<Explorer> {
  if (explored?.name !== name) {
    const { about, abilities, host } = deserialize(shared.slice()) as Surveying;
    const added = host === undefined ? {} : { host: await loadHost(host) };
    explored = {
      name,
      explorer: new Explorer(sceneOf({ ...about, ...added, abilities: await loadAbilities(abilities) })),
    };
  }
  return explored.explorer;
}

/** A job of a search: the number of that within this process, and what it is about as bytes that all threads share. */
export interface SearchTask {
  name: number;
  shared: Uint8Array;
  row: number;
  job: number;
  /** Where it says how many events it has spent so far: one number for each job of the row. */
  told: Float64Array;
}

/** What jobs of a search are about, and the modules of abilities, which each thread loads. */
export interface Searching extends PlannedFiles {
  texts: Record<string, string>;
  modules: readonly string[];
}

let searched: { name: number; jobs: Promise<SearchJobs> } | undefined;

export async function searchJob({ name, shared, row, job, told }: SearchTask): Promise<JobDone> {
  if (searched?.name !== name) searched = { name, jobs: jobsOf(deserialize(shared.slice()) as Searching) };
  return (await searched.jobs).done(row, job, (events) => void (told[job] = events));
}

async function jobsOf({ plan, files, texts, modules }: Searching): Promise<SearchJobs> {
  const abilities = await loadAbilities(modules);
  const actions = abilities.flatMap(({ spec }) => spec.actions ?? []);
  return new SearchJobs(
    plan,
    inputsOf({ plan, files }, (hash) => texts[hash]!, actions),
    abilities,
  );
}
