import { ACTIONS, TRACE_COLUMNS } from 'apperin';
import { jsonSchemas } from 'apperin/files';
import { z } from 'zod';
import { headSchema, rowSchema } from '../../src/files/found.js';
import { HOST_CALLS } from '../../src/files/host-schema.js';
import { DATA } from '../../src/files/svg/data.js';
import { KINDS, ROOT_DATA } from '../../src/files/svg/level.js';
import { table } from './page.js';

/** What is read of a JSON Schema. */
interface Schema {
  type?: string;
  description?: string;
  const?: unknown;
  enum?: readonly unknown[];
  anyOf?: readonly Schema[];
  properties?: Readonly<Record<string, Schema>>;
  required?: readonly string[];
  additionalProperties?: Schema | boolean;
  prefixItems?: readonly Schema[];
  items?: Schema | boolean;
  minItems?: number;
  minimum?: number;
  maximum?: number;
  exclusiveMinimum?: number;
  exclusiveMaximum?: number;
  pattern?: string;
}

const SCHEMAS = jsonSchemas() as Readonly<Record<string, Schema>>;
const LEVEL = SCHEMAS['level.schema.json']!;

/** What an element of a class is. */
const CLASSES: Readonly<Record<(typeof KINDS)[number], string>> = {
  solid:
    'solid: an area all around; an open line is ground that blocks from above, a `line` a wall of no thickness, from both sides',
  'one-way': 'ground that blocks from above only: the upper outline of an area, or a line',
  zone: 'an area that tells when a body enters and leaves',
  spawn: 'a place to start from: the middle of the element',
  surface: 'what a surface does; nothing is drawn there',
  mover: 'a group of shapes that move together',
};

/** What the outermost element says of the level. */
const ROOT: Readonly<Record<(typeof ROOT_DATA)[number], string>> = {
  units: 'how many drawing units make one unit of the level; 1 unless given',
  tolerance: 'curves are followed to within so many units; 1/256 unless given',
  'y-points': '`up` turns y over',
  left: 'that side of the level: `open` unless given, `wall`, `wrap` or `out`',
  right: 'the same',
  top: 'the same',
  bottom: 'the same',
};

/** Every file format, key by key, out of the schemas that the files are checked with. */
export function formatsPage(): string {
  const { properties } = LEVEL;
  const top: Schema = { properties: Object.fromEntries(Object.entries(properties!).map(([key, one]) => [key, GROUPS.includes(key) ? { ...without(one), description: `${one.description!}: see below` } : one])) };
  return `# File formats

What each file may say, out of the very schemas that it is checked with. What is not listed is refused, with the nearest name that is. How such a file is put together, with examples, is on the page that is named at each; what of it is read at most: [what readers refuse](../files.md#what-readers-refuse). A coordinate is a number within ±2²⁶. Schemas for editors (JSON Schema 2020-12) lie in \`schema/\` of the package.

## \`*.tuning.yaml\`

YAML 1.2, or JSON as \`*.tuning.json\`. [Tuning files](../tunings.md); its keys are those of [keys of a tuning](keys.md), in groups.

${keysOf({ properties: others(SCHEMAS['tuning.schema.json']!) })}

## \`*.level.yaml\`

A level in rows, of free shapes, or of cells: one of \`rows\`, \`shapes\` and \`cells\`. [Level files](../levels.md).

${keysOf(top)}

${GROUPS.map((key) => `### ${key}\n\n${sentence(properties![key]!.description!)}.\n\n${groupOf(key, properties![key]!)}`).join('\n\n')}

## \`*.level.svg\`

A drawing: \`rect polygon polyline line path circle ellipse g use\`, with transforms. What an element is follows from its class. [Drawn levels](../levels.md#drawings).

${table(['class', 'which is'], KINDS.map((kind) => [`\`${kind}\``, CLASSES[kind]]))}

${table(['attribute', 'what it says'], [...DATA.map((name) => [`\`data-${name}\``, meaningOf(name)]), ['`data-policy`', 'of a mover: what it does with a body that it would crush'], ...ROOT_DATA.map((name) => [`\`data-${name}\``, `of the outermost element: ${ROOT[name]}`])])}

Besides: \`viewBox\` of the outermost element is the extent of the level, \`title\` its title; of a mover \`id\` is its name, and its way is an \`animateMotion\` in it ([movers](../movers.md)); of a spawn, a zone and a surface \`id\` is its name.

## \`*.keys.yaml\`

[Key bindings](../keys.md).

${keysOf(SCHEMAS['keys.schema.json']!)}

## \`*.promises.yaml\`

[Promises](../lab.md#promises).

${keysOf(SCHEMAS['promises.schema.json']!)}

## \`*.frames.yaml\`

[Numbers by frames](../lab.md#numbers-by-frames).

${keysOf(SCHEMAS['frames.schema.json']!)}

## \`*.input.csv\`

CSV (RFC 4180) with the first line \`time,action,value\`. [Inputs](../inputs.md).

${table(['column', 'what it holds'], [['`time`', 'number of seconds, 0 … 1000000; rows stand in the order of their times'], ['`action`', `${ACTIONS.map((one) => `\`${one}\``).join(', ')}, an action of an ability of the game, or \`host\``], ['`value`', 'number of 0 … 1, of `move` -1 … 1; of `host` JSON: one of the calls below']])}

A call of a \`host\` row is a group with one of these, in the level's own axes:

${table(['call', 'what it is given'], Object.entries(HOST_CALLS).map(([name, one]) => [`\`${name}\``, callOf(z.toJSONSchema(one, { io: 'input' }) as Schema, name)]))}

## \`*.capture.csv\`

A table with times and places in any order of columns, as CSV or JSON Lines; which column says what is said to [\`apperin fit\`](commands.md#apperin-fit). [What is read](../fit.md#what-is-read).

## \`*.trace.csv\`

CSV, a row for each tick. [Traces](../traces.md). Its columns: ${TRACE_COLUMNS.map((one) => `\`${one}\``).join(', ')}; then for each mover \`mover:NAME:x\` and \`mover:NAME:y\`.

## \`*.events.jsonl\`

JSON Lines, an event a line, with the fields of [events](events.md).

## \`*.pieces.jsonl\`

JSON Lines, a piece of motion a line: [its coefficients](../traces.md#piecesjsonl).

## Files of a search

JSON Lines (\`*.jsonl\`): a head, then a row a line. [Searches](../search.md#the-file).

### The head

${keysOf(z.toJSONSchema(headSchema, { io: 'input' }) as Schema)}

### A row

${keysOf(z.toJSONSchema(rowSchema, { io: 'input' }) as Schema)}
`;
} // prettier-ignore

/** Parts of a level that have a table of their own. */
const GROUPS: readonly string[] = ['shapes', 'marks', 'surfaces', 'zones', 'movers', 'spawns', 'bounds'];

/** A group or a list, and nothing of what is in it. */
const without = ({ type }: Schema): Schema => (type === undefined ? {} : { type });

/** The keys of such a part. */
function groupOf(key: string, { items, additionalProperties: more, properties }: Schema): string {
  if (typeof items === 'object') return keysOf(items);
  if (typeof more !== 'object') return keysOf({ properties: properties! });
  if (key === 'spawns') return keysOf({ properties: { NAME: more } });
  return key === 'marks' ? keysOf(more.anyOf![0]!, 'MARK.') : keysOf(more, 'NAME.');
}

/** What a tuning says besides its groups of keys. */
function others({ properties }: Schema): Readonly<Record<string, Schema>> {
  return Object.fromEntries(Object.entries(properties!).filter(([key]) => ['from', 'tile', 'own', 'name', 'title'].includes(key)));
} // prettier-ignore

/** A row for each key, those within it after it. */
function keysOf(of: Schema, before = ''): string {
  return table(['key', 'value', 'meaning'], rowsOf(of, before));
}

function rowsOf({ properties = {}, required = [], additionalProperties: more }: Schema, before: string): string[][] {
  const rows = Object.entries(properties).flatMap(([key, one]) => [
    [`\`${before}${key}\``, `${valueOf(one)}${required.includes(key) ? '; needed' : ''}`, one.description ?? ''],
    ...within(one, `${before}${key}`),
  ]);
  return typeof more === 'object' && !('type' in more && more.type === undefined)
    ? [...rows, ...(more.properties ? rowsOf(more, `${before}NAME.`) : [])]
    : rows;
}

/** The keys within a value: of a group, of the groups of a list, of what any name may have. */
function within(one: Schema, name: string): string[][] {
  // (Of movers the same as of what stands still.)
  if (name === 'shapes') return [];
  if (one.properties) return rowsOf(one, `${name}.`);
  if (typeof one.items === 'object' && one.items.properties) return rowsOf(one.items, `${name}[].`);
  if (typeof one.additionalProperties === 'object' && one.additionalProperties.properties)
    return rowsOf(one.additionalProperties, `${name}.NAME.`);
  return (one.anyOf ?? []).flatMap((choice) => within(choice, name));
}

/** What a value may be, in words. */
function valueOf(one: Schema): string {
  const { type, anyOf, prefixItems, items, minItems = 0 } = one;
  if (anyOf) return [...new Set(anyOf.map(valueOf))].join(', or ');
  if (one.enum) return one.enum.map((word) => `\`${String(word)}\``).join(', ');
  if ('const' in one) return `\`${String(one.const)}\``;
  if (prefixItems?.length === 4 && prefixItems[2]!.exclusiveMinimum === 0) return '[x, y, width, height]';
  if (prefixItems) return `[${prefixItems.map(valueOf).join(', ')}]`;
  if (type === 'array')
    return `list${minItems > 0 ? ` of ${minItems} or more` : ''}${typeof items === 'object' && (items.type ?? items.anyOf ?? items.enum) ? `: ${valueOf(items)}` : ''}`;
  if (type === 'boolean') return '`true`, `false`';
  if (type === 'number' || type === 'integer') return numberOf(one);
  if (type === 'object') return 'group';
  if (type === 'null') return '`null`';
  if (type === 'string') return one.pattern?.startsWith('^[0-9a-f]') ? 'SHA-256, in hex' : 'text';
  return 'any value';
}

const FAR = 67108864;

function numberOf({ type, minimum, maximum, exclusiveMinimum: above, exclusiveMaximum: below }: Schema): string {
  const least = above ?? minimum ?? -Infinity;
  const most = below ?? maximum ?? Infinity;
  if (least === -FAR && most === FAR) return 'coordinate';
  const what = type === 'integer' ? 'whole number' : 'number';
  const shown = (value: number): string => (value === FAR ? '2²⁶' : String(value));
  const bounded = most < Infinity && most < Number.MAX_SAFE_INTEGER;
  if (least > -Infinity && least > Number.MIN_SAFE_INTEGER)
    return `${what} ${above === undefined ? 'of' : 'above'} ${shown(least)}${bounded ? ` … ${below === undefined ? '' : 'below '}${shown(most)}` : above === undefined ? ' or more' : ''}`;
  return bounded ? `${what} of at most ${shown(most)}` : what;
}

/** What an attribute of a drawing says: the same as the key of that name in a level in rows. */
function meaningOf(name: string): string {
  if (name === 'facing') return 'of a spawn: the way faced, `1` or `-1`';
  if (name === 'tags') return 'of a zone: its tags, with blanks between';
  if (name === 'bounce') return 'of a surface: share of the landing speed given back';
  if (name === 'bounce-from') return 'of a surface: the landing speed from which `data-bounce` acts, units/s';
  const { properties } = LEVEL;
  const shape = (properties!.shapes!.items as Schema).properties!;
  const zone = (properties!.zones!.items as Schema).properties!;
  const surface = (properties!.surfaces!.additionalProperties as Schema).properties!;
  const said = [shape[name]?.description, zone[name]?.description && name !== 'name' && `of a zone: ${zone[name].description!}`, surface[name] && name !== 'bounce' && `of a surface: ${surface[name].description!}`];
  return said.filter((one) => typeof one === 'string').join('; ');
} // prettier-ignore

/** What a call is given, and what goes with it. */
function callOf({ properties }: Schema, name: string): string {
  const { [name]: given, ...rest } = properties!;
  return [
    valueOf(given!),
    ...Object.entries(rest)
      .filter(([key]) => key !== 'after')
      .map(([key, one]) => `\`${key}\`: ${valueOf(one)}`),
  ].join('; ');
}

const sentence = (text: string): string => `${text[0]!.toUpperCase()}${text.slice(1)}`;
