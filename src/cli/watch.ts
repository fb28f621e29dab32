import { unwatchFile, watchFile } from 'node:fs';

/** How often a file is asked for its times, and how long it must rest before it is read, ms. */
const EVERY = 80;
const REST = 120;

/**
 * Watches a few files by their times and sizes, which loses no change on any disk; a file may be replaced, go away and come back. One that is still being
 * written is left alone until it rests.
 *
 * @param changed called with the path of a file that may have changed, and once for each that is added
 */
export function watchFiles(changed: (path: string) => void): { add(paths: readonly string[]): void; close(): void } {
  const resting = new Map<string, NodeJS.Timeout | undefined>();
  const moved = (path: string): void => {
    clearTimeout(resting.get(path));
    resting.set(
      path,
      setTimeout(() => changed(path), REST),
    );
  };
  return {
    add(paths) {
      for (const path of paths) {
        if (resting.has(path)) continue;
        watchFile(path, { interval: EVERY }, () => moved(path));
        // It may have changed since it was read, and before it was watched.
        moved(path);
      }
    },
    close() {
      for (const [path, timer] of resting) {
        clearTimeout(timer);
        unwatchFile(path);
      }
    },
  };
}
