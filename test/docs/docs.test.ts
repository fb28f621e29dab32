import { spawnSync } from 'node:child_process';
import { cpSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { EVENT_FIELDS, openStage, stepper } from 'apperin';
import { readFoundRow, readFrames, readInput, readKeys, readLevel, readTuning } from 'apperin/files';
import { fromFrames, openGround, play, sheet } from 'apperin/lab';
import { expect } from 'chai';
import ts from 'typescript';
import { parse } from 'yaml';
import { DATA, apperin, serveLoft, withFolder } from '../support/cli.js';
import { wrongTypes } from '../support/types.js';
import { PAGES, commandsOf, figuresOf, inFolderOf, piecesOf, type Piece } from '../support/pages.js';

const root = fileURLToPath(new URL('../../', import.meta.url));
// (Those of the five minutes hang together, and are followed as a whole where the packages are tested.)
const pieces = [...PAGES, 'packages/apperin/README.md']
  .filter((page) => page !== 'docs/five-minutes.md')
  .flatMap(piecesOf);

describe('What the pages tell to type', () => {
  it('is found', () => {
    expect(PAGES.filter((page) => commandsOf(page).length > 0).length).to.be.at.least(7);
    expect(PAGES.flatMap(commandsOf).length).to.be.greaterThan(40);
  });

  it('makes every figure of the pages', () => {
    const made = PAGES.flatMap(figuresOf);
    expect(readdirSync(join(root, 'docs/drawn')).sort()).to.deep.equal([...new Set(made)].sort());
  });

  it('names scripts that there are, and calls of a queue that the program knows', async () => {
    const { scripts } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { scripts: Record<string, string> };
    const named = PAGES.flatMap((page) => [...readFileSync(join(root, page), 'utf8').matchAll(/npm run ([\w:]+)/g)].map(([, name]) => name!));
    expect([...new Set(named)].filter((name) => scripts[name] === undefined)).to.deep.equal([]);
    const queued = piecesOf('docs/search.md').filter(({ language }) => language === 'sh').flatMap(({ text }) => text.split('\n')).filter((line) => line.startsWith('apperin '));
    expect(queued).to.have.length(2);
    await inFolderOf('docs/search.md', async (folder) => {
      // Whoever reads them has a server of that name.
      for (const line of queued) {
        const words = line.replace(/\s+#.*$/, '').replace('redis://queue:6379', 'amqp://queue').split(' ').slice(1);
        expect((await apperin(words, folder)).err, line).to.match(/^--queue: it must be the URL of a Redis server/);
      }
    });
  }); // prettier-ignore

  for (const page of PAGES) {
    const commands = commandsOf(page);
    if (commands.length === 0) continue;
    it(`works as it stands, in the folder that is said: ${page} (${commands.length} commands)`, async () => {
      await inFolderOf(page, async (folder, path) => {
        let at = folder;
        for (const { line, text } of commands) {
          const command = text.replace(/\s+#.*$/, '');
          if (command.startsWith('apperin loft')) {
            const words = command.split(' ').slice(2);
            const loft = await serveLoft(words, at);
            expect((await fetch(loft.address)).status, `${page}:${line}: ${text}`).to.equal(200);
            expect(await loft.stop()).to.equal(0);
            continue;
          }
          const { status, stderr, stdout } = spawnSync('bash', ['-c', `set -o pipefail; ${command}; code=$?; pwd >&3; exit $code`], {
            cwd: at,
            env: { ...process.env, PATH: path, NODE_OPTIONS: '' },
            encoding: 'utf8',
            stdio: ['ignore', 'pipe', 'pipe', 'pipe'],
          }); // prettier-ignore
          // A check may have something to say; a head has seen enough.
          const fine = [0, ...(/apperin (check|verify)/.test(command) ? [1] : []), ...(command.includes('| head') ? [141] : [])];
          expect(status, `${page}:${line}: ${text}\n${stdout}${stderr}`).to.be.oneOf(fine);
          const moved = /&& cd (\S+)/.exec(command);
          if (moved) at = join(at, moved[1]!);
        }
        // What the page shows is what they made.
        for (const name of figuresOf(page)) expect(readFileSync(join(at, name), 'utf8') === readFileSync(join(root, 'docs/drawn', name), 'utf8'), `docs/drawn/${name} is stale: npm run reference makes it anew`).to.equal(true);
      });
    }).timeout(240_000); // prettier-ignore
  }
});

/** What snippets go by without saying where it comes from: the stage, its characters, and what a game draws with. */
const AMBIENT = `
declare const brindle: import('apperin').Tuning;
declare const nimble: import('apperin').Tuning;
declare const mill: import('apperin').Stage;
declare const stage: import('apperin').Stage;
declare const hero: import('apperin').Character;
declare const steps: import('apperin').Stepper;
declare const ms: number;
declare const text: string;
declare const pen: object;
declare function thud(speed: number): void;
declare function sprite(...of: unknown[]): void;
declare function outline(...of: unknown[]): void;
declare function draw(...of: unknown[]): void;
declare function wave(time: number): number;
declare const stepper: typeof import('apperin').stepper;
declare const rewind: typeof import('apperin').rewind;
declare const merged: typeof import('apperin').merged;
declare const design: typeof import('apperin/lab').design;
declare const readKeys: typeof import('apperin/files').readKeys;
declare const keyboard: typeof import('apperin/browser').keyboard;
declare const gamepad: typeof import('apperin/browser').gamepad;
declare const DEFAULT_KEYS: typeof import('apperin/browser').DEFAULT_KEYS;
declare const apperin: typeof import('apperin/vite').apperin;
type Driver = import('apperin').Driver;
`;

const code = pieces.filter(({ language }) => language === 'ts');
/** A piece of an object stands for the object; a snippet is a module. */
const moduleOf = ({ text }: Piece): string =>
  /^plugins:/.test(text) ? `export default {\n${text}};\n` : `${text}\nexport {};\n`;

describe('The snippets of the pages', () => {
  it('are of the right types, as they stand', () => {
    const modules = code.map((piece) => ({ about: `${piece.page}:${piece.line}`, text: moduleOf(piece) }));
    expect(wrongTypes(AMBIENT, modules, ['packages/apperin/types/imports.d.ts'])).to.deep.equal([]);
    expect(modules.length).to.be.greaterThan(9);
  });

  for (const piece of code.filter(({ page }) => page !== 'docs/live.md'))
    it(`run, as they stand: ${piece.page}:${piece.line}`, async () => {
      await withFolder(async (folder) => {
        const entry = (name: string): string => pathToFileURL(join(root, 'dist', name)).href;
        const entries: Readonly<Record<string, string>> = { apperin: 'core/index.js', 'apperin/browser': 'browser/index.js', 'apperin/files': 'files/index.js', 'apperin/lab': 'lab/index.js' }; // prettier-ignore
        const text = ts.transpileModule(moduleOf(piece), { compilerOptions: { module: ts.ModuleKind.ESNext, target: ts.ScriptTarget.ES2022 } }).outputText; // prettier-ignore
        const file = join(folder, 'snippet.mjs');
        writeFileSync(file, text.replace(/from '([^']+)'/g, (whole, name: string) => (entries[name] ? `from '${entry(entries[name])}'` : whole))); // prettier-ignore
        const frames: ((ms: number) => void)[] = [];
        const window = Object.assign(new EventTarget(), { document: Object.assign(new EventTarget(), { hasFocus: () => true }), navigator: { getGamepads: () => [] } });
        const read = (name: string) => readTuning(readFileSync(join(DATA, name), 'utf8'), { open: (from) => ({ text: readFileSync(join(DATA, from), 'utf8'), file: from }) }).tuning;
        const [brindle, nimble] = [read('brindle.tuning.yaml'), read('nimble.tuning.yaml')];
        const mill = openStage({ rows: ['.@....', '######'], movers: [{ name: 'float', shapes: [{ form: 'solid', points: [[4, -3], [5, -3], [5, -2], [4, -2]] }] }] });
        const hero = mill.add(brindle);
        const said: unknown[] = [];
        const say = (...words: unknown[]): void => void said.push(words);
        const around: Record<string, unknown> = {
          window, brindle, nimble, mill, stage: mill, hero, ms: 500, pen: {}, text: readFileSync(join(root, 'docs/keys.md'), 'utf8').split('```yaml\n')[1]!.split('```')[0]!,
          steps: stepper({ rate: 120 }), thud: say, sprite: say, outline: say, draw: say, wave: (time: number) => Math.sin(time),
          requestAnimationFrame: (frame: (ms: number) => void) => void frames.push(frame),
          ...(await import(entry('core/index.js'))), ...(await import(entry('lab/index.js'))), ...(await import(entry('files/index.js'))), ...(await import(entry('browser/index.js'))),
        };
        const before = Object.keys(around).map((name) => [name, Object.getOwnPropertyDescriptor(globalThis, name)] as const);
        for (const [name, value] of Object.entries(around)) Object.defineProperty(globalThis, name, { value, configurable: true, writable: true });
        // Something to go back to, and a run of the stepper to begin with.
        (around.steps as ReturnType<typeof stepper>).run(0.4, (dt, at) => mill.tick(dt, at));
        try {
          await import(pathToFileURL(file).href);
          for (let frame = 0; frame < 3 && frames.length > 0; frame++) frames.shift()!(1000 + 20 * frame);
        } finally {
          for (const [name, was] of before) {
            if (was) Object.defineProperty(globalThis, name, was);
            else Reflect.deleteProperty(globalThis, name);
          }
        }
      });
    }); // prettier-ignore

  for (const piece of pieces.filter(({ language }) => ['yaml', 'xml', 'json'].includes(language)))
    it(`are read, as they stand: ${piece.page}:${piece.line} (${piece.language})`, async () => {
      const { page, language, text } = piece;
      await withFolder(async (folder) => {
        const here = join(folder, 'here');
        cpSync(DATA, here, { recursive: true });
        const run = async (name: string, ...args: string[]): Promise<void> => {
          writeFileSync(join(here, name), text);
          const { status, err } = await apperin([args[0]!, name, ...args.slice(1)], here);
          expect(status, err).to.equal(0);
        };
        if (page.startsWith('docs/guides/') && text.includes('promises:')) await run('page.promises.yaml', 'verify');
        else if (page.startsWith('docs/guides/') && text.includes('rows:'))
          readLevel(text, { file: 'page.level.yaml' });
        else if (page.startsWith('docs/guides/')) await run('page.tuning.yaml', 'sheet');
        else if (page === 'docs/from-a-loop.md') await run('page.frames.yaml', 'convert', '--quiet');
        else if (page === 'docs/levels.md')
          readLevel(language === 'xml' || /^(rows|shapes|cells):/m.test(text) ? text : `rows: ["@a~vhpg"]\n${text}`, { file: `page.level.${language === 'xml' ? 'svg' : 'yaml'}` }); // prettier-ignore
        else if (page === 'docs/movers.md')
          readLevel(language === 'xml' ? `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 416 128" data-units="32">${text}</svg>` : `rows: ["@............"]\n${text}`, { file: `page.level.${language === 'xml' ? 'svg' : 'yaml'}` }); // prettier-ignore
        else if (page === 'docs/keys.md') readKeys(text, { actions: ['dash'] });
        else if (page === 'docs/tunings.md') await run('page.tuning.yaml', 'sheet');
        else if (page === 'docs/lab.md' && text.includes('promises:')) await run('page.promises.yaml', 'verify');
        else if (page === 'docs/lab.md') await run('page.frames.yaml', 'convert', '--quiet');
        else if (page === 'docs/traces.md') {
          const event = JSON.parse(text) as Record<string, unknown>;
          if ('event' in event)
            for (const field of EVENT_FIELDS[event.event as string]!) expect(event).to.have.property(field);
          else {
            // A piece of motion, as it is recorded.
            const { pieces: kept } = play({ level: openGround(), tuning: {}, seconds: 0.1 });
            expect(Object.keys(event)).to.deep.equal(Object.keys(kept[0]!));
          }
        } else if (page === 'docs/search.md' && language === 'json') expect(readFoundRow(text).row).to.equal(17);
        else if (page === 'docs/search.md' && text.includes('services:')) {
          const { services } = parse(text) as { services: Record<string, { command: string; image: string }> };
          // What the services are told is what the program knows.
          for (const name of ['work', 'search']) {
            const words = services[name]!.command.replace(/^npx apperin /, '')
              .replace('redis://queue:6379', 'amqp://queue')
              .split(' ');
            expect((await apperin(words, here)).err, name).to.match(/^--queue: it must be the URL of a Redis server/);
          }
        } else if (page === 'docs/search.md') await run('page.promises.yaml', 'verify', 'brindle.tuning.yaml');
        else throw new Error(`nobody reads the ${language} of ${page}`);
      });
    });

  it('run, as they stand: the loop by frames, which jumps as the tuning of its numbers does', () => {
    const page = pieces.filter((piece) => piece.page === 'docs/from-a-loop.md');
    const [loop, numbers] = ['js', 'yaml'].map((language) => page.find((piece) => piece.language === language)!.text);
    const step = new Function('s', 'keys', `let { x, y, vx, vy, sinceGround } = s; const [onGround, jumpPressed, jumpReleased] = [y >= 0, s.frame === 0, false]; ${loop} return { x, y, vx, vy, sinceGround: sinceGround + 1, frame: s.frame + 1 };`) as (state: object, keys: object) => { y: number };
    let state = { x: 0, y: 0, vx: 0, vy: 0, sinceGround: 0, frame: 0 } as unknown as { y: number };
    let highest = 0;
    for (let frame = 0; frame < 60; frame++) {
      state = step(state, { jump: true, right: true });
      highest = Math.max(highest, -state.y);
    }
    const { tuning } = fromFrames(readFrames(numbers!).frames);
    expect(sheet(tuning).find(({ id }) => id === 'apexHeight')!.value).to.be.closeTo(highest, 0.16);
  }); // prettier-ignore

  it('are read, as they stand: inputs', () => {
    const rows = pieces.filter(({ page, text }) => page === 'docs/inputs.md' && text.startsWith('time,'));
    expect(rows).to.have.length(2);
    for (const { text } of rows) expect(readInput(text).warnings).to.deep.equal([]);
  });
});
