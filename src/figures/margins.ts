import * as Plot from '@observablehq/plot';
import type { PressMap } from 'apperin/lab';
import { FAINT, HEIGHT, INK, WIDTH, compose, cutName, document, look, short } from './frame.js';

/**
 * Press against hold: where both together lead to the same ground, what the input does, and the ends of its windows.
 * @example
 * ```ts
 * marginsFigure(pressMap({ level: yard, tuning: brindle, input: rows }), 'brindle')
 * ```
 */
export function marginsFigure({ action, margin, by, held, columns }: PressMap, name: string): string {
  const half = (by[1] - by[0]) / columns.length / 2;
  const cells = columns.flatMap(({ by: x, spans }) => spans.map(([y1, y2]) => ({ x1: 1000 * (x - half), x2: 1000 * (x + half), y1: 1000 * y1, y2: 1000 * y2 })));
  const { at, until, press, hold, adds } = margin;
  const here = { x: 0, y: 1000 * (until! - at) };
  const [from, to] = [press.earliest, press.latest].map((end) => (end === null ? null : 1000 * (end - at)));
  const [least, most] = [hold.least, hold.most].map((end) => (end === null || end > held[1] ? null : 1000 * end));
  const colour = look(0).stroke;
  const ends = [from, to].flatMap((x) => (x === null ? [] : [{ x: x!, y: here.y, text: `${x! > 0 ? '+' : '−'}${short(Math.abs(x!))} ms` }]));
  const plot = Plot.plot({
    document,
    width: WIDTH,
    height: HEIGHT - 84,
    marginLeft: 74,
    marginRight: 24,
    marginTop: 24,
    marginBottom: 56,
    style: { fontSize: '14px', fontFamily: 'inherit' },
    x: { domain: [1000 * by[0], 1000 * by[1]], label: 'the press comes later by, ms →', ticks: 10 },
    y: { domain: [1000 * held[0], 1000 * held[1]], label: '↑ held for, ms', ticks: 8 },
    marks: [
      Plot.rect(cells, { x1: 'x1', x2: 'x2', y1: 'y1', y2: 'y2', fill: '#ccd9df', stroke: '#ccd9df', strokeWidth: 0.6 }),
      Plot.frame({ stroke: FAINT }),
      // The windows of the margins, through what the input does.
      Plot.ruleY([here.y], { x1: from ?? 1000 * by[0], x2: to ?? 1000 * by[1], stroke: colour, strokeWidth: 3 }),
      Plot.ruleX([0], { y1: least ?? 0, y2: most ?? 1000 * held[1], stroke: colour, strokeWidth: 3, strokeDasharray: '6 4' }),
      Plot.dot([here], { x: 'x', y: 'y', r: 7, fill: '#fff', stroke: INK, strokeWidth: 2.5 }),
      Plot.text([{ ...here, text: 'the input' }, ...ends], { x: 'x', y: 'y', text: 'text', dy: 22, fill: INK, stroke: '#fff', strokeWidth: 4, fontSize: 14 }),
    ],
  });
  const help = Object.entries(adds).flatMap(([grace, share]) => (share === null || share < 5e-4 ? [] : [`${grace} adds ${short(1000 * share)} ms`]));
  const window = press.window === null ? 'no end' : `${short(1000 * press.window)} ms, ${short(60 * press.window)} frames at 60`;
  return compose(
    `${action} at ${short(at)} s: press against hold, ${cutName(name, 30)}`,
    `Shaded: it lands where the input does. The press may be moved within ${window} (full)${help.length > 0 ? `; ${help.join(', ')}` : ''}; dashed: the hold.`,
    [{ plot, x: 0, y: 84 }],
  );
} // prettier-ignore
