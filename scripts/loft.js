// Builds the page of the Loft: from its sources, on the packages as they have just been built.
import { fileURLToPath } from 'node:url';
import { build } from 'vite';

await build({ configFile: fileURLToPath(new URL('../src/loft/vite.config.ts', import.meta.url)), logLevel: 'error' });
