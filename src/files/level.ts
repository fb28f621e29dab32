import { isScalar, isSeq } from 'yaml';
import { LevelError, compileLevel, showValue, type CompiledLevel, type Level, type Spawn } from '../core/index.js';
import { LEVEL_NOT_YET, levelSchema } from './level-schema.js';
import type { Problem } from './problem.js';
import { at, issuesOf, nearest, parseYaml, type YamlFile, type Issue } from './yaml.js';

/** The longest level that is read, characters. */
export const LEVEL_LIMITS = { length: 16777216 } as const;

export interface LevelFile {
  level: Level;
  /** The same, compiled: hand it to `openStage`. */
  compiled: CompiledLevel;
  warnings: Problem[];
}

/**
 * Reads a level in rows.
 * @throws FileError with the place of every key, row or spawn that is wrong
 */
export function readLevel(text: string, { file = 'level.yaml' }: { file?: string } = {}): LevelFile {
  const yaml = parseYaml(text, file, LEVEL_LIMITS.length);
  const { problems } = yaml;
  const checked = levelSchema.safeParse(yaml.data ?? {});
  for (const issue of issuesOf(checked.error, yaml.data)) report(yaml, issue);
  problems.refuse();
  const { rows: written, spawns, ...rest } = checked.data!;
  const rows =
    typeof written === 'string'
      ? written
          .replace(/\n$/, '')
          .split('\n')
          .map((row) => row.replace(/\r$/, ''))
      : written;
  const level = {
    ...rest,
    rows,
    ...(spawns
      ? { spawns: Object.fromEntries(Object.entries(spawns).map(([name, spawn]) => [name, plainSpawn(spawn)])) }
      : {}),
  } as Level;
  if (rows.every((row) => row.length === 0)) problems.offset(yaml.valueAt(['rows']), 'the level has no rows');
  problems.refuse();
  warnRagged(yaml, rows);
  try {
    const compiled = compileLevel(level);
    if (compiled.spawns.size === 0)
      problems.offset(yaml.keyAt(['rows']), 'no spawn: put an @ into the rows or name one under spawns', 'warning');
    warnOutside(yaml, compiled);
    return { level, compiled, warnings: problems.warnings };
  } catch (error) {
    if (!(error instanceof LevelError)) throw error;
    const [group, row] = error.key.split('.');
    if (group === 'rows' && row !== undefined)
      problems.at(placeInRow(yaml, Number(row), error.column ?? 0), error.message);
    else problems.offset(yaml.valueAt(error.key.split('.')), error.message);
    problems.refuse();
    throw error;
  }
}

function plainSpawn(spawn: [number, number] | { at: [number, number]; facing?: number | undefined }): Spawn {
  if (Array.isArray(spawn)) return { at: spawn };
  return spawn.facing === undefined ? { at: spawn.at } : { at: spawn.at, facing: spawn.facing };
}

function report(yaml: YamlFile, issue: Issue): void {
  const where = issue.path.join('.');
  for (const name of issue.keys) {
    const path = [...issue.path, name];
    const known =
      issue.path.length === 0
        ? Object.keys(levelSchema.shape)
        : where === 'bounds'
          ? ['left', 'right', 'top', 'bottom']
          : ['at', 'facing'];
    const meant = nearest(name, known);
    const later = issue.path.length === 0 && LEVEL_NOT_YET.includes(name);
    yaml.problems.offset(
      yaml.keyAt(path),
      later
        ? `${name} is not available yet in this version`
        : `there is no key ${path.join('.')}${meant ? `; did you mean ${[...issue.path, meant].join('.')}?` : ''}`,
    );
  }
  if (issue.keys.length > 0) return;
  const value = at(yaml.data, issue.path);
  if (issue.path.length === 0)
    yaml.problems.offset(yaml.valueAt([]), `a level is ${showValue(value)}; it must be a group of keys with rows`);
  else if (where === 'rows' && value === undefined) yaml.problems.offset(yaml.valueAt([]), 'the level has no rows');
  else
    yaml.problems.offset(
      yaml.valueAt(issue.path),
      `${where} is ${showValue(value)}; it must be ${allowed(where, value)}`,
    );
}

function allowed(where: string, value: unknown): string {
  if (/^bounds\.\w+$/.test(where))
    return value === 'wrap' || value === 'out'
      ? 'open or wall; this one is not available yet in this version'
      : 'open or wall';
  if (where === 'bounds') return 'a group of left, right, top and bottom';
  if (where === 'spawns') return 'a group of named places';
  if (/^spawns\.[^.]+\.facing$/.test(where)) return '1 or -1';
  if (/^spawns\.[^.]+$/.test(where)) return '[x, y], or a group of at and facing';
  if (where === 'origin' || /^spawns\.[^.]+\.at$/.test(where)) return '[x, y]';
  if (where === 'rows') return 'a list of texts or one block of lines';
  if (/^rows\.\d+$/.test(where)) return 'a text';
  if (where === 'yPoints') return 'down or up';
  if (where === 'title') return 'a text';
  if (where === 'tile') return 'a number above 0 and at most 1048576';
  return 'a number within ±67108864';
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
    if (!inside) yaml.problems.offset(yaml.valueAt(['spawns', name]), `spawn ${name} lies outside the rows`, 'warning');
  }
}
