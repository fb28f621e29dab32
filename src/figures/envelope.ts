import * as Plot from '@observablehq/plot';
import type { ArcCurve, Arcs, Envelope } from 'apperin/lab';
import { FAINT, HEIGHT, INK, WIDTH, compose, document, look, short } from './frame.js';
import { HALO } from './view.js';

const MARGIN = { left: 64, right: 24, top: 16, bottom: 56 };
const TOP = 76;

/**
 * Everything that the feet can reach from one takeoff, to scale: the cells, the floor that it starts from, and the full jump and the tap at run speed, each with its air
 * jumps at the top of the jump before.
 */
export function envelopeFigure({ cells, cell, cut }: Envelope, { name, full, tap, air, motion }: Arcs): string {
  const columns = cells.map(({ column }) => column);
  const rows = cells.map(({ row }) => row);
  const least = (values: readonly number[]): number => values.reduce((a, b) => Math.min(a, b), 0) * cell;
  const most = (values: readonly number[]): number => (values.reduce((a, b) => Math.max(a, b), 0) + 1) * cell;
  const box = { x1: least(columns) - cell, x2: most(columns) + cell, y1: least(rows) - cell, y2: most(rows) + motion.height };
  const [across, up] = [WIDTH - MARGIN.left - MARGIN.right, HEIGHT - TOP - MARGIN.top - MARGIN.bottom];
  const pixel = Math.max((box.x2 - box.x1) / across, (box.y2 - box.y1) / up);
  const x1 = (box.x1 + box.x2 - across * pixel) / 2;
  const runs = cells.reduce<{ row: number; from: number; to: number }[]>((found, { column, row }) => {
    const last = found[found.length - 1];
    if (last?.row === row && last.to === column) last.to++;
    else found.push({ row, from: column, to: column + 1 });
    return found;
  }, []);
  const line = (curve: ArcCurve, width: number, dash: string): Plot.Markish =>
    Plot.line(curve.stretches.flatMap(({ points }) => points), { x: 'x', y: 'y', stroke: look(0).stroke, strokeWidth: width, strokeDasharray: dash, clip: true });
  // Near the right side a label stands to the left of its place.
  const label = (x: number, y: number, text: string, dy = -12): Plot.Markish =>
    Plot.text([{ x, y }], { x: 'x', y: 'y', text: () => text, dy, fontSize: 13, fill: INK, textAnchor: x > x1 + (across - 120) * pixel ? 'end' : 'middle', ...HALO });
  const highest = cells.reduce((best, one) => (one.row > best.row ? one : best), cells[0] ?? { column: 0, row: 0, time: 0 });
  const farthest = cells.reduce((best, one) => (one.row === 0 && one.column > best.column ? one : best), { column: 0, row: 0, time: 0 });
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
      Plot.rect(runs, { x1: ({ from }) => from * cell, x2: ({ to }) => to * cell, y1: ({ row }) => row * cell, y2: ({ row }) => (row + 1) * cell, fill: '#cfdde4', inset: -0.4, clip: true }),
      Plot.rect([{}], { x1, x2: 0, y1: box.y1, y2: 0, fill: '#b9c0bd', clip: true }),
      Plot.ruleY([0], { stroke: FAINT, strokeDasharray: '3 4' }),
      line(full, 2.6, ''),
      line(tap, 1.8, '7 4'),
      ...air.map((curve) => line(curve, 2, '2 4')),
      label(full.apex.x, full.apex.y, `full jump ${short(full.apex.y)}`),
      label((highest.column + 0.5) * cell, (highest.row + 1) * cell, `highest cell ${short((highest.row + 1) * cell)}`),
      label((farthest.column + 0.5) * cell, 0, `as far as ${short((farthest.column + 1) * cell)} at this height`, 18),
    ],
  });
  const description = `A lower bound, ${cut ? 'of a search cut short' : 'by search'}: ${cells.length} cells of ${short(cell)} units. Lines: full jump, tap (dashed), air jumps (dotted).`;
  return compose(`Envelope: ${name}`, description, [{ plot, x: 0, y: TOP }]);
} // prettier-ignore
