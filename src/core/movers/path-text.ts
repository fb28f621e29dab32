import { sine } from '../elementary.js';

/** The longest path of a route, characters. */
const MOST = 100_000;

/** How many numbers each command takes. */
const TAKES: Readonly<Record<string, number>> = { M: 2, L: 2, H: 1, V: 1, C: 6, S: 4, Q: 4, T: 2, A: 7, Z: 0 };

const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y;
const BETWEEN = /[\s,]*/y;

/**
 * A path, written as SVG 2 has it (chapter 9.3), as the curve of a route: its stretches, straight ones and cubic curves.
 * @returns what is wrong with it, in words, where it is no route
 * @example
 * ```ts
 * curveOf('M0 0V-3') // [[0, 0, 0, -3]]
 * ```
 */
export function curveOf(text: string): number[][] | string {
  if (text.length > MOST) return `has ${text.length} characters; at most ${MOST} are read`;
  const curve: number[][] = [];
  let [x, y, startX, startY] = [0, 0, 0, 0];
  /** The last control point, for curves that go on smoothly: of a cubic one, or of a quadratic one. */
  let [cubicX, cubicY, quadX, quadY] = [0, 0, 0, 0];
  const add = (...points: number[]): void => {
    const stretch = [x, y, ...points].map((value) => value + 0);
    if (stretch.some((value, i) => value !== stretch[i % 2]!) || stretch.length > 4) curve.push(stretch);
    [x, y] = points.slice(-2) as [number, number];
  };
  const quadratic = (qx: number, qy: number, toX: number, toY: number): void => {
    const third = (from: number, control: number): number => from + (2 / 3) * (control - from);
    add(third(x, qx), third(y, qy), third(toX, qx), third(toY, qy), toX, toY);
  };
  let at = 0;
  const skip = (): void => {
    BETWEEN.lastIndex = at;
    BETWEEN.test(text);
    at = BETWEEN.lastIndex;
  };
  let command = '';
  let begun = false;
  for (skip(); at < text.length; skip()) {
    const here = text[at]!;
    const isNew = here.toUpperCase() in TAKES && /[a-z]/i.test(here);
    if (isNew) {
      command = here;
      at++;
    } else if (command === '' || TAKES[command.toUpperCase()] === 0) return `cannot be read at ${JSON.stringify(text.slice(at, at + 8))}`; // prettier-ignore
    const kind = command.toUpperCase();
    if (!begun && kind !== 'M') return 'must begin with M';
    begun = true;
    const numbers: number[] = [];
    for (let i = 0; i < TAKES[kind]!; i++) {
      skip();
      // Flags of an arc may stand together.
      if (kind === 'A' && (i === 3 || i === 4) && (text[at] === '0' || text[at] === '1')) {
        numbers.push(Number(text[at++]));
        continue;
      }
      NUMBER.lastIndex = at;
      const found = NUMBER.exec(text);
      if (!found) return `cannot be read at ${JSON.stringify(text.slice(at, at + 8))}: ${command} takes ${TAKES[kind]} numbers`; // prettier-ignore
      at = NUMBER.lastIndex;
      numbers.push(Number(found[0]));
    }
    if (!numbers.every(Number.isFinite)) return 'has a number beyond what can be drawn';
    const [fromX, fromY] = command === kind ? [0, 0] : [x, y];
    const point = (i: number): [number, number] => [numbers[i]! + fromX, numbers[i + 1]! + fromY];
    let smooth = '';
    if (kind === 'M') {
      const [toX, toY] = point(0);
      if (curve.length > 0 && (toX !== x || toY !== y)) return 'jumps: a mover has to go all of its way';
      [x, y] = [startX, startY] = [toX, toY];
      // More points are lines.
      command = command === 'M' ? 'L' : 'l';
    } else if (kind === 'Z') {
      add(startX, startY);
    } else if (kind === 'L') add(...point(0));
    else if (kind === 'H') add(numbers[0]! + fromX, y);
    else if (kind === 'V') add(x, numbers[0]! + fromY);
    else if (kind === 'C' || kind === 'S') {
      const first = kind === 'C' ? point(0) : [2 * x - cubicX, 2 * y - cubicY];
      const [second, end] = kind === 'C' ? [point(2), point(4)] : [point(0), point(2)];
      [cubicX, cubicY] = second;
      smooth = 'C';
      add(...first, ...second, ...end);
    } else if (kind === 'Q' || kind === 'T') {
      [quadX, quadY] = kind === 'Q' ? point(0) : [2 * x - quadX, 2 * y - quadY];
      smooth = 'Q';
      quadratic(quadX, quadY, ...point(kind === 'Q' ? 2 : 0));
    } else for (const stretch of arc([x, y], numbers, point(5))) add(...stretch);
    if (smooth !== 'C') [cubicX, cubicY] = [x, y];
    if (smooth !== 'Q') [quadX, quadY] = [x, y];
  }
  return curve.length === 0 ? 'has no length' : curve;
}

type Vector = readonly [number, number];

/**
 * An arc of an ellipse as cubic curves of at most a quarter each: its end points give the centre on the unit circle (SVG 2, appendix B.2), halving chords the parts, and the
 * control points of a part of angle θ lie 4/3·tan(θ/4) along its tangents.
 */
function arc([x, y]: Vector, numbers: readonly number[], [toX, toY]: Vector): number[][] {
  let rx = Math.abs(numbers[0]!);
  let ry = Math.abs(numbers[1]!);
  if ((x === toX && y === toY) || rx === 0 || ry === 0) return [[toX, toY]];
  const [sin, cos] = turned(numbers[2]!);
  const [midX, midY] = [(x + toX) / 2, (y + toY) / 2];
  const [dx, dy] = [(x - toX) / 2, (y - toY) / 2];
  // From the middle of the chord to its start, in the ellipse's own axes.
  const [ex, ey] = [cos * dx + sin * dy, -sin * dx + cos * dy];
  let size = (ex / rx) * (ex / rx) + (ey / ry) * (ey / ry);
  if (size > 1) {
    const grow = Math.sqrt(size);
    rx *= grow;
    ry *= grow;
    size = 1;
  }
  const [ux, uy] = [ex / rx, ey / ry];
  const [large, way] = [numbers[3] === 1, numbers[4] === 1 ? 1 : -1];
  const far = (large === way > 0 ? -1 : 1) * Math.sqrt((1 - size) / size);
  const [cx, cy] = [far * uy, -far * ux];
  const start: Vector = [ux - cx, uy - cy];
  const end: Vector = [-ux - cx, -uy - cy];
  const middle = between(start, end, way, large);
  const first = large ? [start, between(start, middle, way, false), middle] : [start, middle];
  const second = large ? [between(middle, end, way, false), end] : [end];
  const stops = [...first, ...second];
  const place = ([vx, vy]: Vector): Vector => {
    const [px, py] = [rx * (vx + cx), ry * (vy + cy)];
    return [midX + cos * px - sin * py, midY + sin * px + cos * py];
  };
  return stops.slice(1).map((to, i) => {
    const from = stops[i]!;
    const dot = from[0] * to[0] + from[1] * to[1];
    const k = (4 / 3) * (Math.sqrt(Math.max(0, (1 - dot) / 2)) / (1 + Math.sqrt(Math.max(0, (1 + dot) / 2))));
    const one = place([from[0] - way * k * from[1], from[1] + way * k * from[0]]);
    const two = place([to[0] + way * k * to[1], to[1] - way * k * to[0]]);
    return [...one, ...two, ...(i === stops.length - 2 ? [toX, toY] : place(to))];
  });
}

/** The middle of the way round from one unit vector to another. */
function between(from: Vector, to: Vector, way: number, large: boolean): Vector {
  const [sx, sy] = [from[0] + to[0], from[1] + to[1]];
  const length = Math.sqrt(sx * sx + sy * sy);
  // Half a turn, but for rounding.
  if (length < 1e-6) return [-way * from[1], way * from[0]];
  const sign = large ? -1 : 1;
  return [(sign * sx) / length, (sign * sy) / length];
}

/** Sine and cosine of any angle, degrees. */
function turned(degrees: number): [number, number] {
  const whole = degrees - 360 * Math.floor((degrees + 180) / 360);
  const half = Math.abs(whole) <= 90 ? whole : (whole > 0 ? 180 : -180) - whole;
  const cos = sine(90 - Math.abs(half));
  return [sine(half), half === whole ? cos : -cos];
}
