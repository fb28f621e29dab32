import { fileURLToPath } from 'node:url';
import { build, type Rolldown } from 'vite';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));

/** A file of this folder and what it imports of the package, as one script that runs anywhere. */
export async function bundle(file: string): Promise<string> {
  const built = (await build({
    configFile: false,
    logLevel: 'silent',
    build: {
      write: false,
      minify: false,
      target: 'es2022',
      lib: { entry: here(file), formats: ['iife'], name: 'bundled' },
    },
  })) as Rolldown.RolldownOutput[];
  return built[0]!.output[0].code;
}
