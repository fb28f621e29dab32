/** What a side of a level is to a body: nothing, or a wall that reaches beyond the level's corners. */
export type Bound = 'open' | 'wall';

export interface Spawn {
  /** Middle of the feet, units, in the level's own axes. */
  at: readonly [number, number];
  /** −1 or 1; 1 unless given. */
  facing?: number;
}

/**
 * A level as rows of characters: `#` is solid, `=` ground that blocks from above only, `.` (or a blank) is empty, `@` marks a spawn (the first one is
 * named `start`). Row 0 is the topmost, whichever way y points.
 */
export interface Level {
  title?: string;
  /** Units per character; 1 unless given. */
  tile?: number;
  /** Which way the y axis points; `down` unless given. */
  yPoints?: 'down' | 'up';
  /** Where the origin corner of the rows lies: the top left, or with `yPoints: up` the bottom left. */
  origin?: readonly [number, number];
  rows: readonly string[];
  spawns?: Readonly<Record<string, Spawn>>;
  bounds?: Partial<Record<'left' | 'right' | 'top' | 'bottom', Bound>>;
}

/** A level that cannot be used: what is wrong, where in the data. */
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
