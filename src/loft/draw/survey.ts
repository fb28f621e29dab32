import type { Asking } from '../model/asking.js';
import type { Colours } from './colours.js';
import type { Picture } from './scene.js';

/** How places are drawn by their answer: told apart without colour. */
const LOOKS = { yes: [4, []], no: [3, [3, 4]], 'not found': [2, [1, 5]] } as const;
/** What is no more known than before is faint. */
const STALE = 0.45;

const paths = new WeakMap<object, Path2D>();

/** Where it gets to, the place that is pointed at, and the way there. */
export function drawSurvey(pen: CanvasRenderingContext2D, { camera, colours }: Pick<Picture, 'camera' | 'colours'>, asking: Asking): void {
  pen.lineCap = 'butt';
  pen.globalAlpha = asking.isFresh ? 1 : STALE;
  for (const { id, points, answer } of asking.places) {
    const [width, dash] = LOOKS[answer];
    pen.strokeStyle = colourOf(colours, answer);
    pen.lineWidth = id === asking.place ? width + 3 : width;
    pen.setLineDash(dash as unknown as number[]);
    pen.beginPath();
    const line = points.length > 1 ? points : [points[0]!, points[0]!];
    line.forEach(([x, y], i) => {
      const [px, py] = camera.at(x, y);
      // What is only a point is a short line.
      const at = points.length > 1 ? px : px + (i === 0 ? -5 : 5);
      if (i === 0) pen.moveTo(at, py + 1);
      else pen.lineTo(at, py + 1);
    });
    pen.stroke();
  }
  pen.setLineDash([]);
  const { way } = asking;
  if (way) {
    let path = paths.get(way);
    if (!path) paths.set(way, (path = new Path2D(way.path)));
    const [px, py] = camera.at(...way.from);
    pen.save();
    pen.translate(px, py);
    pen.scale(camera.scale, camera.scale * camera.down);
    pen.strokeStyle = colours.after;
    pen.lineWidth = 2.5 / camera.scale;
    pen.setLineDash([10 / camera.scale, 4 / camera.scale]);
    pen.stroke(path);
    pen.restore();
  }
  pen.globalAlpha = 1;
} // prettier-ignore

/** Whether a pixel is on the way that is shown. */
export function isOnWay(pen: CanvasRenderingContext2D, camera: Picture['camera'], { way }: Asking, px: number, py: number): boolean {
  const path = way && paths.get(way);
  if (!path) return false;
  const [x, y] = camera.at(...way.from);
  pen.save();
  pen.setTransform(1, 0, 0, 1, 0, 0);
  pen.lineWidth = (2 * NEAR) / camera.scale;
  pen.setLineDash([]);
  const is = pen.isPointInStroke(path, (px - x) / camera.scale, (py - y) / (camera.scale * camera.down));
  pen.restore();
  return is;
} // prettier-ignore

/** Who points so near to a line means it, pixels. */
const NEAR = 7;

function colourOf({ after, before, faint }: Colours, answer: keyof typeof LOOKS): string {
  return answer === 'yes' ? after : answer === 'no' ? before : faint;
}
