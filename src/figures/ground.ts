import * as Plot from '@observablehq/plot';
import type { CompiledLevel } from 'apperin';
import { INK, look } from './frame.js';
import { HALO, drawn, type View } from './view.js';

const STONE = '#b9c0bd';
const GRATING = '#8a6f3c';

/** Closed runs of edges, as rings; of one-sided ground and lines the edges one by one. */
export function rings({ terrain, yPoints }: CompiledLevel): {
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
export function ground(level: CompiledLevel, view: View, names: boolean, edges = false): Plot.Markish[] {
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
export function surfaces({ terrain, surfaces: list }: CompiledLevel, view: View, up: number): Plot.Markish[] {
  return list.slice(1).flatMap(({ name }, i) => {
    const edges: number[] = [];
    const { x1, y1, x2, y2 } = terrain;
    // What is far outside the picture is left out: a dashed line through all of it would be thousands of dashes that nobody sees.
    const isShown = (e: number): boolean => x2[e]! >= view.x[0] && x1[e]! <= view.x[1];
    for (let e = 0; e < terrain.boundsFrom; e++)
      if (terrain.styles[terrain.style[e]!]!.surface === i + 1 && terrain.ny[e]! > 0 && isShown(e)) edges.push(e);
    if (edges.length === 0) return [];
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
export function edgeMarks({ terrain }: CompiledLevel, { pixel }: View, up: number): Plot.Markish[] {
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
