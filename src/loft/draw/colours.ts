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
  eye: string;
  before: string;
  after: string;
  mark: string;
  danger: string;
  ghosts: readonly string[];
}

export function coloursOf(element: Element): Colours {
  const style = getComputedStyle(element);
  const of = (name: string): string => style.getPropertyValue(`--${name}`).trim() || '#888';
  return {
    sky: of('sky'), solid: of('solid'), edge: of('edge'), mover: of('mover'), zone: of('zone'), ink: of('ink'), faint: of('faint'),
    body: of('body'), eye: of('eye'), before: of('before'), after: of('after'), mark: of('mark'), danger: of('bad'),
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

/** Phases of a jump going up, and coming down. */
const UP: readonly string[] = ['rise', 'apex', 'released'];
const DOWN: readonly string[] = ['fall', 'ramp', 'cap'];

/** The colour of a phase; its name or its width tells it too. */
export function phaseColour(phase: string, { faint, after, before, mark }: Colours): string {
  return phase === 'ground' ? faint : UP.includes(phase) ? after : DOWN.includes(phase) ? before : mark;
}
