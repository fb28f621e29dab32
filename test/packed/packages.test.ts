import { checkPackage, createPackageFromTarballData } from '@arethetypeswrong/core';
import { expect } from 'chai';
import { execFileSync } from 'node:child_process';
import { cpSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { publint } from 'publint';
import ts from 'typescript';
import { packed, type Packed } from '../support/packed.js';

const root = fileURLToPath(new URL('../../', import.meta.url));

interface Manifest {
  dependencies: Record<string, string>;
  peerDependencies?: Record<string, string>;
}

describe('The packages as they are published', () => {
  let folder = '';
  let tarballs: Packed['tarballs'] = {};
  const modules = (): string => join(folder, 'node_modules');
  const manifest = (name: string): Manifest => JSON.parse(readFileSync(join(modules(), name, 'package.json'), 'utf8')) as Manifest;

  before(() => {
    ({ folder, tarballs } = packed());
    writeFileSync(join(folder, 'package.json'), '{ "type": "module", "private": true }');
  });
  after(() => rmSync(folder, { recursive: true, force: true }));

  for (const name of ['apperin', 'apperin-tools']) {
    it(`${name} says of itself what is there`, async () => {
      const { messages } = await publint({ pkgDir: join(modules(), name), pack: false, strict: true });
      expect(messages).to.deep.equal([]);
    });

    it(`${name} has types for every entry, as modules are found today`, async () => {
      const { entrypoints, problems } = (await checkPackage(createPackageFromTarballData(new Uint8Array(tarballs[name]!)))) as {
        entrypoints: object;
        problems: readonly { kind: string; resolutionKind?: string }[];
      };
      expect(Object.keys(entrypoints)).to.include.members(name === 'apperin' ? ['.', './browser', './files', './lab', './vite'] : ['./figures']);
      // Both are modules only: who asks for them by `require`, or as of old, is told so.
      expect(problems.filter(({ kind, resolutionKind }) => kind !== 'CJSResolvesToESM' && resolutionKind !== 'node10')).to.deep.equal([]);
    });
  }

  it('a game gets no renderer, no font and no server', () => {
    const { dependencies } = manifest('apperin');
    for (const name of ['@observablehq/plot', '@resvg/resvg-wasm', 'linkedom', 'send', 'commander', 'react', 'apperin-tools']) expect(dependencies).not.to.have.property(name);
    const inside = readdirSync(join(modules(), 'apperin'), { recursive: true, encoding: 'utf8' });
    expect(inside.filter((name) => /\.(ttf|wasm|html)$|(^|\/)(figures|cli|loft)(\/|$)/.test(name))).to.deep.equal([]);
    expect(inside).to.include.members(['README.md', 'LICENSE', 'CHANGELOG.md', 'docs/library.md', 'schema/tuning.schema.json', 'types/imports.d.ts']);
  });

  it('import nothing that they do not depend on', () => {
    for (const name of ['apperin', 'apperin-tools']) {
      const { dependencies, peerDependencies = {} } = manifest(name);
      const dist = join(modules(), name, 'dist');
      const scripts = readdirSync(dist, { recursive: true, encoding: 'utf8' }).filter((one) => one.endsWith('.js') && !one.startsWith('loft/'));
      const named = scripts.flatMap((one) => ts.preProcessFile(readFileSync(join(dist, one), 'utf8'), true, true).importedFiles.map(({ fileName }) => fileName));
      const packages = new Set(named.filter((from) => !/^(node:|\.|\/)/.test(from)).map((from) => from.split('/').slice(0, from.startsWith('@') ? 2 : 1).join('/')));
      expect([...packages].sort()).to.deep.equal(Object.keys({ ...dependencies, ...peerDependencies }).sort());
    }
  });

  it('the command works from where it was installed: figures with their fonts, the demo data, its version', () => {
    const apperin = (...words: string[]): string => execFileSync(process.execPath, [join(modules(), 'apperin-tools/dist/cli/main.js'), ...words], { cwd: folder, encoding: 'utf8' });
    expect(apperin('--version').trim()).to.equal((manifest('apperin-tools') as unknown as { version: string }).version);
    apperin('new', 'mine');
    apperin('draw', 'arcs', 'mine/hero.tuning.yaml', '--out', 'arcs.png');
    expect(statSync(join(folder, 'arcs.png')).size).to.be.greaterThan(20_000);
    expect(readdirSync(join(modules(), 'apperin-tools/dist/loft'))).to.include('index.html');
    expect(readdirSync(join(modules(), 'apperin-tools/data/tide-mill'))).to.include('brindle.tuning.yaml');
  });

  it('a game in TypeScript is checked against their types, every one of them', () => {
    cpSync(join(root, 'data/tide-mill/brindle.tuning.yaml'), join(folder, 'brindle.tuning.yaml'));
    writeFileSync(
      join(folder, 'game.ts'),
      `/// <reference types="apperin/vite/types" />
import { level, merged, openStage, stepper } from 'apperin';
import { gamepad, keyboard } from 'apperin/browser';
import { readLevel } from 'apperin/files';
import { sheet } from 'apperin/lab';
import { apperin } from 'apperin/vite';
import { arcsFigure } from 'apperin-tools/figures';
import tuning, { follow } from './brindle.tuning.yaml';
import yard from './yard.level.svg';
const mill = openStage(level({ rows: ['@.', '##'] }));
const hero = mill.add(tuning, { driver: merged(keyboard(window), gamepad(window)) });
const ended: () => void = follow(hero);
hero.on('touchdown', ({ speed }) => { const fast: number = speed; void fast; });
// @ts-expect-error a touchdown has no such number
hero.on('touchdown', ({ sped }) => void sped);
export const all = [openStage(yard), readLevel, sheet, apperin, arcsFigure, stepper, ended];
`,
    );
    for (const [module, moduleResolution] of [['NodeNext', 'NodeNext'], ['ESNext', 'Bundler']]) {
      const options = { strict: true, noEmit: true, skipLibCheck: false, target: 'ES2022', lib: ['ES2023', 'DOM', 'DOM.Iterable'], types: [], module, moduleResolution };
      writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions: options, files: ['game.ts'] }));
      let said = '';
      try {
        execFileSync(process.execPath, [join(root, 'node_modules/typescript/bin/tsc'), '-p', folder], { encoding: 'utf8', stdio: 'pipe' });
      } catch (error) {
        said = (error as { stdout: string }).stdout;
      }
      expect(said.split('\n').filter((line) => /apperin|game\.ts/.test(line))).to.deep.equal([]);
    }
  });
}); // prettier-ignore
