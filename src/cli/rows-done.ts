import { serialize } from 'node:v8';
import { SearchJobs, type JobDone, type SearchRow } from 'apperin/lab';
import type { Planned } from './planned.js';
import type { Threads } from './threads.js';
import type { Searching } from './worker.js';

let searches = 0;

/** Does rows of a plan in threads. What it is about is shared by all of them, and read by each once. */
export class RowsDone {
  private readonly shared: Uint8Array;
  private readonly name = ++searches;
  private readonly jobs: SearchJobs;

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
    const done = await Promise.all(Array.from({ length: this.jobs.jobs }, (_, job): Promise<JobDone> => this.threads.run('searchJob', { name, shared, row, job })));
    return this.jobs.rowOf(row, done);
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
