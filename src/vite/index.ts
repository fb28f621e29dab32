import { existsSync, realpathSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { takeAbilities } from '../lab/index.js';
import type { Plugin, ViteDevServer } from 'vite';
import { WebSocket } from 'ws';
import type { Ability, DrawnLevel, Level, Tuning } from '../core/index.js';
import { readRegular } from '../disk/read.js';
import { FileError, LEVEL_LIMITS, TUNING_LIMITS, decodeText, readLevel, readTuning } from '../files/index.js';

/** What the plugin is told. */
export interface ApperinOptions {
  /** The address of a running Loft, as it prints it: what is dragged there moves the characters here. */
  loft?: string;
  /**
   * Modules with abilities of the game's own, from the root of the project: their numbers in tunings (`own`) are checked when a tuning is read, with file, line
   * and column. They are run as the game runs them, TypeScript too, and must not need a page.
   */
  abilities?: string | readonly string[];
}

const TUNING = /\.tuning\.(?:yaml|json)$/;
const LEVEL = /\.level\.(?:yaml|svg)$/;
const DRAGGED = 'apperin:dragged';

/**
 * Makes tunings (`*.tuning.yaml`) and levels (`*.level.yaml`, `*.level.svg`) importable, and tunings live: saving the file changes the characters that follow it, without a
 * reload and in the middle of whatever they do. What is wrong in a file is shown in the browser with file, line and column, and the last good one stays in force.
 * @example
 * ```ts
 * const config = { plugins: [apperin({ abilities: './abilities.ts' })] }; // in vite.config.ts, exported
 * ```
 */
export function apperin(options: ApperinOptions = {}): Plugin {
  let server: ViteDevServer | undefined;
  let socket: WebSocket | undefined;
  let ended = false;
  /** Which modules come from a file that a tuning names with `from`. */
  const basesOf = new Map<string, Set<string>>();
  /** What was read lately, by file: whether it still stands there is looked at once more. */
  const lately = new Map<string, string>();
  const lookAgain = (file: string, text: string): void => {
    const before = lately.size;
    lately.set(file, text);
    if (server && before === 0)
      void setTimeout(TWICE, undefined, { ref: false }).then(() => {
        const read = [...lately];
        lately.clear();
        for (const [name, was] of read) if ((nowAt(name) ?? was) !== was) server?.watcher.emit('change', name);
      });
  };
  const modules = [options.abilities ?? []].flat();
  let root = '';
  let known: Promise<readonly Ability[]> | undefined;

  /** The abilities of the game, as their modules are now. */
  const abilities = (): Promise<readonly Ability[]> => (known ??= loadAbilities(modules, root));

  const connect = (address: string): void => {
    socket = new WebSocket(new URL('./live', address.endsWith('/') ? address : `${address}/`).href.replace(/^http/, 'ws'));
    socket.on('message', (data) => {
      try {
        const said = JSON.parse(String(data)) as { says?: string; path?: string; text?: string };
        if (said.says !== 'dragged' || said.path === undefined || said.text === undefined) return;
        const { tuning } = readTuning(said.text, { file: basename(said.path), open: opener(said.path, new Set()) });
        server?.ws.send(DRAGGED, { file: said.path, tuning });
      } catch {
        // What cannot be read changes nothing.
      }
    });
    socket.on('error', () => {});
    socket.on('close', () => {
      void setTimeout(2000, undefined, { ref: false }).then(() => ended || connect(address));
    });
  };

  return {
    name: 'apperin',
    // Before whoever takes every `.svg` for a picture.
    enforce: 'pre',
    configResolved(config) {
      root = config.root;
    },
    configureServer(created) {
      server = created;
      if (options.loft !== undefined) connect(options.loft);
      created.httpServer?.on('close', () => {
        ended = true;
        socket?.close();
      });
    },
    async load(id) {
      const file = id.replace(/[?#].*$/, '');
      // `?raw`, `?url` and the like are somebody else's.
      if (id !== file || !existsSync(file)) return undefined;
      try {
        if (TUNING.test(file)) {
          const bases = new Set<string>();
          // What it comes from is watched even where it is wrong.
          const remember = (): void => {
            basesOf.set(file, bases);
            for (const base of bases) this.addWatchFile(base);
          };
          try {
            const text = await textOf(file, TUNING_LIMITS.length);
            lookAgain(file, text);
            const { tuning, warnings } = readTuning(text, { file, open: opener(file, bases, lookAgain), abilities: await abilities() });
            for (const { line, column, message } of warnings) this.warn(`${file}:${line}:${column}: ${message}`);
            return tuningModule(realpathSync(file), tuning);
          } finally {
            remember();
          }
        }
        if (LEVEL.test(file)) {
          const text = await textOf(file, LEVEL_LIMITS.length);
          lookAgain(file, text);
          const { level, warnings } = readLevel(text, { file });
          for (const { line, column, message } of warnings) this.warn(`${file}:${line}:${column}: ${message}`);
          return levelModule(level);
        }
      } catch (error) {
        if (error instanceof FileError) {
          const { file: where, line, column, message, source } = error.problems[0]!;
          return this.error({ message: `${where}:${line}:${column}: ${message}`, id: file, loc: { file: where, line, column }, frame: source });
        }
        return this.error({ message: `${file}: ${(error as Error).message}`, id: file });
      }
      return undefined;
    },
    watchChange(id) {
      // What they are may have changed with any file that they import.
      if (/\.[cm]?[jt]sx?$/.test(id)) known = undefined;
    },
    handleHotUpdate({ file, modules, server: { moduleGraph } }) {
      // A tuning follows what it comes from.
      const more = [...basesOf].filter(([, bases]) => bases.has(file)).flatMap(([name]) => [...(moduleGraph.getModulesByFile(name) ?? [])]);
      return more.length > 0 ? [...new Set([...modules, ...more])] : undefined;
    },
  };
} // prettier-ignore

export default apperin;

/** @throws Error naming the module that cannot be run, or has no abilities */
async function loadAbilities(modules: readonly string[], root: string): Promise<readonly Ability[]> {
  const found: Ability[] = [];
  if (modules.length === 0) return found;
  const { runnerImport } = await import('vite');
  for (const name of modules)
    try {
      const { module } = await runnerImport<Record<string, unknown>>(resolve(root, name), {
        root,
        configFile: false,
        logLevel: 'silent',
      });
      takeAbilities(module, found);
    } catch (error) {
      throw new Error(`abilities: ${name}: ${(error as Error).message}`, { cause: error });
    }
  return found;
}

/** A file that is saved twice within so many ms may be told of once only, ms. */
const TWICE = 150;

/** An editor empties a file before it writes it: an empty one is looked at once more. */
async function textOf(file: string, most: number): Promise<string> {
  const text = textAt(file, most);
  if (text !== '') return text;
  await setTimeout(100);
  return textAt(file, most);
}

/** The text of a file as it is now; nothing where it cannot be read. */
function nowAt(file: string): string | undefined {
  try {
    return textAt(file, LEVEL_LIMITS.length);
  } catch {
    return undefined;
  }
}

/** The text of a regular file; a pipe or a device would hold the server up for ever. */
function textAt(file: string, most: number): string {
  return decodeText(readRegular(file, most), file, most);
}

function opener(first: string, bases: Set<string>, read: (file: string, text: string) => void = () => {}): (name: string, from: string) => { text: string; file: string } {
  return (name, from) => {
    const file = resolve(dirname(from.includes('/') ? from : first), name);
    bases.add(file);
    const text = textAt(file, TUNING_LIMITS.length);
    read(file, text);
    return { text, file };
  };
} // prettier-ignore

/** What outlives a module that is replaced: who follows it, and what it says now. */
function keeping(name: string): string {
  return `const kept = import.meta.hot ? (import.meta.hot.data.kept ??= { followers: new Set(), now: ${name} }) : { followers: new Set(), now: ${name} };
kept.now = ${name};
`;
}

/** A tuning as a module: the characters that follow it live on when it is replaced. */
function tuningModule(file: string, tuning: Tuning): string {
  return `const tuning = ${JSON.stringify(tuning)};
export default tuning;
${keeping('tuning')}export function follow(character) {
  kept.followers.add(character);
  if (kept.now !== tuning) character.retune(kept.now);
  return () => kept.followers.delete(character);
}
if (import.meta.hot) {
  const change = (next) => {
    kept.now = next;
    for (const character of kept.followers) character.retune(next);
  };
  import.meta.hot.accept((next) => {
    if (next) change(next.default);
  });
  import.meta.hot.on(${JSON.stringify(DRAGGED)}, ({ file, tuning: dragged }) => {
    if (file === ${JSON.stringify(file)}) change(dragged);
  });
}
`;
}

/** A level as a module: who follows it is given the next one; where nobody does, the page is loaded anew. */
function levelModule(level: Level | DrawnLevel): string {
  return `const level = ${JSON.stringify(level)};
export default level;
${keeping('level')}export function follow(change) {
  kept.followers.add(change);
  if (kept.now !== level) change(kept.now);
  return () => kept.followers.delete(change);
}
if (import.meta.hot) {
  import.meta.hot.accept((next) => {
    if (kept.followers.size === 0) import.meta.hot.invalidate();
    else if (next) for (const change of kept.followers) change(next.default);
  });
}
`;
}
