import { serialize } from 'node:v8';
import { SearchJobs, type JobDone, type SearchRow } from 'apperin/lab';
import type { Planned } from './planned.js';
import type { Threads } from './threads.js';
import type { Searching } from './worker.js';

/** How far a row has come that is being done. */
export interface RowDoing {
  row: number;
  /** So many of its jobs are done. */
  done: number;
  of: number;
  /** Events of the core that all of them have spent so far. */
  events: number;
}

let searches = 0;

/** Does rows of a plan in threads. What it is about is shared by all of them, and read by each once. */
export class RowsDone {
  private readonly shared: Uint8Array;
  private readonly name = ++searches;
  private readonly jobs: SearchJobs;
  private readonly begun = new Map<number, { done: number; told: Float64Array }>();

  constructor(
    private readonly threads: Threads,
    { plan, files, texts }: Pick<Planned, 'plan' | 'files' | 'texts'>,
    modules: readonly string[] = [],
  ) {
    const bytes = serialize({ plan, files, texts, modules } satisfies Searching);
    this.shared = new Uint8Array(new SharedArrayBuffer(bytes.length));
    this.shared.set(bytes);
    const none = (): never => {
      throw new Error('jobs are done in threads');
    };
    this.jobs = new SearchJobs(plan, { level: none, input: none });
  }

  /** All jobs of a row, wherever there is room. */
  async row(row: number): Promise<SearchRow> {
    const { name, shared } = this;
    const { jobs: of } = this.jobs;
    const told = new Float64Array(new SharedArrayBuffer(of * Float64Array.BYTES_PER_ELEMENT));
    const begun = { done: 0, told };
    this.begun.set(row, begun);
    const job = async (job: number): Promise<JobDone> => {
      const done = await this.threads.run('searchJob', { name, shared, row, job, told });
      begun.done++;
      return done;
    };
    try {
      return this.jobs.rowOf(row, await Promise.all(Array.from({ length: of }, (_, i) => job(i))));
    } finally {
      this.begun.delete(row);
    }
  }

  /** How far the rows have come that are being done. */
  doing(): RowDoing[] {
    return [...this.begun].map(([row, { done, told }]) => ({ row, done, of: told.length, events: told.reduce((sum, events) => sum + events, 0) }));
  } // prettier-ignore

  /** The row that says that whoever did it was lost. */
  lost(row: number): SearchRow {
    return this.jobs.lost(row);
  }

  /** Does rows, so many at a time, until there are no more or it is asked to stop. */
  async all(rows: readonly number[], atOnce: number, take: (row: SearchRow) => void): Promise<void> {
    let next = 0;
    const line = async (): Promise<void> => {
      while (next < rows.length && !this.threads.stopped()) {
        const row = await this.row(rows[next++]!);
        take(row);
      }
    };
    await Promise.all(Array.from({ length: Math.min(atOnce, rows.length) }, line));
  }
}
