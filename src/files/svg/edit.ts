import { SVGPathData } from 'svg-pathdata';
import { Problems } from '../problem.js';
import { apply, readLength, readNumbers, type Matrix } from './matrix.js';
import { shapesOf, type DrawnShape } from './level.js';
import type { Point, Stroke } from './outline.js';

/** A shape of a drawn level that can be moved. */
export interface DrawnPiece {
  kind: 'solid' | 'one-way' | 'zone' | 'spawn';
  /** Its `id` or `data-name`; empty where it has none. */
  name: string;
  /** The mover that it is a part of; empty where it stands still. */
  mover: string;
  /** Its lines, units, in the level's own axes; of a spawn, the middle of the feet. */
  outlines: readonly Stroke[];
  /** Its corners in order, where they and the edges between them can be moved one by one; edge i goes from corner i to the next. Empty for curves and spawns. */
  corners: readonly Point[];
  /** Whether the last corner is joined to the first. */
  closed: boolean;
}

/** A change of a drawn level: pieces by their number in the order of the drawing; distances in units, in the level's own axes. */
export type PieceEdit =
  | { move: number; by: Point }
  /** An edge goes along its normal only. */
  | { edge: readonly [piece: number, edge: number]; by: Point }
  | { corner: readonly [piece: number, corner: number]; by: Point }
  | { remove: number }
  /** A closed outline is an area; an open one is ground that blocks from above. */
  | { add: 'solid' | 'one-way'; points: readonly Point[]; closed: boolean };

/** No side of a rect is shorter, drawing units. */
const LEAST = 1e-3;

/**
 * The pieces of a drawn level, in the order in which they stand in it. What is drawn by `use` stands in many places, and is none.
 * @throws FileError
 * @example
 * ```ts
 * piecesOf(drawingOf({ rows: ['@..', '###'] })).length
 * ```
 */
export function piecesOf(text: string, file = 'level.svg'): DrawnPiece[] {
  const { shapes, units, sign } = shapesOf(text, new Problems(file, text));
  return shapes.map((shape) => pieceOf(shape, units, sign));
}

function pieceOf({ element, matrix, kind, mover, strokes }: DrawnShape, units: number, sign: number): DrawnPiece {
  const { corners, closed } = kind === 'spawn' ? NO_CORNERS : cornersOf(element);
  const place = ([x, y]: Point): Point => {
    const [px, py] = apply(matrix, x, y);
    return [px / units + 0, (sign * py) / units + 0];
  };
  return {
    kind,
    name: element.attributes['data-name'] ?? element.attributes.id ?? '',
    mover,
    outlines: strokes,
    corners: corners.map(place),
    closed,
  };
}

const NO_CORNERS = { corners: [] as Point[], closed: false };

/** The corners of an element in its own coordinates, where it has any that are written down. */
function cornersOf({ name, attributes }: DrawnShape['element']): { corners: Point[]; closed: boolean } {
  const length = (key: string): number => readLength(attributes[key] ?? '0');
  if (name === 'rect' && !(length('rx') > 0 || length('ry') > 0)) {
    const [x, y, width, height] = [length('x'), length('y'), length('width'), length('height')];
    return { corners: [[x, y], [x + width, y], [x + width, y + height], [x, y + height]], closed: true }; // prettier-ignore
  }
  if (name === 'line') return { corners: [[length('x1'), length('y1')], [length('x2'), length('y2')]], closed: false }; // prettier-ignore
  if (name === 'path') return cornersOfPath(attributes.d ?? '');
  if (name !== 'polygon' && name !== 'polyline') return NO_CORNERS;
  const numbers = readNumbers(attributes.points ?? '') ?? [];
  const corners = Array.from({ length: numbers.length >> 1 }, (_, i): Point => [numbers[2 * i]!, numbers[2 * i + 1]!]);
  return { corners, closed: name === 'polygon' };
}

/** The corners of a path that is one line of straight stretches. */
function cornersOfPath(d: string): { corners: Point[]; closed: boolean } {
  const corners: Point[] = [];
  let [x, y, closed] = [0, 0, false];
  for (const command of new SVGPathData(d).toAbs().commands) {
    if (closed || (command.type === SVGPathData.MOVE_TO && corners.length > 0)) return NO_CORNERS;
    if (command.type === SVGPathData.CLOSE_PATH) {
      closed = true;
      continue;
    }
    if (command.type === SVGPathData.HORIZ_LINE_TO) x = command.x;
    else if (command.type === SVGPathData.VERT_LINE_TO) y = command.y;
    else if (command.type === SVGPathData.MOVE_TO || command.type === SVGPathData.LINE_TO) [x, y] = [command.x, command.y];
    else return NO_CORNERS;
    corners.push([x, y]);
  }
  return { corners, closed };
} // prettier-ignore

/** The same as a path: level and upright stretches by one number. */
function pathThrough(corners: readonly Point[], closed: boolean): string {
  const steps = corners.map(([x, y], i) => {
    const [px, py] = corners[i - 1] ?? [NaN, NaN];
    if (written(py) === written(y)) return `H ${written(x)}`;
    if (written(px) === written(x)) return `V ${written(y)}`;
    return `${i === 0 ? 'M' : 'L'} ${written(x)},${written(y)}`;
  });
  return `${steps.join(' ')}${closed ? ' Z' : ''}`;
}

/**
 * A drawn level's text with pieces moved, added or taken away. Nothing else in it changes: comments, order, blanks and whatever else is drawn stay.
 * @param edits one after the other; after one that adds or removes, pieces have other numbers
 * @throws FileError where the text is no drawing; RangeError naming what there is no piece, edge or corner of, or what would have no size
 * @example
 * ```ts
 * editDrawing(drawingOf({ rows: ['@..', '###'] }), []) // nothing moved: the same text
 * ```
 */
export function editDrawing(text: string, edits: readonly PieceEdit[], file = 'level.svg'): string {
  return edits.reduce((before, edit) => edited(before, edit, file), text);
}

function edited(text: string, edit: PieceEdit, file: string): string {
  const problems = new Problems(file, text);
  const { shapes, units, sign } = shapesOf(text, problems);
  if ('add' in edit) return added(text, edit, units, sign);
  const number = 'move' in edit ? edit.move : 'remove' in edit ? edit.remove : 'edge' in edit ? edit.edge[0] : edit.corner[0]; // prettier-ignore
  const shape = shapes[number];
  if (!shape) throw new RangeError(`there is no piece ${number}; there are ${shapes.length}`);
  const from = problems.offsetOf(shape.element);
  const to = endOfTag(text, from);
  if ('remove' in edit) return removed(text, from, to, shape.element.name);
  const by = inOwn(shape.matrix, edit.by[0] * units, sign * edit.by[1] * units);
  const tag = text.slice(from, to);
  const moved = 'move' in edit ? movedTag(tag, shape, by) : bentTag(tag, shape, edit, by);
  return text.slice(0, from) + moved + text.slice(to);
}

/** A distance of the drawing in an element's own coordinates. */
function inOwn([a, b, c, d]: Matrix, x: number, y: number): Point {
  const determinant = a * d - b * c;
  return [(d * x - c * y) / determinant, (a * y - b * x) / determinant];
}

/** Behind the `>` of a tag that begins at a place. */
function endOfTag(text: string, from: number): number {
  let quote = '';
  for (let i = from; i < text.length; i++) {
    const character = text[i]!;
    if (quote !== '') {
      if (character === quote) quote = '';
    } else if (character === '"' || character === "'") quote = character;
    else if (character === '>') return i + 1;
  }
  return text.length;
}

function removed(text: string, from: number, to: number, name: string): string {
  const isClosed = text[to - 2] === '/';
  const close = isClosed ? undefined : new RegExp(`</(?:[\\w-]+:)?${name}\\s*>`, 'g');
  let end = to;
  if (close) {
    close.lastIndex = to;
    end = close.exec(text) ? close.lastIndex : to;
  }
  // A line of its own goes with it.
  const start = text.lastIndexOf('\n', from - 1) + 1;
  const next = text.indexOf('\n', end);
  const isAlone = text.slice(start, from).trim() === '' && next >= 0 && text.slice(end, next).trim() === '';
  return isAlone ? text.slice(0, start) + text.slice(next + 1) : text.slice(0, from) + text.slice(end);
}

function added(text: string, { add, points, closed }: Extract<PieceEdit, { add: unknown }>, units: number, sign: number): string {
  if (points.length < (closed ? 3 : 2)) throw new RangeError(`points has ${points.length}; it must have ${closed ? 3 : 2} or more`);
  const end = text.lastIndexOf('</');
  if (end < 0) throw new RangeError('the drawing has no place for a shape: its svg element ends where it begins');
  const drawn = points.map(([x, y]) => `${written(x * units)},${written(sign * y * units)}`).join(' ');
  const [, indent = ''] = /(?:^|\n)([ \t]*)$/.exec(text.slice(0, end)) ?? [];
  const newline = text.includes('\r\n') ? '\r\n' : '\n';
  const element = `<${closed ? 'polygon' : 'polyline'} class="${add}" points="${drawn}"/>`;
  const isOnLine = /(?:^|\n)[ \t]*$/.test(text.slice(0, end));
  return isOnLine ? `${text.slice(0, end)}  ${element}${newline}${indent}${text.slice(end)}` : `${text.slice(0, end)}${element}${text.slice(end)}`;
} // prettier-ignore

/** A number as short as it can be: a millionth of a drawing unit is nothing. */
const written = (value: number): string => String(Number(value.toFixed(6)) + 0);

/** A tag with an attribute set, or without it. */
function withAttribute(tag: string, name: string, value: string | undefined): string {
  const found = new RegExp(`(\\s${name}\\s*=\\s*)("[^"]*"|'[^']*')`).exec(tag);
  if (value === undefined) return found ? tag.slice(0, found.index) + tag.slice(found.index + found[0].length) : tag;
  if (found) return `${tag.slice(0, found.index)}${found[1]!}"${value}"${tag.slice(found.index + found[0].length)}`;
  const end = tag.endsWith('/>') ? tag.length - 2 : tag.length - 1;
  const before = tag.slice(0, end).trimEnd();
  return `${before} ${name}="${value}"${tag.slice(before.length)}`;
}

/** A tag with lengths that have grown by so much. */
function shifted(tag: string, { attributes }: DrawnShape['element'], by: Readonly<Record<string, number>>): string {
  return Object.entries(by).reduce((changed, [name, length]) => {
    if (length === 0) return changed;
    return withAttribute(changed, name, written(readLength(attributes[name] ?? '0') + length));
  }, tag);
}

/** The whole of a shape is moved. @param by in its own coordinates */
function movedTag(tag: string, { element }: DrawnShape, [dx, dy]: Point): string {
  switch (element.name) {
    case 'rect':
      return shifted(tag, element, { x: dx, y: dy });
    case 'circle':
    case 'ellipse':
      return shifted(tag, element, { cx: dx, cy: dy });
    case 'line':
      return shifted(tag, element, { x1: dx, y1: dy, x2: dx, y2: dy });
    case 'polygon':
    case 'polyline':
      return withPoints(tag, element, (_, point) => [point[0] + dx, point[1] + dy]);
    default: {
      // What is moved again is moved by both together.
      const was = element.attributes.transform?.trim() ?? '';
      const last = /^(.*?)\s*translate\(\s*([-+.\deE]+)[\s,]+([-+.\deE]+)\s*\)$/s.exec(was);
      const [rest, x, y] = last ? [last[1]!, Number(last[2]), Number(last[3])] : [was, 0, 0];
      const to = [written(x + dx), written(y + dy)] as const;
      const steps = [rest, to.every((length) => length === '0') ? '' : `translate(${to.join(' ')})`].filter(
        (step) => step !== '',
      );
      return withAttribute(tag, 'transform', steps.length > 0 ? steps.join(' ') : undefined);
    }
  }
}

/** A corner or an edge is moved. @param by in its own coordinates */
function bentTag(tag: string, { element }: DrawnShape, edit: { edge: readonly [number, number] } | { corner: readonly [number, number] }, by: Point): string {
  const { corners, closed } = cornersOf(element);
  const isEdge = 'edge' in edit;
  const [, k] = isEdge ? edit.edge : edit.corner;
  const count = corners.length - (isEdge && !closed ? 1 : 0);
  if (!(k >= 0 && k < count)) throw new RangeError(`there is no ${isEdge ? 'edge' : 'corner'} ${k}; there are ${count}`);
  const next = (k + 1) % corners.length;
  const shift = isEdge ? along(corners[k]!, corners[next]!, by) : by;
  if (element.name === 'rect') return rectTag(tag, element, isEdge ? [k] : [k, (k + 3) % 4], shift);
  if (element.name === 'line') {
    const moves = (i: number): boolean => isEdge || i === k;
    return shifted(tag, element, { x1: moves(0) ? shift[0] : 0, y1: moves(0) ? shift[1] : 0, x2: moves(1) ? shift[0] : 0, y2: moves(1) ? shift[1] : 0 });
  }
  const move = (i: number, [x, y]: Point): Point => (i === k || (isEdge && i === next) ? [x + shift[0], y + shift[1]] : [x, y]);
  if (closed && areaOf(corners) * areaOf(corners.map((corner, i) => move(i, corner))) <= 0) throw new RangeError('the piece would have no size, or be turned inside out');
  if (element.name === 'path') return withAttribute(tag, 'd', pathThrough(corners.map((corner, i) => move(i, corner)), closed));
  return withPoints(tag, element, move);
} // prettier-ignore

/** Twice the area, with the sign of the way round. */
function areaOf(corners: readonly Point[]): number {
  return corners.reduce((sum, [x, y], i) => {
    const [nx, ny] = corners[(i + 1) % corners.length]!;
    return sum + x * ny - nx * y;
  }, 0);
}

/** What of a distance goes along the normal of an edge. */
function along([x1, y1]: Point, [x2, y2]: Point, [dx, dy]: Point): Point {
  const [nx, ny] = [y2 - y1, x1 - x2];
  const square = nx * nx + ny * ny;
  const share = square === 0 ? 0 : (dx * nx + dy * ny) / square;
  return [nx * share, ny * share];
}

/** Sides of a rect are moved: 0 top, 1 right, 2 bottom, 3 left, in its own coordinates. */
function rectTag(tag: string, element: DrawnShape['element'], sides: readonly number[], [dx, dy]: Point): string {
  const by = { x: 0, y: 0, width: 0, height: 0 };
  if (sides.includes(0)) [by.y, by.height] = [dy, -dy];
  if (sides.includes(2)) by.height = dy;
  if (sides.includes(1)) by.width = dx;
  if (sides.includes(3)) [by.x, by.width] = [dx, -dx];
  for (const name of ['width', 'height'] as const)
    if (readLength(element.attributes[name] ?? '0') + by[name] < LEAST) throw new RangeError(`the piece would have no ${name}`);
  return shifted(tag, element, by);
} // prettier-ignore

const NUMBER = /[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g;

/** A tag with other points: those that stay are written as they were. */
function withPoints(tag: string, { attributes }: DrawnShape['element'], move: (i: number, point: Point) => Point): string {
  const text = attributes.points ?? '';
  const numbers = readNumbers(text) ?? [];
  let n = 0;
  const points = text.replace(NUMBER, (was, at: number) => {
    const i = n >> 1;
    const now = move(i, [numbers[2 * i]!, numbers[2 * i + 1]!])[n % 2]!;
    n++;
    if (written(now) === written(Number(was))) return was;
    // A sign may have stood for the blank between two numbers.
    return /[\d.]/.test(text[at - 1] ?? ' ') ? ` ${written(now)}` : written(now);
  });
  return withAttribute(tag, 'points', points);
} // prettier-ignore
