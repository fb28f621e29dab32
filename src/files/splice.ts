import { isAlias, isMap, isScalar, isSeq, type Document, type Node, type Pair, type YAMLMap } from 'yaml';

/** A stretch of a text, and what comes in its place. */
export interface Splice {
  from: number;
  to: number;
  by: string;
}

type Value = unknown;
type Path = readonly string[];

/** A text with stretches replaced, which do not overlap; at one place the first comes first. */
export function spliced(text: string, splices: readonly Splice[]): string {
  let result = text;
  for (const { from, to, by } of [...splices].reverse().sort((a, b) => b.from - a.from))
    result = result.slice(0, from) + by + result.slice(to);
  return result;
}

/** How a word, number or switch that stands at a path becomes another; undefined where that takes more than its own place. */
export function scalarSplice(text: string, document: Document, path: Path, value: Value): Splice | undefined {
  if (value === undefined || typeof value === 'object') return undefined;
  const node = document.getIn(path, true) as Node | undefined;
  if (!isScalar(node) || !node.range || node.range[0] === node.range[1]) return undefined;
  const [from, to] = node.range;
  const was = text.slice(from, to);
  if (node.value === value) return { from, to, by: was };
  const json = isJson(text);
  return { from, to, by: typeof value === 'number' ? styled(value, was) : flow(value, json) };
}

/** A number written as another was: with an exponent, a sign, no nought before the point, noughts at the end. */
function styled(value: number, as: string): string {
  if (!/^[-+]?(\d+\.?|\d*\.\d+)(e[-+]?\d+)?$/i.test(as)) return String(value);
  let text = String(value);
  const exponent = /[eE]/.exec(as)?.[0];
  const padded = /\.(\d*0)$/.exec(as)?.[1]!.length ?? 0;
  if (exponent !== undefined) text = value.toExponential().replace('e+', 'e').replace('e', exponent);
  else if (padded > 0 && Number(value.toFixed(padded)) === value) text = value.toFixed(padded);
  if (/^[-+]?\./.test(as)) text = text.replace(/^(-?)0\./, '$1.');
  return as.startsWith('+') && value >= 0 ? `+${text}` : text;
}

/** The text with a value at a path: in place of what is there, or at the end of the group; undefined where it has no place. */
export function withValue(text: string, document: Document, path: Path, value: Value): string | undefined {
  const json = isJson(text);
  if (document.contents === null || (isScalar(document.contents) && document.contents.value === null))
    return appended(text, linesOf(path, value, '', '  '));
  if (!isMap(document.contents)) return undefined;
  let map: YAMLMap = document.contents;
  for (let depth = 0; ; depth++) {
    const pair = pairOf(map, path[depth]!);
    const rest = path.slice(depth + 1);
    if (!pair) return inserted(text, document, map, path.slice(depth), value);
    if (rest.length > 0 && isMap(pair.value)) map = pair.value;
    else if (rest.length > 0 && isAlias(pair.value)) return undefined;
    else return replaced(text, pair, flow(nested(rest, value), json));
  }
}

/** The text without a key; undefined where that cannot be cut out. */
export function removed(text: string, document: Document, path: Path): string | undefined {
  const map = path.length === 1 ? document.contents : document.getIn(path.slice(0, -1), true);
  if (!isMap(map)) return undefined;
  const items = map.items as Pair[];
  const at = items.findIndex((pair) => nameOf(pair) === path.at(-1));
  const from = keyStart(items[at]!);
  const to = endOf(items[at]!, text);
  if (from === undefined || to === undefined) return undefined;
  if (items.length === 1 && path.length > 1) {
    const parent = pairOf(path.length === 2 ? (document.contents as YAMLMap) : (document.getIn(path.slice(0, -2), true) as YAMLMap), path.at(-2)!); // prettier-ignore
    return replaced(text, parent!, '{}');
  }
  if (isFlow(map)) {
    if (items.length === 1) return spliced(text, [{ from: map.range![0], to: map.range![1], by: '{}' }]);
    const before = at > 0 ? endOf(items[at - 1]!, text) : from;
    const after = at > 0 ? to : keyStart(items[1]!);
    return before === undefined || after === undefined ? undefined : spliced(text, [{ from: before, to: after, by: '' }]); // prettier-ignore
  }
  return spliced(text, [{ from: lineStart(text, from), to: nextLine(text, to), by: '' }]);
} // prettier-ignore

/** The text with another value at a key, in one line. */
function replaced(text: string, pair: Pair, by: string): string | undefined {
  const key = (pair.key as Node | null)?.range;
  if (!key) return undefined;
  const colon = text.indexOf(':', key[1]) + 1;
  const node = pair.value as Node | null;
  if (!node?.range || node.range[0] === node.range[1]) return spliced(text, [{ from: colon, to: colon, by: ` ${by}` }]);
  if (!isBlock(node)) return spliced(text, [{ from: node.range[0], to: node.range[1], by }]);
  // The lines of the group go, and what is said beside its name stays.
  const end = endOf(pair, text);
  if (end === undefined) return undefined;
  return spliced(text, [
    { from: colon, to: colon, by: ` ${by}` },
    { from: lineEnd(text, colon), to: lineEnd(text, end), by: '' },
  ]);
}

/** The text with a key that a group does not have yet, at the group's end. */
function inserted(text: string, document: Document, map: YAMLMap, path: Path, value: Value): string | undefined {
  const json = isJson(text);
  const [items, last] = [map.items as Pair[], map.items.at(-1) as Pair | undefined];
  const item = `${quoted(path[0]!, json)}: ${flow(nested(path.slice(1), value), json)}`;
  if (!last) return spliced(text, [{ from: map.range![0], to: map.range![1], by: `{ ${item} }` }]);
  const start = keyStart(items[0]!);
  const end = endOf(last, text);
  if (start === undefined || end === undefined) return undefined;
  const indent = text.slice(lineStart(text, start), start);
  const eol = eolOf(text);
  if (!isFlow(map)) {
    if (indent.trim() !== '') return undefined;
    const at = nextLine(text, end);
    const lines = linesOf(path, value, indent, stepOf(text, document)).join(eol);
    return spliced(text, [{ from: at, to: at, by: at > 0 && text[at - 1] !== '\n' ? eol + lines : lines + eol }]);
  }
  const comma = /^\s*,/.exec(text.slice(end))?.[0].length ?? 0;
  const lineOfLast = text.slice(lineStart(text, keyStart(last)!), keyStart(last));
  if (lineOfLast.trim() !== '') {
    const from = end + comma;
    return spliced(text, [{ from, to: from, by: `${comma > 0 ? '' : ','} ${item}` }]);
  }
  // One to a line: a comment beside the last one stays beside it.
  const rest = lineEnd(text, end + comma);
  const closing = text.slice(end + comma, rest).includes('}') ? end + comma : rest;
  return spliced(text, [
    ...(comma > 0 ? [] : [{ from: end, to: end, by: ',' }]),
    { from: closing, to: closing, by: `${eol}${lineOfLast}${item}` },
  ]);
}

function appended(text: string, lines: readonly string[]): string {
  const eol = eolOf(text);
  return `${text}${text === '' || text.endsWith('\n') ? '' : eol}${lines.join(eol)}${eol}`;
}

/** A path and its value as lines of a block. */
function linesOf(path: Path, value: Value, indent: string, step: string): string[] {
  return path.map((name, i) => {
    const isLast = i === path.length - 1;
    return `${indent}${step.repeat(i)}${quoted(name, false)}:${isLast ? ` ${flow(value, false)}` : ''}`;
  });
}

/** How a file indents its groups. */
function stepOf(text: string, document: Document): string {
  for (const { value } of (document.contents as YAMLMap).items as Pair[]) {
    if (!isMap(value) || isFlow(value) || value.items.length === 0) continue;
    const start = keyStart(value.items[0] as Pair);
    const step = start === undefined ? '' : text.slice(lineStart(text, start), start);
    if (/^ +$/.test(step)) return step;
  }
  return '  ';
}

function nested(path: Path, value: Value): Value {
  return path.reduceRight<Value>((inner, name) => ({ [name]: inner }), value);
}

/** A value in one line. */
function flow(value: Value, json: boolean): string {
  if (Array.isArray(value)) return value.length === 0 ? '[]' : `[ ${value.map((one) => flow(one, json)).join(', ')} ]`;
  if (typeof value === 'object') {
    const pairs = Object.entries(value as object).map(([name, one]) => `${quoted(name, json)}: ${flow(one, json)}`);
    return pairs.length === 0 ? '{}' : `{ ${pairs.join(', ')} }`;
  }
  return typeof value === 'string' ? quoted(value, json) : String(value);
}

/** A word as it can stand anywhere. */
function quoted(word: string, json: boolean): string {
  const isPlain = /^[A-Za-z][\w-]*$/.test(word) && !/^(true|false|null)$/i.test(word);
  return isPlain && !json ? word : JSON.stringify(word);
}

export function isJson(text: string): boolean {
  if (!text.trimStart().startsWith('{')) return false;
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
}

const isFlow = (node: { flow?: boolean }): boolean => node.flow === true;
const isBlock = (node: Node): boolean => (isMap(node) || isSeq(node)) && !isFlow(node);

function nameOf({ key }: Pair): string {
  return String(isScalar(key) ? key.value : key);
}

function pairOf(map: YAMLMap, name: string): Pair | undefined {
  return (map.items as Pair[]).find((pair) => nameOf(pair) === name);
}

function keyStart(pair: Pair): number | undefined {
  return (pair.key as Node | null)?.range?.[0];
}

/** Where a key ends with all of its value, but for what is said beside it. */
function endOf({ key, value }: Pair, text: string): number | undefined {
  const node = value as Node | null;
  const range = node?.range ?? undefined;
  if (range && node && isBlock(node)) {
    const last = (node as YAMLMap).items.at(-1) as Pair | Node | undefined;
    return isMap(node) && last ? endOf(last as Pair, text) : (last as Node | undefined)?.range?.[1];
  }
  if (range && range[1] > range[0]) return range[1];
  const name = (key as Node | null)?.range;
  return name ? text.indexOf(':', name[1]) + 1 : undefined;
}

const eolOf = (text: string): string => (/\r\n/.test(text) ? '\r\n' : '\n');
const lineStart = (text: string, at: number): number => text.lastIndexOf('\n', at - 1) + 1;

/** Where the line of a place ends, before its end mark. */
function lineEnd(text: string, at: number): number {
  const end = text.indexOf('\n', at);
  if (end < 0) return text.length;
  return text[end - 1] === '\r' && end > at ? end - 1 : end;
}

function nextLine(text: string, at: number): number {
  const end = text.indexOf('\n', at);
  return end < 0 ? text.length : end + 1;
}
