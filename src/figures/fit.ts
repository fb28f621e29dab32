import * as Plot from '@observablehq/plot';
import type { Fitted, Stretch } from 'apperin/lab';
import { FAINT, HEIGHT, INK, WIDTH, compose, document, look, short, type Placed } from './frame.js';

const TOP = 84;
const TALL = 440;
/** What a kind of stretch is called at the end of its lines, and how it looks. */
const NAMES: Record<Stretch['kind'], readonly [string, number]> = { flight: ['', 0], start: ['setting off', 0], stop: ['letting go', 1], turn: ['turning round', 2] }; // prettier-ignore

/**
 * Captures as dots, all stretches of a kind over one another, the fitted motion as lines; beneath, what is left.
 * @example
 * ```ts
 * fitFigure(fitted, 16) // 16 pixels a unit
 * ```
 */
export function fitFigure({ stretches, residual, found }: Fitted, scale: number): string {
  const flights = stretches.filter(({ kind }) => kind === 'flight');
  const changes = stretches.filter(({ kind }) => kind !== 'flight');
  const columns = [
    ...(flights.length > 0 ? [{ of: flights, label: '↑ height, units', from: 'seconds from takeoff →' }] : []),
    ...(changes.length > 0 ? [{ of: changes, label: '↑ way across, units (seen as if to the right)', from: 'seconds from the change of keys →' }] : []),
  ];
  const width = WIDTH / columns.length;
  const unit = scale === 1 ? 'units' : "the capture's lengths";
  const most = Math.max(residual.rms * 5, 1e-6) * scale;
  const plots = columns.flatMap(({ of, label, from }, i): Placed[] => {
    const dots = of.flatMap(({ time, seen, counts }) => time.map((t, k) => ({ t, y: seen[k]!, counts: counts[k]! })));
    const left = of.flatMap(({ time, miss, counts, kind }) => time.map((t, k) => ({ t, y: miss[k]! * scale, counts: counts[k]!, kind })));
    const lines = of.flatMap(({ line, kind }, n) => line.map(([t, y]) => ({ t, y, n, kind })));
    const [low, high] = lines.reduce(([a, b], { t }) => [Math.min(a, t), Math.max(b, t)], [Infinity, -Infinity]);
    const domain: [number, number] = [low, high + (of === changes ? 0.12 : 0)];
    const shared = { document, width, marginLeft: 70, marginRight: 24, style: { fontSize: '13px', fontFamily: 'inherit' } } as const;
    const kinds = [...new Set(of.map(({ kind }) => kind))];
    const ends = of === changes ? kinds.map((kind) => endOf(of.filter((one) => one.kind === kind), NAMES[kind][0])) : [];
    const upper = Plot.plot({
      ...shared,
      height: TALL,
      marginTop: 28,
      marginBottom: 44,
      x: { domain, label: from, ticks: 8 },
      y: { label, nice: true, ticks: 7 },
      marks: [
        Plot.ruleY([0], { stroke: FAINT }),
        ...kinds.map((kind) => Plot.line(lines.filter((one) => one.kind === kind), { x: 't', y: 'y', z: 'n', stroke: look(NAMES[kind][1]).stroke, strokeWidth: 1.6, strokeDasharray: look(NAMES[kind][1]).dash })),
        Plot.dot(dots.filter(({ counts }) => counts), { x: 't', y: 'y', r: 1.7, fill: INK, fillOpacity: 0.75 }),
        Plot.dot(dots.filter(({ counts, t }) => !counts && t <= domain[1]), { x: 't', y: 'y', r: 4, symbol: 'times', stroke: look(1).stroke, strokeWidth: 1.6, clip: true }),
        Plot.text(ends, { x: 't', y: 'y', text: 'name', dx: 6, textAnchor: 'start', fontSize: 13, fill: INK, stroke: '#fff', strokeWidth: 4 }),
      ],
    });
    const lower = Plot.plot({
      ...shared,
      height: HEIGHT - TOP - TALL - 8,
      marginTop: 24,
      marginBottom: 40,
      x: { domain, label: null, ticks: 8 },
      y: { domain: [-most, most], label: `↑ what is left, ${unit}`, ticks: 5 },
      marks: [
        Plot.ruleY([0], { stroke: FAINT }),
        Plot.dot(left.filter(({ counts }) => counts), { x: 't', y: (one: { y: number }) => Math.min(Math.max(one.y, -most), most), r: 1.7, fill: INK, fillOpacity: 0.6 }),
        Plot.frame({ stroke: FAINT }),
      ],
    });
    return [{ plot: upper, x: i * width, y: TOP }, { plot: lower, x: i * width, y: TOP + TALL }];
  });
  const count = (kind: Stretch['kind'], one: string, many: string): string[] => {
    const { length } = stretches.filter((stretch) => stretch.kind === kind);
    return length === 0 ? [] : [`${length} ${length === 1 ? one : many}`];
  };
  const seen = [...count('flight', 'flight', 'flights'), ...count('start', 'start', 'starts'), ...count('stop', 'stop', 'stops'), ...count('turn', 'turn', 'turns')].join(', ');
  const { 'jump.height': height, 'run.speed': speed } = found;
  const told = [...(height ? [`height ${short(height.value)} ± ${tight(height.within)}`] : []), ...(speed ? [`run ${short(speed.value)} ± ${tight(speed.within)}`] : [])].join(', ');
  return compose(
    `A capture and the motion fitted to it: ${told}`,
    `Dots: the capture, ${seen}. Lines: the fitted motion. What is left: ${short(residual.captured.rms)} ${scale === 1 ? 'units' : 'lengths of the capture'} as a root mean square${residual.strays > 0 ? '; crosses do not count' : ''}.`,
    plots,
  );
} // prettier-ignore

const tight = (value: number): string => value.toPrecision(2).replace(/\.?0+$/, '');

/** Where the lines of a kind end: the one that is followed for longest. */
function endOf(of: readonly Stretch[], name: string): { t: number; y: number; name: string } {
  const longest = of.reduce((one, other) =>
    (other.line.at(-1)?.[0] ?? 0) > (one.line.at(-1)?.[0] ?? 0) ? other : one,
  );
  const [t, y] = longest.line.at(-1) ?? [0, 0];
  return { t, y, name };
}
