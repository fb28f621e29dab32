import * as Plot from '@observablehq/plot';
import type { TimeCurves } from 'apperin/lab';
import { FAINT, HEIGHT, INK, WIDTH, compose, cutName, document, nameList, look, short, type Placed } from './frame.js';

type Row = TimeCurves['rows'][number];

const PANELS = [
  { label: '↑ height, units', of: (row: Row) => row.y },
  { label: '↑ speed up, units/s', of: (row: Row) => row.vy },
  { label: '↑ speed across, units/s', of: (row: Row) => row.vx },
] as const;

const NAMES: Readonly<Record<string, string>> = {
  ground: 'ground',
  rise: 'rising',
  apex: 'apex band',
  released: 'released',
  fall: 'falling',
  ramp: 'fall ramp',
  cap: 'terminal',
};

const TOP = 72;
const LEFT = 72;
const LABELS = 190;

/**
 * A running jump over time, aligned at the press: height, speed up and speed across. One tuning is shown with its
 * gravity phases as bands and its events; several are told apart by their dashes and names.
 * @param curves one to six
 * @example
 * ```ts
 * timeFigure([timeCurves('brindle', brindle)])
 * ```
 */
export function timeFigure(curves: readonly TimeCurves[]): string {
  const [first] = curves;
  if (!first || curves.length > 6)
    throw new RangeError(`a figure over time shows one to six tunings, not ${curves.length}`);
  const from = Math.min(...curves.map(({ rows }) => rows[0]!.time));
  const to = Math.max(...curves.map(({ rows }) => rows[rows.length - 1]!.time));
  const height = (HEIGHT - TOP - 8) / PANELS.length;
  const bands = bandsOf(first);
  const plots = PANELS.map((panel, i): Placed => {
    const last = i === PANELS.length - 1;
    const values = curves.flatMap(({ rows }) => rows.map(panel.of));
    const low = Math.min(0, ...extremes(values));
    const high = Math.max(...extremes(values), low + 1e-9);
    const pad = (high - low) * 0.12;
    // The first panel has the names of the phases above its curve.
    const domain: [number, number] = [low - pad, high + pad * (i === 0 ? 2.2 : 1)];
    const plot = Plot.plot({
      document,
      width: WIDTH,
      height,
      marginLeft: LEFT,
      marginRight: curves.length > 1 ? LABELS : 32,
      marginTop: 26,
      marginBottom: last ? 42 : 24,
      style: { fontSize: '13px', fontFamily: 'inherit' },
      x: { domain: [from, to], label: last ? 'seconds from the press →' : null, labelAnchor: 'right' },
      y: { domain, label: panel.label, ticks: 5 },
      marks: [
        ...(curves.length === 1 ? [shades(bands, domain)] : []),
        Plot.ruleY([0], { stroke: FAINT }),
        ...curves.map(({ rows }, k) =>
          Plot.line(rows, {
            x: 'time',
            y: panel.of,
            stroke: look(k).stroke,
            strokeWidth: 2.4,
            strokeDasharray: look(k).dash,
          }),
        ),
        ...(curves.length > 1 ? names(curves, panel.of, domain, height - 50, to) : events(first, domain, last)),
        ...(curves.length === 1 && i === 0 ? [phaseNames(bands, domain)] : []),
      ],
    });
    return { plot, x: 0, y: TOP + i * height };
  });
  const title = `${curves.length === 1 ? 'A running jump over time' : 'Running jumps over time'}: ${nameList(curves.map(({ name }) => name))}`;
  const landing = (c: TimeCurves): string => short(c.events.find(({ event }) => event === 'touchdown')?.time ?? NaN);
  const description = `Runs up, presses jump at 0 s and holds it, lands and stops. ${curves.map((c) => `${curves.length > 1 ? `${cutName(c.name, 20)} touches` : 'Touches'} down after ${landing(c)} s`).join('; ')}.`;
  return compose(title, description, plots);
}

function extremes(values: readonly number[]): [number, number] {
  return values.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity]);
}

interface Band {
  phase: string;
  from: number;
  to: number;
}

/** Stretches of one gravity phase. On and off the ground are known exactly; other edges lie between two rows. */
function bandsOf({ rows, events }: TimeCurves): Band[] {
  const takeoff = events.find(({ event }) => event === 'takeoff')?.time ?? 0;
  const touchdown = events.find(({ event }) => event === 'touchdown')?.time ?? 0;
  const found: Band[] = [];
  for (const { phase, time } of rows) {
    const open = found[found.length - 1];
    if (open?.phase === phase) open.to = time;
    else {
      const edge = phase === 'ground' && open ? touchdown : open?.phase === 'ground' ? takeoff : time;
      if (open) open.to = edge;
      found.push({ phase, from: edge, to: time });
    }
  }
  return found;
}

/** The bands, shaded in turn. */
function shades(bands: readonly Band[], [low, high]: [number, number]): Plot.Markish {
  return Plot.rect(bands, {
    x1: 'from',
    x2: 'to',
    y1: low,
    y2: high,
    fill: (_: unknown, i: number) => (i % 2 === 0 ? '#f4f6f7' : '#e6ebee'),
  });
}

/** Their names along the top. */
function phaseNames(bands: readonly Band[], [, high]: [number, number]): Plot.Markish {
  return Plot.text(bands, {
    x: ({ from, to }: Band) => (from + to) / 2,
    y: high,
    text: ({ phase }: Band) => NAMES[phase]!,
    dy: 10,
    fontSize: 13,
    fill: INK,
    ...HALO,
  });
}

const HALO = { stroke: '#fff', strokeWidth: 4 };

function events({ events: told, rows }: TimeCurves, [low, high]: [number, number], named: boolean): Plot.Markish[] {
  const shown = told.filter(({ event }) => event !== 'turned');
  const [from, to] = [rows[0]!.time, rows[rows.length - 1]!.time];
  const late = to - 0.13 * (to - from);
  return [
    Plot.ruleX(shown, { x: 'time', y1: low, y2: high, stroke: INK, strokeWidth: 1, strokeDasharray: '2 3' }),
    ...(named
      ? shown.map((one) =>
          Plot.text([one], {
            x: 'time',
            y: low,
            text: ({ event, time }: { event?: string; time: number }) => `${event} ${short(time)} s`,
            // What happens near the end is named before it.
            dx: one.time > late ? -5 : 5,
            dy: -9,
            textAnchor: one.time > late ? 'end' : 'start',
            fontSize: 13,
            fill: INK,
            ...HALO,
          }),
        )
      : []),
  ];
}

/** Height of a row of names, pixels. */
const ROW = 18;

/** Names in a column at the right, each tied to its curve's peak; rows are pushed apart until none touch. */
function names(
  curves: readonly TimeCurves[],
  of: (row: Row) => number,
  [low, high]: [number, number],
  pixels: number,
  to: number,
): Plot.Markish[] {
  const row = ((high - low) / pixels) * ROW;
  const peaks = curves.map(({ name, rows }, i) => {
    const peak = rows.reduce((best, now) => (of(now) >= of(best) ? now : best));
    return { name, i, time: peak.time, y: of(peak) };
  });
  let ceiling = high - row / 2;
  return peaks
    .sort((a, b) => b.y - a.y || a.i - b.i)
    .flatMap(({ name, i, time, y }, place) => {
      const room = low + row * (peaks.length - place - 0.5);
      const at = Math.max(Math.min(y, ceiling), room);
      ceiling = at - row;
      const { stroke } = look(i);
      return [
        Plot.line(
          [
            { x: time, y },
            { x: to, y: at },
          ],
          { x: 'x', y: 'y', stroke, strokeWidth: 0.7 },
        ),
        Plot.text([{ x: to, y: at }], {
          x: 'x',
          y: 'y',
          text: () => cutName(name, 20),
          dx: 8,
          textAnchor: 'start',
          fontSize: 13,
          fill: stroke,
        }),
      ];
    });
}
