import { CLOSED, LINE, ONE_WAY } from '../terrain/edges.js';
import type { CompiledLevel } from '../terrain/world.js';
import { MX, MY, type Moving } from '../movers/moving.js';

/** The outline of something solid, to draw. */
export interface StageShape {
  /** `solid`: closed; `ground` blocks from above only, `one-way` can be dropped through as well, a `line` blocks from both sides: all open. */
  form: 'solid' | 'ground' | 'one-way' | 'line';
  /** Corners, in the level's own axes. */
  points: readonly (readonly [number, number])[];
  /** The mover it belongs to; empty for what stands still. Its offset is to be added to every point. */
  mover: string;
  x: number;
  y: number;
  /** Whether it is there: named shapes can be switched off. */
  on: boolean;
}

/** The outlines of a level, put together of its edges once. */
export class DrawnShapes {
  private readonly shapes: StageShape[] = [];
  /** Of each, its set and its named shape or −1. */
  private readonly sets: number[] = [];
  private readonly names: number[] = [];
  private readonly up: 1 | -1;

  constructor(level: CompiledLevel) {
    const { terrain, movers } = level;
    const { x1, y1, x2, y2, next, prev, form, set, style, styles, boundsFrom, setUntil } = terrain;
    const up = (this.up = level.yPoints === 'up' ? 1 : -1);
    const seen = new Uint8Array(terrain.count);
    const lines = new Map<string, number>();
    for (let e = 0; e < terrain.count; e++)
      if (form[e] === LINE && terrain.gone?.[e] !== 1) lines.set([set[e], x1[e], y1[e], x2[e], y2[e]].join(), e);
    const opposed = (e: number): number => lines.get([set[e], x2[e], y2[e], x1[e], y1[e]].join()) ?? -1;
    const follow = (first: number): void => {
      if (seen[first] === 1) return;
      const points: [number, number][] = [[x1[first]!, y1[first]! * up + 0]];
      let e = first;
      for (; e >= 0 && seen[e] === 0; e = next[e]!) {
        seen[e] = 1;
        // A line is two opposed edges: one of each pair is enough.
        if (form[e] === LINE && opposed(e) >= 0) seen[opposed(e)] = 1;
        if (next[e] !== first) points.push([x2[e]!, y2[e]! * up + 0]);
      }
      const kind = form[first]!;
      const k = set[first]!;
      this.sets.push(k);
      this.names.push(styles[style[first]!]!.shape);
      this.shapes.push({
        form: kind === CLOSED ? 'solid' : kind === ONE_WAY ? 'one-way' : kind === LINE ? 'line' : 'ground',
        points,
        mover: k > 0 ? movers[k - 1]!.name : '',
        x: 0,
        y: 0,
        on: true,
      });
    };
    // Open ones begin where nothing comes before.
    for (const open of [true, false])
      for (let e = 0; e < terrain.count; e++)
        if ((e < boundsFrom || e >= setUntil[0]!) && terrain.gone?.[e] !== 1 && (!open || prev[e]! < 0)) follow(e);
  }

  /** As they are at a moment of the last tick. */
  at(moving: Moving | undefined, off: Uint8Array, time: number): readonly StageShape[] {
    for (let i = 0; i < this.shapes.length; i++) {
      const shape = this.shapes[i]!;
      const name = this.names[i]!;
      // One that came later is there as long as it is.
      shape.on = name < 0 || off[name] !== 1;
      const set = this.sets[i]!;
      if (set === 0 || moving === undefined) continue;
      moving.locateThen(set, time);
      shape.x = moving.at[MX]!;
      shape.y = moving.at[MY]! * this.up + 0;
    }
    return this.shapes;
  }
}
