import { sine } from '../../core/index.js';

/** x' = a·x + c·y + e, y' = b·x + d·y + f. */
export type Matrix = readonly [number, number, number, number, number, number];

export const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0];

/** First `second`, then `first`. */
export function multiply(first: Matrix, second: Matrix): Matrix {
  const [a, b, c, d, e, f] = first;
  const [g, h, i, j, k, l] = second;
  return [a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * l + e, b * k + d * l + f];
}

export function apply([a, b, c, d, e, f]: Matrix, x: number, y: number): [number, number] {
  return [a * x + c * y + e, b * x + d * y + f];
}

/** Cosine and sine of an angle in degrees, the same in every engine. */
export function direction(degrees: number): readonly [number, number] {
  const turn = degrees - 360 * Math.floor(degrees / 360);
  const quarter = Math.floor(turn / 90);
  const rest = turn - 90 * quarter;
  const [c, s] = [rest === 0 ? 1 : sine(90 - rest), rest === 0 ? 0 : sine(rest)];
  const turns: readonly (readonly [number, number])[] = [
    [c, s],
    [-s, c],
    [-c, -s],
    [s, -c],
  ];
  return turns[quarter % 4]!;
}

/** A number, from a place on: one way to read it, so that no text takes more than one look at each of its characters. */
const NUMBER = /[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?/y;
const NAME = /[a-zA-Z]+/y;
const BLANKS = /\s*/y;
/** Between two numbers, or two steps of a transform. */
const BETWEEN = /\s*,?\s*/y;

/** Goes through a text from its beginning to its end. */
class Scanner {
  private place = 0;
  constructor(private readonly text: string) {}

  /** What matches from here on, which is then passed; empty where nothing does. */
  take(what: RegExp): string {
    what.lastIndex = this.place;
    const [found] = what.exec(this.text) ?? [''];
    this.place += found.length;
    return found;
  }

  /** What stands before a mark, which is passed too; undefined where the mark never comes. */
  upTo(mark: string): string | undefined {
    const end = this.text.indexOf(mark, this.place);
    if (end < 0) return undefined;
    const found = this.text.slice(this.place, end);
    this.place = end + mark.length;
    return found;
  }

  get isDone(): boolean {
    return this.place >= this.text.length;
  }
}

/** The most steps of one transform. */
const MOST_STEPS = 1000;

/** The `transform` of an element. @returns undefined where it cannot be read */
export function readTransform(text: string): Matrix | undefined {
  const scanner = new Scanner(text);
  let matrix = IDENTITY;
  scanner.take(BLANKS);
  for (let steps = 0; !scanner.isDone; steps++) {
    const name = scanner.take(NAME);
    scanner.take(BLANKS);
    if (name === '' || scanner.take(/\(/y) === '' || steps >= MOST_STEPS) return undefined;
    const list = scanner.upTo(')');
    const numbers = list === undefined ? undefined : readNumbers(list);
    const one = numbers && transformOf(name, numbers);
    if (!one) return undefined;
    matrix = multiply(matrix, one);
    scanner.take(BETWEEN);
  }
  return matrix.every(Number.isFinite) ? matrix : undefined;
}

function transformOf(name: string, n: readonly number[]): Matrix | undefined {
  const [p = 0, q, r] = n;
  if (name === 'matrix' && n.length === 6) return n as unknown as Matrix;
  if (name === 'translate' && n.length >= 1) return [1, 0, 0, 1, p, q ?? 0];
  if (name === 'scale' && n.length >= 1) return [p, 0, 0, q ?? p, 0, 0];
  if (name === 'rotate' && n.length >= 1) {
    const [c, s] = direction(p);
    const [x, y] = [q ?? 0, r ?? 0];
    return multiply(multiply([1, 0, 0, 1, x, y], [c, s, -s, c, 0, 0]), [1, 0, 0, 1, -x, -y]);
  }
  if ((name === 'skewX' || name === 'skewY') && n.length === 1) {
    const [c, s] = direction(p);
    if (c === 0) return undefined;
    return name === 'skewX' ? [1, 0, s / c, 1, 0, 0] : [1, s / c, 0, 1, 0, 0];
  }
  return undefined;
}

/** How many user units one of these is. */
const UNITS: Readonly<Record<string, number>> = {
  '': 1,
  px: 1,
  pt: 4 / 3,
  pc: 16,
  in: 96,
  cm: 96 / 2.54,
  mm: 9.6 / 2.54,
  q: 2.4 / 2.54,
};

/** A length such as `12`, `3mm`. @returns NaN where it is none */
export function readLength(text: string): number {
  const scanner = new Scanner(text.trim());
  const number = scanner.take(NUMBER);
  scanner.take(BLANKS);
  const scale = UNITS[scanner.take(NAME).toLowerCase()];
  return number === '' || scale === undefined || !scanner.isDone ? NaN : Number(number) * scale;
}

/** A list of numbers with blanks or commas between them. @returns undefined where something else is in it */
export function readNumbers(text: string): number[] | undefined {
  const scanner = new Scanner(text.trim());
  const numbers: number[] = [];
  while (!scanner.isDone) {
    const number = scanner.take(NUMBER);
    if (number === '' || !Number.isFinite(Number(number))) return undefined;
    numbers.push(Number(number));
    // A comma has a number after it. Before a sign or a point nothing need stand.
    if (scanner.take(BETWEEN) !== '' && scanner.isDone) return undefined;
  }
  return numbers;
}
