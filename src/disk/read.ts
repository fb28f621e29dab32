import { closeSync, constants, fstatSync, openSync, readSync, statSync, type Stats } from 'node:fs';

/** What stands under a name, where it is no regular file. */
export function kindOfEntry(entry: Stats): string {
  if (entry.isDirectory()) return 'a folder';
  if (entry.isFIFO()) return 'a pipe';
  if (entry.isCharacterDevice() || entry.isBlockDevice()) return 'a device';
  if (entry.isSocket()) return 'a socket';
  return 'no file';
}

/** There is more than is read. */
export class TooLongError extends Error {
  override readonly name = 'TooLongError';
}

/** Why the system refused, in words. */
export function reason(error: unknown): string {
  const { code } = error as NodeJS.ErrnoException;
  const words: Record<string, string> = {
    ENOENT: 'there is no such file',
    EISDIR: 'this is a folder',
    EACCES: 'permission denied',
    EPERM: 'permission denied',
    ENOTDIR: 'a part of the path is not a folder',
    EEXIST: 'there is a file of that name',
    ENOSPC: 'the disk is full',
    EDQUOT: 'the disk is full for this user',
    EFBIG: 'it would be longer than a file may be here',
    EROFS: 'the disk is read-only',
    ELOOP: 'its links go round in a circle',
    ENAMETOOLONG: 'its name is too long',
  };
  return (code && words[code]) ?? (error instanceof Error ? error.message : String(error));
}

/**
 * Reads a regular file of at most so many bytes. What is none (a pipe, a device, a folder) is never opened for long: no reading waits for somebody to write.
 * @param most bytes
 * @throws Error that says in words why it cannot be read
 */
export function readRegular(path: string, most: number): Buffer {
  let file: number;
  try {
    const entry = statSync(path);
    if (!entry.isFile()) throw new Error(`this is ${kindOfEntry(entry)}; only files are read`);
    // It may have become a pipe since: that is opened without waiting.
    file = openSync(path, constants.O_RDONLY | (constants.O_NONBLOCK ?? 0));
  } catch (error) {
    throw new Error(reason(error), { cause: error });
  }
  try {
    const entry = fstatSync(file);
    if (!entry.isFile()) throw new Error(`this is ${kindOfEntry(entry)}; only files are read`);
    if (entry.size > most) throw new TooLongError(`the file has ${entry.size} bytes; at most ${most} are read`);
    return readAll(file, most, entry.size);
  } catch (error) {
    if (error instanceof TooLongError) throw error;
    throw new Error(reason(error), { cause: error });
  } finally {
    closeSync(file);
  }
}

/**
 * Reads what comes, up to its end.
 * @param most bytes; more are refused
 * @param expected about how many bytes there are
 */
export function readAll(file: number, most: number, expected = 65536): Buffer {
  const chunks: Buffer[] = [];
  let size = 0;
  for (;;) {
    const chunk = Buffer.allocUnsafe(Math.min(Math.max(expected - size, 0) + 4096, most - size + 1));
    let read: number;
    try {
      read = readSync(file, chunk, 0, chunk.length, null);
    } catch (error) {
      // A terminal or a pipe that has nothing just now.
      if ((error as NodeJS.ErrnoException).code !== 'EAGAIN') throw error;
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 5);
      continue;
    }
    if (read === 0) return Buffer.concat(chunks);
    chunks.push(chunk.subarray(0, read));
    size += read;
    if (size > most) throw new TooLongError(`there are more than ${most} bytes; at most so many are read`);
  }
}
