import * as Plot from '@observablehq/plot';
import type { Arcs, Varied } from 'apperin/lab';
import { FAINT, HEIGHT, INK, WIDTH, compose, cut, document, look, short, type Placed } from './frame.js';
import { curve } from './curve.js';
import { wayOf } from './path.js';

const TOP = 76;
/** Panels: those of measures beside and below the family of arcs, which takes the place of four. */
const [COLUMNS, ROWS] = [5, 4];
const FAMILY = 2;

/**
 * How each measure follows one or two keys: small multiples, one for each measure that changes, and the arcs of some of the tunings. Of a second
 * key each value is a line of its own.
 * @param family arcs of up to six of the tunings
 * @example
 * ```ts
 * const points = vary(brindle, [{ key: 'jump.height', values: [2, 3, 4] }]);
 * varyFigure(points, family(points));
 * ```
 */
export function varyFigure(varied: Varied, family: readonly Arcs[]): string {
  const { keys, points, changing } = varied;
  const [first, second] = keys;
  const [width, height] = [(WIDTH - 16) / COLUMNS, (HEIGHT - TOP - 8) / ROWS];
  const cells: [number, number][] = [];
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++)
      if (row >= FAMILY || column >= FAMILY || family.length === 0) cells.push([column, row]);
  const panels = changing.slice(0, cells.length).map((measure, i): Placed => {
    const rows = points.map(({ values }, k) => ({ at: values[0]!, line: second?.values.indexOf(values[1]!) ?? 0, value: measure.values[k]! }));
    const shown = rows.filter(({ value }) => value !== null && Number.isFinite(value));
    const lines = [...new Set(shown.map(({ line }) => line))];
    const plot = Plot.plot({
      document,
      width,
      height,
      marginLeft: 44,
      marginRight: 12,
      marginTop: 26,
      marginBottom: 30,
      style: { fontSize: '11px', fontFamily: 'inherit' },
      x: { ticks: 4, label: null, domain: domain(first!.values) },
      y: { ticks: 4, label: null, nice: true, ...(flat(shown.map(({ value }) => value)) ? { domain: around(shown[0]?.value ?? 0) } : {}) },
      marks: [
        Plot.frame({ stroke: '#e4e8ea' }),
        Plot.text([{}], { text: () => cut(`${measure.name}, ${measure.unit}`, 32), frameAnchor: 'top-left', dx: -34, dy: -20, fontSize: 11.5, fontWeight: 'bold', fill: INK }),
        ...lines.flatMap((line) => {
          const own = shown.filter((row) => row.line === line);
          const { stroke, dash } = look(line);
          return [
            Plot.line(own, { x: 'at', y: 'value', stroke, strokeWidth: 2, strokeDasharray: dash }),
            ...(first!.values.length <= 25 ? [Plot.dot(own, { x: 'at', y: 'value', r: 2.2, fill: stroke })] : []),
          ];
        }),
      ],
    });
    const [column, row] = cells[i]!;
    return { plot, x: 8 + column * width, y: TOP + row * height };
  });
  const arcsPlot = family.length === 0 ? [] : [familyPanel(family, width * FAMILY, height * FAMILY)];
  const wrong = points.filter(({ motion }) => motion === undefined).length;
  const said = [
    `Across each panel: ${first!.key} from ${short(first!.values[0]!)} to ${short(first!.values[first!.values.length - 1]!)}.`,
    ...(second ? [`Lines: ${second.key} ${second.values.map(short).join(', ')} (first one full).`] : []),
    ...(changing.length > cells.length ? [`${changing.length - cells.length} further measures change.`] : []),
    ...(wrong > 0 ? [`${wrong} of ${points.length} cannot be.`] : []),
  ];
  return compose(`Varied: ${keys.map(({ key }) => key).join(' and ')}`, said.join(' '), [...arcsPlot, ...panels]);
} // prettier-ignore

/** The arcs over each other, to scale, each named at its apex or its landing. */
function familyPanel(family: readonly Arcs[], width: number, height: number): Placed {
  const across = Math.max(...family.map(({ full }) => full.landing.x), 1e-9);
  const up = Math.max(...family.map(({ full }) => full.apex.y), 1e-9);
  const names = 0.3;
  const pixel = Math.max((across * (1 + names) * 1.1) / (width - 60), (up * 1.15) / (height - 70));
  const low = -0.05 * across;
  // Names stand in a column at the right, in the order in which the arcs end.
  const order = family.map((one, k) => ({ one, k })).sort((a, b) => b.one.full.apex.y - a.one.full.apex.y);
  const plot = Plot.plot({
    document,
    width,
    height,
    marginLeft: 44,
    marginRight: 16,
    marginTop: 26,
    marginBottom: 44,
    style: { fontSize: '12px', fontFamily: 'inherit' },
    x: { domain: [low, low + pixel * (width - 60)], ticks: 8, label: 'across, units →', labelAnchor: 'right' },
    y: { domain: [0, pixel * (height - 70)], ticks: 6, label: null },
    marks: [
      Plot.ruleY([0], { stroke: FAINT }),
      Plot.text([{}], { text: () => 'Full jump at run speed, to scale', frameAnchor: 'top-left', dx: -34, dy: -20, fontSize: 13, fontWeight: 'bold', fill: INK }),
      ...order.flatMap(({ one, k }, i) => {
        const { stroke, dash } = look(k);
        const at = { x: low + pixel * (width - 60), y: pixel * (height - 70 - 18 * (i + 0.7)) };
        const from = at.x - pixel * 190;
        return [
          curve(wayOf(one.full), { stroke, 'stroke-width': 2.2, 'stroke-dasharray': dash }),
          Plot.line([{ x: from, y: at.y }, { x: from + pixel * 34, y: at.y }], { x: 'x', y: 'y', stroke, strokeWidth: 2.2, strokeDasharray: dash }),
          Plot.text([{ x: from + pixel * 40, y: at.y }], { x: 'x', y: 'y', text: () => cut(one.name, 22), textAnchor: 'start', fontSize: 12, fill: stroke }),
        ];
      }),
    ],
  });
  return { plot, x: 8, y: TOP };
} // prettier-ignore

function domain(values: readonly number[]): [number, number] {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return low < high ? [low, high] : around(low);
}

const flat = (values: readonly number[]): boolean => values.every((value) => value === values[0]);
const around = (value: number): [number, number] => [value - Math.abs(value) / 2 - 1e-6, value + Math.abs(value) / 2 + 1e-6]; // prettier-ignore
