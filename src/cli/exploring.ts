import type { Doing } from 'apperin/lab';
import type { Threads } from './threads.js';
import type { ExploreTask } from './worker.js';

/** Plays the tasks of a survey's rounds in threads. @param name tells one survey from another within a call */
export function exploring(
  { run }: Threads,
  name: string,
  about: ExploreTask['about'],
  abilities: readonly string[] = [],
): Doing {
  return (tasks) => Promise.all(tasks.map((task) => run('explore', { name, about, abilities, task })));
}
