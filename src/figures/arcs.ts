import * as Plot from '@observablehq/plot';
import type { ArcKnot, ArcPoint, Arcs, WallCurves } from 'apperin/lab';
import { curve } from './curve.js';
import { between, wayOf } from './path.js';
import { FAINT, HEIGHT, INK, WIDTH, compose, cutName, document, nameList, look, short } from './frame.js';

/** How each gravity phase is drawn, so that it can be told without colour. */
const STROKES: Readonly<Record<string, { width: number; dash: string; name: string }>> = {
  rise: { width: 2.5, dash: '', name: 'rising' },
  apex: { width: 5, dash: '', name: 'apex band' },
  released: { width: 2, dash: '7 4', name: 'released' },
  fall: { width: 2.5, dash: '', name: 'falling' },
  ramp: { width: 2.5, dash: '12 4', name: 'fall ramp' },
  cap: { width: 2.5, dash: '2 4', name: 'terminal speed' },
};

const MARGIN = { left: 64, right: 48, top: 20, bottom: 56 };
const TOP = 76;

/**
 * Jump arcs, to scale: height over distance, the full jump and the tap, with the body's outline at launch, apex
 * and landing. One tuning is shown with its gravity phases; several are told apart by their dashes and names.
 * @param curves one to six
 * @example
 * ```ts
 * arcsFigure([arcs('brindle', brindle)]) // an SVG
 * ```
 */
export function arcsFigure(curves: readonly Arcs[]): string {
  const [first] = curves;
  if (!first || curves.length > 6)
    throw new RangeError(`a figure of arcs shows one to six tunings, not ${curves.length}`);
  const scene = fit(curves);
  const lines = gridLines(scene, first.motion.full.tile);
  const marks = [...grid(lines), ...(curves.length === 1 ? single(first, scene) : several(curves, scene))];
  const plot = Plot.plot({
    document,
    width: WIDTH,
    height: HEIGHT - TOP,
    marginLeft: MARGIN.left,
    marginRight: MARGIN.right,
    marginTop: MARGIN.top,
    marginBottom: MARGIN.bottom,
    style: { fontSize: '14px', fontFamily: 'inherit' },
    x: {
      domain: scene.x,
      ticks: lines.x,
      tickFormat: short,
      label: 'across, units →',
      nice: false,
      labelAnchor: 'right',
    },
    y: { domain: scene.y, ticks: lines.y, tickFormat: short, label: '↑ height of the feet, units', nice: false },
    marks,
  });
  const { full } = first;
  const title =
    curves.length === 1 ? `Jump arc: ${first.name}` : `Jump arcs: ${nameList(curves.map(({ name }) => name))}`;
  const description =
    curves.length === 1
      ? `Full jump at run speed: apex ${short(full.apex.y)} units after ${short(full.apex.time)} s, reach ${short(full.landing.x)} units in ${short(full.landing.time)} s. A tap reaches ${short(first.tap.apex.y)} units.`
      : curves
          .map(
            ({ name, full: { apex, landing } }) =>
              `${cutName(name, 24)}: ${short(apex.y)} high, ${short(landing.x)} far`,
          )
          .join('; ');
  return compose(title, description, [{ plot, x: 0, y: TOP }]);
}

interface Scene {
  /** Where the wall of wall jumps stands; NaN where there are none, or several tunings. */
  wall: number;
  x: [number, number];
  y: [number, number];
  /** Units per pixel, the same both ways. */
  pixel: number;
}

/** The stretch of the world to show, with the same scale across and up. */
function fit(curves: readonly Arcs[]): Scene {
  const widest = Math.max(...curves.map(({ motion }) => motion.width));
  const tallest = Math.max(...curves.map(({ motion, full, air }) => (air.at(-1) ?? full).apex.y + motion.height));
  const farthest = Math.max(
    ...curves.map(({ full, tap, air }) =>
      Math.max(full.landing.x, tap.landing.x, ...air.map(({ landing }) => landing.x)),
    ),
    widest,
  );
  const low = -widest * 0.8;
  // Wall jumps have a wall of their own, far enough to the right that they stay clear of the rest.
  const [only] = curves.length === 1 ? curves : [];
  const out = only?.wall
    ? Math.max(...[...only.wall.away, ...only.wall.back].map(({ x }) => x)) + only.motion.width
    : NaN;
  const wall = farthest + out + widest;
  const right = (Number.isNaN(wall) ? farthest : wall) + widest * 0.8;
  const bottom = -0.16 * tallest;
  const top = tallest * 1.06;
  const across = WIDTH - MARGIN.left - MARGIN.right;
  const up = HEIGHT - TOP - MARGIN.top - MARGIN.bottom;
  const labels = curves.length > 1 ? 300 : 0;
  const pixel = Math.max((right - low) / (across - labels), (top - bottom) / up);
  const spare = across * pixel - (right - low);
  const before = curves.length > 1 ? Math.min(spare * 0.2, spare - labels * pixel) : spare / 2;
  return { wall, x: [low - before, low - before + across * pixel], y: [bottom, bottom + up * pixel], pixel };
}

/** The tile grid, or every few tiles where its lines would be too dense. */
function gridLines({ x, y }: Scene, tile: number): { x: number[]; y: number[] } {
  let step = tile;
  while ((x[1] - x[0]) / step > 30) step *= (x[1] - x[0]) / step > 150 ? 5 : 2;
  const lines = ([from, to]: [number, number]): number[] => {
    const found: number[] = [];
    for (let i = Math.ceil(from / step); i * step <= to; i++) found.push(i * step);
    return found;
  };
  return { x: lines(x), y: lines(y) };
}

/** The grid behind, and the ground. */
function grid(lines: { x: number[]; y: number[] }): Plot.Markish[] {
  return [
    Plot.ruleX(lines.x, { stroke: '#e4e8ea' }),
    Plot.ruleY(lines.y, { stroke: '#e4e8ea' }),
    Plot.ruleY([0], { stroke: INK, strokeWidth: 2 }),
  ];
}

function outline({ motion }: Arcs, at: readonly ArcPoint[]): Plot.Markish {
  return Plot.rect(at, {
    x1: (p: ArcPoint) => p.x - motion.half,
    x2: (p: ArcPoint) => p.x + motion.half,
    y1: 'y',
    y2: (p: ArcPoint) => p.y + motion.height,
    stroke: FAINT,
    strokeWidth: 1.6,
    fill: '#f4f1ea',
    fillOpacity: 0.7,
  });
}

function single(arc: Arcs, { pixel, wall }: Scene): Plot.Markish[] {
  const { full, tap, air, motion } = arc;
  const { stroke } = look(0);
  const under = -34 * pixel;
  const side = air.length > 0 ? -1 : 1;
  const marks: Plot.Markish[] = [outline(arc, [{ time: 0, x: 0, y: 0 }, full.apex, full.landing])];
  const visible = tap.apex.y < 0.97 * full.apex.y;
  if (visible) {
    marks.push(
      curve(wayOf(tap), { stroke, 'stroke-width': 1.8, 'stroke-dasharray': '7 4' }),
      Plot.text([tap.apex], {
        x: 'x',
        y: 'y',
        text: () => `tap ${short(tap.apex.y)}`,
        dx: 12,
        // Under its curve, where there is room above the ground.
        dy: tap.apex.y < 36 * pixel ? -12 : 22,
        fill: stroke,
        fontSize: 14,
        ...HALO,
      }),
    );
  }
  air.forEach((one, i) => {
    const { apex } = one;
    marks.push(
      outline(arc, [apex]),
      curve(wayOf(one), { stroke, 'stroke-width': 1.8, 'stroke-dasharray': '2 3' }),
      Plot.text([apex], {
        x: 'x',
        y: 'y',
        text: () => `air jump ${i + 1}: up to ${short(apex.y)}`,
        dx: motion.half / pixel + 10,
        dy: -10,
        textAnchor: 'start',
        fill: stroke,
        fontSize: 14,
        ...HALO,
      }),
    );
  });
  full.stretches.forEach(({ phase, points, knots }, i) => {
    const { width, dash, name } = STROKES[phase]!;
    const middle = points[Math.floor(points.length / 2)]!;
    const beside =
      phase === 'apex'
        ? { dy: 20 }
        : points[0]!.y < points[points.length - 1]!.y
          ? { dx: -12, textAnchor: 'end' as const }
          : { dx: 12, textAnchor: 'start' as const };
    marks.push(
      curve(between(knots), { stroke, 'stroke-width': width, 'stroke-dasharray': dash }),
      Plot.text([middle], { x: 'x', y: 'y', text: () => name, fill: stroke, fontSize: 14, ...beside, ...HALO }),
    );
    if (i > 0) marks.push(Plot.dot([points[0]!], { x: 'x', y: 'y', r: 4, fill: '#fff', stroke, strokeWidth: 2 }));
  });
  marks.push(
    // Beside the outline, on the side that air jumps leave free.
    Plot.text([{ x: full.apex.x + motion.half * side, y: full.apex.y + motion.height }], {
      x: 'x',
      y: 'y',
      text: () => `apex ${short(full.apex.y)} after ${short(full.apex.time)} s`,
      ...(motion.height < 30 * pixel
        ? { dx: side > 0 ? 0 : -6, dy: -14, textAnchor: side > 0 ? 'middle' : 'end' }
        : { dx: 10 * side, dy: 8, textAnchor: side > 0 ? 'start' : 'end' }),
      fontSize: 15,
      fill: INK,
      ...HALO,
    }),
    Plot.arrow([{}], { x1: 0, x2: full.landing.x, y1: under, y2: under, stroke: INK, headLength: 8 }),
    Plot.text([{ x: full.landing.x / 2, y: under }], {
      x: 'x',
      y: 'y',
      text: () => `reach ${short(full.landing.x)} in ${short(full.landing.time)} s`,
      fontSize: 15,
      fill: INK,
      dy: 13,
      ...HALO,
    }),
  );
  if (arc.wall) marks.push(...wallJumps(arc, arc.wall, wall, pixel));
  return marks;
}

/** The wall, and the two extremes of a jump off it: the key held away, and back toward it. */
function wallJumps(arc: Arcs, { away, back, jump }: WallCurves, wall: number, pixel: number): Plot.Markish[] {
  const { stroke } = look(1);
  const { half } = arc.motion;
  const point = ({ time, x, y }: ArcPoint): ArcPoint => ({ time, x: wall - half - x, y });
  const knot = (one: ArcKnot): ArcKnot => ({ ...one, ...point(one), vx: -one.vx });
  const apex = { time: 0, x: jump.outAtApex, y: jump.rise };
  const end = back.at(-1);
  const height = apex.y + arc.motion.height;
  const text = (at: ArcPoint, words: string, dy: number): Plot.Markish =>
    Plot.text([at], {
      x: 'x',
      y: 'y',
      text: () => words,
      dx: -half / pixel - 8,
      dy,
      textAnchor: 'end',
      fill: stroke,
      fontSize: 14,
      ...HALO,
    });
  return [
    Plot.rect([{}], { x1: wall, x2: wall + 0.3 * arc.motion.width, y1: 0, y2: height, fill: FAINT }),
    outline(arc, [point(away[0]!), point(apex), ...(end ? [point(end)] : [])]),
    curve(between(away.map(knot)), { stroke, 'stroke-width': 2.2 }),
    curve(between(back.map(knot)), { stroke, 'stroke-width': 2.2, 'stroke-dasharray': '6 4' }),
    text(
      point(apex),
      `wall jump: up ${short(jump.rise)}, out ${short(jump.outAtApex)} at the apex`,
      -arc.motion.height / pixel,
    ),
    ...(end
      ? [
          text(
            { ...point(end), x: wall + half },
            `key held back: at the wall after ${short(end.time)} s, ${short(end.y)} higher`,
            -arc.motion.height / pixel - 30,
          ),
        ]
      : []),
  ];
}

const HALO = { stroke: '#fff', strokeWidth: 4 };
/** Height of a row of labels, pixels. */
const ROW = 20;

/** Names stand in a column at the right, each tied to its apex; rows are pushed apart until none touch. */
function several(curves: readonly Arcs[], { x, y, pixel }: Scene): Plot.Markish[] {
  const marks: Plot.Markish[] = [outline(curves[0]!, [{ time: 0, x: 0, y: 0 }])];
  const column = x[1] - 290 * pixel;
  const order = curves.map((arc, i) => ({ arc, i })).sort((a, b) => b.arc.full.apex.y - a.arc.full.apex.y);
  let ceiling = y[1] - ROW * pixel;
  for (const [place, { arc, i }] of order.entries()) {
    const { stroke, dash } = look(i);
    const { full, tap, name } = arc;
    // Above the ground, all of them.
    const at = Math.max(Math.min(full.apex.y, ceiling), ROW * pixel * (order.length - place - 0.3));
    ceiling = at - ROW * pixel;
    marks.push(
      curve(wayOf(full), { stroke, 'stroke-width': 2.5, 'stroke-dasharray': dash }),
      ...(tap.apex.y < 0.97 * full.apex.y
        ? [curve(wayOf(tap), { stroke, 'stroke-width': 1.2, 'stroke-dasharray': dash, 'stroke-opacity': 0.6 })]
        : []),
      Plot.line([full.apex, { time: 0, x: column - 8 * pixel, y: at }], { x: 'x', y: 'y', stroke, strokeWidth: 0.8 }),
      Plot.text([{ x: column, y: at }], {
        x: 'x',
        y: 'y',
        text: () => `${cutName(name, 22)} ${short(full.apex.y)} × ${short(full.landing.x)}`,
        textAnchor: 'start',
        fontSize: 14,
        fill: stroke,
        ...HALO,
      }),
    );
  }
  return marks;
}
