// Writes the pages of the reference that are made of the program itself, and the figures that the pages show: npm run reference.
import { writeFileSync } from 'node:fs';
import { format, resolveConfig } from 'prettier';
import { fileURLToPath } from 'node:url';
import { makeFigures } from './figures.js';
import { PAGES } from './pages.js';

const folder = fileURLToPath(new URL('../../docs/reference/', import.meta.url));

/** A page as it lies in the folder. */
export async function laid(name: string): Promise<string> {
  return format(PAGES[name]!(), { ...(await resolveConfig(`${folder}${name}`)), filepath: `${folder}${name}` });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  for (const name of Object.keys(PAGES)) {
    writeFileSync(`${folder}${name}`, await laid(name));
    console.log(`docs/reference/${name}`);
  }
  await makeFigures();
}
