/** Colours of the picture, read from the page's style so that both themes have theirs. */
export interface Colours {
  sky: string;
  solid: string;
  edge: string;
  mover: string;
  zone: string;
  ink: string;
  faint: string;
  body: string;
  before: string;
  after: string;
  mark: string;
  ghosts: readonly string[];
}

export function coloursOf(element: Element): Colours {
  const style = getComputedStyle(element);
  const of = (name: string): string => style.getPropertyValue(`--${name}`).trim() || '#888';
  return {
    sky: of('sky'), solid: of('solid'), edge: of('edge'), mover: of('mover'), zone: of('zone'), ink: of('ink'), faint: of('faint'),
    body: of('body'), before: of('before'), after: of('after'), mark: of('mark'),
    ghosts: [1, 2, 3, 4].map((i) => of(`ghost-${i}`)),
  }; // prettier-ignore
}

/** One dash for each ghost: they can be told apart without colour. */
export const DASHES: readonly (readonly number[])[] = [
  [8, 4],
  [2, 4],
  [12, 4, 2, 4],
  [5, 2],
];
