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
  /**
   * Does tasks in all threads, this one too: each takes the next as soon as it is free. Answers come in the order of the tasks.
   * @param here does one in this thread, step by step, so that others can be handed on between
   * @param there does one in another thread
   */
  share<Task, Answer>(
    tasks: readonly Task[],
    here: (task: Task) => Generator<void, Answer>,
    there: (task: Task) => Promise<Answer>,
  ): Promise<Answer[]>;
  /** Whether it was asked to stop: what has been found is kept. */
  stopped(): boolean;
}

/** So many threads unless given: one for each processor, up to eight. */
export const mostThreads = (): number => Math.min(8, availableParallelism());

/** In this thread so long is gone on for without looking whether another has become free, ms. */
const STEPS = 2;

const breath = (): Promise<void> => new Promise((next) => setImmediate(next));

/** Tasks for this thread and so many others. What others are still at when nothing else is left, this one does as well, and takes what comes first: it is the same answer. */
async function shared<Task, Answer>(tasks: readonly Task[], here: (task: Task) => Generator<void, Answer>, there: (task: Task) => Promise<Answer>, others: number): Promise<Answer[]> {
  const answers = new Map<number, Answer>();
  let next = 0;
  let failed: { error: unknown } | undefined;
  const elsewhere = async (): Promise<void> => {
    while (next < tasks.length && failed === undefined) {
      const i = next++;
      try {
        const answer = await there(tasks[i]!);
        if (!answers.has(i)) answers.set(i, answer);
      } catch (error) {
        failed ??= { error };
      }
    }
  };
  for (let i = 0; i < others; i++) void elsewhere();
  const doHere = async (i: number): Promise<void> => {
    const steps = here(tasks[i]!);
    for (let step = steps.next(), since = performance.now(); !answers.has(i); step = steps.next()) {
      if (step.done) answers.set(i, step.value);
      else if (performance.now() - since >= STEPS) {
        await breath();
        if (failed) throw failed.error;
        since = performance.now();
      }
    }
    await breath();
    if (failed) throw failed.error;
  };
  while (next < tasks.length) await doHere(next++);
  for (let i = 0; i < tasks.length; i++) if (!answers.has(i)) await doHere(i);
  return tasks.map((_, i) => answers.get(i)!);
} // prettier-ignore

/** After so long it is said that it can be ended early, ms. */
const LONG = 2000;

/**
 * Does long work in so many threads; with one, in this one. Interrupted once (Ctrl+C) it ends early and keeps what it has; interrupted again, all ends.
 * @param tell says that it is stopping
 * @param how `service`: it goes on until it is stopped, which is said by what does it; `shared`: this thread is one of them
 */
export async function inThreads<T>(workers: number, tell: (text: string) => void, work: (threads: Threads) => Promise<T>, how?: 'service' | 'shared'): Promise<T> {
  const isService = how === 'service';
  const others = how === 'shared' ? workers - 1 : workers > 1 || isService ? workers : 0;
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
  const pool = others > 0 ? new Tinypool({ filename: url, runtime: 'worker_threads', execArgv: [], minThreads: others, maxThreads: others, concurrentTasksPerWorker: 1 }) : undefined;
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
      share: (tasks, inThis, inOthers) => shared(tasks, inThis, inOthers, others),
    });
  } finally {
    clearTimeout(long);
    process.off('SIGINT', interrupt);
    process.off('SIGTERM', interrupt);
    await pool?.destroy();
  }
} // prettier-ignore
