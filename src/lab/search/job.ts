import { compileTuning, type Ability, type InputRow, type Motion, type OpenLevel } from '../../core/index.js';
import { sheet } from '../sheet.js';
import { reaches } from '../survey/reaches.js';
import { verdicts } from '../survey/promised.js';
import { survey } from '../survey/survey.js';
import { verify, type Promised } from '../verify.js';
import {
  SEARCH_LIMITS,
  rowSet,
  rowTuning,
  rowValues,
  type InputName,
  type PlannedPromise,
  type PlannedScene,
  type PlannedSurvey,
  type RowValues,
  type SearchPlan,
} from './plan.js';

/** Whether a promise holds in a row; `not found`: neither that nor the other could be shown; `error`: it cannot be asked. */
export type Holds = 'holds' | 'fails' | 'not found' | 'error';

/** What became of a promise in a row. */
export interface RowPromise {
  name: string;
  answer: Holds;
  /** Its job ended because all the events were spent that it may spend. */
  ended?: true;
  /** Of an error: what is wrong. */
  why?: string;
}

/** What was found for one row: a line of the file. */
export interface SearchRow {
  row: number;
  set: Record<string, number>;
  /** There can be no such tuning, or `lost`: whoever did it was lost again and again. */
  error?: string;
  /** Every measure of the sheet; null where it has no end. */
  measures: Record<string, number | null>;
  promises: RowPromise[];
  /** Events of the core, of surveys. */
  spent: { events: number };
}

/** Finds what a plan names. What it throws is the answer of the job that asked. */
export interface SearchInputs {
  /** A level by its name; as it is written, where its named shapes are to be switched. */
  level(name: InputName, asWritten?: boolean): OpenLevel;
  /** An input by its name. */
  input(name: InputName): readonly InputRow[];
}

/** What came of a job. */
export interface JobDone {
  error?: string;
  measures?: Record<string, number | null>;
  /** By the numbers of the promises. */
  promises: [number, Omit<RowPromise, 'name'>][];
  events: number;
}

type SurveyPromise = Extract<PlannedPromise, PlannedSurvey & { level: string }> & PlannedSurvey;
const isSurvey = (promise: PlannedPromise): promise is SurveyPromise => 'deadEnds' in promise || 'to' in promise;

/**
 * Does the jobs of a plan, each by itself and in any order: `jobs` of them a row. The first reckons the measures and what hangs on these or is played; each other
 * one is a survey, with all that is promised of it.
 */
export class SearchJobs {
  /** The promises of each survey, by their numbers. */
  private readonly surveys: number[][];
  private readonly values: RowValues;

  constructor(
    readonly plan: SearchPlan,
    private readonly inputs: SearchInputs,
    private readonly abilities: readonly Ability[] = [],
  ) {
    this.values = rowValues(plan);
    const groups = new Map<string, number[]>();
    plan.promises.forEach((promise, i) => {
      if (!isSurvey(promise)) return;
      const { level, tuning, at, avoid, spend, shapes } = promise;
      const id = JSON.stringify([level, tuning, at, avoid, spend, shapes]);
      groups.set(id, [...(groups.get(id) ?? []), i]);
    });
    this.surveys = [...groups.values()];
  }

  /** How many jobs a row is. */
  get jobs(): number {
    return 1 + this.surveys.length;
  }

  /**
   * Does one.
   * @param row from 0
   * @param job of that row, from 0
   * @param spent told now and then how many events a survey has spent so far
   * @throws RangeError where the plan has none such
   */
  async done(row: number, job: number, spent?: (events: number) => void): Promise<JobDone> {
    if (!(Number.isInteger(row) && row >= 0 && row < this.plan.rows)) throw new RangeError(`row is ${row}; it must be 0 to ${this.plan.rows - 1}`);
    if (!(Number.isInteger(job) && job >= 0 && job < this.jobs)) throw new RangeError(`job is ${job}; it must be 0 to ${this.jobs - 1}`);
    return job === 0 ? this.reckoned(row) : this.surveyed(row, this.surveys[job - 1]!, spent);
  } // prettier-ignore

  /** What all jobs of a row say together. */
  rowOf(row: number, jobs: readonly JobDone[], error = jobs.find((one) => one.error !== undefined)?.error): SearchRow {
    const { plan } = this;
    const answers = new Map(jobs.flatMap(({ promises }) => promises));
    return {
      row,
      set: rowSet(plan, this.values(row)),
      ...(error === undefined ? {} : { error }),
      measures: jobs.find(({ measures }) => measures)?.measures ?? {},
      promises: plan.promises.map(({ name }, i) => ({ name, ...(answers.get(i) ?? { answer: 'error' }) })),
      spent: { events: jobs.reduce((sum, { events }) => sum + events, 0) },
    };
  }

  /** The row that says that it was lost. */
  lost(row: number): SearchRow {
    return this.rowOf(row, [], LOST);
  }

  private motion(row: number, tuning = this.plan.tuning): Motion {
    return compileTuning(rowTuning(tuning, this.plan, this.values(row)));
  }

  private reckoned(row: number): JobDone {
    const { abilities } = this;
    const { promises, rate } = this.plan;
    let motion: Motion;
    try {
      motion = this.motion(row);
    } catch (error) {
      return { error: (error as Error).message, promises: [], events: 0 };
    }
    const measures = Object.fromEntries(sheet(motion, { rate, abilities }).map(({ id, value }) => [id, Number.isFinite(value) ? value : null]));
    const answers = promises.flatMap((promise, i): JobDone['promises'] => {
      if (isSurvey(promise)) return [];
      return [[i, answered(() => ({ answer: verify(motion, [this.promised(promise)], { rate, abilities })[0]!.kept ? 'holds' : 'fails' }))]];
    });
    return { measures, promises: answers, events: 0 };
  } // prettier-ignore

  private promised(promise: Exclude<PlannedPromise, SurveyPromise>): Promised {
    const scene = ({ level, input }: PlannedScene): { level: OpenLevel; input: readonly InputRow[] } => ({ level: this.inputs.level(level), input: this.inputs.input(input) });
    if ('sameAt' in promise) return { ...promise, scene: scene(promise.scene) };
    if ('gap' in promise) return promise;
    const { scene: played, ...rest } = promise;
    return played ? { ...rest, scene: scene(played) } : rest;
  } // prettier-ignore

  private async surveyed(row: number, group: readonly number[], told?: (events: number) => void): Promise<JobDone> {
    const promises = group.map((i) => this.plan.promises[i] as SurveyPromise);
    const { level, tuning, at, avoid, shapes, spend = SEARCH_LIMITS.spend } = promises[0]!;
    try {
      const options = {
        level: this.inputs.level(level, shapes !== undefined),
        tuning: this.motion(row, tuning),
        spend,
        abilities: this.abilities,
        ...(at === undefined ? {} : { at }),
        ...(avoid === undefined ? {} : { avoid }),
        ...(shapes === undefined ? {} : { shapes }),
        ...(told === undefined ? {} : { progress: ({ spent }: { spent: number }) => (told(spent), true) }),
      };
      if (promises.every((promise) => 'answer' in promise)) {
        const { answers, spent, ended } = await reaches(options, promises.map(({ to }) => to));
        return {
          promises: promises.map(({ answer }, i) => [group[i]!, saidOf(answers[i] === answer, answers[i] === 'not found', ended)]),
          events: spent,
        };
      }
      const surveyed = await survey(options);
      const { spent: events } = surveyed.survey;
      return { promises: verdicts(surveyed, options, promises).map(({ kept, open }, i) => [group[i]!, saidOf(kept, open === true, events >= spend)]), events };
    } catch (error) {
      return { promises: group.map((i) => [i, { answer: 'error', why: whyOf(error) }]), events: 0 };
    }
  } // prettier-ignore
}

/**
 * What a row says whose workers were lost.
 * @example
 * ```ts
 * LOST // 'lost'
 * ```
 */
export const LOST = 'lost';

const whyOf = (error: unknown): string => (error instanceof Error ? error.message : String(error)).split('\n', 1)[0]!;

function answered(make: () => Omit<RowPromise, 'name'>): Omit<RowPromise, 'name'> {
  try {
    return make();
  } catch (error) {
    return { answer: 'error', why: whyOf(error) };
  }
}

function saidOf(kept: boolean, isOpen: boolean, ended: boolean): Omit<RowPromise, 'name'> {
  if (kept) return { answer: 'holds' };
  return isOpen ? { answer: 'not found', ...(ended ? { ended } : {}) } : { answer: 'fails' };
}
