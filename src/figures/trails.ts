import * as Plot from '@observablehq/plot';
import type { InputRow, Trace, TracePiece, TraceRow } from 'apperin';
import { curve } from './curve.js';
import { compose, cutName, nameList, look, short } from './frame.js';
import { ground } from './ground.js';
import { stretchesOf } from './path.js';
import { HALO, TOP, compiledOf, plot, viewOf, wayThrough, type AnyLevel } from './view.js';

/** Between two outlines of the body, s. */
const INTERVAL = 0.3;

/** The ways of several characters through a level, on the same input. */
export interface Trail {
  name: string;
  trace: Pick<Trace, 'rows'> & { pieces?: readonly TracePiece[] };
}

/**
 * Several ways through a level over each other: where the feet went, each named at its end, the body at intervals, and where each was when keys were pressed.
 * @param trails one to six
 * @example
 * ```ts
 * trailsFigure(mill.level, [], rows)
 * ```
 */
export function trailsFigure(any: AnyLevel, trails: readonly Trail[], input: readonly InputRow[]): string {
  if (trails.length < 1 || trails.length > 6)
    throw new RangeError(`a figure of trails shows one to six, not ${trails.length}`);
  const level = compiledOf(any);
  const view = viewOf(
    wayThrough(
      level,
      trails.flatMap(({ trace }) => trace.rows),
    ),
    level,
  );
  const up = level.yPoints === 'up' ? 1 : -1;
  const presses = input.filter(({ action, value }) => action !== 'host' && action !== 'move' && value > 0);
  // Names stand below the ends of their ways, one under the other where these are near each other.
  const placed: { x: number; y: number }[] = [];
  const marks = trails.flatMap(({ name, trace: { rows, pieces = [] } }, k): Plot.Markish[] => {
    const { stroke, dash } = look(k);
    let next = 0;
    const outlines = rows.filter(({ time }) => time >= next && (next = time + INTERVAL) > 0);
    const end = rows[rows.length - 1]!;
    // Above where there is no room below.
    const low = Math.min(view.y[0] * up, view.y[1] * up);
    const way = (end.y * up - low) / view.pixel < 24 + 17 * trails.length ? -1 : 1;
    const at = { x: end.x / view.pixel, y: (-end.y * up) / view.pixel + 24 * way };
    while (placed.some((other) => Math.abs(other.y - at.y) < 17 && Math.abs(other.x - at.x) < 160)) at.y += 17 * way;
    placed.push(at);
    return [
      Plot.rect(outlines, {
        x1: (row: TraceRow) => row.x - row.width / 2,
        x2: (row: TraceRow) => row.x + row.width / 2,
        y1: 'y',
        y2: (row: TraceRow) => row.y + up * row.height,
        stroke,
        strokeOpacity: 0.35,
        fill: 'none',
        clip: true,
      }),
      pieces.length > 0
        ? curve(stretchesOf(pieces), { stroke, 'stroke-width': 2.4, 'stroke-dasharray': dash })
        : Plot.line(rows, { x: 'x', y: 'y', stroke, strokeWidth: 2.4, strokeDasharray: dash, clip: true }),
      Plot.dot(
        presses.map(({ time }) => rows.find((row) => row.time >= time) ?? end),
        { x: 'x', y: 'y', symbol: 'triangle', r: 4, fill: stroke },
      ),
      Plot.dot([end], { x: 'x', y: 'y', r: 4, fill: '#fff', stroke, strokeWidth: 2 }),
      Plot.text([end], {
        x: 'x',
        y: 'y',
        text: () => cutName(name, 24),
        dy: at.y + (end.y * up) / view.pixel,
        textAnchor: end.x > view.x[1] - 150 * view.pixel ? 'end' : 'start',
        fontSize: 13.5,
        fontWeight: 'bold',
        fill: stroke,
        ...HALO,
      }),
    ];
  });
  const last = Math.max(...trails.map(({ trace }) => trace.rows[trace.rows.length - 1]!.time));
  return compose(
    `${nameList(trails.map(({ name }) => name))} in ${level.title || 'a level'}`,
    `The same input for ${short(last)} s: the ways of the feet, outlines every ${INTERVAL} s, triangles where keys are pressed.`,
    [{ plot: plot(view, [...ground(level, view, false), ...marks]), x: 0, y: TOP }],
  );
}
