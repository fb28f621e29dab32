import { Document, isAlias, isMap, isScalar, parseDocument, type Scalar, type YAMLMap } from 'yaml';
import { GOALS } from '../core/index.js';
import { isJson, removed, scalarSplice, spliced, withValue, type Splice } from './splice.js';
import { parseYaml } from './yaml.js';
import { TUNING_LIMITS } from './tuning.js';

/** A key of a tuning and its new value. */
export interface Edit {
  /** Its dotted name, such as `jump.height`. */
  key: string;
  /** A list for keys that are lists; `{}` for a group with its defaults; `undefined` takes the key out. */
  value: number | string | boolean | readonly (number | string)[] | Readonly<Record<string, never>> | undefined;
}

/** A text of so many characters has so many keys that the parser's look for those given twice takes too long. */
const LONG = 16_384;

const quiet = (text: string): { prettyErrors: false; uniqueKeys: boolean } => ({
  prettyErrors: false,
  uniqueKeys: text.length <= LONG,
});

/** Numbers are written with so many figures: what that loses is far below what any measure shows. */
const FIGURES = 10;

/**
 * A tuning file's text with other values. Nothing else in it changes: comments, order, indentation, blank lines and ends of lines stay. New keys come at the
 * end of their group, and where goals of the jump are set, those that are not go.
 * @param text as it was; an empty text for a new file
 * @param file its name, for messages
 * @throws FileError where the text is not YAML
 * @example
 * ```ts
 * editTuning('run: { speed: 7 } # quick', [{ key: 'run.speed', value: 8 }]) // the comment stays
 * ```
 */
export function editTuning(text: string, edits: readonly Edit[], file = 'tuning.yaml'): string {
  const wanted = new Map(edits.map(({ key, value }) => [key, roundedOf(value)]));
  const goals = [...wanted.keys()].map((key) => key.replace(/^jump\./, '')).filter((key) => isGoal(key));
  if (text.length > LONG) parseYaml(text, file, TUNING_LIMITS.length);
  let document = parseDocument(text, quiet(text));
  if (document.errors.length > 0) parseYaml(text, file, TUNING_LIMITS.length);
  if (document.contents === null && text.trim() === '') return rewritten(new Document({}), wanted);
  if (goals.length > 0)
    for (const goal of GOALS)
      if (!goals.includes(goal) && document.hasIn(['jump', goal])) wanted.set(`jump.${goal}`, undefined);
  // Values that stand there already change where they stand.
  const splices: Splice[] = [];
  for (const [key, value] of wanted) {
    const splice = scalarSplice(text, document, key.split('.'), value);
    if (!splice) continue;
    splices.push(splice);
    wanted.delete(key);
  }
  let edited = spliced(text, splices);
  for (const [key, value] of wanted) {
    document = parseDocument(edited, quiet(edited));
    const path = key.split('.');
    if (value === undefined && !document.hasIn(path)) continue;
    const next = value === undefined ? removed(edited, document, path) : withValue(edited, document, path, value);
    let whole = rewritten(document, new Map([[key, value]]));
    if (isJson(edited)) whole = `${JSON.stringify(document.toJS(), null, 2)}\n`;
    // A way of writing that has no place for the new text is written anew.
    edited = next !== undefined && isSame(next, whole) ? next : whole;
  }
  return edited;
}

type Value = Exclude<Edit['value'], undefined>;

const isGoal = (key: string): boolean => (GOALS as readonly string[]).includes(key);

function roundedOf(value: Edit['value']): Edit['value'] {
  const rounded = <T>(one: T): T | number => (typeof one === 'number' ? Number(one.toPrecision(FIGURES)) : one);
  return Array.isArray(value) ? value.map(rounded) : rounded(value as Value);
}

/** Whether two texts say the same, in the same order. */
function isSame(one: string, other: string): boolean {
  const read = (text: string): string | undefined => {
    const document = parseDocument(text, quiet(text));
    return document.errors.length > 0 ? undefined : JSON.stringify(document.toJS());
  };
  return read(one) === read(other);
}

/** The text of a document with other values, written anew: comments and order stay. The document is changed. */
function rewritten(document: Document, edits: ReadonlyMap<string, Edit['value']>): string {
  if (!isMap(document.contents)) document.contents = document.createNode({}) as unknown as YAMLMap;
  for (const [key, value] of edits) {
    const path = key.split('.');
    // A group that a word stands for (`off`) becomes a group of keys.
    for (let length = 1; length < path.length; length++) {
      const node = document.getIn(path.slice(0, length), true);
      if (node === undefined || isMap(node)) continue;
      // What it shares with another group it has for itself then.
      const shared = isAlias(node) ? (node.resolve(document)?.toJSON() as unknown) : undefined;
      document.setIn(path.slice(0, length), document.createNode(shared ?? {}));
    }
    if (value === undefined) {
      if (document.hasIn(path)) document.deleteIn(path);
      // A group that is left without keys is the group with its defaults.
      continue;
    }
    if (typeof value === 'object') {
      const node = document.createNode(value) as { flow?: boolean };
      node.flow = true;
      document.setIn(path, node);
      continue;
    }
    const node = document.getIn(path, true);
    if (isScalar(node)) {
      const scalar = node as Scalar;
      scalar.value = value;
      delete scalar.source;
      delete scalar.format;
      delete scalar.minFractionDigits;
    } else document.setIn(path, value);
  }
  return document.toString({ lineWidth: 0 });
}
