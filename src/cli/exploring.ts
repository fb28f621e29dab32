import { serialize } from 'node:v8';
import type { Doing, Explorer, PressMargin, PressTask } from 'apperin/lab';
import type { Threads } from './threads.js';
import type { ExplorePressTask, ExploreTask, Surveying } from './worker.js';

let surveys = 0;
/** So many tasks are handed out at a time. */
const FEW = 8;

/** Plays the tasks of a survey in threads, this one too. What it is about is shared by all of them, and read by each once. */
export class Exploring {
  private readonly shared: Uint8Array;
  private readonly name = ++surveys;

  constructor(
    private readonly threads: Threads,
    about: Surveying['about'],
    { abilities = [], host }: { abilities?: readonly string[]; host?: string } = {},
  ) {
    const bytes = serialize({ about, abilities, ...(host === undefined ? {} : { host }) } satisfies Surveying);
    this.shared = new Uint8Array(new SharedArrayBuffer(bytes.length));
    this.shared.set(bytes);
  }

  /** The tasks of a round. */
  readonly doing: Doing = (tasks, here) => {
    const { name, shared, threads } = this;
    return threads.share(
      tasks,
      (task) => here.answering(task),
      (task) => threads.run('explore', { name, shared, task } satisfies ExploreTask),
    );
  };

  /** How tight presses are, for each task; where it is stopped, of the first of them. */
  async presses(tasks: readonly PressTask[], here: Explorer): Promise<PressMargin[][]> {
    const { name, shared, threads } = this;
    const found: PressMargin[][] = [];
    // A few at a time: between them it may be stopped.
    for (let i = 0; i < tasks.length && !threads.stopped(); i += FEW)
      found.push(
        ...(await threads.share(
          tasks.slice(i, i + FEW),
          function* (task) {
            yield;
            return here.presses(task);
          },
          (task) => threads.run('explorePresses', { name, shared, task } satisfies ExplorePressTask),
        )),
      );
    return found;
  }
}
