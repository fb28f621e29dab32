import { availableParallelism } from 'node:os';
import { Tinypool } from 'tinypool';
import * as here from './worker.js';

/** Long work in several threads, that can be interrupted. */
export interface Threads {
  /** Does one of the tasks of `worker.ts`. */
  run<Name extends keyof typeof here>(
    name: Name,
    task: Parameters<(typeof here)[Name]>[0],
  ): Promise<Awaited<ReturnType<(typeof here)[Name]>>>;
  /** Whether it was asked to stop: what has been found is kept. */
  stopped(): boolean;
}

/** So many threads unless given: one for each processor, up to eight. */
export const mostThreads = (): number => Math.min(8, availableParallelism());

/** After so long it is said that it can be ended early, ms. */
const LONG = 2000;

/**
 * Does long work in so many threads; with one, in this one. Interrupted once (Ctrl+C) it ends early and keeps what it has; interrupted again, all ends.
 * @param tell says that it is stopping
 * @param isService whether it goes on until it is stopped: that is said by what does it
 */
export async function inThreads<T>(workers: number, tell: (text: string) => void, work: (threads: Threads) => Promise<T>, isService = false): Promise<T> {
  let stopped = false;
  const interrupt = (): void => {
    if (stopped) process.exit(130);
    stopped = true;
    tell(isService ? 'stopping when the rows that it has are done; once more to end at once' : 'stopping: what has been found so far is kept; once more to end at once');
  };
  process.on('SIGINT', interrupt);
  if (isService) process.on('SIGTERM', interrupt);
  const long = isService ? undefined : setTimeout(() => tell('still at it; Ctrl+C ends it early and keeps what has been found'), LONG);
  const url = new URL('./worker.js', import.meta.url).href;
  const pool = workers > 1 || isService ? new Tinypool({ filename: url, runtime: 'worker_threads', execArgv: [], minThreads: workers, maxThreads: workers, concurrentTasksPerWorker: 1 }) : undefined;
  try {
    return await work({
      stopped: () => stopped,
      run: async (name, task) => {
        // Between two tasks, an interruption may come in.
        if (pool === undefined) return await new Promise<never>((done, fail) => setImmediate(() => {
          try {
            done((here[name] as (of: unknown) => never)(task));
          } catch (error) {
            fail(error as Error);
          }
        }));
        return (await pool.run(task, { name })) as never;
      },
    });
  } finally {
    clearTimeout(long);
    process.off('SIGINT', interrupt);
    process.off('SIGTERM', interrupt);
    await pool?.destroy();
  }
} // prettier-ignore
