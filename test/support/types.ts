import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const root = fileURLToPath(new URL('../../', import.meta.url));

/** A module of a few lines, and where they stand. */
export interface Lines {
  about: string;
  text: string;
}

/**
 * What is wrong with the types of some modules, each as a game's would be checked against the packages as they are built.
 * @param ambient declarations of what they go by without saying where it comes from
 * @param also further files of declarations
 */
export function wrongTypes(ambient: string, modules: readonly Lines[], also: readonly string[] = []): string[] {
  mkdirSync(join(root, 'out'), { recursive: true });
  const folder = mkdtempSync(join(root, 'out/types-'));
  try {
    const declared = join(folder, 'ambient.d.ts');
    writeFileSync(declared, ambient);
    const files = modules.map(({ text }, i) => {
      const file = join(folder, `module-${i}.ts`);
      writeFileSync(file, text);
      return file;
    });
    const program = ts.createProgram([declared, ...also.map((file) => join(root, file)), ...files], {
      strict: true,
      noEmit: true,
      skipLibCheck: true,
      target: ts.ScriptTarget.ES2022,
      module: ts.ModuleKind.ESNext,
      moduleResolution: ts.ModuleResolutionKind.Bundler,
      lib: ['lib.es2023.d.ts', 'lib.dom.d.ts', 'lib.dom.iterable.d.ts'],
      types: [],
    });
    return ts.getPreEmitDiagnostics(program).map(({ file, messageText }) => {
      const of = modules[Number(/module-(\d+)/.exec(file?.fileName ?? '')?.[1])];
      return `${of?.about ?? file?.fileName}: ${ts.flattenDiagnosticMessageText(messageText, '\n')}`;
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
