// Builds the page of the Loft into dist/loft: from the sources, on the package as it has just been built.
import { fileURLToPath } from 'node:url';
import { build } from 'vite';

await build({ configFile: fileURLToPath(new URL('../src/loft/vite.config.ts', import.meta.url)), logLevel: 'error' });
