import * as Plot from '@observablehq/plot';
import type { TracePiece } from 'apperin';
import type { Answer, Survey } from 'apperin/lab';
import { curve, stretchesOf } from './curve.js';
import { INK, compose, cut, look, short } from './frame.js';
import { ground } from './ground.js';
import { moverMarks } from './movers.js';
import { HALO, compiledOf, plot, stripsOf, type AnyLevel, type View } from './view.js';

/** Told apart without colour too: by their dashes, and how thick they are. */
const LOOKS: Record<Answer, { stroke: string; strokeWidth: number; strokeDasharray: string }> = {
  yes: { stroke: look(0).stroke, strokeWidth: 4, strokeDasharray: 'none' },
  no: { stroke: '#b3261e', strokeWidth: 4, strokeDasharray: '2 4' },
  'not found': { stroke: '#b07d00', strokeWidth: 4, strokeDasharray: '8 4' },
};

/** Where a character gets to in a level, and where not: places by their answer, and the flights between them. @param flights the motion of each link, in their order */
export function surveyFigure(any: AnyLevel, { places, total, targets, deadEnds }: Survey, flights: readonly (readonly TracePiece[])[], about: string): string {
  const level = compiledOf(any);
  const inAir = flights.map((pieces) => pieces.filter(({ support }) => support !== 'ground'));
  const dead = new Set(deadEnds.map(({ place }) => place));
  const at = { x: ([x]: [number, number]) => x, y: ([, y]: [number, number]) => y };
  const marksOf = (view: View): Plot.Markish[] => {
    const isSeen = (left: number, right = left): boolean => right >= view.x[0] && left <= view.x[1];
    const seen = targets.filter(({ x }) => isSeen(x));
    return [
      ...ground(level, view, false),
      ...moverMarks(level, view, true),
      ...inAir.map((pieces) => curve(stretchesOf(pieces), { stroke: look(1).stroke, 'stroke-width': 1.1, 'stroke-opacity': 0.55 })),
      ...places.filter(({ x1, x2 }) => isSeen(x1, x2)).flatMap(({ points, answer, id, short: missing, kind, x1, y1, x2, y2 }): Plot.Markish[] => {
        const { stroke, strokeWidth, strokeDasharray } = LOOKS[answer];
        const far = missing === null ? '' : missing.of === 'shut' ? 'shut' : `${short(missing.by)} short`;
        const text = answer === 'yes' ? (dead.has(id) ? 'no way back' : '') : answer === 'no' ? far : '?';
        return [
          points.length === 1
            ? Plot.dot(points, { ...at, r: kind === 'ledge' ? 4 : 3, stroke, fill: answer === 'yes' ? stroke : '#fff', strokeWidth: 1.5 })
            : Plot.line(points, { ...at, stroke, strokeWidth, strokeDasharray, clip: true }),
          ...(text === '' ? [] : [Plot.text([[(x1 + x2) / 2, level.yPoints === 'up' ? Math.min(y1, y2) : Math.max(y1, y2)]] as [number, number][], { ...at, text: () => text, dy: 15, fontSize: 12, fill: INK, ...HALO })]),
        ];
      }),
      Plot.dot(seen, { x: 'x', y: 'y', r: 5, symbol: 'diamond', stroke: INK, fill: (target: { answer: Answer }) => (target.answer === 'yes' ? LOOKS.yes.stroke : '#fff') }),
      ...namesOf(seen, view),
    ];
  };
  return compose(
    `Where ${about} gets to in ${level.title || 'a level'}`,
    `Of ${places.length} places ${total.yes} are reached (full), ${total.no} are out of reach (dotted), ${total['not found']} were not found (dashed). Thin: the flights between them.`,
    stripsOf(level).map(({ view, y }) => ({ plot: plot(view, marksOf(view)), x: 0, y })),
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
