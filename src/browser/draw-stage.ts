import type { BareStage, Character, StageShape, Touch } from '../core/index.js';

/** What a canvas has to draw with: a `CanvasRenderingContext2D`, or whatever does the same. */
export type Pen = Pick<
  CanvasRenderingContext2D,
  | 'save' | 'restore' | 'beginPath' | 'closePath' | 'moveTo' | 'lineTo' | 'arc' | 'rect' | 'fill' | 'stroke' | 'setLineDash' | 'getTransform'
  | 'fillStyle' | 'strokeStyle' | 'lineWidth' | 'globalAlpha'
>; // prettier-ignore

/** A question that was asked of the level, to be drawn with its answer. */
export interface Probe {
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  /** What `stage.ray` or `stage.sweep` gave. */
  readonly met?: Readonly<Touch> | undefined;
}

/** What is drawn of a stage. */
export interface DrawOptions {
  /** How far into the last tick the picture is, 0 to 1 (a stepper's `between`); 1 for its end. */
  between?: number;
  /** Where characters touch something; and which way that faces. All are drawn unless they are `false`. */
  contacts?: boolean;
  normals?: boolean;
  zones?: boolean;
  /** Hitboxes and carried boxes, those that are switched off dashed. */
  boxes?: boolean;
  /** Rays and ways that were asked about. */
  probes?: readonly Probe[];
}

const INK = {
  solid: '#5f7d8c',
  ground: '#8c7a4e',
  'one-way': '#8c7a4e',
  line: '#5f7d8c',
  zone: '#4c8a6a',
  body: '#b3541e',
  box: '#8a4c86',
  contact: '#c9302c',
  probe: '#2e6da4',
} as const;

/**
 * Draws a stage as it is, to look for what is wrong: outlines of everything solid, zones, hitboxes and carried boxes, what touches whom, and questions that were asked. The pen is in the level's
 * own units: whoever has a camera sets its transform before. Lines are as wide at every scale.
 * @throws RangeError where `between` is out of range
 * @example
 * ```ts
 * const pen = document.querySelector('canvas')!.getContext('2d')!;
 * pen.setTransform(32, 0, 0, 32, 0, 0); // 32 pixels a unit
 * drawStage(pen, mill);
 * ```
 */
export function drawStage(
  pen: Pen,
  stage: BareStage,
  { between = 1, contacts = true, normals = true, zones = true, boxes = true, probes = [] }: DrawOptions = {},
): void {
  const { a, b } = pen.getTransform();
  /** One pixel, units. */
  const px = 1 / Math.max(1e-9, Math.hypot(a, b));
  pen.save();
  pen.lineWidth = 1.5 * px;
  if (zones) for (const zone of stage.zones) if (zone.on) for (const piece of zone.pieces) patch(pen, piece, INK.zone);
  for (const shape of stage.shapes(between)) if (shape.on) outline(pen, shape, px);
  for (const who of stage.characters) {
    if (boxes) bodyOf(pen, who, between, px);
    if (contacts || normals)
      for (const { x, y, normalX, normalY } of who.touching()) {
        if (contacts) dot(pen, x, y, 3 * px, INK.contact);
        if (normals) line(pen, [x, y], [x + 16 * px * normalX, y + 16 * px * normalY], INK.contact);
      }
  }
  for (const { from, to, met } of probes) {
    line(pen, from, met ? [met.x, met.y] : to, INK.probe);
    if (!met) continue;
    dot(pen, met.x, met.y, 3 * px, INK.probe);
    line(pen, [met.x, met.y], [met.x + 16 * px * met.normalX, met.y + 16 * px * met.normalY], INK.probe);
  }
  pen.restore();
}

function outline(pen: Pen, { form, points, x, y }: Readonly<StageShape>, px: number): void {
  pen.beginPath();
  points.forEach(([px0, py0], i) => (i === 0 ? pen.moveTo(px0 + x, py0 + y) : pen.lineTo(px0 + x, py0 + y)));
  if (form === 'solid') pen.closePath();
  pen.setLineDash(form === 'one-way' ? [6 * px, 3 * px] : []);
  pen.strokeStyle = INK[form];
  pen.stroke();
  pen.setLineDash([]);
}

function patch(pen: Pen, points: readonly (readonly [number, number])[], ink: string): void {
  pen.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? pen.moveTo(x, y) : pen.lineTo(x, y)));
  pen.closePath();
  // (Without an outline: a zone may be of several pieces.)
  pen.fillStyle = ink;
  pen.globalAlpha = 0.25;
  pen.fill();
  pen.globalAlpha = 1;
}

function bodyOf(pen: Pen, who: Character, between: number, px: number): void {
  const seen = who.view(between);
  const up = who.yPoints === 'up';
  const frame = (x: number, y: number, width: number, height: number, ink: string, on: boolean): void => {
    pen.beginPath();
    pen.rect(x, y, width, height);
    pen.setLineDash(on ? [] : [2 * px, 3 * px]);
    pen.strokeStyle = ink;
    pen.stroke();
    pen.setLineDash([]);
  };
  frame(seen.x - seen.width / 2, up ? seen.y : seen.y - seen.height, seen.width, seen.height, INK.body, true);
  for (const { x, y, width, height, on } of who.boxes)
    frame(x - who.x + seen.x, y - who.y + seen.y, width, height, INK.box, on);
  const front = seen.x + (seen.facing * seen.width) / 2;
  const middle = seen.y + ((up ? 1 : -1) * seen.height) / 2;
  line(pen, [front, middle], [front + seen.facing * 8 * px, middle], INK.body);
}

function line(pen: Pen, from: readonly [number, number], to: readonly [number, number], ink: string): void {
  pen.beginPath();
  pen.moveTo(...from);
  pen.lineTo(...to);
  pen.strokeStyle = ink;
  pen.stroke();
}

function dot(pen: Pen, x: number, y: number, radius: number, ink: string): void {
  pen.beginPath();
  pen.arc(x, y, radius, 0, 2 * Math.PI);
  pen.fillStyle = ink;
  pen.fill();
}
