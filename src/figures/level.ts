import * as Plot from '@observablehq/plot';
import {
  compileLevel,
  compileOutlines,
  type CompiledLevel,
  type DrawnLevel,
  type InputRow,
  type Level,
  type StageEvent,
  type Trace,
  type TraceRow,
} from '../core/index.js';
import { remark } from '../lab/index.js';
import { FAINT, HEIGHT, INK, WIDTH, compose, cut, document, look, short } from './frame.js';

const MARGIN = { left: 56, right: 24, top: 16, bottom: 44 };
const TOP = 76;
const STONE = '#b9c0bd';
const GRATING = '#8a6f3c';

/** A level, compiled or as it was written. */
export type AnyLevel = CompiledLevel | Level | DrawnLevel;

function compiledOf(level: AnyLevel): CompiledLevel {
  if ('terrain' in level) return level;
  return 'outlines' in level ? compileOutlines(level) : compileLevel(level);
}

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
  /** Units per pixel. */
  pixel: number;
  /** Of the picture, pixels. */
  height: number;
}

/** The whole of a level. */
function extent({ extent: { x, y, width, height } }: CompiledLevel): Box {
  return { x1: x, x2: x + (width || 1), y1: y, y2: y + (height || 1) };
}

/** The same scale across and up, with the box in the middle. */
function viewOf({ x1, x2, y1, y2 }: Box, level: CompiledLevel, whole = HEIGHT - TOP): View {
  const across = WIDTH - MARGIN.left - MARGIN.right;
  const up = whole - MARGIN.top - MARGIN.bottom;
  const pixel = Math.max((x2 - x1) / across, (y2 - y1) / up);
  const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
  const low = y - (up * pixel) / 2;
  const high = y + (up * pixel) / 2;
  return {
    x: [x - (across * pixel) / 2, x + (across * pixel) / 2],
    y: level.yPoints === 'up' ? [low, high] : [high, low],
    pixel,
    height: whole,
  };
}

function plot(view: View, marks: Plot.Markish[]): Element {
  return Plot.plot({
    document,
    width: WIDTH,
    height: view.height,
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

/** A shape in the picture's own pixels, drawn by hand: `at` takes a place of the level there. */
function drawn(
  make: (at: (x: number, y: number) => string) => string,
  style: Record<string, string | number>,
): Plot.RenderFunction {
  return (_, scales, __, dimensions) => {
    const { x, y } = scales as unknown as { x: (value: number) => number; y: (value: number) => number };
    const path = document.createElementNS('http://www.w3.org/2000/svg', 'path');
    path.setAttribute(
      'd',
      make((px, py) => `${x(px).toFixed(2)},${y(py).toFixed(2)}`),
    );
    for (const [name, value] of Object.entries(style)) path.setAttribute(name, String(value));
    // Nothing of it outside the frame. Pictures of one size share the frame's name.
    const element = (tag: string): Element => document.createElementNS('http://www.w3.org/2000/svg', tag);
    const frame = element('rect');
    const { marginLeft, marginTop, width, height, marginRight, marginBottom } = dimensions;
    const box = {
      x: marginLeft,
      y: marginTop,
      width: width - marginLeft - marginRight,
      height: height - marginTop - marginBottom,
    };
    for (const [name, value] of Object.entries(box)) frame.setAttribute(name, String(value));
    const clip = element('clipPath');
    const id = `frame-${Math.round(box.width)}-${Math.round(box.height)}`;
    clip.setAttribute('id', id);
    clip.append(frame);
    path.setAttribute('clip-path', `url(#${id})`);
    const group = element('g');
    group.append(clip, path);
    return group as unknown as SVGElement;
  };
}

/** Closed runs of edges, as rings; of one-sided ground and lines the edges one by one. */
function rings({ terrain, yPoints }: CompiledLevel): {
  rings: number[][];
  lines: { e: number; points: [number, number, number, number] }[];
} {
  const up = yPoints === 'up' ? 1 : -1;
  const { x1, y1, x2, y2, next, form, boundsFrom } = terrain;
  const seen = new Uint8Array(terrain.count);
  const found: number[][] = [];
  const lines: { e: number; points: [number, number, number, number] }[] = [];
  for (let e = 0; e < boundsFrom; e++) {
    if (form[e] !== 0) lines.push({ e, points: [x1[e]!, y1[e]! * up, x2[e]!, y2[e]! * up] });
    if (form[e] !== 0 || seen[e] === 1) continue;
    const ring: number[] = [];
    for (let k = e; k >= 0 && seen[k] === 0; k = next[k]!) {
      seen[k] = 1;
      ring.push(x1[k]!, y1[k]! * up);
    }
    found.push(ring);
  }
  return { rings: found, lines };
}

/** Solids, one-way ground, lines, surfaces and zones, and the places to start from. */
function ground(level: CompiledLevel, view: View, names: boolean, edges = false): Plot.Markish[] {
  const { terrain } = level;
  const up = level.yPoints === 'up' ? 1 : -1;
  const isSeen = (x: number): boolean => x >= view.x[0] && x <= view.x[1];
  const spawns = [...level.spawns].map(([name, { x, y }]) => ({ name, x, y })).filter(({ x }) => isSeen(x));
  const { rings: outlines, lines } = rings(level);
  const pairs = (ring: readonly number[], at: (x: number, y: number) => string): string => {
    const points: string[] = [];
    for (let i = 0; i < ring.length; i += 2) points.push(at(ring[i]!, ring[i + 1]!));
    return `M${points.join('L')}Z`;
  };
  const segments = (
    list: readonly (readonly [number, number, number, number])[],
    at: (x: number, y: number) => string,
  ): string => list.map(([ax, ay, bx, by]) => `M${at(ax, ay)}L${at(bx, by)}`).join('');
  const marks: Plot.Markish[] = [];
  for (const zone of level.zones)
    marks.push(
      drawn(
        (at) =>
          zone.pieces
            .map(({ corners }) =>
              pairs(
                [...corners].map((value, i) => (i % 2 === 1 ? value * up : value)),
                at,
              ),
            )
            .join(''),
        { fill: look(2).stroke, 'fill-opacity': 0.13 },
      ),
    );
  marks.push(
    drawn((at) => outlines.map((ring) => pairs(ring, at)).join(''), {
      fill: STONE,
      'fill-rule': 'evenodd',
      stroke: STONE,
      'stroke-width': 0.5,
    }),
  );
  const ofForm = (one: (form: number) => boolean): [number, number, number, number][] =>
    lines.filter(({ e }) => one(terrain.form[e]!)).map(({ points }) => points);
  marks.push(
    drawn(
      (at) =>
        segments(
          ofForm((form) => form === 3),
          at,
        ),
      { stroke: GRATING, 'stroke-width': 5, fill: 'none' },
    ),
  );
  marks.push(
    drawn(
      (at) =>
        segments(
          ofForm((form) => form === 1 || form === 2),
          at,
        ),
      { stroke: '#7d8683', 'stroke-width': 3.5, fill: 'none' },
    ),
  );
  marks.push(...surfaces(level, view, up));
  if (edges) marks.push(...edgeMarks(level, view, up));
  if (!names) return marks;
  for (const zone of level.zones) {
    const left = Math.min(...zone.pieces.map((piece) => piece.left));
    const top = Math.max(...zone.pieces.map((piece) => piece.top)) * up;
    if (!isSeen(left)) continue;
    const text = [zone.name, ...zone.tags.map((tag) => `#${tag}`)].join(' ');
    marks.push(
      Plot.text([{ x: left, y: top }], {
        x: 'x',
        y: 'y',
        text: () => text,
        textAnchor: 'start',
        dx: 4,
        dy: 12,
        fontSize: 12.5,
        fill: look(2).stroke,
        ...HALO,
      }),
    );
  }
  return [
    ...marks,
    Plot.dot(spawns, { x: 'x', y: 'y', r: 4, fill: '#fff', stroke: look(1).stroke, strokeWidth: 2, clip: true }),
    ...spawnNames(spawns, view),
  ];
}

/** Ground with a surface: a line along it, its name at its longest stretch. */
function surfaces({ terrain, surfaces: list }: CompiledLevel, view: View, up: number): Plot.Markish[] {
  return list.slice(1).flatMap(({ name }, i) => {
    const edges: number[] = [];
    for (let e = 0; e < terrain.boundsFrom; e++)
      if (terrain.styles[terrain.style[e]!]!.surface === i + 1 && terrain.ny[e]! > 0) edges.push(e);
    if (edges.length === 0) return [];
    const { x1, y1, x2, y2 } = terrain;
    const length = (e: number): number => x2[e]! - x1[e]!;
    const middle = (e: number): number => (x1[e]! + x2[e]!) / 2;
    const longest = edges.reduce((best, e) => (length(e) > length(best) ? e : best), edges[0]!);
    const named = middle(longest) >= view.x[0] && middle(longest) <= view.x[1];
    const { stroke, dash } = look(i + 3);
    return [
      drawn((at) => edges.map((e) => `M${at(x1[e]!, y1[e]! * up)}L${at(x2[e]!, y2[e]! * up)}`).join(''), {
        stroke,
        'stroke-width': 3,
        fill: 'none',
        ...(dash ? { 'stroke-dasharray': dash } : {}),
      }),
      Plot.text(named ? [0] : [], {
        x: () => middle(longest),
        y: () => ((y1[longest]! + y2[longest]!) / 2) * up,
        text: () => name,
        dy: 12,
        fontSize: 12.5,
        fill: stroke,
        ...HALO,
      }),
    ];
  });
}

/** Every edge with its normal, and its ends: filled where they are joined, open where not. */
function edgeMarks({ terrain }: CompiledLevel, { pixel }: View, up: number): Plot.Markish[] {
  const { x1, y1, x2, y2, nx, ny, prev, next, boundsFrom } = terrain;
  const list = [...Array(boundsFrom).keys()];
  const tick = 9 * pixel;
  const ends = list.flatMap((e) => [
    { x: x1[e]!, y: y1[e]! * up, joined: prev[e]! >= 0 },
    { x: x2[e]!, y: y2[e]! * up, joined: next[e]! >= 0 },
  ]);
  return [
    drawn(
      (at) =>
        list
          .map((e) => {
            const [mx, my] = [(x1[e]! + x2[e]!) / 2, (y1[e]! + y2[e]!) / 2];
            return `M${at(x1[e]!, y1[e]! * up)}L${at(x2[e]!, y2[e]! * up)}M${at(mx, my * up)}L${at(mx + nx[e]! * tick, (my + ny[e]! * tick) * up)}`;
          })
          .join(''),
      { stroke: INK, 'stroke-width': 1.3, fill: 'none' },
    ),
    Plot.dot(ends, {
      x: 'x',
      y: 'y',
      r: 2.6,
      fill: (end: { joined: boolean }) => (end.joined ? INK : '#fff'),
      stroke: INK,
      strokeWidth: 1.2,
      clip: true,
    }),
  ];
}

const HALO = { stroke: '#fff', strokeWidth: 4 };

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

/**
 * A level: what is solid, one-way ground, surfaces, zones, and where one starts.
 * @param options edges: with every edge, its normal and its joints
 */
export function levelFigure(any: AnyLevel, { edges = false }: { edges?: boolean } = {}): string {
  const level = compiledOf(any);
  const { x1, x2, y1, y2 } = extent(level);
  // A long level is shown in strips, one below the other, as large as they go.
  const scaleIn = (strips: number): number =>
    Math.min(
      (WIDTH - MARGIN.left - MARGIN.right) / ((x2 - x1) / strips),
      ((HEIGHT - TOP) / strips - MARGIN.top - MARGIN.bottom) / (y2 - y1),
    );
  const strips = [1, 2, 3, 4].reduce((best, n) => (scaleIn(n) > 1.3 * scaleIn(best) ? n : best));
  const length = (x2 - x1) / strips;
  const margin = Math.max(length, y2 - y1) / 40;
  const views = [...Array(strips).keys()].map((i) => {
    const from = x1 + i * length;
    const box = { x1: from - margin, x2: from + length + margin, y1: y1 - margin, y2: y2 + margin };
    return viewOf(box, level, (HEIGHT - TOP) / strips);
  });
  const title = level.title || 'A level';
  const size = `${short(x2 - x1)} by ${short(y2 - y1)} units, y points ${level.yPoints}`;
  const described = edges
    ? `${size}, ${level.terrain.boundsFrom} edges. The tick on each is its normal; a filled end is joined to the next, an open one to nothing.`
    : `${size}. Grey is solid, brown is one-way ground; the dots are where one can start.`;
  return compose(
    title,
    described,
    views.map((view, i) => ({
      plot: plot(view, ground(level, view, true, edges)),
      x: 0,
      y: TOP + (i * (HEIGHT - TOP)) / strips,
    })),
  );
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
  any: AnyLevel,
  trace: Pick<Trace, 'rows' | 'events'>,
  input: readonly InputRow[],
  about: string,
): string {
  const level = compiledOf(any);
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
  return compose(`${about} in ${level.title || 'a level'}`, described, [{ plot: plot(view, marks), x: 0, y: TOP }]);
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
