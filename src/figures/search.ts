import * as Plot from '@observablehq/plot';
import type { FoundRows, SearchRow, VariedKey } from 'apperin/lab';
import { FAINT, HEIGHT, INK, WIDTH, compose, document, look, type Placed } from './frame.js';

const TOP = 84;
/** The large panel, and how many small ones there are beside it. */
const LARGE = 600;
const [COLUMNS, MOST] = [4, 16];
/** Of a key with more values some are shown as one. */
const BINS = 24;

/** What is shown in one place: the row that keeps the most of all that are there. */
interface Cell {
  x: string;
  y: string;
  row: SearchRow;
  kept: number;
}

/** A key as an axis: a label for each place on it, and which place a value has. */
interface Axis {
  key: string;
  labels: string[];
  placeOf: (value: number) => string;
}

function axisOf({ key, values }: VariedKey): Axis {
  const sorted = [...new Set(values)].sort((one, other) => one - other);
  const each = Math.ceil(sorted.length / BINS);
  const labels = sorted.filter((_, i) => i % each === 0).map((value) => String(Number(value.toPrecision(6))));
  return { key, labels, placeOf: (value) => labels[Math.floor(sorted.indexOf(value) / each)]! };
}

/**
 * Which promises hold where, over one or two of the keys: how many together, and each by itself. Where several rows are in one place, the one that keeps the most is shown.
 * @param over the keys; the first two with several values unless given
 * @example
 * ```ts
 * searchFigure(found, ['jump.height'])
 * ```
 */
export function searchFigure({ head, rows }: FoundRows, over: readonly string[] = []): string {
  const several = head.keys.filter(({ values }) => values.length > 1);
  const chosen = over.length > 0 ? over.map((key) => head.keys.find((one) => one.key === key)!) : (several.length > 0 ? several : head.keys).slice(0, 2);
  const x = axisOf(chosen[0]!);
  const y: Axis = chosen[1] ? axisOf(chosen[1]) : { key: '', labels: [''], placeOf: () => '' };
  const cells = new Map<string, Cell>();
  for (const row of rows) {
    const kept = row.promises.filter(({ answer }) => answer === 'holds').length;
    const cell: Cell = { x: x.placeOf(row.set[x.key]!), y: y.placeOf(row.set[y.key]!), row, kept };
    const known = cells.get(`${cell.x} ${cell.y}`);
    if (!known || cell.kept > known.kept) cells.set(`${cell.x} ${cell.y}`, cell);
  }
  const list = [...cells.values()];
  const all = head.promises.length;
  const keep = rows.filter(({ promises }) => promises.every(({ answer }) => answer === 'holds')).length;
  const shown = head.promises.slice(0, MOST);
  const columns = shown.length <= 1 ? 1 : shown.length <= 4 ? 2 : shown.length <= 9 ? 3 : COLUMNS;
  const lines = Math.max(1, Math.ceil(shown.length / columns));
  const [width, height] = [(WIDTH - LARGE - 24) / columns, (HEIGHT - TOP - 8) / lines];
  const panels = shown.map((name, i): Placed => ({ plot: promisePanel(name, list.map((cell) => ({ ...cell, answer: cell.row.promises[i]!.answer })), x, y, width, height), x: LARGE + 16 + (i % columns) * width, y: TOP + Math.floor(i / columns) * height }));
  const hidden = head.keys.filter((key) => key.values.length > 1 && key.key !== x.key && key.key !== y.key);
  const said = [
    'Large: how many promises hold, framed where all do. Small: each by itself: filled holds, blank fails, ? not found, × error.',
    ...(hidden.length > 0 ? [`Of ${hidden.map(({ key }) => key).join(', ')} what keeps the most.`] : []),
    ...(all > MOST ? [`${all - MOST} further promises are not shown by themselves.`] : []),
    ...(rows.length < head.rows ? [`${head.rows - rows.length} rows are not done.`] : []),
  ];
  return compose(`${keep} of ${rows.length} tunings keep all ${all} promises`, said.join(' '), [{ plot: largePanel(list, all, x, y), x: 8, y: TOP }, ...panels]);
} // prettier-ignore

/** So many labels stand along an axis. */
const some = (labels: readonly string[], most: number): string[] =>
  labels.filter((_, i) => i % Math.ceil(labels.length / most) === 0);

function largePanel(cells: readonly Cell[], all: number, x: Axis, y: Axis): Element {
  const colour = look(0).stroke;
  const wide = (LARGE - 90) / x.labels.length;
  const high = (HEIGHT - TOP - 90) / y.labels.length;
  return Plot.plot({
    document,
    width: LARGE,
    height: HEIGHT - TOP - 8,
    marginLeft: 62,
    marginRight: 12,
    marginTop: 12,
    marginBottom: 52,
    style: { fontSize: '14px', fontFamily: 'inherit' },
    x: { type: 'band', domain: x.labels, ticks: some(x.labels, 12), label: `${x.key} →`, padding: 0.06 },
    y: { type: 'band', domain: [...y.labels].reverse(), ticks: some(y.labels, 16), label: y.key === '' ? null : `↑ ${y.key}`, padding: 0.06 },
    marks: [
      Plot.cell(cells, { x: 'x', y: 'y', fill: colour, fillOpacity: ({ kept }: Cell) => 0.04 + 0.5 * (kept / all) ** 2, stroke: FAINT, strokeWidth: 0.5 }),
      Plot.cell(cells.filter(({ kept }) => kept === all), { x: 'x', y: 'y', fill: colour, fillOpacity: 0.85, stroke: INK, strokeWidth: 2 }),
      ...(wide > 20 && high > 16 ? [Plot.text(cells, { x: 'x', y: 'y', text: ({ kept }: Cell) => String(kept), fill: ({ kept }: Cell) => (kept === all ? '#fff' : INK), fontSize: 13 })] : []),
    ],
  });
} // prettier-ignore

const MARKS: Readonly<Record<string, string>> = { 'not found': '?', error: '×' };

function promisePanel(name: string, cells: readonly (Cell & { answer: string })[], x: Axis, y: Axis, width: number, height: number): Element {
  const holds = cells.filter(({ answer }) => answer === 'holds');
  return Plot.plot({
    document,
    width,
    height,
    marginLeft: 30,
    marginRight: 8,
    marginTop: 40,
    marginBottom: 26,
    style: { fontSize: '11px', fontFamily: 'inherit' },
    x: { type: 'band', domain: x.labels, ticks: [x.labels[0]!, x.labels.at(-1)!], label: null, padding: 0 },
    y: { type: 'band', domain: [...y.labels].reverse(), ticks: y.key === '' ? [] : [y.labels[0]!, y.labels.at(-1)!], label: null, padding: 0 },
    marks: [
      Plot.cell(cells, { x: 'x', y: 'y', fill: '#fff', stroke: '#e4e8ea', strokeWidth: 0.5 }),
      Plot.cell(holds, { x: 'x', y: 'y', fill: look(0).stroke, fillOpacity: 0.6 }),
      Plot.text(cells.filter(({ answer }) => answer in MARKS), { x: 'x', y: 'y', text: ({ answer }: { answer: string }) => MARKS[answer]!, fill: INK, fontSize: 10 }),
      Plot.frame({ stroke: FAINT }),
      Plot.text([{}], { text: () => name, frameAnchor: 'top-left', dx: -24, dy: -6, lineAnchor: 'bottom', lineWidth: (width - 8) / 14, fontSize: 11.5, fontWeight: 'bold', fill: INK }),
      Plot.text([{}], { text: () => `${holds.length} of ${cells.length}`, frameAnchor: 'bottom', dy: 19, fontSize: 11, fill: INK }),
    ],
  });
} // prettier-ignore
