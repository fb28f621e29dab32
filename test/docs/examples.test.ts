import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import * as core from 'apperin';
import * as figures from 'apperin-tools/figures';
import * as files from 'apperin/files';
import * as lab from 'apperin/lab';
import { expect } from 'chai';
import ts from 'typescript';
import { wrongTypes } from '../support/types.js';

const root = fileURLToPath(new URL('../../', import.meta.url));

/** What is imported, and where its sources begin; a name that several have is that of the entry an example is of, else of the first. */
const ENTRIES: Readonly<Record<string, string>> = { apperin: 'core/index.ts', 'apperin/lab': 'lab/index.ts', 'apperin/files': 'files/index.ts', 'apperin/browser': 'browser/index.ts', 'apperin/text': 'files/text.ts', 'apperin/vite': 'vite/index.ts', 'apperin-tools/figures': 'figures/index.ts' }; // prettier-ignore

/** What examples go by without saying where it comes from. */
const AMBIENT = `
declare const brindle: import('apperin').Tuning;
declare const motion: import('apperin').Motion;
declare const mill: import('apperin').Stage;
declare const hero: import('apperin').Character;
declare const rows: import('apperin').InputRow[];
declare const text: string;
declare const yard: import('apperin').Level;
declare const found: import('apperin/lab').FoundRows;
declare const fitted: import('apperin/lab').Fitted;
`;

/** Every function and constant that an entry exports, with its examples, and what else has some; and the names that each entry has. */
function exported(): { values: { entry: string; name: string; examples: string[] }[]; names: Map<string, string[]> } {
  const options: ts.CompilerOptions = { module: ts.ModuleKind.NodeNext, moduleResolution: ts.ModuleResolutionKind.NodeNext, target: ts.ScriptTarget.ES2022, skipLibCheck: true, strict: true }; // prettier-ignore
  const program = ts.createProgram(Object.values(ENTRIES).map((file) => join(root, 'src', file)), options); // prettier-ignore
  const checker = program.getTypeChecker();
  const names = new Map<string, string[]>();
  const values = Object.entries(ENTRIES).flatMap(([entry, file]) => {
    const symbols = checker.getExportsOfModule(checker.getSymbolAtLocation(program.getSourceFile(join(root, 'src', file))!)!);
    names.set(entry, symbols.map((symbol) => symbol.name));
    return symbols.flatMap((symbol) => {
      const real = symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol;
      const { valueDeclaration } = real;
      const examples = real.getJsDocTags(checker).filter(({ name }) => name === 'example').map(({ text }) => ts.displayPartsToString(text).replace(/^```ts\n|\n```$/g, ''));
      const isValue = valueDeclaration !== undefined && !(real.flags & ts.SymbolFlags.Class);
      return isValue || examples.length > 0 ? [{ entry, name: symbol.name, examples }] : [];
    });
  });
  return { values, names };
} // prettier-ignore

/** An example as a module, with what it names of the entries. */
function moduleOf(entry: string, text: string, names: Map<string, string[]>): string {
  const words = new Set(text.match(/[A-Za-z]\w*/g));
  const made = new Set([...text.matchAll(/(?:const|let) (?:\{([^}]*)\}|\[([^\]]*)\]|(\w+))/g)].flatMap(([, ...parts]) => parts.flatMap((part) => (part ?? '').split(',').flatMap((one) => one.match(/\w+(?=\W*$)/g) ?? [])))); // prettier-ignore
  const taken = new Set<string>();
  const imports = [entry, ...names.keys()].map((from) => {
    const used = names.get(from)!.filter((name) => words.has(name) && !made.has(name) && !taken.has(name));
    for (const name of used) taken.add(name);
    return used.length > 0 ? `import { ${used.join(', ')} } from '${from}';` : '';
  });
  return `${imports.join('\n')}\n${text}\nexport {};\n`;
}

describe('The examples at the exports', () => {
  const { values, names } = exported();

  it('are there for every function and constant', () => {
    expect(values.length).to.be.above(200);
    expect(values.filter(({ examples }) => examples.length === 0).map(({ entry, name }) => `${entry}: ${name}`)).to.deep.equal([]); // prettier-ignore
  });

  it('are of the right types, as they stand', () => {
    const modules = values.flatMap(({ entry, name, examples }) => examples.map((text) => ({ about: `${entry}: ${name}`, text: moduleOf(entry, text, names) })));
    expect(wrongTypes(AMBIENT, modules)).to.deep.equal([]);
  }); // prettier-ignore

  it('run, as they stand, and come to what is said behind them', async () => {
    const scope: Record<string, unknown> = {};
    for (const all of [figures, files, lab, core]) Object.assign(scope, all);
    const brindle = { jump: { height: 3.25, riseTime: 0.4 } };
    const rows = [{ time: 0.2, action: 'right', value: 1 }, { time: 0.6, action: 'jump', value: 1 }, { time: 0.9, action: 'jump', value: 0 }] as const;
    const plan = lab.searchPlan({ build: 'mine', tuning: brindle, keys: [{ key: 'jump.height', values: [2, 3] }], promises: [{ name: 'clears two', measure: 'apexHeight', least: 2 }] });
    const found = { head: lab.headOf(plan, '0'.repeat(64)), rows: await lab.search(plan, { level: lab.openGround, input: () => [] }) };
    const played = lab.play({ level: lab.openGround(), tuning: brindle, input: rows, seconds: 3 }).rows;
    const fitted = lab.fit({ time: played.map(({ time }) => time), x: played.map(({ x }) => x), y: played.map(({ y }) => y) });
    // What needs a page, a network, a file of another kind, or an input that has something to show.
    const elsewhere = ['pngOf', 'readFoundRow', 'readPlanned', 'pressMap', 'marginsFigure', 'trailsFigure'];
    const wrong: string[] = [];
    for (const { entry, name, examples } of values) {
      if (entry === 'apperin/browser' || entry === 'apperin/vite' || elsewhere.includes(name)) continue;
      for (const text of examples) {
        const mill = core.openStage({ rows: ['@.........', '##########'] });
        const local = { ...scope, ...(entry === 'apperin/files' ? files : {}), brindle, rows, found, fitted, mill, yard: core.level({ rows: ['@.............', '######..######'] }), hero: mill.add(brindle), motion: core.compileTuning(brindle), text: files.writeFound(found) };
        const [line, ...more] = text.split('\n');
        const wanted = more.length === 0 ? /^(.*\S) \/\/ (-?[\d.]+|true|'[^']*'|[[{].*[\]}])(?:,.*)?$/.exec(line!) : undefined;
        const code = ts.transpile(wanted ? `return ${wanted[1]!};` : text, { target: ts.ScriptTarget.ES2022 });
        try {
          const value: unknown = await (new Function(...Object.keys(local), `return (async () => { ${code} })();`) as (...of: unknown[]) => Promise<unknown>)(...Object.values(local));
          if (wanted && JSON.stringify(value) !== JSON.stringify((new Function(`return ${wanted[2]!};`) as () => unknown)())) wrong.push(`${name}: ${JSON.stringify(value)}, not ${wanted[2]!}`);
        } catch (error) {
          wrong.push(`${entry}: ${name}: ${(error as Error).message}`);
        }
      }
    }
    expect(wrong).to.deep.equal([]);
  }); // prettier-ignore
});
