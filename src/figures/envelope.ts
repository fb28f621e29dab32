import * as Plot from '@observablehq/plot';
import type { ArcCurve, Arcs, Envelope } from 'apperin/lab';
import { curve } from './curve.js';
import { FAINT, HEIGHT, INK, WIDTH, compose, document, look, short } from './frame.js';
import { between, filled, outlined, stretchesOf } from './path.js';
import { HALO, drawn } from './view.js';

const MARGIN = { left: 64, right: 24, top: 16, bottom: 56 };
const TOP = 76;

/**
 * Everything that the feet can reach from one takeoff, to scale: filled, with its outline, the floor that it starts from, and the full jump and the tap at run speed, each with its air
 * jumps at the top of the jump before.
 * @example
 * ```ts
 * envelopeFigure(envelope(brindle), arcs('brindle', brindle))
 * ```
 */
export function envelopeFigure(found: Envelope, { name, full, tap, air, motion }: Arcs): string {
  const { bands, start, highest, farthest, exact, cut, below, flights } = found;
  const sides = bands.flatMap(({ spans }) => spans.flatMap(({ left, right }) => [...left, ...right]));
  const margin = motion.full.tile / 4;
  const ways = flights.map(({ pieces, rows }) => stretchesOf(pieces, rows[rows.length - 1]!.time));
  const beyond = ways.flat(2);
  const box = { x1: sides.reduce((least, { x }) => Math.min(least, x), 0) - margin, x2: [...sides, ...beyond].reduce((most, { x }) => Math.max(most, x), 0) + margin, y1: -below - margin, y2: beyond.reduce((most, { y }) => Math.max(most, y), highest) + motion.height };
  const [across, up] = [WIDTH - MARGIN.left - MARGIN.right, HEIGHT - TOP - MARGIN.top - MARGIN.bottom];
  const pixel = Math.max((box.x2 - box.x1) / across, (box.y2 - box.y1) / up);
  const x1 = (box.x1 + box.x2 - across * pixel) / 2;
  const line = (one: ArcCurve, width: number, dash: string): Plot.Markish =>
    curve(one.stretches.flatMap(({ knots }) => between(knots.map((knot) => ({ ...knot, x: knot.x + start })))), { stroke: look(0).stroke, 'stroke-width': width, 'stroke-dasharray': dash });
  // Near the right side a label stands to the left of its place.
  const label = (x: number, y: number, text: string, dy = -12): Plot.Markish =>
    Plot.text([{ x, y }], { x: 'x', y: 'y', text: () => text, dy, fontSize: 13, fill: INK, textAnchor: x > x1 + (across - 120) * pixel ? 'end' : 'middle', ...HALO });
  const top = sides.filter(({ y }) => y >= highest - 1e-9);
  const least = Math.min(...top.map(({ x }) => x));
  const most = Math.max(...top.map(({ x }) => x));
  const plot = Plot.plot({
    document,
    width: WIDTH,
    height: HEIGHT - TOP,
    marginLeft: MARGIN.left,
    marginRight: MARGIN.right,
    marginTop: MARGIN.top,
    marginBottom: MARGIN.bottom,
    style: { fontSize: '13px', fontFamily: 'inherit' },
    x: { domain: [x1, x1 + across * pixel], label: 'across from the edge, units →', labelAnchor: 'right', nice: false },
    y: { domain: [box.y1, box.y1 + up * pixel], label: null, ticks: 9, nice: false },
    marks: [
      drawn((at) => filled(found, at), { fill: '#cfdde4' }),
      Plot.rect([{}], { x1, x2: 0, y1: box.y1, y2: 0, fill: '#b9c0bd', clip: true }),
      Plot.ruleY([0], { stroke: FAINT, strokeDasharray: '3 4' }),
      drawn((at) => outlined(found, at), { fill: 'none', stroke: '#6f8fa1', 'stroke-width': 1.5 }),
      line(full, 2.6, ''),
      line(tap, 1.8, '7 4'),
      ...ways.map((way) => curve(way, { stroke: look(2).stroke, 'stroke-width': 0.8, 'stroke-opacity': 0.6 })),
      ...air.map((curve) => line(curve, 2, '2 4')),
      label(full.apex.x + start, full.apex.y, `full jump ${short(full.apex.y)}`, highest > full.apex.y + 1e-6 ? -12 : 18),
      label((least + most) / 2, highest, `highest ${short(highest)}`),
      label(farthest, 0, `as far as ${short(farthest)} at this height`, 18),
    ],
  });
  const own = [...new Set(flights.map(({ action }) => action))].join(' or ');
  const bound = exact ? 'Every place within is reached, none outside' : 'Nothing outside is reached; the outline itself hardly';
  const lines = own === '' ? 'Lines: full jump, tap (dashed), air jumps (dotted).' : `Thin: with one press of ${own}, as played; more may be reached.`;
  return compose(`Envelope: ${name}`, `${bound}${cut ? ' (what flies on for longer is not followed)' : ''}${own === '' ? '' : `, without ${own}`}. ${lines}`, [{ plot, x: 0, y: TOP }]);
} // prettier-ignore
