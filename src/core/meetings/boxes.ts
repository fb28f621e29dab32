import { listOf } from '../nearest.js';
import type { Body, BodyBox } from '../state/body.js';
import { BOXES_OFF, FACING } from '../state/layout.js';
import { FARTHEST } from '../tuning/keys.js';
import { isGroup, showValue } from '../tuning/words.js';

/**
 * A box that a character carries: [x, y, width, height] from the middle of its feet, in the level's own axes, units, as it is while the character faces right; it turns with
 * it. Or with whether it is switched on at first.
 */
export type CarriedBox =
  | readonly [number, number, number, number]
  | { readonly box: readonly [number, number, number, number]; readonly on?: boolean };

/** So many fit into a number's bits. */
const MOST = 30;

/**
 * @param up −1 where the level's y axis points down, else 1
 * @throws RangeError naming a box that is none
 */
export function readBoxes(
  boxes: Readonly<Record<string, CarriedBox>>,
  up: number,
): { boxes: readonly BodyBox[]; off: number } {
  if (!isGroup(boxes)) throw new RangeError(`boxes is ${showValue(boxes)}; it must be boxes by their names`);
  const entries = Object.entries(boxes);
  if (entries.length > MOST) throw new RangeError(`there are ${entries.length} boxes; at most ${MOST} can be carried`);
  let off = 0;
  const list = entries.map(([name, given], i) => {
    const box = isGroup(given) && 'box' in given ? given.box : (given as readonly [number, number, number, number]);
    if (isGroup(given) && 'on' in given && given.on === false) off |= 1 << i;
    if (!Array.isArray(box) || box.length !== 4 || !box.every((value) => Math.abs(value as number) <= FARTHEST))
      throw new RangeError(`the box ${name} is ${showValue(box)}; it must be [x, y, width, height]`);
    const [x, y, width, height] = box as unknown as readonly [number, number, number, number];
    if (!(width > 0 && height > 0))
      throw new RangeError(`the box ${name} is ${width} × ${height}; both must be above 0`);
    const low = up > 0 ? y : -(y + height);
    return { name, left: x, bottom: low, right: x + width, top: low + height };
  });
  return { boxes: list, off };
}

/** @throws RangeError where a body carries no such box */
export function boxNumber({ boxes, name }: Body, box: string): number {
  const found = boxes.findIndex((one) => one.name === box);
  if (found < 0)
    throw new RangeError(
      `${name} carries no box ${box}; it has ${listOf(
        boxes.map((one) => one.name),
        box,
      )}`,
    );
  return found;
}

/** Whether a box is there at present; −1 for the hitbox, which always is. */
export function isOn({ s }: Body, box: number): boolean {
  return box < 0 || (s[BOXES_OFF]! & (1 << box)) === 0;
}

/**
 * How a box lies around the middle of the feet: left, bottom, right, top, y up.
 * @param box −1 for the hitbox
 */
export function around(body: Body, box: number, into: Float64Array): void {
  const { hull, s } = body;
  if (box < 0) {
    into[0] = -hull.half;
    into[1] = 0;
    into[2] = hull.half;
    into[3] = hull.height;
    return;
  }
  const { left, bottom, right, top } = body.boxes[box]!;
  const faces = s[FACING]! > 0;
  into[0] = faces ? left : -right;
  into[1] = bottom;
  into[2] = faces ? right : -left;
  into[3] = top;
}
