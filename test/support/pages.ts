import {
  chmodSync,
  cpSync,
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { DATA, apperin, withFolder } from './cli.js';

const root = fileURLToPath(new URL('../../', import.meta.url));
/** The pages, but for those of the reference, which are made of the program itself. */
export const PAGES = ['README.md', ...readdirSync(join(root, 'docs'), { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.md') && !/^(?:reference|\.vitepress)\//.test(name)).sort().map((name) => `docs/${name}`)]; // prettier-ignore

/** A piece of a page between fences, or indented: what language it is said to be in, and where it stands. */
export interface Piece {
  page: string;
  line: number;
  language: string;
  text: string;
}

export function piecesOf(page: string): Piece[] {
  const found: Piece[] = [];
  let open: Piece | undefined;
  readFileSync(join(root, page), 'utf8').split('\n').forEach((line, i) => {
    const fence = /^```(\w*)/.exec(line);
    if (fence) {
      if (open) open = undefined;
      else found.push((open = { page, line: i + 1, language: fence[1]!, text: '' }));
    } else if (open) open.text += `${line}\n`;
    else if (/^ {4}\S/.test(line)) {
      const last = found.at(-1);
      if (last?.language === 'indented' && last.line + last.text.split('\n').length - 1 === i + 1) last.text += `${line.slice(4)}\n`;
      else found.push({ page, line: i + 1, language: 'indented', text: `${line.slice(4)}\n` });
    }
  });
  return found;
} // prettier-ignore

/** Commands that are typed: whole lines of a piece, and those within a sentence that name what they work on. */
export function commandsOf(page: string): { line: number; text: string }[] {
  const whole = piecesOf(page)
    .filter(({ language, text }) => (language === 'indented' || language === '') && /^(\S.* )?apperin [a-z]/m.test(text))
    .flatMap(({ line, language, text }) => text.split('\n').map((one, i) => ({ line: line + i + (language === '' ? 1 : 0), text: one })))
    .filter(({ text }) => text !== '');
  const lines = readFileSync(join(root, page), 'utf8').split('\n');
  const within = lines.flatMap((line, i) =>
    line.startsWith('    ') ? [] : [...line.matchAll(/`(apperin [^`]+)`/g)].map(([, text]) => ({ line: i + 1, text: text! })),
  );
  // `apperin check` alone is the name of a command; LEVEL, … stand for something.
  const typed = within.filter(({ text }) => /[.=]| --/.test(text) && !/[A-Z]{3}|…/.test(text.slice(8)));
  return [...whole, ...typed].sort((a, b) => a.line - b.line);
} // prettier-ignore

/** The folder in which a page says that its commands are typed. */
export async function inFolderOf(page: string, work: (folder: string, path: string) => Promise<void>): Promise<void> {
  const text = readFileSync(join(root, page), 'utf8');
  await withFolder(async (folder) => {
    const bin = join(folder, 'bin');
    const here = join(folder, 'here');
    mkdirSync(bin);
    writeFileSync(join(bin, 'apperin'), `#!/bin/sh\nexec '${process.execPath}' '${join(root, 'dist/cli/main.js')}' "$@"\n`);
    chmodSync(join(bin, 'apperin'), 0o755);
    if (/in the folder `data\/tide-mill`/i.test(text)) cpSync(DATA, here, { recursive: true });
    else mkdirSync(here);
    if (text.includes('with the starter files')) await apperin(['new', here]);
    if (text.includes('--abilities ./abilities.js')) {
      // The dash of the examples, which is plain JavaScript.
      cpSync(join(root, 'examples/dash/dash.ts'), join(here, 'abilities.js'));
      mkdirSync(join(folder, 'node_modules'));
      symlinkSync(join(root, 'packages/apperin'), join(folder, 'node_modules/apperin'));
      if (!existsSync(join(here, 'package.json'))) writeFileSync(join(here, 'package.json'), '{ "type": "module" }');
    }
    await work(here, `${bin}:${process.env.PATH}`);
  });
} // prettier-ignore

/** The figures that a page shows and that a command on it makes, by their names: `run.svg`. */
export function figuresOf(page: string): string[] {
  const text = readFileSync(join(root, page), 'utf8');
  const shown = [...text.matchAll(/\]\((?:\.\.\/)?drawn\/([\w-]+\.svg)\)/g)].map(([, name]) => name!);
  return shown.filter((name) => commandsOf(page).some((command) => command.text.includes(`--out ${name}`)));
}
