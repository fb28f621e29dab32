import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import writeFileAtomic from 'write-file-atomic';
import { CallError } from './exit.js';
import { reason } from './load.js';

/** Writes a file whole or not at all: into a temporary one beside it, which then takes its name. */
export async function writeWhole(file: string, data: string | Uint8Array): Promise<void> {
  try {
    mkdirSync(dirname(file), { recursive: true });
    await writeFileAtomic(file, typeof data === 'string' ? data : Buffer.from(data));
  } catch (error) {
    throw new CallError(`${file} cannot be written: ${reason(error)}`);
  }
}
