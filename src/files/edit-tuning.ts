import { Document, Scalar, isMap, isScalar, parseDocument, type YAMLMap } from 'yaml';
import { GOALS } from '../core/index.js';

/** A key of a tuning and its new value. */
export interface Edit {
  /** Its dotted name, such as `jump.height`. */
  key: string;
  /** A list for keys that are lists; `{}` for a group with its defaults; `undefined` takes the key out. */
  value: number | string | boolean | readonly (number | string)[] | Readonly<Record<string, never>> | undefined;
}

/** Numbers are written with so many figures: what that loses is far below what any measure shows. */
const FIGURES = 10;

/**
 * A tuning file's text with other values; comments, order and style stay. New keys come at the end of their group, and where goals of the jump are set, those
 * that are not go.
 * @param text as it was; an empty text for a new file
 */
export function editTuning(text: string, edits: readonly Edit[]): string {
  const document: Document = text.trim() === '' ? new Document({}) : parseDocument(text);
  if (!isMap(document.contents)) document.contents = document.createNode({}) as unknown as YAMLMap;
  const goals = edits.map(({ key }) => key.replace(/^jump\./, '')).filter((key) => (GOALS as readonly string[]).includes(key));
  if (goals.length > 0)
    for (const goal of GOALS) if (!goals.includes(goal) && document.hasIn(['jump', goal])) document.deleteIn(['jump', goal]);
  for (const { key, value } of edits) {
    const path = key.split('.');
    // A group that a word stands for (`off`) becomes a group of keys.
    for (let length = 1; length < path.length; length++) {
      const node = document.getIn(path.slice(0, length), true);
      if (node !== undefined && !isMap(node)) document.setIn(path.slice(0, length), document.createNode({}));
    }
    if (value === undefined) {
      if (document.hasIn(path)) document.deleteIn(path);
      // A group that is left without keys is the group with its defaults.
      continue;
    }
    const rounded = (one: number | string): number | string => (typeof one === 'number' ? Number(one.toPrecision(FIGURES)) : one);
    if (typeof value === 'object') {
      const node = document.createNode(Array.isArray(value) ? value.map(rounded) : {}) as { flow?: boolean };
      node.flow = true;
      document.setIn(path, node);
      continue;
    }
    const number = typeof value === 'boolean' ? value : rounded(value);
    const node = document.getIn(path, true);
    if (isScalar(node)) {
      // Its own way of being written is that of its old value.
      const scalar = node as Scalar;
      scalar.value = number;
      delete scalar.source;
      delete scalar.format;
      delete scalar.minFractionDigits;
    } else document.setIn(path, number);
  }
  return document.toString({ lineWidth: 0 });
} // prettier-ignore
