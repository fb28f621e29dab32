import * as Plot from '@observablehq/plot';
import type { InputRow, Level, StageEvent, Trace, TraceRow } from '../core/index.js';
import { remark } from '../lab/index.js';
import { FAINT, HEIGHT, INK, WIDTH, compose, cut, document, look, short } from './frame.js';

const MARGIN = { left: 56, right: 24, top: 16, bottom: 44 };
const TOP = 76;
const STONE = '#b9c0bd';
const GRATING = '#8a6f3c';

/** A box in the level's own axes. */
interface Box {
  x1: number;
  x2: number;
  y1: number;
  y2: number;
}

/** The part of a level to show, and how. */
interface View {
  x: [number, number];
  y: [number, number];
  tile: number;
  /** Units per pixel. */
  pixel: number;
}

/** Runs of one mark in the rows, as boxes. */
function boxes(level: Level, mark: string): Box[] {
  const { rows, tile = 1, origin = [0, 0], yPoints = 'down' } = level;
  const found: Box[] = [];
  rows.forEach((text, row) => {
    for (const run of text.matchAll(new RegExp(`\\${mark}+`, 'g'))) {
      const [above, below] = yPoints === 'down' ? [row, row + 1] : [rows.length - row, rows.length - row - 1];
      found.push({
        x1: origin[0] + run.index * tile,
        x2: origin[0] + (run.index + run[0].length) * tile,
        y1: origin[1] + above * tile,
        y2: origin[1] + below * tile,
      });
    }
  });
  return found;
}

/** The whole of a level. */
function extent({ rows, tile = 1, origin = [0, 0] }: Level): Box {
  const width = Math.max(1, ...rows.map((row) => row.length)) * tile;
  return { x1: origin[0], x2: origin[0] + width, y1: origin[1], y2: origin[1] + rows.length * tile };
}

/** The same scale across and up, with the box in the middle. */
function viewOf({ x1, x2, y1, y2 }: Box, level: Level): View {
  const across = WIDTH - MARGIN.left - MARGIN.right;
  const up = HEIGHT - TOP - MARGIN.top - MARGIN.bottom;
  const pixel = Math.max((x2 - x1) / across, (y2 - y1) / up);
  const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
  const low = y - (up * pixel) / 2;
  const high = y + (up * pixel) / 2;
  return {
    x: [x - (across * pixel) / 2, x + (across * pixel) / 2],
    y: level.yPoints === 'up' ? [low, high] : [high, low],
    tile: level.tile ?? 1,
    pixel,
  };
}

function plot(view: View, marks: Plot.Markish[]): Element {
  return Plot.plot({
    document,
    width: WIDTH,
    height: HEIGHT - TOP,
    marginLeft: MARGIN.left,
    marginRight: MARGIN.right,
    marginTop: MARGIN.top,
    marginBottom: MARGIN.bottom,
    style: { fontSize: '13px', fontFamily: 'inherit' },
    x: { domain: view.x, nice: false, label: 'x, units →', labelAnchor: 'right' },
    y: { domain: view.y, nice: false, label: null, ticks: 9 },
    marks: [Plot.frame({ stroke: '#e4e8ea' }), ...marks],
  });
}

/** Solid cells, gratings, and the places to start from. */
function ground(level: Level, view: View, names: boolean): Plot.Markish[] {
  const thin = 5 * view.pixel * (level.yPoints === 'up' ? -1 : 1);
  const gratings = boxes(level, '=').map((box) => ({ ...box, y2: box.y1 + thin }));
  const spawns = startsOf(level);
  const sides = { x1: 'x1', x2: 'x2', y1: 'y1', y2: 'y2', clip: true } as const;
  return [
    Plot.rect(boxes(level, '#'), { ...sides, fill: STONE, stroke: STONE, strokeWidth: 0.5 }),
    Plot.rect(gratings, { ...sides, fill: GRATING }),
    ...(names
      ? [
          Plot.dot(spawns, { x: 'x', y: 'y', r: 4, fill: '#fff', stroke: look(1).stroke, strokeWidth: 2, clip: true }),
          ...spawnNames(spawns, view),
        ]
      : []),
  ];
}

const HALO = { stroke: '#fff', strokeWidth: 4 };

/** The places to start from, the one marked in the rows as well. */
function startsOf(level: Level): { name: string; x: number; y: number }[] {
  const named = Object.entries(level.spawns ?? {}).map(([name, { at }]) => ({ name, x: at[0], y: at[1] }));
  const [marked] = boxes(level, '@');
  if (marked && !named.some(({ name }) => name === 'start'))
    named.unshift({ name: 'start', x: marked.x1 + (level.tile ?? 1) / 2, y: marked.y2 });
  return named;
}

/** Names above their dots, raised where the one before is too near. */
function spawnNames(spawns: readonly { name: string; x: number; y: number }[], { pixel }: View): Plot.Markish[] {
  let before = { right: -Infinity, y: NaN, raised: 0 };
  return [...spawns]
    .sort((a, b) => a.y - b.y || a.x - b.x)
    .map((spawn) => {
      const half = spawn.name.length * 4.5;
      const crowded = spawn.y === before.y && spawn.x / pixel - half < before.right;
      const raised = crowded ? before.raised + 16 : 0;
      before = { right: spawn.x / pixel + half, y: spawn.y, raised };
      return Plot.text([spawn], {
        x: 'x',
        y: 'y',
        text: 'name',
        dy: -13 - raised,
        fill: look(1).stroke,
        fontSize: 14,
        ...HALO,
      });
    });
}

/** A level: what is solid, gratings, and where one starts. */
export function levelFigure(level: Level): string {
  const { x1, x2, y1, y2 } = extent(level);
  const margin = level.tile ?? 1;
  const view = viewOf({ x1: x1 - margin, x2: x2 + margin, y1: y1 - margin, y2: y2 + margin }, level);
  const title = level.title ?? 'A level';
  const size = `${short(x2 - x1)} by ${short(y2 - y1)} units, y points ${level.yPoints ?? 'down'}`;
  const described = `${size}. Grey is solid, brown is one-way ground; the dots are where one can start.`;
  return compose(title, described, [{ plot: plot(view, ground(level, view, true)), x: 0, y: TOP }]);
}

/** Events that are marked on the way, and how near in time the same kind is marked once only, s. */
const MARKED: readonly string[] = [
  'takeoff', 'touchdown', 'bump', 'corner', 'lip', 'cling', 'hang', 'climbed', 'glideOn', 'glideOff', 'dropThrough', 'stuck',
]; // prettier-ignore
/** Between two outlines of the body, s. */
const INTERVAL = 0.15;

/**
 * The way of a character through a level: where its feet went, the body at intervals, what happened, and where keys were pressed.
 * @param about who it was, for the title
 */
export function traceFigure(
  level: Level,
  trace: Pick<Trace, 'rows' | 'events'>,
  input: readonly InputRow[],
  about: string,
): string {
  const { rows } = trace;
  const tallest = Math.max(...rows.map(({ height }) => height));
  const margin = 2.5 * tallest;
  const xs = rows.map(({ x }) => x);
  const ys = rows.map(({ y }) => y);
  const all = extent(level);
  // No more of the level than there is, and no less than the way through it.
  const seen = {
    x1: Math.min(...xs, Math.max(all.x1, Math.min(...xs) - margin)),
    x2: Math.max(...xs, Math.min(all.x2, Math.max(...xs) + margin)),
    y1: Math.min(...ys, Math.max(all.y1, Math.min(...ys) - margin)),
    y2: Math.max(...ys, Math.min(all.y2, Math.max(...ys) + margin)),
  };
  const view = viewOf(seen, level);
  const up = level.yPoints === 'up' ? 1 : -1;
  let next = 0;
  const outlines = rows.filter(({ time }) => time >= next && (next = time + INTERVAL) > 0);
  const events = trace.events.filter(({ event }) => MARKED.includes(event!));
  const presses = input.filter(({ action, value }) => action !== 'host' && action !== 'move' && value > 0);
  const { stroke } = look(0);
  const marks: Plot.Markish[] = [
    ...ground(level, view, false),
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
    Plot.line(rows, { x: 'x', y: 'y', stroke, strokeWidth: 2.4, clip: true }),
    Plot.dot(
      presses.map((press) => ({ ...press, ...placeAt(rows, press.time) })),
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
  const described = `${short(last.time)} s. The line is the way of the feet, outlines every ${INTERVAL} s; triangles are presses${presses.length > 0 ? ` (${[...new Set(presses.map(({ action }) => action))].join(', ')})` : ''}.`;
  return compose(`${about} in ${level.title ?? 'a level'}`, described, [{ plot: plot(view, marks), x: 0, y: TOP }]);
}

/** Where the feet were at a moment. */
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
