import { serialize } from 'node:v8';
import type { Doing } from 'apperin/lab';
import type { Threads } from './threads.js';
import type { ExploreTask, Surveying } from './worker.js';

let surveys = 0;

/** Plays the tasks of a survey's rounds in threads. What it is about is shared by all of them, and read by each once. */
export function exploring({ run }: Threads, about: Surveying['about'], abilities: readonly string[] = []): Doing {
  const bytes = serialize({ about, abilities } satisfies Surveying);
  const shared = new Uint8Array(new SharedArrayBuffer(bytes.length));
  shared.set(bytes);
  const name = ++surveys;
  return (tasks) => Promise.all(tasks.map((task) => run('explore', { name, shared, task } satisfies ExploreTask)));
}
