import type { Character, CompiledLevel, Motion, Stage } from '../core/index.js';

/**
 * Places of a level: a place is a longest run of ground on which a character is held up, edge joined to edge, in one mover's frame.
 * Each has a number; what is no ground has none.
 */
export class Places {
  /** For each edge the number of its place, −1 for what nobody stands on. */
  private readonly of: Int32Array;

  constructor(
    private readonly level: CompiledLevel,
    motion: Motion,
  ) {
    const { terrain } = level;
    const { count, nx, ny, oneWay, before, after } = terrain;
    this.of = new Int32Array(count).fill(-1);
    const stands = (e: number): boolean => ny[e]! > 0 && Math.abs(nx[e]!) <= motion.steepest * ny[e]!;
    for (let first = 0; first < count; first++) {
      if (!stands(first) || this.of[first] !== -1) continue;
      this.of[first] = first;
      const run = [first];
      for (let e = run.pop(); e !== undefined; e = run.pop())
        for (const other of [before[e]!, after[e]!]) {
          if (other < 0 || !stands(other) || oneWay[other] !== oneWay[first] || this.of[other] !== -1) continue;
          this.of[other] = first;
          run.push(other);
        }
    }
  }

  /** The place on which a character stands at this moment; −1 where it stands on none. */
  under(who: Character, stage: Stage): number {
    if (who.support !== 'ground') return -1;
    const { terrain, yPoints } = this.level;
    const { x1, y1, x2, y2, set, count } = terrain;
    const mover = who.mover === '' ? undefined : stage.mover(who.mover);
    const sign = yPoints === 'up' ? 1 : -1;
    const half = who.motion.width / 2;
    const [x, y] = [who.x - (mover?.x ?? 0), (who.y - (mover?.y ?? 0)) * sign];
    const wanted = mover === undefined ? 0 : stage.movers.indexOf(mover) + 1;
    let best = -1;
    let nearest = Infinity;
    for (let e = 0; e < count; e++) {
      if (this.of[e] === -1 || set[e] !== wanted) continue;
      const [left, right] = [Math.min(x1[e]!, x2[e]!), Math.max(x1[e]!, x2[e]!)];
      if (x + half < left || x - half > right) continue;
      const at = Math.min(Math.max(x, left), right);
      const ground = right > left ? y1[e]! + ((y2[e]! - y1[e]!) * (at - x1[e]!)) / (x2[e]! - x1[e]!) : y1[e]!;
      const off = Math.abs(ground - y) + Math.abs(at - x) * 1e-3;
      if (off < nearest) [best, nearest] = [this.of[e]!, off];
    }
    return best;
  }
}
