import { arcs } from 'apperin/lab';
import { pathOf, wayOf } from '../../figures/path.js';
import type { Fitting, Laid } from '../model/fitting.js';
import { inLevel } from './laid.js';
import type { Picture } from './scene.js';

const DOT = 1.6;
const found = new WeakMap<object, Path2D>();

/** A capture as dots, with a body that goes along it; a curve that was drawn; and the jump of the numbers that were found. */
export function drawFitting(pen: CanvasRenderingContext2D, { camera, colours, session, calm }: Picture, fitting: Fitting, now: number): void {
  const { capture, sketch, motion } = fitting;
  if (capture) drawCapture(pen, { camera, colours, session, calm } as Picture, capture.laid, now);
  if (sketch.length > 1) {
    pen.strokeStyle = colours.mark;
    pen.lineWidth = 2;
    pen.setLineDash([3, 4]);
    pen.beginPath();
    sketch.forEach(([x, y], i) => {
      const at = camera.at(x, y);
      if (i === 0) pen.moveTo(...at);
      else pen.lineTo(...at);
    });
    pen.stroke();
    pen.setLineDash([]);
  }
  if (!motion || !sketch[0]) return;
  // As it was drawn it goes on, from where it was begun.
  let path = found.get(motion);
  if (!path) found.set(motion, (path = new Path2D(pathOf(wayOf(arcs('', motion).full), (x, y) => `${x},${y}`))));
  const [x, y] = sketch[0];
  const facing = sketch.at(-1)![0] < x ? -1 : 1;
  inLevel(pen, camera, x, y, (pixel) => {
    pen.scale(1, -camera.down);
    pen.strokeStyle = colours.ghosts[1]!;
    pen.lineWidth = 2.5 * pixel;
    pen.stroke(path);
  }, facing);
} // prettier-ignore

function drawCapture(pen: CanvasRenderingContext2D, { camera, colours, session, calm }: Picture, { time, points }: Laid, now: number): void {
  pen.fillStyle = colours.ghosts[1]!;
  for (const point of points) {
    const [x, y] = camera.at(...point);
    if (x > -2 && y > -2 && x < camera.width + 2 && y < camera.height + 2) pen.fillRect(x - DOT / 2, y - DOT / 2, DOT, DOT);
  }
  const last = time.at(-1);
  if (last === undefined || calm) return;
  const at = now % (last + 0.5);
  const i = Math.max(0, time.findIndex((moment) => moment > at) - 1);
  const { width, height } = session.hero.motion;
  const [x, y] = camera.at(...points[at > last ? points.length - 1 : i]!);
  pen.globalAlpha = 0.35;
  pen.fillRect(x - (width / 2) * camera.scale, y - height * camera.scale, width * camera.scale, height * camera.scale);
  pen.globalAlpha = 1;
} // prettier-ignore
