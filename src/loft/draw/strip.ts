import { scaleLinear } from 'd3-scale';
import type { PressMargin } from 'apperin/lab';
import { overTime, pathOf, type OverTime } from '../../figures/path.js';
import type { Bar } from '../model/presses.js';
import type { Strip, StripLine } from '../model/strip.js';
import { DASHES, phaseColour, type Colours } from './colours.js';

/** What is left of the time axis, and right of it, pixels. */
export const GUTTER = 96;
export const RIGHT = 58;
/** A row of presses, of phases, and of the names of what happens. */
export const LANE = 17;
const PHASES = 13;
const NAMES = 13;
const GAP = 6;
/** A curve that would be lower is left out. */
const LOWEST = 12;

/** Frames are told apart from so many pixels a frame, and drawn at so many a second where the ticks are more. */
const FRAME = 6;
const FRAMES = 60;

/** The part of time that is seen, s. */
export interface Span {
  from: number;
  to: number;
}

/** The actions that have a lane, in order. */
export const lanesOf = (bars: readonly Bar[]): string[] => [...new Set(bars.map(({ action }) => action))];

/** Where a moment is. */
export const acrossOf = (width: number, { from, to }: Span): ((time: number) => number) => {
  const scale = scaleLinear([from, to], [GUTTER, width - RIGHT]);
  return (time) => scale(time);
};

const CURVES: readonly [OverTime, string][] = [
  ['height', 'height'],
  ['up', 'speed up'],
  ['across', 'speed across'],
];

interface Curve {
  low: number;
  high: number;
  path: Path2D;
}

/**
 * Draws the strip of time: presses with the room that they have, phases, what happened, and the curves.
 * @param margins of presses, where they are known
 * @param head the moment that is looked at
 */
export function drawStrip(pen: CanvasRenderingContext2D, width: number, height: number, strip: Strip, span: Span, colours: Colours, margins: readonly PressMargin[], head: number | undefined): void {
  const x = acrossOf(width, span);
  pen.setLineDash([]);
  pen.clearRect(0, 0, width, height);
  pen.font = '11px system-ui, "DejaVu Sans", sans-serif';
  pen.textBaseline = 'middle';
  const right = width - RIGHT;
  const clipped = (draw: () => void): void => {
    pen.save();
    pen.beginPath();
    pen.rect(GUTTER, 0, right - GUTTER, height);
    pen.clip();
    draw();
    pen.restore();
  };
  const bottom = height - 2;
  drawTimes(pen, strip, span, x, right, bottom, colours);
  const lanes = lanesOf(strip.bars);
  const label = (text: string, y: number, colour = colours.ink): void => {
    pen.fillStyle = colour;
    pen.textAlign = 'right';
    // A long name is written closer.
    pen.fillText(text, GUTTER - 8, y, GUTTER - 12);
  };
  lanes.forEach((action, i) => label(action, i * LANE + LANE / 2));
  clipped(() => {
    for (const bar of strip.bars) drawBar(pen, bar, lanes.indexOf(bar.action) * LANE, x, colours);
    for (const margin of margins) drawRoom(pen, margin, lanes.indexOf(margin.action) * LANE, x, colours);
  });
  let y = lanes.length * LANE + GAP;
  const named = strip.lines.at(-1);
  for (const line of strip.lines) {
    label(line.name, y + PHASES / 2, colourOf(line, colours));
    clipped(() => drawPhases(pen, line, y, x, span, colours));
    y += PHASES + 1;
  }
  if (named) clipped(() => nameEvents(pen, named, y + NAMES / 2, x, span, colours));
  y += NAMES + GAP;
  const each = (bottom - 14 - y) / CURVES.length;
  CURVES.forEach(([of, name], i) => {
    const top = y + i * each;
    const room = each - GAP;
    if (room < LOWEST) return;
    const drawn = strip.lines.map((line) => curveOf(line, of, strip));
    let [low, high] = [Math.min(...drawn.map((one) => one.low)), Math.max(...drawn.map((one) => one.high))];
    if (!(high - low > 1e-6)) [low, high] = Number.isFinite(low) ? [low - 1, low + 1] : [-1, 1];
    const at = (value: number): number => top + room - ((value - low) / (high - low)) * room;
    label(name, top + room / 2);
    pen.textAlign = 'left';
    pen.fillStyle = colours.ink;
    pen.fillText(said(high), right + 6, top + 5);
    pen.fillText(said(low), right + 6, top + room - 5);
    pen.strokeStyle = colours.faint;
    pen.lineWidth = 0.5;
    pen.beginPath();
    pen.moveTo(GUTTER, at(Math.max(low, Math.min(high, 0))));
    pen.lineTo(right, at(Math.max(low, Math.min(high, 0))));
    pen.stroke();
    clipped(() => {
      strip.lines.forEach((line, k) => {
        pen.save();
        pen.translate(x(strip.from), at(0));
        pen.scale((right - GUTTER) / (span.to - span.from), -room / (high - low));
        // A line is as wide both ways: the path is made in the page's pixels.
        const inPixels = new Path2D();
        inPixels.addPath(drawn[k]!.path, pen.getTransform());
        pen.resetTransform();
        pen.lineWidth = 1.8 * devicePixelRatio;
        pen.setLineDash(dashOf(line).map((length) => length * devicePixelRatio));
        pen.strokeStyle = colourOf(line, colours);
        pen.stroke(inPixels);
        pen.restore();
      });
    });
  });
  if (head === undefined || head < span.from || head > span.to) return;
  pen.strokeStyle = colours.mark;
  pen.lineWidth = 1.5;
  pen.beginPath();
  pen.moveTo(x(head), 0);
  pen.lineTo(x(head), bottom - 12);
  pen.stroke();
} // prettier-ignore

const curves = new WeakMap<object, Map<OverTime, Curve>>();

/** A curve of a line, from the first moment of the strip: made once, since pieces that change are others. */
function curveOf({ pieces }: StripLine, of: OverTime, { from, up }: Strip): Curve {
  let all = curves.get(pieces);
  if (!all) curves.set(pieces, (all = new Map()));
  let curve = all.get(of);
  if (curve) return curve;
  let [low, high] = [Infinity, -Infinity];
  const stretches = overTime(pieces, of, up, from);
  for (const [a, b] of stretches) {
    low = Math.min(low, a.y, b.y);
    high = Math.max(high, a.y, b.y);
    if (of !== 'height' || a.vy * b.vy >= 0) continue;
    // A height is highest where it turns round.
    const turn = a.y + ((b.time - a.time) * a.vy * a.vy) / (2 * (a.vy - b.vy));
    low = Math.min(low, turn);
    high = Math.max(high, turn);
  }
  curve = { low, high, path: new Path2D(pathOf(stretches, (px, py) => `${px - from},${py}`)) };
  all.set(of, curve);
  return curve;
}

function drawTimes(pen: CanvasRenderingContext2D, { rate }: Strip, span: Span, x: (time: number) => number, right: number, bottom: number, colours: Colours): void {
  const each = (right - GUTTER) / (span.to - span.from);
  const perSecond = Math.min(rate, FRAMES);
  pen.strokeStyle = colours.faint;
  if (each / perSecond >= FRAME) {
    pen.globalAlpha = 0.35;
    pen.lineWidth = 0.5;
    pen.beginPath();
    for (let k = Math.ceil(span.from * perSecond); k <= span.to * perSecond; k++) {
      pen.moveTo(x(k / perSecond), 0);
      pen.lineTo(x(k / perSecond), bottom - 14);
    }
    pen.stroke();
    pen.globalAlpha = 1;
  }
  const scale = scaleLinear([span.from, span.to], [GUTTER, right]);
  const ticks = scale.ticks(Math.max(2, Math.floor((right - GUTTER) / 80)));
  const format = scale.tickFormat(ticks.length);
  pen.lineWidth = 1;
  pen.textAlign = 'center';
  pen.fillStyle = colours.ink;
  for (const tick of ticks) {
    pen.beginPath();
    pen.moveTo(scale(tick), bottom - 14);
    pen.lineTo(scale(tick), bottom - 10);
    pen.stroke();
    if (scale(tick) < right - 12) pen.fillText(format(tick), scale(tick), bottom - 4);
  }
  pen.textAlign = 'left';
  pen.fillText('seconds', right + 6, bottom - 4);
} // prettier-ignore

function drawBar(pen: CanvasRenderingContext2D, { at, until, value }: Bar, top: number, x: (time: number) => number, colours: Colours): void {
  const height = (LANE - 4) * Math.min(1, Math.max(0.3, Math.abs(value)));
  pen.fillStyle = colours.edge;
  pen.beginPath();
  pen.roundRect(x(at), top + 2 + (LANE - 4 - height) / 2, Math.max(2, x(until) - x(at)), height, 3);
  pen.fill();
} // prettier-ignore

/** Within which a press may be moved, and its end: shaded room around both. */
function drawRoom(pen: CanvasRenderingContext2D, { at, press, hold }: PressMargin, top: number, x: (time: number) => number, colours: Colours): void {
  const room = (from: number | null, to: number | null, colour: string): void => {
    if (from === null || to === null) return;
    pen.fillStyle = colour;
    pen.globalAlpha = 0.45;
    pen.fillRect(x(from), top, Math.max(1, x(to) - x(from)), LANE);
    pen.globalAlpha = 1;
    pen.strokeStyle = colour;
    pen.lineWidth = 1;
    pen.strokeRect(x(from), top + 0.5, Math.max(1, x(to) - x(from)), LANE - 1);
  };
  room(press.earliest, press.latest, colours.mark);
  room(hold.least === null ? null : at + hold.least, hold.most === null ? null : at + hold.most, colours.before);
} // prettier-ignore

function drawPhases(pen: CanvasRenderingContext2D, { pieces, events }: StripLine, top: number, x: (time: number) => number, span: Span, colours: Colours): void {
  for (let i = 0, next = 0; i < pieces.length; i = next) {
    const { phase, from } = pieces[i]!;
    while (next < pieces.length && pieces[next]!.phase === phase) next++;
    const { until } = pieces[next - 1]!;
    if (until < span.from || from > span.to) continue;
    const [left, right] = [Math.max(x(from), GUTTER), Math.min(x(until), x(span.to))];
    pen.fillStyle = phaseColour(phase, colours);
    pen.globalAlpha = phase === 'ground' ? 0.2 : 0.32;
    pen.fillRect(left, top, right - left, PHASES);
    pen.globalAlpha = 1;
    if (right - left < pen.measureText(phase).width + 6) continue;
    pen.fillStyle = colours.ink;
    pen.textAlign = 'left';
    pen.fillText(phase, left + 3, top + PHASES / 2 + 0.5);
  }
  pen.fillStyle = colours.ink;
  for (const { time } of events) if (time >= span.from && time <= span.to) pen.fillRect(x(time) - 0.75, top - 1, 1.5, PHASES + 2);
} // prettier-ignore

function nameEvents(pen: CanvasRenderingContext2D, { events }: StripLine, y: number, x: (time: number) => number, span: Span, colours: Colours): void {
  let free = -Infinity;
  pen.fillStyle = colours.ink;
  pen.textAlign = 'left';
  for (const { event, time } of events) {
    if (time < span.from || time > span.to || x(time) < free) continue;
    pen.fillText(event, x(time) + 1, y);
    free = x(time) + pen.measureText(event).width + 8;
  }
} // prettier-ignore

const colourOf = ({ as }: StripLine, colours: Colours): string => (as === 'after' ? colours.after : as === 'before' ? colours.before : colours.ghosts[as]!); // prettier-ignore

const dashOf = ({ as }: StripLine): readonly number[] => (as === 'after' ? [] : as === 'before' ? [6, 4] : DASHES[as]!);

const said = (value: number): string => String(Math.abs(value) < 1e-6 ? 0 : Number(value.toPrecision(3)));
