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

const NUMBER = '[+-]?(?:\\d+\\.?\\d*|\\.\\d+)(?:[eE][+-]?\\d+)?';

/** The `transform` of an element. @returns undefined where it cannot be read */
export function readTransform(text: string): Matrix | undefined {
  let matrix = IDENTITY;
  const rest = text.replace(/\s*,?\s*([a-zA-Z]+)\s*\(([^)]*)\)/g, (_, name: string, list: string) => {
    const numbers = (list.match(new RegExp(NUMBER, 'g')) ?? []).map(Number);
    const one = transformOf(name, numbers);
    matrix = one ? multiply(matrix, one) : [NaN, NaN, NaN, NaN, NaN, NaN];
    return '';
  });
  return rest.trim() === '' && matrix.every(Number.isFinite) ? matrix : undefined;
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
  const [, number, unit] = new RegExp(`^\\s*(${NUMBER})\\s*([a-zA-Z]*)\\s*$`).exec(text) ?? [];
  const scale = unit === undefined ? undefined : UNITS[unit.toLowerCase()];
  return number === undefined || scale === undefined ? NaN : Number(number) * scale;
}

/** A list of numbers with blanks or commas between them. @returns undefined where something else is in it */
export function readNumbers(text: string): number[] | undefined {
  const list = text.trim() === '' ? [] : text.trim().split(/\s*,\s*|\s+/);
  const numbers = list.map((one) => (new RegExp(`^${NUMBER}$`).test(one) ? Number(one) : NaN));
  return numbers.every(Number.isFinite) ? numbers : undefined;
}
