import { placeIn, type TracePiece } from 'apperin';
import { pathOf, stretchesOf } from '../../figures/path.js';
import type { Camera } from './camera.js';

interface Place {
  x: number;
  y: number;
}

/** Lines of the level as one path that is made once: about their first place, since the numbers that a pen takes are short ones. In units of the level. */
export interface Laid extends Place {
  path: Path2D;
  left: number;
  right: number;
  low: number;
  high: number;
}

/**
 * Lays lines out as a path.
 * @param lines each through its places, in the level's own axes
 */
export function layOut(lines: readonly (readonly Place[])[], isClosed = false): Laid {
  const { x, y } = lines[0]?.[0] ?? { x: 0, y: 0 };
  const laid: Laid = { path: new Path2D(), x, y, left: x, right: x, low: y, high: y };
  for (const line of lines) {
    line.forEach((at, i) => {
      laid.left = Math.min(laid.left, at.x);
      laid.right = Math.max(laid.right, at.x);
      laid.low = Math.min(laid.low, at.y);
      laid.high = Math.max(laid.high, at.y);
      if (i === 0) laid.path.moveTo(at.x - x, at.y - y);
      else laid.path.lineTo(at.x - x, at.y - y);
    });
    if (isClosed) laid.path.closePath();
  }
  return laid;
}

/** Lays pieces of motion out as the curves that they are; where one does not go on from the one before, nothing joins them. */
export function layPieces(pieces: readonly TracePiece[]): Pick<Laid, 'path' | 'x' | 'y'> {
  const [first] = pieces;
  const { x, y } = first ? placeIn(first, first.from) : { x: 0, y: 0 };
  return { path: new Path2D(pathOf(stretchesOf(pieces), (px, py) => `${px - x},${py - y}`)), x, y };
}

/** Whether any of it may be seen, moved by an offset, with a stroke of so many pixels. */
export function isSeen(laid: Laid, camera: Camera, dx = 0, dy = 0): boolean {
  const [x1, y1] = camera.at(laid.left + dx, laid.low + dy);
  const [x2, y2] = camera.at(laid.right + dx, laid.high + dy);
  return x2 > -8 && x1 < camera.width + 8 && Math.max(y1, y2) > -8 && Math.min(y1, y2) < camera.height + 8;
}

/**
 * Draws in the level's units, about a place of the level.
 * @param pixel how many units a pixel has, for the widths of lines
 * @param facing −1 to draw the other way round
 */
export function inLevel(
  pen: CanvasRenderingContext2D,
  camera: Camera,
  x: number,
  y: number,
  draw: (pixel: number) => void,
  facing = 1,
): void {
  pen.save();
  pen.translate(...camera.at(x, y));
  pen.scale(camera.scale * facing, camera.scale * camera.down);
  draw(1 / camera.scale);
  pen.restore();
}

/** Strokes what is laid out, so many pixels wide. */
export function strokeLaid(
  pen: CanvasRenderingContext2D,
  camera: Camera,
  laid: Pick<Laid, 'path' | 'x' | 'y'>,
  width: number,
  dash: readonly number[] = [],
  dx = 0,
  dy = 0,
): void {
  inLevel(pen, camera, laid.x + dx, laid.y + dy, (pixel) => {
    pen.lineWidth = width * pixel;
    pen.setLineDash(dash.map((length) => length * pixel));
    pen.stroke(laid.path);
  });
}
