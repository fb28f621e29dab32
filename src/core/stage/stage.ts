import type { Area, Box } from '../asking/area.js';
import { type Overlap, type OverlapList, type OverlapOptions, overlap } from '../asking/overlap.js';
import { type RayEnd, type RayOptions, type Touch, ray } from '../asking/ray.js';
import { type SweepOptions, type Sweeper, sweep, sweeperOf } from '../asking/sweep.js';
import { compileLevel } from '../terrain/compile.js';
import type { WrittenLevel } from '../terrain/level.js';
import type { CompiledLevel } from '../terrain/world.js';
import { isGroup } from '../tuning/words.js';
import { BareStage } from './bare.js';

export type { AddOptions } from './bare.js';

/** A running level with all that a game may ask of it. */
export class Stage extends BareStage {
  private sweeper: Sweeper | undefined = undefined;

  protected override another(): this {
    return new Stage(this.level) as this;
  }

  /**
   * What an area overlaps at this moment, as the stage is: shapes that are switched off are not there, movers are where they are. To touch it is not enough. Each shape
   * is listed once for each of its kinds and layers (all without a name count as one), then zones, then characters by their hitbox.
   * @param area a box, a circle, or the corners of a convex outline, in the level's own axes, units
   * @param into an answer to be used again, `{ count: 0, found: [] }` at first: then nothing is allocated, and the first `into.count` entries of the list count
   * @throws RangeError naming an argument that is out of range
   */
  overlap(area: Area, options?: OverlapOptions, into?: OverlapList): Overlap[] {
    return overlap(this.sight, area, options, into);
  }

  /**
   * The first thing that a straight line meets at this moment; undefined where its way is free. What blocks from one side only is met from that side only; a line that
   * begins within something solid meets it there.
   * @param from [x, y] in the level's own axes, units
   * @param to [x, y], or `{ direction, length }`
   * @param into an answer to be used again: then nothing is allocated
   * @throws RangeError naming an argument that is out of range
   */
  ray(from: readonly [number, number], to: RayEnd, options?: RayOptions, into?: Touch): Touch | undefined {
    return ray(this.sight, from, to, options, into);
  }

  /**
   * The first thing that a box meets which is moved straight at this moment; undefined where its way is free. What it only touches, and what it goes away from, is not
   * in its way; one that begins within something solid meets that there.
   * @param box by its corner nearest the origin, in the level's own axes, units
   * @param by [dx, dy], units
   * @param into an answer to be used again: then nothing is allocated
   * @throws RangeError naming an argument that is out of range
   */
  sweep(box: Box, by: readonly [number, number], options?: SweepOptions, into?: Touch): Touch | undefined {
    return sweep(this.sight, (this.sweeper ??= sweeperOf(this.sight)), box, by, options, into);
  }
}

/**
 * Opens a level to run in.
 * @throws LevelError where the level is wrong
 */
export function openStage(level: WrittenLevel | CompiledLevel): Stage {
  const compiled = isGroup(level) && 'terrain' in level ? level : compileLevel(level);
  return new Stage(compiled);
}
