import * as Plot from '@observablehq/plot';
import type { TracePiece } from 'apperin';
import type { Answer, Survey } from 'apperin/lab';
import { curve } from './curve.js';
import { stretchesOf } from './path.js';
import { INK, compose, cut, look, short } from './frame.js';
import { ground } from './ground.js';
import { moverMarks } from './movers.js';
import { HALO, compiledOf, plot, stripsOf, type AnyLevel, type View } from './view.js';

/** So many of the tightest flights say how tight they are. */
const TIGHTEST = 6;

/** The top of a flight. */
function topOf(pieces: readonly TracePiece[], up: boolean): { x: number; y: number } {
  const knots = stretchesOf(pieces).flat();
  return knots.reduce(
    (top, knot) => ((up ? knot.y > top.y : knot.y < top.y) ? knot : top),
    knots[0] ?? { x: NaN, y: NaN },
  );
}

/** Told apart without colour too: by their dashes, and how thick they are. */
const LOOKS: Record<Answer, { stroke: string; strokeWidth: number; strokeDasharray: string }> = {
  yes: { stroke: look(0).stroke, strokeWidth: 4, strokeDasharray: 'none' },
  no: { stroke: '#b3261e', strokeWidth: 4, strokeDasharray: '2 4' },
  'not found': { stroke: '#b07d00', strokeWidth: 4, strokeDasharray: '8 4' },
};

/**
 * Where a character gets to in a level, and where not: places by their answer, and the flights between them.
 * @param flights the motion of each link, in their order
 * @param windows the narrowest press windows of links by their numbers, s: the tightest are labelled
 * @example
 * ```ts
 * const asked = await survey({ level: { rows: ['@...', '####'] }, tuning: brindle, spend: 5000 });
 * surveyFigure(mill.level, asked.survey, [], 'brindle');
 * ```
 */
export function surveyFigure(any: AnyLevel, { places, total, targets, deadEnds }: Survey, flights: readonly (readonly TracePiece[])[], about: string, windows: ReadonlyMap<number, number> = new Map()): string {
  const level = compiledOf(any);
  const inAir = flights.map((pieces) => pieces.filter(({ support }) => support !== 'ground'));
  const dead = new Set(deadEnds.map(({ place }) => place));
  const tight = [...windows].sort(([i, one], [k, other]) => one - other || i - k).slice(0, TIGHTEST).map(([i, window]) => ({ text: `${short(1000 * window)} ms`, style: TIMED, ...topOf(inAir[i]!, level.yPoints === 'up') }));
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
      ...labelled([...seen.map(nameOf), ...tight.filter(({ x }) => isSeen(x))], view, level.yPoints === 'up'),
    ];
  };
  return compose(
    `Where ${about} gets to in ${level.title || 'a level'}`,
    `Of ${places.length} places ${total.yes} are reached (full), ${total.no} out of reach (dotted), ${total['not found']} not found (dashed). Thin: flights${tight.length > 0 ? '; ms: press windows' : ''}.`,
    stripsOf(level).map(({ view, y }) => ({ plot: plot(view, marksOf(view)), x: 0, y })),
  );
} // prettier-ignore

const nameOf = ({ name, answer, x, y }: Survey['targets'][number]): Label => ({
  x,
  y,
  text: cut(`${name}: ${answer}`, 26),
  style: NAMED,
});

/** Something that is written beside a point. */
interface Label {
  x: number;
  y: number;
  text: string;
  style: { dx: number; textAnchor: 'start' | 'middle'; fontSize: number; fontWeight?: number; fill: string };
}

const NAMED = { dx: 8, textAnchor: 'start', fontSize: 12.5, fill: INK } as const;
const TIMED = { dx: 0, textAnchor: 'middle', fontSize: 12, fontWeight: 600, fill: look(1).stroke } as const;

/** Labels above their points, each above those that are there already. */
function labelled(labels: readonly Label[], { pixel }: View, up: boolean): Plot.Markish[] {
  const placed: { left: number; right: number; y: number }[] = [];
  return labels.map((label) => {
    const { x, y, text, style } = label;
    const wide = 7.4 * text.length;
    const left = x / pixel + style.dx - (style.textAnchor === 'middle' ? wide / 2 : 0);
    const down = (up ? -y : y) / pixel;
    let dy = -12;
    while (placed.some((other) => Math.abs(other.y - down - dy) < 15 && other.left < left + wide && left < other.right)) dy -= 15;
    placed.push({ left, right: left + wide, y: down + dy });
    return Plot.text([label], { x: 'x', y: 'y', text: () => text, dy, ...style, ...HALO });
  });
} // prettier-ignore
