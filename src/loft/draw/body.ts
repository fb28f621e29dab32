import type { Picture } from './scene.js';

/** A body as it is seen. */
interface Seen {
  x: number;
  y: number;
  width: number;
  height: number;
  facing: number;
  pose: string;
  strides: number;
  stepLag: number;
}

/** How a pose is drawn, in shares of the body, x the way that it faces and y up. */
interface Look {
  /** How far its head is before its feet, and how wide and high it is. */
  lean: number;
  wide: number;
  high: number;
  /** Where both feet are, and both hands. */
  feet: readonly [readonly [number, number], readonly [number, number]];
  hands: readonly [readonly [number, number], readonly [number, number]];
}

const look = (lean: number, [wide, high]: readonly [number, number], feet: Look['feet'], hands: Look['hands']): Look => ({ lean, wide, high, feet, hands }); // prettier-ignore
const STAND: Look['feet'] = [[-0.22, 0], [0.22, 0]]; // prettier-ignore
const DOWN: Look['hands'] = [[-0.42, 0.34], [0.42, 0.34]]; // prettier-ignore

/** Each is told from the others by its outline, at thirty pixels. */
const LOOKS: Readonly<Record<string, Look>> = {
  idle: look(0, [1, 1], STAND, DOWN),
  run: look(0.1, [1, 0.98], STAND, [[-0.5, 0.5], [0.52, 0.42]]),
  brake: look(-0.16, [1, 0.96], [[0.02, 0], [0.46, 0.02]], [[-0.3, 0.62], [0.5, 0.6]]),
  turn: look(-0.2, [0.9, 0.98], [[-0.34, 0], [0.34, 0]], [[-0.5, 0.44], [-0.3, 0.6]]),
  rise: look(0.05, [0.9, 1.04], [[-0.24, -0.02], [0.16, 0.12]], [[-0.34, 0.98], [0.4, 1.02]]),
  apex: look(0, [1, 0.94], [[-0.28, 0.14], [0.28, 0.14]], [[-0.62, 0.6], [0.62, 0.6]]),
  fall: look(-0.04, [0.94, 1], [[-0.34, 0.04], [0.32, 0.1]], [[-0.56, 0.86], [0.56, 0.86]]),
  land: look(0, [1.16, 0.8], [[-0.4, 0], [0.4, 0]], [[-0.56, 0.18], [0.56, 0.18]]),
  slide: look(0.06, [0.9, 1], [[0.1, 0.02], [0.3, 0.2]], [[0.44, 0.9], [0.44, 0.5]]),
  hang: look(0.02, [0.86, 0.98], [[-0.12, -0.02], [0.12, -0.02]], [[0.2, 1.08], [0.46, 1.08]]),
  climb: look(0.14, [0.9, 0.96], [[-0.1, 0], [0.42, 0.34]], [[0.36, 0.98], [0.5, 0.86]]),
  glide: look(0.2, [1, 0.92], [[-0.5, 0.12], [-0.3, 0.04]], [[-0.74, 0.84], [0.74, 0.84]]),
  dive: look(0.34, [0.84, 0.98], [[-0.5, 0.5], [-0.34, 0.62]], [[0.5, 0.16], [0.62, 0.24]]),
  charge: look(0, [1.12, 0.84], [[-0.34, 0], [0.34, 0]], [[-0.3, 0.1], [0.3, 0.1]]),
  crouch: look(0.06, [1.12, 0.94], [[-0.36, 0], [0.36, 0]], [[-0.4, 0.26], [0.5, 0.3]]),
}; // prettier-ignore

/** Brindle: a brass body with an eye on the side that it faces, hands, and feet that step. */
export function drawBody(
  pen: CanvasRenderingContext2D,
  { camera, calm, colours }: Pick<Picture, 'camera' | 'calm' | 'colours'>,
  seen: Seen,
  now: number,
): void {
  const { lean, wide, high, feet, hands } = LOOKS[seen.pose] ?? LOOKS.idle!;
  const [w, h] = [seen.width * camera.scale, seen.height * camera.scale];
  const [x, y] = camera.at(seen.x, seen.y + seen.stepLag);
  pen.save();
  pen.translate(x, y);
  pen.scale(seen.facing, -1);
  // At ease it breathes; where things shall not move by themselves it does not.
  const breath = seen.pose === 'idle' && !calm ? 1 + 0.012 * Math.sin(now * 2.4) : 1;
  const [bw, bh] = [0.74 * w * wide, h * high * breath];
  pen.fillStyle = pen.strokeStyle = colours.body;
  pen.lineCap = 'round';
  const limb = (from: readonly [number, number], to: readonly [number, number], width: number): void => {
    pen.lineWidth = Math.max(1.5, width * w);
    pen.beginPath();
    pen.moveTo(from[0] * w, from[1] * h);
    pen.lineTo(to[0] * w, to[1] * h);
    pen.stroke();
  };
  const swing = seen.pose === 'run' && !calm ? Math.sin(seen.strides * 2 * Math.PI) : 0;
  feet.forEach(([fx, fy], i) => {
    const step = (i === 0 ? 1 : -1) * swing;
    limb([fx * 0.6 + lean * 0.3, 0.3], [fx + step * 0.34, Math.max(fy, fy + 0.12 * step) + 0.06], 0.17);
  });
  hands.forEach(([hx, hy], i) => limb([hx * 0.55 + lean * 0.7, 0.6 * high], [hx + (i === 0 ? -1 : 1) * swing * 0.16, hy], 0.13)); // prettier-ignore
  // The trunk leans from its feet on.
  pen.transform(1, 0, (lean * w) / h, 1, 0, 0);
  pen.beginPath();
  pen.roundRect(-bw / 2, 0.16 * h, bw, bh - 0.16 * h, bw * 0.3);
  pen.fill();
  pen.fillStyle = colours.eye;
  pen.fillRect(0.06 * bw, bh - 0.3 * h, 0.26 * bw, 0.11 * h);
  pen.restore();
}
