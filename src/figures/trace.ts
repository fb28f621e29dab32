import * as Plot from '@observablehq/plot';
import { placeIn, type InputRow, type StageEvent, type Trace, type TracePiece, type TraceRow } from 'apperin';
import { remark } from 'apperin/lab';
import { curve } from './curve.js';
import { stretchesOf } from './path.js';
import { FAINT, INK, compose, cut, look, short } from './frame.js';
import { ground } from './ground.js';
import { moverTrail } from './movers.js';
import { HALO, TOP, compiledOf, plot, viewOf, wayThrough, type AnyLevel, type View } from './view.js';

/** Events that are marked on the way, and how near in time the same kind is marked once only, s. */
const MARKED: readonly string[] = [
  'takeoff', 'touchdown', 'bump', 'corner', 'lip', 'cling', 'hang', 'climbed', 'glideOn', 'glideOff', 'dropThrough', 'stuck', 'board', 'alight', 'pushed', 'crushed',
]; // prettier-ignore
/** Between two outlines of the body, s. */
const INTERVAL = 0.15;

/**
 * The way of a character through a level: where its feet went, the body at intervals, what happened, and where keys were pressed. With its pieces of motion the
 * way is drawn exactly; without, from row to row.
 * @param about who it was, for the title
 * @example
 * ```ts
 * traceFigure(mill.level, play({ level: openGround(), tuning: brindle, input: rows, seconds: 3 }), rows, 'brindle')
 * ```
 */
export function traceFigure(
  any: AnyLevel,
  trace: Pick<Trace, 'rows' | 'events'> & { pieces?: readonly TracePiece[] },
  input: readonly InputRow[],
  about: string,
): string {
  const level = compiledOf(any);
  const { rows, pieces = [] } = trace;
  const view = viewOf(wayThrough(level, rows), level);
  const up = level.yPoints === 'up' ? 1 : -1;
  let next = 0;
  const outlines = rows.filter(({ time }) => time >= next && (next = time + INTERVAL) > 0);
  const events = trace.events.filter(({ event }) => MARKED.includes(event!));
  const presses = input.filter(({ action, value }) => action !== 'host' && action !== 'move' && value > 0);
  const { stroke } = look(0);
  const marks: Plot.Markish[] = [
    ...ground(level, view, false),
    ...moverTrail(
      level,
      outlines.map(({ moved }) => moved),
    ),
    Plot.rect(outlines, {
      x1: (row: TraceRow) => row.x - row.width / 2,
      x2: (row: TraceRow) => row.x + row.width / 2,
      y1: 'y',
      y2: (row: TraceRow) => row.y + up * row.height,
      stroke: FAINT,
      strokeWidth: 1,
      fill: 'none',
      clip: true,
    }),
    pieces.length > 0
      ? curve(stretchesOf(pieces), { stroke, 'stroke-width': 2.4 })
      : Plot.line(rows, { x: 'x', y: 'y', stroke, strokeWidth: 2.4, clip: true }),
    Plot.dot(
      presses.map((press) => ({ ...press, ...(placeOn(pieces, press.time) ?? placeAt(rows, press.time)) })),
      {
        x: 'x',
        y: 'y',
        symbol: 'triangle',
        r: 5,
        fill: look(1).stroke,
      },
    ),
    Plot.dot(events, { x: 'x', y: 'y', r: 4, fill: '#fff', stroke, strokeWidth: 2 }),
    ...labels(events, view),
  ];
  const last = rows[rows.length - 1]!;
  const described = `${short(last.time)} s. The line is the way of the feet, outlines every ${INTERVAL} s${level.movers.length > 0 ? ' (those of movers at the same moments)' : ''}; triangles are presses${presses.length > 0 ? ` (${[...new Set(presses.map(({ action }) => action))].join(', ')})` : ''}.`;
  return compose(`${about} in ${level.title || 'a level'}`, described, [{ plot: plot(view, marks), x: 0, y: TOP }]);
}

/** Where the feet were at a moment; nothing where that is in none of the pieces. */
function placeOn(pieces: readonly TracePiece[], time: number): { x: number; y: number } | undefined {
  const piece = pieces.find(({ from, until }) => time >= from && time <= until);
  return piece && placeIn(piece, time);
}

/** Where the feet were at a moment, between two rows. */
function placeAt(rows: readonly TraceRow[], time: number): { x: number; y: number } {
  const after = rows.findIndex((row) => row.time >= time);
  const to = rows[after < 0 ? rows.length - 1 : after]!;
  const from = rows[Math.max(0, after - 1)]!;
  const share = to.time > from.time ? Math.min(1, (time - from.time) / (to.time - from.time)) : 0;
  return { x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share };
}

/** Names of events, each beside its mark, pushed away from those already there. */
function labels(events: readonly Partial<StageEvent>[], { pixel, y }: View): Plot.Markish[] {
  const down = y[0] > y[1] ? 1 : -1;
  const placed: { x: number; y: number }[] = [];
  return events.map((event) => {
    const name = event.event === 'takeoff' ? `takeoff, ${remark(event).replace('by ', '')}` : event.event!;
    const at = { x: event.x! / pixel + 9, y: (event.y! * down) / pixel - 10 };
    while (placed.some((other) => Math.abs(other.y - at.y) < 15 && Math.abs(other.x - at.x) < 130)) at.y -= 15;
    placed.push(at);
    return Plot.text([event], {
      x: 'x',
      y: 'y',
      text: () => cut(name, 24),
      dx: 9,
      dy: at.y - (event.y! * down) / pixel,
      textAnchor: 'start',
      fontSize: 12.5,
      fill: INK,
      ...HALO,
    });
  });
}
