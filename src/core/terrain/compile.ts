import { FARTHEST } from '../tuning/keys.js';
import { LevelError, type Level, type Spawn } from './level.js';
import { buildTerrain, onGrid, type Terrain } from './terrain.js';

/** A level ready to run in: its edges (y up) and its spawns (in the level's own axes). */
export interface CompiledLevel {
  readonly title: string;
  readonly yPoints: 'down' | 'up';
  readonly terrain: Terrain;
  readonly spawns: ReadonlyMap<string, { x: number; y: number; facing: number }>;
  /** The extent of the rows in the level's own axes, units. */
  readonly extent: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
}

/**
 * Compiles a level into edges: tiles that touch become one solid, and a run of faces becomes one edge.
 * @throws LevelError where a mark, a spawn or a size is wrong
 */
export function compileLevel(level: Level): CompiledLevel {
  const tile = level.tile ?? 1;
  if (!(tile > 0 && tile <= FARTHEST))
    throw new LevelError('tile', `tile is ${tile}; it must be above 0 and at most ${FARTHEST}`);
  const [ox, oy] = level.origin ?? [0, 0];
  const { rows } = level;
  const height = rows.length;
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  const yPoints = level.yPoints ?? 'down';
  const extent = { x: ox, y: oy, width: width * tile, height: height * tile };
  for (const [name, value] of [
    ['x', Math.abs(ox) + extent.width],
    ['y', Math.abs(oy) + extent.height],
  ] as const) {
    if (!(value <= FARTHEST))
      throw new LevelError('rows', `the level reaches ${value} units in ${name}; it must stay within ${FARTHEST}`);
  }
  // Lines of the grid in internal coordinates: y up, line 0 below the last row.
  const up = yPoints === 'up';
  const lineX = (i: number): number => onGrid(ox + i * tile);
  const lineY = (row: number): number => onGrid(up ? oy + (height - row) * tile : -(oy + row * tile));
  const { cells, marked } = readRows(rows, width);
  const grid = { cells, width, height, lineX, lineY };
  const terrain = buildTerrain(
    faces(grid),
    boundEdges(level.bounds ?? {}, lineX(0), lineX(width), lineY(height), lineY(0)),
    tops(grid),
  );

  const spawns = new Map<string, { x: number; y: number; facing: number }>();
  if (marked) {
    const feet = lineY(marked.row + 1);
    spawns.set('start', { x: ox + (marked.column + 0.5) * tile, y: (up ? feet : -feet) + 0, facing: 1 });
  }
  for (const [name, spawn] of Object.entries(level.spawns ?? {})) spawns.set(name, checkSpawn(name, spawn));
  return { title: level.title ?? '', yPoints, terrain, spawns, extent };
}

/** The cells of a level, and where their grid lines lie. */
interface Grid {
  /** Row after row. */
  cells: Uint8Array;
  width: number;
  height: number;
  lineX: (i: number) => number;
  lineY: (row: number) => number;
}

/** What a cell holds. */
const SOLID = 1;
const ONE_WAY = 2;

function readRows(
  rows: readonly string[],
  width: number,
): { cells: Uint8Array; marked?: { row: number; column: number } } {
  const cells = new Uint8Array(width * rows.length);
  let marked: { row: number; column: number } | undefined;
  for (let row = 0; row < rows.length; row++) {
    const text = rows[row]!;
    for (let column = 0; column < text.length; column++) {
      const mark = text[column]!;
      if (mark === '#') cells[row * width + column] = SOLID;
      else if (mark === '=') cells[row * width + column] = ONE_WAY;
      else if (mark === '@') marked ??= { row, column };
      else if (mark !== '.' && mark !== ' ')
        throw new LevelError(
          `rows.${row}`,
          `the mark ${JSON.stringify(mark)} means nothing; the marks are # solid, = one-way, . empty, @ spawn`,
          column,
        );
    }
  }
  return marked ? { cells, marked } : { cells };
}

/** Walks along one grid line and adds an edge for each run of the same face. */
function runs(
  length: number,
  faceAt: (i: number) => number,
  add: (face: number, from: number, to: number) => void,
): void {
  let from = 0;
  let face = 0;
  for (let i = 0; i <= length; i++) {
    const now = i < length ? faceAt(i) : 0;
    if (now === face) continue;
    if (face !== 0) add(face, from, i);
    face = now;
    from = i;
  }
}

/** The upper sides of one-way cells, runs of them merged. One with a solid on it has none: nothing can stand there. */
function tops({ cells, width, height, lineX, lineY }: Grid): number[] {
  const ends: number[] = [];
  for (let row = 0; row < height; row++)
    runs(
      width,
      (i) => Number(cells[row * width + i] === ONE_WAY && (row === 0 || cells[(row - 1) * width + i] !== SOLID)),
      (_, from, to) => ends.push(lineX(from), lineY(row), lineX(to), lineY(row)),
    );
  return ends;
}

/** The faces between solid and empty cells, runs of them merged, with open space on the left of each edge. */
function faces({ cells, width, height, lineX, lineY }: Grid): number[] {
  const ends: number[] = [];
  const filled = (row: number, column: number): boolean =>
    row >= 0 && row < height && column >= 0 && column < width && cells[row * width + column] === SOLID;
  for (let row = 0; row <= height; row++) {
    const y = lineY(row);
    runs(
      width,
      (i) => Number(filled(row, i)) - Number(filled(row - 1, i)),
      (face, from, to) => {
        // A face of +1 has its solid below: a floor, from left to right.
        const [a, b] = face > 0 ? [from, to] : [to, from];
        ends.push(lineX(a), y, lineX(b), y);
      },
    );
  }
  for (let column = 0; column <= width; column++) {
    const x = lineX(column);
    runs(
      height,
      (i) => Number(filled(i, column)) - Number(filled(i, column - 1)),
      (face, from, to) => {
        // A face of +1 has its solid to the right: it faces left and runs upwards.
        const [a, b] = face > 0 ? [to, from] : [from, to];
        ends.push(x, lineY(a), x, lineY(b));
      },
    );
  }
  return ends;
}

/** Walled bounds as endless edges facing inwards. */
function boundEdges(
  bounds: NonNullable<Level['bounds']>,
  left: number,
  right: number,
  bottom: number,
  top: number,
): number[] {
  const far = FARTHEST;
  const ends: number[] = [];
  if (bounds.left === 'wall') ends.push(left, far, left, -far);
  if (bounds.right === 'wall') ends.push(right, -far, right, far);
  if (bounds.top === 'wall') ends.push(far, top, -far, top);
  if (bounds.bottom === 'wall') ends.push(-far, bottom, far, bottom);
  return ends;
}

function checkSpawn(name: string, spawn: Spawn): { x: number; y: number; facing: number } {
  const [x, y] = spawn.at;
  const facing = spawn.facing ?? 1;
  for (const value of [x, y]) {
    if (!(Math.abs(value) <= FARTHEST))
      throw new LevelError(
        `spawns.${name}.at`,
        `spawn ${name} is at ${value}; it must be a number within ±${FARTHEST}`,
      );
  }
  if (facing !== 1 && facing !== -1)
    throw new LevelError(`spawns.${name}.facing`, `spawn ${name} faces ${facing}; it must be 1 or -1`);
  return { x: x + 0, y: y + 0, facing };
}
