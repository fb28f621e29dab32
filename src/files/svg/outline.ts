import { SVGPathData } from 'svg-pathdata';
import { apply, direction, readLength, readNumbers, type Matrix } from './matrix.js';
import type { SvgElement } from './tree.js';

export type Point = readonly [number, number];

/** A line that was drawn: its points, and whether it comes back to where it began. */
export interface Stroke {
  points: Point[];
  closed: boolean;
}

/** What is wrong with an element, in words. */
export class OutlineError extends Error {}

/** The most points that one element's curves may come to. */
const MOST_POINTS = 1_000_000;
/** The most lines and rings that one element may have. */
const MOST_STROKES = 75_000;

/**
 * The outline of an element: curves become chords no farther from them than the tolerance.
 * @param matrix from the element's own coordinates to the drawing's
 * @param tolerance in the drawing's coordinates
 */
export function outlineOf(element: SvgElement, matrix: Matrix, tolerance: number): Stroke[] {
  const pen = new Pen(matrix, tolerance);
  const length = (name: string, usual = 0): number => {
    const text = element.attributes[name];
    if (text === undefined || text.trim() === 'auto') return usual;
    const value = readLength(text);
    if (!Number.isFinite(value)) throw new OutlineError(`${name} is ${JSON.stringify(text)}; it must be a length`);
    return value;
  };
  switch (element.name) {
    case 'rect': {
      const [x, y, width, height] = [length('x'), length('y'), length('width'), length('height')];
      if (width < 0 || height < 0) throw new OutlineError('a rect cannot have a negative size');
      const rx = Math.min(length('rx', length('ry')), width / 2);
      const ry = Math.min(length('ry', length('rx')), height / 2);
      pen.moveTo(x + rx, y);
      pen.lineTo(x + width - rx, y);
      pen.arcTo(rx, ry, 0, false, true, x + width, y + ry);
      pen.lineTo(x + width, y + height - ry);
      pen.arcTo(rx, ry, 0, false, true, x + width - rx, y + height);
      pen.lineTo(x + rx, y + height);
      pen.arcTo(rx, ry, 0, false, true, x, y + height - ry);
      pen.lineTo(x, y + ry);
      pen.arcTo(rx, ry, 0, false, true, x + rx, y);
      pen.close();
      break;
    }
    case 'circle':
    case 'ellipse': {
      const [cx, cy] = [length('cx'), length('cy')];
      const rx = element.name === 'circle' ? length('r') : length('rx', length('ry'));
      const ry = element.name === 'circle' ? rx : length('ry', rx);
      if (rx < 0 || ry < 0) throw new OutlineError('a radius cannot be negative');
      pen.moveTo(cx - rx, cy);
      for (const [x, y] of [
        [cx, cy - ry],
        [cx + rx, cy],
        [cx, cy + ry],
        [cx - rx, cy],
      ] as const)
        // prettier-ignore
        pen.arcTo(rx, ry, 0, false, true, x, y);
      pen.close();
      break;
    }
    case 'line':
      pen.moveTo(length('x1'), length('y1'));
      pen.lineTo(length('x2'), length('y2'));
      break;
    case 'polyline':
    case 'polygon': {
      const numbers = readNumbers(element.attributes.points ?? '');
      if (!numbers || numbers.length % 2 !== 0) throw new OutlineError('points must be pairs of numbers');
      for (let i = 0; i < numbers.length; i += 2)
        if (i === 0) pen.moveTo(numbers[0]!, numbers[1]!);
        else pen.lineTo(numbers[i]!, numbers[i + 1]!);
      if (element.name === 'polygon' && numbers.length > 0) pen.close();
      break;
    }
    case 'path':
      drawPath(pen, element.attributes.d ?? '');
  }
  return pen.strokes;
}

function drawPath(pen: Pen, d: string): void {
  if (d.length > 4_000_000) throw new OutlineError('the path is too long');
  let commands: ReturnType<typeof parsed>;
  try {
    commands = parsed(d);
  } catch (error) {
    throw new OutlineError(`the path cannot be read: ${(error as Error).message}`);
  }
  for (const command of commands) {
    const numbers = Object.values(command).filter((value): value is number => typeof value === 'number');
    if (!numbers.every(Number.isFinite)) throw new OutlineError('the path has a number beyond what can be drawn');
    if (command.type === SVGPathData.MOVE_TO) pen.moveTo(command.x, command.y);
    else if (command.type === SVGPathData.LINE_TO) pen.lineTo(command.x, command.y);
    else if (command.type === SVGPathData.CLOSE_PATH) pen.close();
    else if (command.type === SVGPathData.CURVE_TO)
      pen.cubicTo(command.x1, command.y1, command.x2, command.y2, command.x, command.y);
    else if (command.type === SVGPathData.QUAD_TO) pen.quadTo(command.x1, command.y1, command.x, command.y);
    else if (command.type === SVGPathData.ARC)
      pen.arcTo(
        command.rX,
        command.rY,
        command.xRot,
        Boolean(command.lArcFlag),
        Boolean(command.sweepFlag),
        command.x,
        command.y,
      );
  }
}

function parsed(d: string): SVGPathData['commands'] {
  return new SVGPathData(d).toAbs().normalizeHVZ(false, true, true).normalizeST().commands;
}

/** Draws with straight lines. */
class Pen {
  readonly strokes: Stroke[] = [];
  private x = 0;
  private y = 0;
  private startX = 0;
  private startY = 0;
  private current: Point[] | undefined;
  private count = 0;

  constructor(
    private readonly matrix: Matrix,
    private readonly tolerance: number,
  ) {}

  private put(x: number, y: number): void {
    const point = apply(this.matrix, x, y);
    if (!point.every(Number.isFinite)) throw new OutlineError('a point lies beyond what can be drawn');
    if (++this.count > MOST_POINTS) throw new OutlineError(`its outline comes to more than ${MOST_POINTS} points`);
    this.current!.push(point);
  }

  moveTo(x: number, y: number): void {
    this.current = undefined;
    this.x = this.startX = x;
    this.y = this.startY = y;
  }

  private begin(): void {
    if (this.current) return;
    if (this.strokes.length >= MOST_STROKES)
      throw new OutlineError(`it has more than ${MOST_STROKES} lines and rings; draw it as several elements`);
    this.current = [];
    this.strokes.push({ points: this.current, closed: false });
    this.put(this.x, this.y);
  }

  lineTo(x: number, y: number): void {
    this.begin();
    this.put((this.x = x), (this.y = y));
  }

  close(): void {
    const stroke = this.current ? this.strokes.at(-1) : undefined;
    if (stroke) stroke.closed = true;
    this.current = undefined;
    this.x = this.startX;
    this.y = this.startY;
  }

  quadTo(x1: number, y1: number, x: number, y: number): void {
    const [x0, y0] = [this.x, this.y];
    this.cubicTo(
      x0 + (2 * (x1 - x0)) / 3,
      y0 + (2 * (y1 - y0)) / 3,
      x + (2 * (x1 - x)) / 3,
      y + (2 * (y1 - y)) / 3,
      x,
      y,
    );
  }

  /** Chords of equal parameter: their distance from the curve is at most 6·d/8n², d the larger second difference of its points. */
  cubicTo(x1: number, y1: number, x2: number, y2: number, x: number, y: number): void {
    this.begin();
    const [x0, y0] = [this.x, this.y];
    const [ax, ay] = apply(this.matrix, x0 - 2 * x1 + x2, y0 - 2 * y1 + y2);
    const [bx, by] = apply(this.matrix, x1 - 2 * x2 + x, y1 - 2 * y2 + y);
    const [ox, oy] = apply(this.matrix, 0, 0);
    const size = (dx: number, dy: number): number => Math.sqrt(dx * dx + dy * dy);
    const d = Math.max(size(ax - ox, ay - oy), size(bx - ox, by - oy));
    const n = Math.max(1, Math.ceil(Math.sqrt((0.75 * d) / this.tolerance)));
    if (!(n <= MOST_POINTS)) throw new OutlineError(`its outline comes to more than ${MOST_POINTS} points`);
    for (let i = 1; i < n; i++) {
      const t = i / n;
      const u = 1 - t;
      const [p, q, r, s] = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t];
      this.put(p * x0 + q * x1 + r * x2 + s * x, p * y0 + q * y1 + r * y2 + s * y);
    }
    this.put((this.x = x), (this.y = y));
  }

  /** An arc of an ellipse, as SVG gives it: halved again and again on the unit circle, with square roots only. */
  arcTo(rx: number, ry: number, rotation: number, large: boolean, sweep: boolean, x: number, y: number): void {
    const [x0, y0] = [this.x, this.y];
    if (x0 === x && y0 === y) return;
    if (rx === 0 || ry === 0) return this.lineTo(x, y);
    this.begin();
    const [c, s] = direction(rotation);
    let [a, b] = [Math.abs(rx), Math.abs(ry)];
    // The ends on the unit circle, before its middle is known.
    const toUnit = (px: number, py: number): Point => [(c * px + s * py) / a, (c * py - s * px) / b];
    let [hx, hy] = toUnit((x0 - x) / 2, (y0 - y) / 2);
    const far = hx * hx + hy * hy;
    if (far > 1) {
      const grow = Math.sqrt(far);
      [a, b] = [a * grow, b * grow];
      [hx, hy] = [hx / grow, hy / grow];
    }
    const off = Math.sqrt(Math.max(0, 1 / Math.max(hx * hx + hy * hy, 1e-300) - 1)) * (large === sweep ? -1 : 1);
    const [mx, my] = [off * hy, -off * hx];
    const from: Point = [hx - mx, hy - my];
    const to: Point = [-hx - mx, -hy - my];
    const [ex, ey] = [(x0 + x) / 2, (y0 + y) / 2];
    const place = ([ux, uy]: Point): Point => {
      const [px, py] = [a * (ux + mx), b * (uy + my)];
      return [ex + c * px - s * py, ey + s * px + c * py];
    };
    const scale = Math.max(...[apply(this.matrix, 1, 0), apply(this.matrix, 0, 1)].map(([px, py]) => {
      const [ox, oy] = apply(this.matrix, 0, 0);
      return Math.sqrt((px - ox) * (px - ox) + (py - oy) * (py - oy));
    })); // prettier-ignore
    const radius = Math.max(a, b) * scale;
    const turn = sweep ? 1 : -1;
    const halve = (p: Point, q: Point, wide: boolean, depth: number): void => {
      // Half the angle between them: by their sum, or where that is more than half a turn, or exactly half, by a quarter turn.
      const [sx, sy] = [p[0] + q[0], p[1] + q[1]];
      const size = Math.sqrt(sx * sx + sy * sy);
      // How far the chord is from the arc: 1 − cos of half the angle.
      if (!wide && radius * (1 - size / 2) <= this.tolerance) return;
      if (depth > 40) return;
      let middle: Point = size < 1e-9 ? [-p[1] * turn, p[0] * turn] : [sx / size, sy / size];
      if (wide && size >= 1e-9) middle = [-middle[0], -middle[1]];
      halve(p, middle, false, depth + 1);
      this.put(...place(middle));
      halve(middle, q, false, depth + 1);
    };
    halve(from, to, large, 0);
    this.put((this.x = x), (this.y = y));
  }
}
