import type { Policy } from '../terrain/level.js';
import type { CompiledRoute } from './route.js';

/** Shapes that move together, y up. */
export interface CompiledMover {
  readonly name: string;
  readonly policy: Policy;
  /** Absent where the game moves it. */
  readonly route: CompiledRoute | undefined;
  /** What its shapes cover when its offset is nothing: left, bottom, right, top. */
  readonly box: readonly [number, number, number, number];
}
