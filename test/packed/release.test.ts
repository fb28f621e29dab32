import { expect } from 'chai';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('../../', import.meta.url));
const out = join(root, 'out/release');

/** What a release consists of, by name. */
function released(): Record<string, string> {
  execFileSync(process.execPath, ['scripts/release.js', '--built'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
  return Object.fromEntries(readdirSync(out).map((name) => [name, readFileSync(join(out, name)).toString('base64')]));
} // prettier-ignore

interface Bom {
  metadata: { component: { name: string; version: string } };
  components: { group?: string; name: string; version: string; licenses?: unknown[] }[];
}

describe('A release', () => {
  let folder = '';
  let files: Record<string, string> = {};
  before(() => {
    files = released();
    mkdirSync(join(root, 'out'), { recursive: true });
    folder = mkdtempSync(join(root, 'out/unpacked-'));
    for (const name of ['apperin', 'apperin-tools']) {
      mkdirSync(join(folder, name));
      const file = Object.keys(files).find((one) => new RegExp(`^${name}-\\d.*\\.tgz$`).test(one))!;
      execFileSync('tar', ['-xzf', join(out, file), '--strip-components=1', '-C', join(folder, name)]);
    }
  });
  after(() => rmSync(folder, { recursive: true, force: true }));

  const inside = (name: string): string[] => readdirSync(join(folder, name), { recursive: true, encoding: 'utf8' });
  const read = (...path: string[]): string => readFileSync(join(folder, ...path), 'utf8');

  it('is the same to the byte, made twice', () => {
    expect(Object.keys(files).sort()).to.have.length(5);
    expect(released()).to.deep.equal(files);
  });

  it('holds no tests, nothing of where it was made, and maps that have their sources', () => {
    for (const name of ['apperin', 'apperin-tools']) {
      expect(inside(name).filter((one) => /(^|\/)(test|benchmarks|node_modules|\.env)(\/|$)|\.test\./.test(one))).to.deep.equal([]);
      for (const one of inside(name).filter((file) => /\.(js|ts|json|md|map|html|css|yaml)$/.test(file))) {
        const text = read(name, one);
        expect(text.includes(root), `${name}/${one} names the folder it was made in`).to.equal(false);
        if (one.endsWith('.map')) {
          const { sources, sourcesContent } = JSON.parse(text) as { sources: string[]; sourcesContent?: (string | null)[] };
          expect(sourcesContent?.filter((source) => typeof source === 'string' && source !== ''), one).to.have.length(sources.length);
        }
        const map = /^\/\/# sourceMappingURL=(\S+)$/m.exec(one.endsWith('.js') && !one.includes('loft/') ? text : '')?.[1];
        if (map !== undefined) expect(existsSync(join(folder, name, dirname(one), map)), `${name}/${one}: ${map}`).to.equal(true);
      }
    }
  }); // prettier-ignore

  it('has docs whose links lead to what is in it', () => {
    const broken = inside('apperin').filter((name) => name.startsWith('docs/') && name.endsWith('.md')).flatMap((name) =>
      [...read('apperin', name).matchAll(/\]\((?!https?:|#|<)([^)#\s]+)/g)].map(([, to]) => to!).filter((to) => !existsSync(join(folder, 'apperin', dirname(name), to))).map((to) => `${name}: ${to}`));
    expect(broken).to.deep.equal([]);
    expect(inside('apperin')).to.include.members(['docs/five-minutes.md', 'docs/guides/run.md', 'docs/reference/keys.md', 'docs/drawn/run.svg']);
  }); // prettier-ignore

  it('lists what each package brings, with its licence', () => {
    for (const name of ['apperin', 'apperin-tools']) {
      const { version, dependencies } = JSON.parse(read(name, 'package.json')) as { version: string; dependencies: Record<string, string> };
      const bom = JSON.parse(Buffer.from(files[`${name}-${version}.cdx.json`]!, 'base64').toString()) as Bom;
      expect(bom.metadata.component).to.include({ name, version });
      const listed = bom.components.map((one) => (one.group ? `${one.group}/${one.name}` : one.name));
      expect(listed).to.include.members(Object.keys(dependencies));
      // What a game's packages are tested and built with is not brought.
      expect(listed.filter((one) => ['mocha', 'typescript', 'vitepress', 'playwright-core'].includes(one))).to.deep.equal([]);
    }
    const tools = JSON.parse(Buffer.from(Object.entries(files).find(([name]) => /^apperin-tools.*json$/.test(name))![1], 'base64').toString()) as Bom;
    // The page of the Loft has React within it, and says under which licence.
    expect(tools.components.map(({ name }) => name)).to.include.members(['react', 'react-aria-components']);
    expect(read('apperin-tools', 'dist/loft/licences.md')).to.match(/## react - .* \(MIT\)\n[^]*Permission is hereby granted/);
    expect(read('apperin-tools', 'dist/fonts/LICENSE')).to.contain('Bitstream Vera');
  }); // prettier-ignore
});
