import { Graphics } from 'pixi.js';
import type { PoseName, View } from 'apperin';

const BRASS = 0xb98a3c;
const DARK = 0x3a2f1f;
const SCARF = 0xa8473a;

/** Where limbs are in a pose: angles in radians from straight down, forward is plus; how far the body leans, and how tall it is drawn. */
interface Posture {
  legs: readonly [number, number];
  arms: readonly [number, number];
  lean: number;
  tall: number;
}

/** How far through the motion of a pose that lasts so long: 0 to 1. */
const into = (time: number, seconds: number): number => Math.min(1, time / seconds);

/** Brindle's postures: a small function of the pose, the seconds in it, and the strides run. */
const POSTURES: Partial<Record<PoseName, (view: View) => Posture>> = {
  idle: ({ poseTime }) => ({ legs: [0.08, -0.08], arms: [0.1, -0.1], lean: 0, tall: 1 + 0.015 * Math.sin(poseTime * 3) }),
  run: ({ strides }) => {
    const swing = Math.sin(strides * 2 * Math.PI);
    return { legs: [0.9 * swing, -0.9 * swing], arms: [-0.8 * swing, 0.8 * swing], lean: 0.16, tall: 1 };
  },
  brake: () => ({ legs: [0.7, 0.2], arms: [-0.5, -0.9], lean: -0.2, tall: 0.97 }),
  turn: () => ({ legs: [0.6, -0.5], arms: [0.7, -0.7], lean: -0.25, tall: 0.95 }),
  rise: ({ poseTime }) => ({ legs: [0.5, -0.3], arms: [2.4, 2.1], lean: 0.05, tall: 1.12 - 0.08 * into(poseTime, 0.2) }),
  apex: () => ({ legs: [0.8, 0.1], arms: [1.7, -1.2], lean: 0.05, tall: 0.98 }),
  fall: ({ poseTime }) => ({ legs: [0.3, -0.4], arms: [2.2 + 0.2 * Math.sin(poseTime * 25), -2.2], lean: 0, tall: 1.05 }),
  land: ({ poseTime }) => ({ legs: [0.7, -0.7], arms: [0.8, -0.8], lean: 0.1, tall: 0.8 + 0.2 * into(poseTime, 0.12) }),
  slide: () => ({ legs: [0.5, 0.2], arms: [2.6, 1.4], lean: -0.12, tall: 1 }),
  hang: ({ poseTime }) => ({ legs: [0.15 * Math.sin(poseTime * 4), -0.1], arms: [2.9, 2.7], lean: 0, tall: 1.06 }),
  climb: ({ poseTime }) => ({ legs: [1.3 * into(poseTime, 0.28), 0], arms: [2.2 - into(poseTime, 0.28), 1], lean: 0.3, tall: 0.9 }),
  glide: ({ poseTime }) => ({ legs: [-0.4, -0.6], arms: [1.6, -1.6], lean: 0.3 + 0.05 * Math.sin(poseTime * 6), tall: 1 }),
  dive: () => ({ legs: [-0.1, 0.1], arms: [0.1, -0.1], lean: 0.05, tall: 1.1 }),
  charge: ({ poseTime }) => ({ legs: [0.8, -0.8], arms: [-0.6, -0.4], lean: 0.12, tall: 1 - 0.22 * into(poseTime, 0.7) }),
  crouch: ({ strides }) => ({ legs: [0.9 * Math.sin(strides * 6.28), -0.9 * Math.sin(strides * 6.28)], arms: [0.6, 0.4], lean: 0.4, tall: 1 }),
}; // prettier-ignore

/** Draws Brindle for one frame, feet at (0, 0), in tiles. */
export function drawFigure(pen: Graphics, view: View): void {
  const { width, height, pose, facing } = view;
  const { legs, arms, lean, tall } = (POSTURES[pose] ?? POSTURES.idle!)(view);
  const size = height * tall;
  const hip = size * 0.34;
  const head = size * 0.28;
  pen.clear();
  pen.scale.x = facing;
  const limb = (x: number, y: number, angle: number, length: number, colour: number): void => {
    pen.moveTo(x, y).lineTo(x + Math.sin(angle) * length, y + Math.cos(angle) * length);
    pen.stroke({ width: 0.13, color: colour, cap: 'round' });
  };
  const shoulder = size - head;
  const sway = (y: number): number => Math.sin(lean) * y;
  limb(sway(hip) - 0.08, -hip, legs[1], hip * 0.95, DARK);
  limb(sway(shoulder) - 0.05, -shoulder + 0.08, arms[1], size * 0.3, DARK);
  pen.poly([sway(hip) - width * 0.3, -hip, sway(hip) + width * 0.3, -hip, sway(shoulder) + width * 0.36, -shoulder, sway(shoulder) - width * 0.36, -shoulder]).fill(BRASS); // prettier-ignore
  limb(sway(hip) + 0.08, -hip, legs[0], hip * 0.95, DARK);
  pen.circle(sway(size - head / 2), -(size - head / 2), head * 0.52).fill(BRASS);
  pen.circle(sway(size - head / 2) + head * 0.22, -(size - head / 2) - 0.02, head * 0.1).fill(0x221a10);
  pen.rect(sway(shoulder) - width * 0.34, -shoulder - 0.05, width * 0.68, 0.11).fill(SCARF);
  limb(sway(shoulder) + 0.05, -shoulder + 0.08, arms[0], size * 0.3, 0x8f6829);
  if (pose === 'glide')
    pen.poly([-width, -size - 0.1, width * 1.2, -size - 0.25, width * 0.2, -size - 0.5]).fill(SCARF); // prettier-ignore
}
