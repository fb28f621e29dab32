import { fileURLToPath } from 'node:url';

const built = (entry: string) => fileURLToPath(new URL(`../dist/${entry}/index.js`, import.meta.url));

/** Only here, inside the package itself; a game that installed apperin needs no alias. */
export const alias = [
  { find: /^apperin\/browser$/, replacement: built('browser') },
  { find: /^apperin\/files$/, replacement: built('files') },
  { find: /^apperin$/, replacement: built('core') },
];
