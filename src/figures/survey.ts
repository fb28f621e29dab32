import * as Plot from '@observablehq/plot';
import type { TracePiece } from 'apperin';
import type { Answer, Survey } from 'apperin/lab';
import { curve, stretchesOf } from './curve.js';
import { HEIGHT, INK, WIDTH, compose, cut, look, short } from './frame.js';
import { ground } from './ground.js';
import { moverMarks } from './movers.js';
import { HALO, MARGIN, TOP, compiledOf, extent, plot, viewOf, type AnyLevel, type View } from './view.js';

/** Told apart without colour too: by their dashes, and how thick they are. */
const LOOKS: Record<Answer, { stroke: string; strokeWidth: number; strokeDasharray: string }> = {
  yes: { stroke: look(0).stroke, strokeWidth: 4, strokeDasharray: 'none' },
  no: { stroke: '#b3261e', strokeWidth: 4, strokeDasharray: '2 4' },
  'not found': { stroke: '#b07d00', strokeWidth: 4, strokeDasharray: '8 4' },
};

/** Where a character gets to in a level, and where not: places by their answer, and the flights between them. @param flights the motion of each link, in their order */
export function surveyFigure(any: AnyLevel, { places, total, targets, deadEnds, links }: Survey, flights: readonly (readonly TracePiece[])[], about: string): string {
  const level = compiledOf(any);
  const { x1, x2, y1, y2 } = extent(level);
  const scaleIn = (strips: number): number =>
    Math.min((WIDTH - MARGIN.left - MARGIN.right) / ((x2 - x1) / strips), ((HEIGHT - TOP) / strips - MARGIN.top - MARGIN.bottom) / (y2 - y1));
  const strips = [1, 2, 3, 4].reduce((best, n) => (scaleIn(n) > 1.3 * scaleIn(best) ? n : best));
  const length = (x2 - x1) / strips;
  const margin = Math.max(length, y2 - y1) / 40;
  const inAir = flights.map((pieces, i) => ({ how: links[i]!.how, pieces: pieces.filter(({ support }) => support !== 'ground') }));
  const dead = new Set(deadEnds.map(({ place }) => place));
  const marksOf = (view: View): Plot.Markish[] => [
    ...ground(level, view, false),
    ...moverMarks(level, view, true),
    ...inAir.map(({ pieces }) => curve(stretchesOf(pieces), { stroke: look(1).stroke, 'stroke-width': 1.1, 'stroke-opacity': 0.55 })),
    ...places.filter(({ x2: right, x1: left }) => right >= view.x[0] && left <= view.x[1]).flatMap(({ points, answer, id, short: by, kind }): Plot.Markish[] => {
      const { stroke, strokeWidth, strokeDasharray } = LOOKS[answer];
      const middle = points[Math.floor((points.length - 1) / 2)]!;
      const far = by === null ? '' : by.of === 'shut' ? 'shut' : `${short(by.by)} short`;
      const text = answer === 'yes' ? (dead.has(id) ? 'no way back' : '') : answer === 'no' ? far : '?';
      return [
        points.length === 1
          ? Plot.dot([points[0]!], { x: (at: number[]) => at[0]!, y: (at: number[]) => at[1]!, r: kind === 'ledge' ? 4 : 3, stroke, fill: answer === 'yes' ? stroke : '#fff', strokeWidth: 1.5 })
          : Plot.line(points, { x: (at: number[]) => at[0]!, y: (at: number[]) => at[1]!, stroke, strokeWidth, strokeDasharray, clip: true }),
        ...(text === '' ? [] : [Plot.text([middle], { x: (at: number[]) => (points[0]![0] + points.at(-1)![0]) / 2 + 0 * at[0]!, y: (at: number[]) => at[1]!, text: () => text, dy: 15, fontSize: 12, fill: INK, ...HALO })]),
      ];
    }),
    Plot.dot(targets, { x: 'x', y: 'y', r: 5, symbol: 'diamond', stroke: INK, fill: (target: { answer: Answer }) => (target.answer === 'yes' ? LOOKS.yes.stroke : '#fff') }),
    ...namesOf(targets, view),
  ];
  const views = [...Array(strips).keys()].map((i) => viewOf({ x1: x1 + i * length - margin, x2: x1 + (i + 1) * length + margin, y1: y1 - margin, y2: y2 + margin }, level, (HEIGHT - TOP) / strips));
  return compose(
    `Where ${about} gets to in ${level.title || 'a level'}`,
    `Of ${places.length} places ${total.yes} are reached (full), ${total.no} are out of reach (dotted), ${total['not found']} were not found (dashed). Thin: the flights between them.`,
    views.map((view, i) => ({ plot: plot(view, marksOf(view)), x: 0, y: TOP + (i * (HEIGHT - TOP)) / strips })),
  );
} // prettier-ignore

/** The names of what was asked for, each beside its mark, above those that are there already. */
function namesOf(targets: Survey['targets'], { pixel }: View): Plot.Markish[] {
  const placed: { x: number; y: number }[] = [];
  return targets.map((target) => {
    const text = cut(`${target.name}: ${target.answer}`, 26);
    const at = { x: target.x / pixel + 8, y: -12 };
    const base = target.y / pixel;
    while (placed.some((other) => Math.abs(other.y - base - at.y) < 15 && Math.abs(other.x - at.x) < 7.2 * text.length)) at.y -= 15;
    placed.push({ x: at.x, y: base + at.y });
    return Plot.text([target], { x: 'x', y: 'y', text: () => text, dx: 8, dy: at.y, textAnchor: 'start', fontSize: 12.5, fill: INK, ...HALO });
  });
} // prettier-ignore
