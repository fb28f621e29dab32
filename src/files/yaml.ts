import {
  CST,
  Lexer,
  isAlias,
  isMap,
  isPair,
  isScalar,
  isSeq,
  parseDocument,
  visit,
  type Document,
  type Node,
} from 'yaml';
import type { z } from 'zod';
import { Problems } from './problem.js';

/** Limits of every YAML file; a block of lines is one word. */
export const YAML_LIMITS = { depth: 32, aliases: 100, words: 600_000 } as const;

export type Path = readonly (string | number)[];

/** A YAML text and where everything in it stands. */
export interface YamlFile {
  problems: Problems;
  data: unknown;
  /** Offset of the value at a path, or of the nearest group around it. */
  valueAt(path: Path): number;
  /** Offset of the name of a key. */
  keyAt(path: Path): number;
  nodeAt(path: Path): Node | undefined;
}

/**
 * Parses YAML 1.2 (JSON is a part of it).
 * @throws FileError where the text is not YAML, is nested too deeply or uses too many aliases
 */
export function parseYaml(text: string, file: string, most: number): YamlFile {
  const problems = new Problems(file, text);
  if (text.length > most) {
    problems.offset(0, `the file has ${text.length} characters; at most ${most} are read`);
    problems.refuse();
  }
  const bad = text.search(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/); // eslint-disable-line no-control-regex
  if (bad >= 0) {
    problems.offset(bad, 'this is not a text file: it holds a control character');
    problems.refuse();
  }
  refuseSteep(problems, text);
  const document = parseDocument(text, { version: '1.2', prettyErrors: false, uniqueKeys: false, logLevel: 'error' });
  refuseTwice(problems, document);
  refuseExcess(problems, document);
  for (const { pos, message } of [...document.errors, ...document.warnings]) problems.offset(pos[0], plain(message));
  problems.refuse();
  let data: unknown;
  try {
    data = document.toJS({ maxAliasCount: YAML_LIMITS.aliases }) as unknown;
  } catch (error) {
    problems.offset(0, error instanceof Error ? plain(error.message) : 'this cannot be read');
    problems.refuse();
  }
  return {
    problems,
    data,
    valueAt: (path) => offsetOf(document, path, false),
    keyAt: (path) => offsetOf(document, path, true),
    nodeAt: (path) => nodeAt(document, path),
  };
}

/** Far more than any file needs, and far less than what would exhaust the parser. */
const STEEP = 256;

/**
 * Refuses, before anything is built from it, a text that would exhaust the parser: by its nesting (brackets, indicators in a row, indentation), or by how
 * much is in it.
 */
function refuseSteep(problems: Problems, text: string): void {
  // A text has no more words than characters.
  if (!mayBeSteep(text) && text.length <= YAML_LIMITS.words) return;
  let words = 0;
  let offset = 0;
  let brackets = 0;
  let indicators = 0;
  for (const lexeme of new Lexer().lex(text)) {
    if (lexeme === '[' || lexeme === '{') brackets++;
    else if (lexeme === ']' || lexeme === '}') brackets--;
    else if (lexeme === '-' || lexeme === '?') indicators++;
    else if (lexeme === '\n' || lexeme === '\r\n') indicators = 0;
    const indent = /^ +$/.test(lexeme) ? lexeme.length : 0;
    if (++words > YAML_LIMITS.words) {
      problems.offset(offset, `the file has more than ${YAML_LIMITS.words} words and marks; at most so many are read`);
      problems.refuse();
    }
    if (brackets > STEEP || indicators > STEEP || indent > STEEP) {
      problems.offset(offset, `nested more than ${YAML_LIMITS.depth} deep`);
      problems.refuse();
    }
    // Marks that stand for no text of their own.
    if (lexeme !== CST.DOCUMENT && lexeme !== CST.FLOW_END && lexeme !== CST.SCALAR) offset += lexeme.length;
  }
}

/** Whether a text holds enough of what nests, wherever it stands. */
function mayBeSteep(text: string): boolean {
  let marks = 0;
  let spaces = 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    spaces = code === SPACE ? spaces + 1 : 0;
    if (NESTING.includes(code)) marks++;
    if (marks > STEEP || spaces > STEEP) return true;
  }
  return false;
}

const SPACE = ' '.charCodeAt(0);
const NESTING = [...'[{-?'].map((mark) => mark.charCodeAt(0));

/** Refuses keys that are written twice in one group, and names that cannot be; the parser's own look at that takes the square of their number. */
function refuseTwice(problems: Problems, document: Document): void {
  visit(document, {
    Map: (_key, { items }) => {
      const names = new Set<unknown>();
      for (const { key } of items) {
        if (problems.isFull || !isScalar(key) || key.value === '<<') continue;
        if (names.has(key.value)) problems.offset(key.range?.[0] ?? 0, 'map keys must be unique');
        names.add(key.value);
        if (isTaken(String(key.value)))
          problems.offset(
            key.range?.[0] ?? 0,
            `nothing can be called ${String(key.value)}: that name is taken in every program`,
          );
      }
    },
  });
}

/** Names that every object has already: nothing may be called so. */
export const isTaken = (name: string): boolean => name in Object.prototype;

/** Refuses what is nested deeper, or refers more often, than any file needs. */
function refuseExcess(problems: Problems, document: Document): void {
  let aliases = 0;
  const refuse = (node: Node, message: string): symbol => {
    problems.offset(node.range?.[0] ?? 0, message);
    return visit.BREAK;
  };
  visit(document, {
    Collection: (_key, node, path) => {
      // The path holds pairs as well as the groups around.
      const depth = path.filter((ancestor) => !isPair(ancestor)).length;
      return depth > YAML_LIMITS.depth ? refuse(node, `nested more than ${YAML_LIMITS.depth} deep`) : undefined;
    },
    Alias: (_key, node) =>
      ++aliases > YAML_LIMITS.aliases ? refuse(node, `more than ${YAML_LIMITS.aliases} aliases`) : undefined,
  });
  problems.refuse();
}

function nodeAt(document: Document, path: Path): Node | undefined {
  let node = document.contents as Node | null;
  for (const step of path) {
    if (isAlias(node)) node = node.resolve(document) as Node | null;
    if (isMap(node) || isSeq(node)) node = (node.get(step, true) as Node | null | undefined) ?? null;
    else return undefined;
  }
  return node ?? undefined;
}

function offsetOf(document: Document, path: Path, key: boolean): number {
  for (let length = path.length; length > 0; length--) {
    const parent = nodeAt(document, path.slice(0, length - 1));
    const last = path[length - 1]!;
    if (isMap(parent)) {
      const pair = parent.items.find(
        (item) => isPair(item) && isScalar(item.key) && String(item.key.value) === String(last),
      );
      const name = pair?.key as Node | undefined;
      const value = pair?.value as Node | null | undefined;
      const found = (key && length === path.length ? name : (value ?? name))?.range?.[0];
      if (found !== undefined) return found;
    }
    const found = nodeAt(document, path.slice(0, length))?.range?.[0];
    if (found !== undefined) return found;
  }
  return document.contents?.range?.[0] ?? 0;
}

function plain(message: string): string {
  const line = message.split('\n')[0]!.replace(/ at line \d+, column \d+:?$/, '');
  return line.charAt(0).toLowerCase() + line.slice(1);
}

/** What is wrong at a place of plain data: its value, or the keys named here that do not belong there. */
export interface Issue {
  path: Path;
  keys: string[];
}

/** As many issues of one file as anybody reads: a few more than are reported. */
const ENOUGH = 32;

/** What zod found, with unions opened: the issues of the branch that the value comes closest to. */
export function issuesOf(error: z.core.$ZodError | undefined, data: unknown): Issue[] {
  const found: Issue[] = [];
  const walk = (issues: readonly z.core.$ZodIssue[], before: Path): void => {
    for (const issue of issues) {
      if (found.length >= ENOUGH) return;
      const path = [...before, ...(issue.path as (string | number)[])];
      if (issue.code === 'invalid_union' && issue.errors.length > 0) {
        const value = at(data, path);
        const branch = issue.errors.find(
          (errors) =>
            typeof value === 'object' &&
            !errors.some(({ path: inner, code }) => inner.length === 0 && code === 'invalid_type'),
        );
        if (branch) {
          walk(branch, path);
          continue;
        }
      }
      found.push({ path, keys: issue.code === 'unrecognized_keys' ? issue.keys.slice(0, ENOUGH) : [] });
    }
  };
  walk(error?.issues ?? [], []);
  return found;
}

/** The value at a path of plain data. */
export function at(data: unknown, path: Path): unknown {
  let value = data;
  for (const step of path) {
    if (typeof value !== 'object' || value === null) return undefined;
    value = (value as Record<string | number, unknown>)[step];
  }
  return value;
}
