import { execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, symlinkSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('../../', import.meta.url));

/** The packages, packed as they are published. */
export interface Packed {
  /** What was packed, by name. */
  tarballs: Readonly<Record<string, Buffer>>;
  folder: string;
  /** Where what was unpacked lies. */
  modules: string;
}

/** Packs both packages, and unpacks them in a folder of their own where they are found before the checkout's; what they depend on is the checkout's. Whoever asks removes the folder. */
export function packed(): Packed {
  mkdirSync(join(root, 'out'), { recursive: true });
  const folder = mkdtempSync(join(root, 'out/packed-'));
  const modules = join(folder, 'node_modules');
  const tarballs = pack(folder);
  for (const [name, bytes] of Object.entries(tarballs)) {
    mkdirSync(join(modules, name), { recursive: true });
    execFileSync('tar', ['-xz', '--strip-components=1', '-C', join(modules, name)], { input: bytes });
  }
  // As an installation links them.
  mkdirSync(join(modules, '.bin'));
  symlinkSync('../apperin-tools/dist/cli/main.js', join(modules, '.bin/apperin'));
  chmodSync(join(modules, 'apperin-tools/dist/cli/main.js'), 0o755);
  for (const name of ['vite', 'tsc']) symlinkSync(join(root, 'node_modules/.bin', name), join(modules, '.bin', name));
  return { tarballs, folder, modules };
}

/** Packs both packages into a folder. */
export function pack(folder: string): Record<string, Buffer> {
  execFileSync('npm', ['pack', '--workspaces', '--ignore-scripts', '--silent', '--pack-destination', folder], { cwd: root, stdio: 'ignore' });
  const files = readdirSync(folder).filter((name) => name.endsWith('.tgz'));
  return Object.fromEntries(files.map((file) => [/^(.*)-\d/.exec(file)![1]!, readFileSync(join(folder, file))]));
} // prettier-ignore
