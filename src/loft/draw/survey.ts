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

function colourOf({ after, before, faint }: Colours, answer: keyof typeof LOOKS): string {
  return answer === 'yes' ? after : answer === 'no' ? before : faint;
}
