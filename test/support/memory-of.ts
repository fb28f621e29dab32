import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** How much memory some calls take, bytes each, measured in a process of their own. */
export function memoryOf(what: 'questions' | 'restoring'): number {
  const script = fileURLToPath(new URL('memory.ts', import.meta.url));
  return Number(execFileSync(process.execPath, ['--expose-gc', '--import', 'tsx', script, what], { encoding: 'utf8' }));
}
