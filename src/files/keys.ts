import { Document } from 'yaml';
import { z } from 'zod';
import { ACTIONS, OPPOSED, showValue, type Opposed } from '../core/index.js';
import { KEY_CODES } from './key-codes.js';
import type { Problem } from './problem.js';
import { at, issuesOf, parseYaml, type Issue, type YamlFile } from './yaml.js';
import { nearest } from '../lab/nearest.js';

/**
 * The longest file of key bindings that is read, characters.
 * @example
 * ```ts
 * KEYS_LIMITS.length // 262144
 * ```
 */
export const KEYS_LIMITS = { length: 262144 } as const;

/** What hangs on which key, button and axis; `keyboard` and `gamepad` take their parts of it. */
export interface Bindings {
  /** Which way to go with both directions held. */
  opposed: Opposed;
  /** Keys (`KeyboardEvent.code`) by action. */
  keys: Record<string, string[]>;
  /** Buttons of the standard gamepad by action. */
  buttons: Record<string, number[]>;
  /** The pad's axis across for `move`; the one after it is up and down. */
  axis: number;
  /** How far from its middle the stick counts as in the middle, 0 to 0.9. */
  deadZone: number;
}

/** What a file of key bindings holds. */
export interface KeysFile {
  bindings: Bindings;
  warnings: Problem[];
}

const action = z.strictObject({
  keys: z.array(z.string()).describe('names of KeyboardEvent.code').optional(),
  buttons: z.array(z.int().gte(0).lte(31)).describe('button numbers of the standard gamepad').optional(),
});

/** A file of key bindings. */
export const keysSchema = z.strictObject({
  opposed: z.enum(OPPOSED).describe('which way to go with both directions held (still unless given)').optional(),
  deadZone: z.number().gte(0).lte(0.9).describe('how far from its middle the stick counts as in the middle; 0.2 unless given').optional(),
  actions: z
    .object({ move: z.strictObject({ axis: z.int().gte(0).lte(15).describe('the axis of the stick across; 0 unless given').optional() }).describe('the stick of a gamepad').optional() })
    .catchall(action)
    .describe('what hangs on which key and button, by action'),
}); // prettier-ignore

/**
 * Reads key bindings (`*.keys.yaml`).
 * @param options settings, each of which may be left out
 * @param options.actions actions of the game's own abilities, besides those that every character knows; others raise a warning
 * @throws FileError with the place of everything that is wrong
 * @example
 * ```ts
 * readKeys('actions: { jump: { keys: [Space] } }')
 * ```
 */
export function readKeys(
  text: string,
  { file = 'keys.yaml', actions = [] }: { file?: string; actions?: readonly string[] } = {},
): KeysFile {
  const yaml = parseYaml(text, file, KEYS_LIMITS.length);
  const checked = keysSchema.safeParse(yaml.data ?? {});
  for (const issue of issuesOf(checked.error, yaml.data)) report(yaml, issue);
  yaml.problems.refuse();
  const { opposed = 'still', deadZone = 0.2, actions: given } = checked.data!;
  const { move, ...rest } = given;
  const bindings: Bindings = { opposed, keys: {}, buttons: {}, axis: move?.axis ?? 0, deadZone };
  for (const [name, { keys = [], buttons = [] }] of Object.entries(rest)) {
    bindings.keys[name] = keys;
    bindings.buttons[name] = buttons;
    warn(yaml, name, keys, [...ACTIONS, ...actions]);
  }
  return { bindings, warnings: yaml.problems.warnings };
}

function warn({ problems, keyAt, valueAt }: YamlFile, name: string, keys: readonly string[], known: readonly string[]): void {
  if (!known.includes(name)) {
    const meant = nearest(name, known);
    problems.offset(
      keyAt(['actions', name]),
      `no built-in action is called ${name}${meant ? `; did you mean ${meant}?` : ''} (an ability of the game may declare it)`,
      'warning',
    );
  }
  keys.forEach((key, i) => {
    if (KEY_CODES.includes(key)) return;
    const meant = nearest(key, KEY_CODES);
    problems.offset(
      valueAt(['actions', name, 'keys', i]),
      `${showValue(key)} is no common name of a key${meant ? `; did you mean ${meant}?` : ': names are those of KeyboardEvent.code, such as KeyE, Space, ArrowLeft'}`,
      'warning',
    );
  });
} // prettier-ignore

/** What is allowed where, in words: the first that matches. */
const ALLOWED: readonly [RegExp, string][] = [
  [/^opposed$/, OPPOSED.join(', ')],
  [/^deadZone$/, 'a number of 0 to 0.9'],
  [/^actions$/, 'a group of actions'],
  [/^actions\.move$/, 'a group with axis'],
  [/^actions\.move\.axis$/, 'a whole number of 0 to 15'],
  [/^actions\.[^.]+$/, 'a group of keys and buttons'],
  [/\.keys$/, 'a list of names of keys'],
  [/\.keys\.\d+$/, 'the name of a key'],
  [/\.buttons$/, 'a list of button numbers'],
  [/\.buttons\.\d+$/, 'a whole number of 0 to 31'],
];

function report({ problems, keyAt, valueAt, data }: YamlFile, { path, keys }: Issue): void {
  const known = path.length === 0 ? Object.keys(keysSchema.shape) : path[1] === 'move' ? ['axis'] : ['keys', 'buttons'];
  for (const key of keys) {
    const meant = nearest(key, known);
    const help = meant ? `; did you mean ${meant}?` : `; the keys here are ${known.join(', ')}`;
    problems.offset(keyAt([...path, key]), `there is no key ${[...path, key].join('.')}${help}`);
  }
  if (keys.length > 0) return;
  const where = path.join('.');
  const allowed = ALLOWED.find(([place]) => place.test(where))?.[1] ?? 'a group of keys with actions';
  problems.offset(
    valueAt(path),
    where === 'actions' && at(data, path) === undefined
      ? 'there are no actions'
      : `${where || 'this'} is ${showValue(at(data, path))}; it must be ${allowed}`,
  );
}

/**
 * Key bindings as a file's text; read again they are the same.
 * @example
 * ```ts
 * writeKeys(readKeys('actions: { jump: { keys: [Space] } }').bindings)
 * ```
 */
export function writeKeys({ opposed, deadZone, axis, keys, buttons }: Bindings): string {
  const document = new Document({ opposed, deadZone, actions: {} });
  for (const name of new Set([...Object.keys(keys), ...Object.keys(buttons)])) {
    const bound = { keys: keys[name] ?? [], buttons: buttons[name] ?? [] };
    document.setIn(['actions', name], document.createNode(bound, { flow: true }));
  }
  document.setIn(['actions', 'move'], document.createNode({ axis }, { flow: true }));
  return document.toString({ lineWidth: 0 });
}
