import * as Plot from '@observablehq/plot';
import { curve as drawnCurve } from './curve.js';
import { between } from './path.js';
import type { SpeedCurve, SpeedCurves } from 'apperin/lab';
import { FAINT, HEIGHT, INK, WIDTH, compose, cutName, document, nameList, look, short, type Placed } from './frame.js';

const PANELS = [
  { kind: 'run-up', title: 'Run-up: rest to top speed' },
  { kind: 'stop', title: 'Stop: top speed to rest' },
  { kind: 'turn', title: 'Turn: top speed to top speed' },
] as const;

const TOP = 84;
const GAP = 12;
const ROW = 19;

/**
 * Speed across over time: run-up, stop and turn, on the ground and in the air (dotted), each with how long it takes and how
 * far it goes.
 * @param tunings one to six
 * @example
 * ```ts
 * speedFigure([speedCurves('brindle', brindle)])
 * ```
 */
export function speedFigure(tunings: readonly SpeedCurves[]): string {
  if (tunings.length < 1 || tunings.length > 6)
    throw new RangeError(`a figure of speeds shows one to six tunings, not ${tunings.length}`);
  const fastest = Math.max(
    1e-9,
    ...tunings.flatMap(({ curves }) => curves.flatMap(({ points }) => points.map(({ v }) => v))),
  );
  const width = (WIDTH - GAP) / PANELS.length;
  const plots = PANELS.map(({ kind, title }, i): Placed => {
    const shown = tunings.flatMap(({ name, curves }, k) =>
      curves.filter((curve) => curve.kind === kind).map((curve) => ({ name, curve, k })),
    );
    const longest = Math.max(0.02, ...shown.map(({ curve }) => curve.time)) * 1.12;
    const low = kind === 'turn' ? -1.12 * fastest : -0.04 * fastest;
    // Labels stand where the curves are not: under a rise, above a fall.
    const share = (shown.length * ROW) / (HEIGHT - TOP - 90);
    const room = share / (1 - share);
    const span = 1.12 * fastest - low;
    const domain: [number, number] =
      kind === 'run-up' ? [low - span * room, 1.12 * fastest] : [low, 1.12 * fastest + span * room];
    const pixel = (domain[1] - domain[0]) / (HEIGHT - TOP - 90);
    const plot = Plot.plot({
      document,
      width,
      height: HEIGHT - TOP - 8,
      marginLeft: 56,
      marginRight: 12,
      marginTop: 34,
      marginBottom: 48,
      style: { fontSize: '13px', fontFamily: 'inherit' },
      x: { domain: [0, longest], label: 'seconds →', labelAnchor: 'right', ticks: 5 },
      y: { domain, label: null, ticks: 7 },
      marks: [
        Plot.ruleY([0], { stroke: FAINT }),
        Plot.ruleY([fastest], { stroke: '#e4e8ea' }),
        Plot.text([{}], {
          text: () => title,
          frameAnchor: 'top',
          dy: -24,
          fontSize: 15,
          fontWeight: 'bold',
          fill: INK,
        }),
        ...shown.flatMap(({ name, curve, k }, row) => [
          curveOf(curve, stroke(k, curve)),
          Plot.dot([curve.points.at(-1)!], {
            x: 'time',
            y: 'v',
            r: 4,
            fill: '#fff',
            stroke: look(k).stroke,
            strokeWidth: 2,
          }),
          ...label(
            `${tunings.length > 1 ? `${cutName(name, 10)}, ` : ''}${curve.medium}: ${short(curve.time)} s, ${kind === 'turn' ? 'over by ' : ''}${short(curve.distance)}${tunings.length > 1 ? '' : ' units'}`,
            domain[kind === 'run-up' ? 0 : 1] + (kind === 'run-up' ? 1 : -1) * pixel * ROW * (row + 0.6),
            longest,
            k,
            curve,
          ),
        ]),
      ],
    });
    return { plot, x: i * (width + GAP / 2), y: TOP };
  });
  const names = nameList(tunings.map(({ name }) => name));
  const description = `Speed across in units/s, ways in units; on the ground (full) and in the air (dotted). ${tunings
    .map(
      ({ name, motion }) =>
        `${cutName(name, 20)}: ${short(motion.ground.speed)} units/s${motion.airLocked ? ', no steering in the air' : ''}`,
    )
    .join('; ')}.`;
  return compose(`Run-up, stop and turn: ${names}`, description, plots);
}

function stroke(k: number, { medium }: SpeedCurve): { stroke: string; strokeWidth: number; strokeDasharray: string } {
  return {
    stroke: look(k).stroke,
    strokeWidth: medium === 'air' ? 1.8 : 2.6,
    strokeDasharray: medium === 'air' ? '2 4' : look(k).dash,
  };
}

/** The course of a speed. */
function curveOf({ knots }: SpeedCurve, look: ReturnType<typeof stroke>): Plot.RenderFunction {
  const stretches = between(knots.map(({ time, v, a }) => ({ time, x: time, y: v, vx: 1, vy: a })));
  return drawnCurve(stretches, { stroke: look.stroke, 'stroke-width': look.strokeWidth, 'stroke-dasharray': look.strokeDasharray });
} // prettier-ignore

/** A row of text with a piece of its line before it. */
function label(text: string, y: number, longest: number, k: number, curve: SpeedCurve): Plot.Markish[] {
  const at = longest * 0.1;
  return [
    Plot.line(
      [
        { x: at, y },
        { x: at + longest * 0.09, y },
      ],
      { x: 'x', y: 'y', ...stroke(k, curve) },
    ),
    Plot.text([{ x: at + longest * 0.11, y }], {
      x: 'x',
      y: 'y',
      text: () => text,
      textAnchor: 'start',
      fontSize: 13.5,
      fill: look(k).stroke,
    }),
  ];
}
