import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const main = fileURLToPath(new URL('../../dist/cli/main.js', import.meta.url));
export const DATA = fileURLToPath(new URL('../../data/tide-mill/', import.meta.url));

export interface Answer {
  status: number | null;
  out: string;
  err: string;
}

/** Runs the command line as a process. */
export function apperin(args: readonly string[], cwd?: string): Answer {
  const { status, stdout, stderr } = spawnSync(process.execPath, [main, ...args], {
    encoding: 'utf8',
    ...(cwd ? { cwd } : {}),
    env: { ...process.env, NO_COLOR: '1', NODE_OPTIONS: '' },
    maxBuffer: 1 << 28,
  });
  return { status, out: stdout, err: stderr };
}

/** A folder that is gone after the test. */
export function withFolder(use: (folder: string) => void): void {
  const folder = mkdtempSync(join(tmpdir(), 'apperin-'));
  try {
    use(folder);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
