import { accessSync, constants, linkSync, lstatSync, mkdirSync, readdirSync, readFileSync, realpathSync, renameSync, rmSync, statSync, type Stats } from 'node:fs'; // prettier-ignore
import { open } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { kindOfEntry } from './read.js';

/** The file is not what it was thought to be: nothing has been written. */
export class ChangedError extends Error {
  override readonly name = 'ChangedError';
}

export interface ReplaceOptions {
  /**
   * Whether what stands there now (undefined: nothing) may be replaced. It is asked just before the file takes its name, and once more
   * just after: where somebody wrote in between, theirs stays.
   */
  still?: (bytes: Buffer | undefined) => boolean;
  /** There must not be a file of that name yet. */
  fresh?: boolean;
}

/** Temporary files: which process they belong to, and a number. */
const OURS = /^\.apperin-(\d+)-(\d+)\.(?:part|kept)$/;
/** No write lasts so long: what is older was left over, ms. */
const STALE = 3_600_000;
let count = 0;

/**
 * Writes a file whole or not at all: into a temporary one beside it, to the last byte, which then takes its name. What fails in between leaves everything as it was.
 * A link is followed; what is no regular file is refused. Temporary files of processes that were killed go with the next write in the same folder.
 *
 * @throws ChangedError where `still` or `fresh` does not hold; else what the system says
 */
export async function replaceFile(file: string, data: Uint8Array | string, { still, fresh = false }: ReplaceOptions = {}): Promise<void> {
  const target = placeOf(file);
  const folder = dirname(target);
  mkdirSync(folder, { recursive: true });
  const before = entryOf(target);
  if (before) {
    if (!before.isFile()) throw new Error(`it is ${kindOfEntry(before)}, and no file`);
    if (fresh) throw new ChangedError('there is a file of that name');
    accessSync(target, constants.W_OK);
  }
  sweep(folder);
  const name = join(folder, `.apperin-${process.pid}-${++count}`);
  const part = `${name}.part`;
  try {
    await writeThrough(part, data, before);
    if (fresh) place(part, target);
    else if (still === undefined) renameSync(part, target);
    else exchange(part, target, `${name}.kept`, still);
  } finally {
    rmSync(part, { force: true });
  }
  await settle(folder);
} // prettier-ignore

/** Where a file really is: links are followed. */
function placeOf(file: string): string {
  const path = resolve(file);
  const entry = entryOf(path, lstatSync);
  if (!entry?.isSymbolicLink()) return path;
  try {
    return realpathSync(path);
  } catch {
    throw new Error('it is a link to a place that is not there');
  }
}

function entryOf(path: string, look: (path: string) => Stats = statSync): Stats | undefined {
  try {
    return look(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined;
    throw error;
  }
}

/** All of it, down to the disk. One call to the system may write a part only (a disk that runs full): this goes on until all is written, or fails. */
async function writeThrough(file: string, data: Uint8Array | string, like: Stats | undefined): Promise<void> {
  const handle = await open(file, 'wx', like ? like.mode & 0o777 : 0o666);
  try {
    if (like) {
      await handle.chmod(like.mode & 0o777);
      if (process.getuid?.() === 0) await handle.chown(like.uid, like.gid);
    }
    await handle.writeFile(data);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Gives a file its name only where there is none of that name. */
function place(part: string, target: string): void {
  try {
    linkSync(part, target);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') throw new ChangedError('there is a file of that name');
    // A disk without hard links.
    if (entryOf(target, lstatSync)) throw new ChangedError('there is a file of that name');
    renameSync(part, target);
  }
}

/** Takes the place of a file that is still what it was: the old one is kept under a second name until that is certain. */
function exchange(part: string, target: string, kept: string, still: (bytes: Buffer | undefined) => boolean): void {
  const refuse = (): never => {
    throw new ChangedError('the file has changed');
  };
  const was = entryOf(target);
  if (!was) {
    if (!still(undefined)) refuse();
    return place(part, target);
  }
  let second = true;
  try {
    linkSync(target, kept);
  } catch {
    // A disk without hard links: the look just before has to do.
    second = false;
  }
  try {
    if (!still(readFileSync(second ? kept : target))) refuse();
    const now = entryOf(target);
    if (now?.ino !== was.ino || now.dev !== was.dev) refuse();
    renameSync(part, target);
    // Whoever had it open and wrote meanwhile has written into the old one.
    if (second && !still(readFileSync(kept))) {
      renameSync(kept, target);
      refuse();
    }
  } finally {
    rmSync(kept, { force: true });
  }
}

/** What killed processes left in a folder goes. */
function sweep(folder: string): void {
  for (const name of readdirSync(folder)) {
    const [, pid] = OURS.exec(name) ?? [];
    if (pid === undefined || Number(pid) === process.pid) continue;
    const path = join(folder, name);
    const entry = entryOf(path, lstatSync);
    if (entry && (!isAlive(Number(pid)) || Date.now() - entry.ctimeMs > STALE)) rmSync(path, { force: true });
  }
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** The new name reaches the disk too, where the system can say so of a folder. */
async function settle(folder: string): Promise<void> {
  try {
    const handle = await open(folder, 'r');
    await handle.sync().finally(() => handle.close());
  } catch {
    // Some systems cannot: the file is whole all the same.
  }
}
