import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { ESLint } from 'eslint';
import ts from 'typescript';

const root = fileURLToPath(new URL('../..', import.meta.url));

/** The rules that a line breaks when it stands in a file. */
async function broken(file: string, line: string): Promise<string[]> {
  const [result] = await new ESLint({ cwd: root }).lintText(`${line}\n`, { filePath: `${root}/${file}` });
  return result!.messages.filter(({ severity }) => severity === 2).map(({ ruleId }) => ruleId ?? 'syntax');
}

describe('The one-way import rule', () => {
  for (const [file, from] of [
    ['src/core/stage/stage.ts', '../../lab/index.js'],
    ['src/core/stage/stage.ts', '../../files/index.js'],
    ['src/core/stage/stage.ts', 'apperin/lab'],
    ['src/core/index.ts', 'node:fs'],
    ['src/core/body/substep.ts', '../abilities/jump.js'],
    ['src/core/contact/crush.ts', '../abilities/control.js'],
    ['src/core/body/substep.ts', '../../lab/index.js'],
    ['src/lab/sheet.ts', '../figures/index.js'],
    ['src/lab/sheet.ts', '../browser/index.js'],
    ['src/files/tuning.ts', '../figures/index.js'],
    ['src/figures/arcs.ts', '../files/index.js'],
    ['src/figures/arcs.ts', 'node:fs'],
    ['src/figures/arcs.ts', '../lab/index.js'],
    ['src/cli/sheet.ts', '../lab/index.js'],
    ['src/lab/sheet.ts', 'apperin'],
    ['src/core/body/substep.ts', 'apperin'],
    ['src/vite/index.ts', 'apperin-tools/figures'],
    ['src/browser/keyboard.ts', '../lab/index.js'],
  ] as const) {
    it(`refuses ${from} in ${file}`, async () => {
      expect(await broken(file, `export * from '${from}';`)).to.include('no-restricted-imports');
    });
  }

  for (const [file, from] of [
    ['src/lab/sheet.ts', '../core/index.js'],
    ['src/files/input.ts', 'csv-parse/browser/esm/sync'],
    ['src/cli/sheet.ts', '../figures/index.js'],
    ['src/cli/sheet.ts', 'apperin/lab'],
  ] as const) {
    it(`allows ${from} in ${file}`, async () => {
      expect(await broken(file, `export * from '${from}';`)).to.deep.equal([]);
    });
  }

  for (const line of [
    'export const x = Math.hypot(1, 2);',
    'export const x = Math.random();',
    'export const x = new Date();',
    'export const x = 2 ** 0.5;',
  ]) {
    it(`refuses in the core what may differ between engines: ${line}`, async () => {
      expect(await broken('src/core/sweep/path.ts', line)).to.not.deep.equal([]);
    });
  }
});

/** Files that import each other in a circle, types included: each circle as a list. */
function circles(folder: string): string[][] {
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => /\.tsx?$/.test(name));
  const imports = new Map(
    files.map((file) => {
      const { importedFiles } = ts.preProcessFile(readFileSync(join(folder, file), 'utf8'), true, true);
      const names = importedFiles.flatMap(({ fileName }) => {
        const path = normalize(join(dirname(file), fileName));
        return [path.replace(/\.js$/, '.ts'), path.replace(/\.js$/, '.tsx')];
      });
      return [file, names.filter((name) => files.includes(name))];
    }),
  );
  const reached = (from: string): Set<string> => {
    const seen = new Set<string>();
    const left = [...(imports.get(from) ?? [])];
    for (let next = left.pop(); next !== undefined; next = left.pop()) {
      if (seen.has(next)) continue;
      seen.add(next);
      left.push(...(imports.get(next) ?? []));
    }
    return seen;
  };
  const ways = new Map(files.map((file) => [file, reached(file)]));
  const within = files.filter((file) => ways.get(file)!.has(file));
  return [...new Set(within.map((file) => within.filter((other) => ways.get(file)!.has(other) && ways.get(other)!.has(file)).sort().join(' ')))].map((one) => one.split(' '));
} // prettier-ignore

describe('Files that import each other in a circle', () => {
  for (const layer of ['browser', 'core', 'cli', 'disk', 'figures', 'files', 'lab', 'vite'])
    it(`are none in ${layer}`, () => {
      expect(circles(join(root, 'src', layer))).to.deep.equal([]);
    });
});
