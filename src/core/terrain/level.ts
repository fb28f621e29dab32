/**
 * What a side of a level is to a body: nothing; a wall that reaches beyond the level's corners; a border that comes out at the
 * other side; or the place where a body that is wholly beyond it is `out`.
 */
export type Bound = 'open' | 'wall' | 'wrap' | 'out';
/**
 * The sides of a level.
 * @example
 * ```ts
 * SIDES.length // 4
 * ```
 */
export const SIDES = ['left', 'right', 'top', 'bottom'] as const;
/** One of these. */
export type Side = (typeof SIDES)[number];
export type Bounds = Partial<Record<Side, Bound>>;

/** Where a character may start. */
export interface Spawn {
  /** Middle of the feet, units, in the level's own axes. */
  at: readonly [number, number];
  /** −1 or 1; 1 unless given. */
  facing?: number;
}

/**
 * A spawn, whichever way it was written.
 * @example
 * ```ts
 * spawnOf([2, 3]) // { at: [2, 3] }
 * ```
 */
export function spawnOf(spawn: Spawn | Point): Spawn {
  return isPoint(spawn) ? { at: spawn } : spawn;
}

function isPoint(spawn: Spawn | Point): spawn is Point {
  return Array.isArray(spawn);
}

/** What ground or a wall does to whoever touches it. Left out: as if plain. */
export interface Surface {
  /** Scales speeding up, braking and turning: 1 is normal, 0.1 slick, 3 sticky. */
  grip?: number;
  /** Scales top speed. */
  pace?: number;
  /** The surface itself moves along the edge, units/s: plus is towards +x. */
  flow?: number;
  /** Share of the landing speed given back, 0 to 1, and from which landing speed on, units/s (0 unless given). */
  bounce?: number | { share: number; from: number };
  /** Scales jump height. */
  jump?: number;
}

/** What can be said of a shape, whatever it is. */
export interface Carry {
  surface?: string;
  /** Bodies may ignore a layer. */
  layer?: string;
  /** A named shape can be switched off and on while the level runs. */
  name?: string;
  /** No sliding down it, no jumping off it. */
  'no-wall'?: boolean;
  /** No hanging from it. */
  'no-ledge'?: boolean;
}

/**
 * Halves and quarters of a tile.
 * @example
 * ```ts
 * TILE_PARTS[0] // 'full'
 * ```
 */
export const TILE_PARTS = [
  'full', 'lower', 'upper', 'left', 'right', 'lower-left', 'lower-right', 'upper-left', 'upper-right',
] as const; // prettier-ignore
/** One of these. */
export type TilePart = (typeof TILE_PARTS)[number];

/**
 * What a character in the rows means. A pair is the height of the upper side at the tile's left and right, in tiles (0 to 1); of a
 * hanging tile, how far its underside is from the tile's top.
 */
export interface Mark extends Carry {
  solid?: TilePart | readonly [number, number] | { hanging: readonly [number, number] };
  'one-way'?: 'full' | readonly [number, number];
  /** Or nothing solid: a zone that covers these cells, and has the mark's `name`. */
  zone?: { tags?: readonly string[]; gravity?: number; pace?: number; current?: readonly [number, number] };
  /** Each cell is a shape, or a zone, of its own: its name is the mark's with its column and row after it, as `brick 3,4`, counted from 0 at the top left. */
  each?: boolean;
}

/** An area that blocks nothing: it tells when a body enters and leaves, and may change the motion in it. */
export interface Zone {
  name?: string;
  /** `[x, y, width, height]`: x, y is the corner nearest the origin. */
  box?: readonly [number, number, number, number];
  /** Or any area, as convex pieces: the corners of each. */
  pieces?: readonly (readonly (readonly [number, number])[])[];
  tags?: readonly string[];
  /** Scales gravity; top speed across. */
  gravity?: number;
  pace?: number;
  /** The medium's velocity, units/s, in the level's own axes. */
  current?: readonly [number, number];
}

/** A place, [x, y], units. */
export type Point = readonly [number, number];

/** A free shape. */
export interface Outline {
  /**
   * `solid`: a closed outline; the open side is found from which way round it goes. `hole`: the same, the solid is around it. `ground`: an
   * open line that blocks from above. `one-way`: the same, and can be dropped through. `line`: blocks from both sides.
   */
  form: 'solid' | 'hole' | 'ground' | 'one-way' | 'line';
  points: readonly Point[];
  /** What it carries; a list has one entry for each edge, from each point to the next. */
  carry?: Carry | readonly Carry[];
  /** Where it was drawn: an index into the level's sources; for each edge, where `carry` is a list. */
  source?: number | readonly number[];
}

/**
 * What a mover does with a body that it would crush: wait, go back the way it came, let it through, or only tell.
 * @example
 * ```ts
 * POLICIES[0] // 'stop'
 * ```
 */
export const POLICIES = ['stop', 'turn', 'through', 'tell'] as const;
/** One of these. */
export type Policy = (typeof POLICIES)[number];

/** Shapes that move together, without turning. */
export interface Mover {
  name: string;
  /** Where they are when the mover's offset is nothing, in the level's own axes. */
  shapes: readonly Outline[];
  /** Left out: the game moves it. */
  route?: Route;
  /** `stop` unless given. */
  policy?: Policy;
}

/** The way that a mover goes, over and over, as the offset of its shapes in the level's own axes. */
export interface Route {
  /**
   * Stretches, each beginning where the one before ends: a straight one is [x1, y1, x2, y2], a cubic Bézier curve has its two control points in
   * between, eight numbers.
   */
  curve: readonly (readonly number[])[];
  /** One full cycle with the way back and all pauses, s. */
  lap: number;
  /** Places on the way, as shares of its length (0 to 1), and when they are reached, as shares of the lap, from 0 to 1. Two alike in a row are a pause. */
  keyPoints?: readonly number[];
  keyTimes?: readonly number[];
  /** How progress goes from each of these to the next: the control points of a curve from (0, 0) to (1, 1), time across; even unless given. */
  keySplines?: readonly (readonly [number, number, number, number])[];
  /** How far into the lap it begins, s. */
  phase?: number;
  /** It stays where it is after so many laps; without end unless given. */
  laps?: number;
}

/** What levels in rows and drawn levels have in common. */
export interface LevelBase {
  title?: string;
  /** Which way the y axis points; `down` unless given. */
  yPoints?: 'down' | 'up';
  surfaces?: Readonly<Record<string, Surface>>;
  zones?: readonly Zone[];
  movers?: readonly Mover[];
  spawns?: Readonly<Record<string, Spawn>>;
  bounds?: Bounds;
}

/**
 * A level as rows of characters: `#` is solid, `/` and `\` are ramps, `=` is ground that blocks from above only, `.` (or a blank) is
 * empty, `@` marks a spawn (the first one is named `start`); `marks` adds others. Row 0 is the topmost, whichever way y points.
 */
export interface Level extends LevelBase {
  /** Units per character; 1 unless given. */
  tile?: number;
  /** Where the origin corner of the rows lies: the top left, or with `yPoints: up` the bottom left. */
  origin?: readonly [number, number];
  marks?: Readonly<Record<string, Mark>>;
  rows: readonly string[];
}

/** What levels in rows and drawn levels have in common, spawns written in either way. */
export type WrittenBase = Omit<LevelBase, 'spawns'> & Pick<WrittenLevel, 'spawns'>;

/** A level as it may be written: rows as one text of lines, too, and spawns as just their places. */
export interface WrittenLevel extends Omit<Level, 'rows' | 'spawns'> {
  rows: string | readonly string[];
  spawns?: Readonly<Record<string, Spawn | Point>>;
}

/**
 * A level that cannot be used: what is wrong, where in the data.
 * @example
 * ```ts
 * try {
 *   openStage({ rows: [] });
 * } catch (error) {
 *   if (error instanceof LevelError) console.assert(error.message !== '');
 * }
 * ```
 */
export class LevelError extends Error {
  override readonly name = 'LevelError';
  constructor(
    /** Dotted path into the level, e.g. `spawns.door.at` or `rows.3`. */
    readonly key: string,
    message: string,
    /** For a row: which character is at fault, from 0. */
    readonly column?: number,
  ) {
    super(message);
  }
}
