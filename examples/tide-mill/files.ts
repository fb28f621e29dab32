// Types of these imports: "types": ["apperin/vite/types"] in tsconfig.json.
import { compileLevel, type Character } from 'apperin';
import booted, { follow as followBoots } from './boots.tuning.yaml';
import brindle, { follow as followBrindle } from './brindle.tuning.yaml';
import level from './mill.level.yaml';

/** The mill as it was written, in rows, and compiled. */
export { level };
export const compiled = compileLevel(level);

/** How Brindle moves, and how with the spring boots on. */
export { booted, brindle };

let unfollow = (): void => {};

/** From now on saving that tuning's file changes how the character moves, while the game runs. */
export function wear(hero: Character, boots: boolean): void {
  unfollow();
  unfollow = (boots ? followBoots : followBrindle)(hero);
}
