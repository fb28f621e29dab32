/** Types of what `apperin/vite` makes importable: `/// <reference types="apperin/vite/types" />`. */
declare module '*.tuning.yaml' {
  import type { Character, Tuning } from 'apperin';
  const tuning: Tuning;
  export default tuning;
  /** From now on the character has the file's tuning, whenever that is saved. @returns ends it */
  export function follow(character: Pick<Character, 'retune'>): () => void;
}
declare module '*.tuning.json' {
  export { default, follow } from '*.tuning.yaml';
}
declare module '*.level.yaml' {
  import type { Level } from 'apperin';
  const level: Level;
  export default level;
  /** From now on the function is given the level whenever its file is saved; where nobody follows, the page is loaded anew. @returns ends it */
  export function follow(change: (level: Level) => void): () => void;
}
declare module '*.level.svg' {
  import type { DrawnLevel } from 'apperin';
  const level: DrawnLevel;
  export default level;
  /** From now on the function is given the level whenever its file is saved; where nobody follows, the page is loaded anew. @returns ends it */
  export function follow(change: (level: DrawnLevel) => void): () => void;
}
