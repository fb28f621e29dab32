import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { build, type Rolldown } from 'vite';

const core = fileURLToPath(new URL('../../src/core/', import.meta.url));

/** Where a rule stands in the sources: the condition behind its mark, a comment `rule: NAME`. */
interface Place {
  file: string;
  from: number;
  until: number;
}

/** The rules that are marked in the sources of the core, by name. A mark goes where its condition goes, whatever that is called. */
export function markedRules(): ReadonlyMap<string, Place> {
  const rules = new Map<string, Place>();
  for (const name of readdirSync(core, { recursive: true, encoding: 'utf8' })) {
    if (!name.endsWith('.ts')) continue;
    const file = join(core, name);
    const text = readFileSync(file, 'utf8');
    const marks = [...text.matchAll(/\/\* rule: (.+?) \*\/\s*/g)];
    if (marks.length === 0) continue;
    const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
    for (const mark of marks) {
      const rule = mark[1]!;
      if (rules.has(rule)) throw new Error(`two rules are called ${rule}`);
      const condition = conditionAt(source, mark.index + mark[0].length);
      if (!condition) throw new Error(`${name}: no condition follows the mark of ${rule}`);
      rules.set(rule, { file, from: condition.getStart(source), until: condition.getEnd() });
    }
  }
  return rules;
}

/** The longest expression that begins at a place; of a choice (`a ? b : c`), what it hangs on. */
function conditionAt(source: ts.SourceFile, place: number): ts.Expression | undefined {
  let found: ts.Expression | undefined;
  const look = (node: ts.Node): void => {
    if (found || node.getEnd() <= place || node.getStart(source) > place) return;
    if (node.getStart(source) === place && ts.isExpression(node)) found = node;
    else ts.forEachChild(node, look);
  };
  look(source);
  while (found && ts.isConditionalExpression(found)) found = found.condition;
  return found;
}

/** Builds the core with one condition held at `true` or `false`, as a module in a file. */
export async function buildBroken({ file, from, until }: Place, held: boolean, out: string): Promise<void> {
  await buildCore(out, (code, id) => (id === file ? `${code.slice(0, from)}${held}${code.slice(until)}` : code));
}

/** Builds the core as it is, or with sources changed. */
export async function buildCore(out: string, change: (code: string, id: string) => string = (code) => code): Promise<void> {
  const built = (await build({
    configFile: false,
    logLevel: 'silent',
    plugins: [{ name: 'changed', enforce: 'pre', load: (id) => (id.startsWith(core) ? change(readFileSync(id, 'utf8'), id) : undefined) }],
    build: {
      write: false,
      minify: false,
      target: 'es2022',
      lib: { entry: join(core, 'index.ts'), formats: ['es'], fileName: () => 'index.js' },
      rolldownOptions: { external: ['flatbush', 'rbush'], optimization: { inlineConst: { mode: 'all', pass: 2 } } },
    },
  })) as Rolldown.RolldownOutput[];
  let { code } = built[0]!.output[0];
  for (const name of ['flatbush', 'rbush']) {
    const file = JSON.stringify(new URL(`../../node_modules/${name}/index.js`, import.meta.url).href);
    code = code.replace(new RegExp(`(["'])${name}\\1`), file);
  }
  writeFileSync(out, code);
} // prettier-ignore
