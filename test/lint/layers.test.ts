import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { ESLint } from 'eslint';

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
    ['src/core/character/part-tick.ts', './abilities/jump.js'],
    ['src/core/character/part-tick.ts', '../../lab/index.js'],
    ['src/lab/sheet.ts', '../figures/index.js'],
    ['src/lab/sheet.ts', '../browser/index.js'],
    ['src/files/tuning.ts', '../figures/index.js'],
    ['src/figures/arcs.ts', '../files/index.js'],
    ['src/figures/arcs.ts', 'node:fs'],
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
