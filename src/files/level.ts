import { isScalar, isSeq } from 'yaml';
import {
  LevelError,
  TILE_PARTS,
  compileLevel,
  compileOutlines,
  rowsOf,
  showValue,
  type CompiledLevel,
  type DrawnLevel,
  type Level,
  type Spawn,
  type Zone,
} from '../core/index.js';
import { levelOfCells, type GridMarks } from './cells.js';
import { convexPieces } from './pieces.js';
import { levelSchema } from './level-schema.js';
import {
  MOVER_KEYS,
  SHAPE_KEYS,
  SHAPE_NATURES,
  moverKey,
  moverOfRows,
  outlinesOfRows,
  type WrittenMover,
  type WrittenShape,
} from './movers.js';
import { FileError, type Problem } from './problem.js';
import { readDrawing } from './svg/level.js';
import { at, issuesOf, parseYaml, type YamlFile, type Issue } from './yaml.js';
import { nearest } from '../lab/nearest.js';

/**
 * The longest level that is read, characters.
 * @example
 * ```ts
 * LEVEL_LIMITS.length // 16777216
 * ```
 */
export const LEVEL_LIMITS = { length: 16777216 } as const;

/** What a level file holds. */
export interface LevelFile {
  /** What was written. */
  level: Level | DrawnLevel;
  /** The same, compiled: hand it to `openStage`. */
  compiled: CompiledLevel;
  warnings: Problem[];
}

/**
 * Reads a level: rows in YAML, or a drawing in SVG, told by the file's name or its first character.
 * @throws FileError with the place of every key, row or spawn that is wrong
 * @example
 * ```ts
 * const { compiled } = readLevel('rows: ["@..", "###"]', { file: 'first.level.yaml' });
 * ```
 */
export function readLevel(text: string, { file = 'level.yaml' }: { file?: string } = {}): LevelFile {
  if (text.length > LEVEL_LIMITS.length)
    throw new FileError([
      {
        file,
        line: 1,
        column: 1,
        message: `the file has ${text.length} characters; at most ${LEVEL_LIMITS.length} are read`,
        source: '',
        severity: 'error',
      },
    ]);
  if (file.endsWith('.svg') || /^\uFEFF?\s*</.test(text)) return readDrawing(text.replace(/^\uFEFF/, ''), file);
  const yaml = parseYaml(text, file, LEVEL_LIMITS.length);
  const { problems } = yaml;
  const checked = levelSchema.safeParse(yaml.data ?? {});
  for (const issue of issuesOf(checked.error, yaml.data)) report(yaml, issue);
  problems.refuse();
  const { rows: written, shapes, cells, spawns, zones, movers, ...rest } = checked.data!;
  const given = (['rows', 'shapes', 'cells'] as const).filter((key) => checked.data![key] !== undefined);
  if (given.length !== 1)
    problems.offset(yaml.valueAt([]), given.length === 0 ? 'the level has no rows' : `the level has ${given.join(' and ')}: it must be one of them`); // prettier-ignore
  if (cells === undefined)
    for (const [name, mark] of Object.entries(rest.marks ?? {}))
      if (typeof mark === 'string')
        problems.offset(
          yaml.valueAt(['marks', name]),
          `marks.${name} is ${showValue(mark)}; it must be a group of keys`,
        );
  if (shapes !== undefined)
    for (const key of ['tile', 'origin', 'marks'] as const)
      if (rest[key] !== undefined) problems.offset(yaml.keyAt([key]), `${key} is about rows, and the level has shapes`);
  problems.refuse();
  const numbers = cells === undefined ? [] : cellsOf(yaml, cells);
  problems.refuse();
  const refuseCell = (row: number, column: number, message: string): void =>
    typeof cells === 'string' ? problems.at(placeOfCell(yaml, row, column), message) : problems.offset(yaml.valueAt(['cells', row, column]), message); // prettier-ignore
  const made = cells === undefined ? undefined : levelOfCells(numbers, (rest.marks as GridMarks) ?? {}, {}, refuseCell);
  problems.refuse();
  const rows = rowsOf(made?.rows ?? written ?? []);
  const level = {
    ...rest,
    ...(made?.marks ? { marks: made.marks } : {}),
    ...(shapes ? { outlines: outlinesOfRows(yaml, shapes as WrittenShape[], rest.yPoints === 'up') } : { rows }),
    ...(zones ? { zones: zones.map((zone, i) => plainZone(yaml, zone, i)) } : {}),
    ...(movers
      ? { movers: movers.map((mover, i) => moverOfRows(yaml, mover as WrittenMover, i, rest.yPoints === 'up')) }
      : {}),
    ...(spawns
      ? { spawns: Object.fromEntries(Object.entries(spawns).map(([name, spawn]) => [name, plainSpawn(spawn)])) }
      : {}),
  } as Level | DrawnLevel;
  const isDrawn = 'outlines' in level;
  if (!isDrawn && rows.every((row) => row.length === 0)) problems.offset(yaml.valueAt(given), 'the level has no rows');
  problems.refuse();
  if (cells === undefined) warnRagged(yaml, rows);
  try {
    const compiled = isDrawn ? compileOutlines(level) : compileLevel(level);
    if (compiled.spawns.size === 0)
      problems.offset(
        yaml.keyAt(given),
        `no spawn: ${isDrawn || cells !== undefined ? '' : 'put an @ into the rows or '}name one under spawns`,
        'warning',
      );
    warnOutside(yaml, compiled);
    return { level, compiled, warnings: problems.warnings };
  } catch (error) {
    if (!(error instanceof LevelError)) throw error;
    const [group, row, part] = error.key.split('.');
    if (group === 'outlines') problems.offset(yaml.valueAt(['shapes']), error.message);
    else if (group === 'rows' && cells !== undefined) problems.offset(yaml.valueAt(['marks']), error.message);
    else if (group === 'marks' && cells !== undefined) {
      const key = keyOfMark(rest.marks!, made!.marks![row!]!);
      problems.offset(yaml.valueAt(['marks', key]), error.message.replaceAll(row!, key));
    } else if (group === 'rows' && row !== undefined)
      problems.at(placeInRow(yaml, Number(row), error.column ?? 0), error.message);
    else if (group === 'movers')
      problems.offset(yaml.valueAt(['movers', Number(row), ...moverKey(part)]), error.message);
    else problems.offset(yaml.valueAt(error.key.split('.')), error.message);
    problems.refuse();
    throw error;
  }
}

/** The numbers of a block of lines. */
function cellsOf(yaml: YamlFile, cells: string | number[][]): number[][] {
  if (typeof cells !== 'string') return cells;
  return cells.replace(/\n$/, '').split('\n').map((line, row) =>
    line.replace(/,\s*$/, '').split(',').map((field, column) => {
      if (!/^\s*[+-]?\d+\s*$/.test(field))
        yaml.problems.at(placeOfCell(yaml, row, column), `the cell is ${JSON.stringify(field.trim())}; it must be a whole number`);
      return Number(field);
    }),
  );
} // prettier-ignore

/** Line and column of a cell in a block of lines. */
function placeOfCell(yaml: YamlFile, row: number, column: number): { line: number; column: number } {
  const node = yaml.nodeAt(['cells']);
  const { line } = yaml.problems.place(isScalar(node) ? (node.range?.[0] ?? 0) : 0);
  const text = yaml.problems.line(line + 1 + row);
  const start = text.length - text.trimStart().length;
  const before = text.slice(start).split(',').slice(0, column);
  return { line: line + 1 + row, column: start + before.reduce((sum, field) => sum + field.length + 1, 0) + 1 };
}

/** What a mark was called where it was written. */
function keyOfMark(written: Readonly<Record<string, unknown>>, mark: unknown): string {
  return Object.entries(written).find(([, one]) => one === mark)?.[0] ?? '';
}

/** A level that was not written in a file of its own. */
export function readWritten(level: Level, warnings: Problem[]): LevelFile {
  return { level, compiled: compileLevel(level), warnings };
}

/** An area of any outline becomes convex pieces. */
function plainZone(
  yaml: YamlFile,
  { points, ...zone }: { points?: [number, number][] | undefined; box?: unknown },
  i: number,
): Zone {
  if ((points === undefined) === (zone.box === undefined))
    yaml.problems.offset(yaml.valueAt(['zones', i]), `zones.${i} must have either a box or points`);
  return { ...zone, ...(points ? { pieces: convexPieces([points]) } : {}) } as Zone;
}

function plainSpawn(spawn: [number, number] | { at: [number, number]; facing?: number | undefined }): Spawn {
  if (Array.isArray(spawn)) return { at: spawn };
  return spawn.facing === undefined ? { at: spawn.at } : { at: spawn.at, facing: spawn.facing };
}

function report(yaml: YamlFile, issue: Issue): void {
  const where = issue.path.join('.');
  for (const name of issue.keys) {
    const path = [...issue.path, name];
    const known = knownKeys(issue.path);
    const meant = nearest(name, known);
    yaml.problems.offset(
      yaml.keyAt(path),
      `there is no key ${path.join('.')}${meant ? `; did you mean ${[...issue.path, meant].join('.')}?` : ''}`,
    );
  }
  if (issue.keys.length > 0) return;
  const value = at(yaml.data, issue.path);
  if (issue.path.length === 0)
    yaml.problems.offset(yaml.valueAt([]), `a level is ${showValue(value)}; it must be a group of keys with rows`);
  else yaml.problems.offset(yaml.valueAt(issue.path), `${where} is ${showValue(value)}; it must be ${allowed(where)}`);
}

/** The keys of the group at a path. */
function knownKeys([group, name, part]: readonly (string | number)[]): readonly string[] {
  if (group === undefined) return Object.keys(levelSchema.shape);
  if (group === 'shapes') return SHAPE_KEYS;
  if (group === 'bounds') return ['left', 'right', 'top', 'bottom'];
  if (name === undefined) return [];
  if (group === 'marks') return ['solid', 'one-way', 'zone', 'each', 'surface', 'layer', 'name', 'no-wall', 'no-ledge'];
  if (group === 'surfaces') return ['grip', 'pace', 'flow', 'bounce', 'jump'];
  if (group === 'movers') return part === 'shapes' ? SHAPE_KEYS : part === 'stops' ? ['at', 'for'] : MOVER_KEYS;
  if (group === 'zones') return ['name', 'box', 'points', 'tags', 'gravity', 'pace', 'current'];
  return ['at', 'facing'];
}

/** What is allowed where, in words: the first that matches. */
const ALLOWED: readonly [RegExp, string][] = [
  [/^bounds\.\w+$/, 'open, wall, wrap or out'],
  [/^bounds$/, 'a group of left, right, top and bottom'],
  [/^(spawns|marks|surfaces)$/, 'a group of named entries'],
  [/^spawns\.[^.]+\.facing$/, '1 or -1'],
  [/^spawns\.[^.]+$/, '[x, y], or a group of at and facing'],
  [/^(origin|spawns\.[^.]+\.at|zones\.\d+\.current|zones\.\d+\.points\.\d+)$/, '[x, y]'],
  [/^marks\.[^.]+\.solid/, `one of ${TILE_PARTS.join(', ')}, two heights of 0 to 1, or hanging with two`],
  [/^marks\.[^.]+\.one-way/, 'full, or two heights of 0 to 1'],
  [/\.(no-wall|no-ledge)$/, 'true or false'],
  [/^(marks|surfaces)\.[^.]+$/, 'a group of keys'],
  [/^surfaces\.[^.]+\.bounce/, 'a share of 0 to 1, or a group of share and from'],
  [/^(surfaces\.[^.]+|zones\.\d+)\.pace$/, 'a number of 0 to 1000'],
  [/^(surfaces\.[^.]+\.(grip|jump)|zones\.\d+\.gravity)$/, 'a number of 0.001 to 1000'],
  [/^movers$/, 'a list of movers'],
  [/^movers\.\d+$/, 'a group of keys with name and shapes'],
  [/^(movers\.\d+\.)?shapes$/, 'a list of shapes'],
  [/^(movers\.\d+\.)?shapes\.\d+$/, `a group of keys, with ${SHAPE_NATURES.join(', ')}`],
  [/^(movers\.\d+\.)?shapes\.\d+\.line/, 'a list of [x, y]'],
  [/^(movers\.\d+\.)?shapes\.\d+\.(solid|one-way|ground|hole)/, '[x, y, width, height], or a list of [x, y]'],
  [/^movers\.\d+\.lap$/, 'a number of 0.001 to 86400 seconds'],
  [/^movers\.\d+\.there-and-back$/, 'true or false'],
  [/^movers\.\d+\.stops$/, 'a list of stops, each with at and for'],
  [/^movers\.\d+\.stops\.\d+$/, 'a group of at and for'],
  [/^movers\.\d+\.stops\.\d+\.for$/, 'a number of 0 to 86400 seconds'],
  [/^movers\.\d+\.(stops\.\d+\.at|key-.*\.\d+)$/, 'a share of 0 to 1'],
  [/^movers\.\d+\.easing$/, 'even or smooth'],
  [/^movers\.\d+\.phase$/, 'a number within ±86400 seconds'],
  [/^movers\.\d+\.laps$/, 'a number above 0'],
  [/^movers\.\d+\.policy$/, 'stop, turn, through or tell'],
  [/^movers\.\d+\.(key-points|key-times)$/, 'a list of shares of 0 to 1'],
  [/^movers\.\d+\.key-splines/, 'a list of four shares each'],
  [/^movers\.\d+\.(name|route)$/, 'a text'],
  [/^zones$/, 'a list of zones'],
  [/^zones\.\d+\.box/, '[x, y, width, height], the last two above 0'],
  [/^zones\.\d+\.points$/, 'a list of at least three [x, y]'],
  [/^zones\.\d+\.tags$/, 'a list of texts'],
  [/^zones\.\d+$/, 'a group of keys'],
  [/^rows$/, 'a list of texts or one block of lines'],
  [/^cells/, 'lines of whole numbers with commas between, or lists of them'],
  [/^(rows\.\d+|title|.*\.(surface|layer|name)|zones\.\d+\.tags\.\d+)$/, 'a text'],
  [/^yPoints$/, 'down or up'],
  [/^tile$/, 'a number above 0 and at most 1048576'],
];

function allowed(where: string): string {
  return ALLOWED.find(([place]) => place.test(where))?.[1] ?? 'a number within ±67108864';
}

/** Line and column of a character of a row, whichever way the rows are written. */
function placeInRow(yaml: YamlFile, row: number, column: number): { line: number; column: number } {
  const node = yaml.nodeAt(['rows']);
  if (isSeq(node)) {
    const item = node.items[row];
    const start = isScalar(item) ? yaml.problems.place(item.range?.[0] ?? 0) : yaml.problems.place(0);
    const quoted = isScalar(item) && (item.type === 'QUOTE_DOUBLE' || item.type === 'QUOTE_SINGLE') ? 1 : 0;
    return { line: start.line, column: start.column + quoted + column };
  }
  const header = yaml.problems.place(isScalar(node) ? (node.range?.[0] ?? 0) : 0);
  const line = header.line + 1 + row;
  const text = yaml.problems.line(line);
  const length = isScalar(node) ? (String(node.value).split('\n')[row] ?? '').length : 0;
  return { line, column: text.length - length + column + 1 };
}

function warnRagged(yaml: YamlFile, rows: readonly string[]): void {
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  const row = rows.findIndex(({ length }) => length < width);
  if (row < 0) return;
  yaml.problems.at(
    placeInRow(yaml, row, rows[row]!.length),
    `this row has ${rows[row]!.length} characters, the longest ${width}; what is missing counts as empty`,
    'warning',
  );
}

function warnOutside(yaml: YamlFile, { spawns, extent }: CompiledLevel): void {
  for (const [name, { x, y }] of spawns) {
    const inside = x >= extent.x && x <= extent.x + extent.width && y >= extent.y && y <= extent.y + extent.height;
    if (!inside)
      yaml.problems.offset(
        yaml.valueAt(['spawns', name]),
        `spawn ${name} lies outside the ${yaml.data !== null && typeof yaml.data === 'object' && 'shapes' in yaml.data ? 'shapes' : 'rows'}`,
        'warning',
      );
  }
}
