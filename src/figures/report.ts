import { KEYS, MEANINGS, valueOfKey, type Ability, type Motion } from 'apperin';
import {
  MEASURE_GROUPS,
  arcs,
  compare,
  envelope,
  sheet,
  speedCurves,
  timeCurves,
  warnings,
  type Measure,
  type PressMargin,
  type Survey,
} from 'apperin/lab';
import { arcsFigure } from './arcs.js';
import { envelopeFigure } from './envelope.js';
import { speedFigure } from './speed.js';
import { timeFigure } from './time.js';

/** A level that the character was surveyed in: what was found, its picture, and the tightest presses between places. */
export interface ReportedLevel {
  title: string;
  svg: string;
  survey: Survey;
  tightest: readonly { from: number; to: number; how: string; press: PressMargin }[];
}

/** A tuning to report on. */
export interface Reported {
  name: string;
  motion: Motion;
}

/**
 * A character as one page to keep: every figure and every measure, what will feel wrong, every key, and what differs from a second tuning. It is whole in itself: nothing
 * is fetched, and it prints well.
 * @param about the character
 * @param other a second tuning to compare it with
 * @param options settings, each of which may be left out
 * @param options.rate ticks per second, for windows in ticks
 * @param options.levels levels that it was surveyed in
 * @param options.abilities abilities of the game's own, whose moves are measured
 * @example
 * ```ts
 * reportPage({ name: 'brindle', motion })
 * ```
 */
export function reportPage(about: Reported, other?: Reported, { rate = 60, levels = [], abilities = [] }: { rate?: number; levels?: readonly ReportedLevel[]; abilities?: readonly Ability[] } = {}): string {
  const { name, motion } = about;
  const measures = sheet(motion, { rate, abilities });
  const shown = [
    section('jump', 'The jump', figure(arcsFigure([arcs(name, motion)]))),
    section('time', 'Over time', figure(timeFigure([timeCurves(name, motion)]))),
    section('speed', 'Speed', figure(speedFigure([speedCurves(name, motion)]))),
    section('envelope', 'Everything it can reach', figure(envelopeFigure(envelope(motion, { abilities }), arcs(name, motion)))),
    ...levels.map((level, i) => section(`level-${i + 1}`, `Where it gets to: ${level.title}`, levelPart(level))),
    section('measures', 'Every measure', measureTables(measures)),
    section('check', 'What may feel wrong', warningList(motion, rate)),
    ...(other ? [section('compare', `Compared with ${other.name}`, comparison(about, other, { rate, abilities }))] : []),
    section('keys', 'Every key', keyTable(motion)),
  ];
  const links = shown.map(({ id, title }) => `<li><a href="#${id}">${escape(title)}</a></li>`).join('');
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="generator" content="Apperin">
<title>${escape(name)}: a character report</title>
<link rel="icon" href="data:,">
<style>${STYLE}</style>
</head>
<body>
<header>
<h1>${escape(name)}</h1>
<p>${escape(summary(measures))}</p>
<nav aria-label="Contents"><ul>${links}</ul></nav>
</header>
<main>
${shown.map(({ html }) => html).join('\n')}
</main>
<footer><p>One tile is ${motion.full.tile} unit${motion.full.tile === 1 ? '' : 's'}; lengths in units, times in seconds; windows in ticks at ${rate} a second.</p></footer>
</body>
</html>
`;
} // prettier-ignore

function section(id: string, title: string, content: string): { id: string; title: string; html: string } {
  const html = `<section id="${id}" aria-labelledby="${id}-title"><h2 id="${id}-title">${escape(title)}</h2>\n${content}\n</section>`;
  return { id, title, html };
}

/** A figure without its size, so that it is as wide as the page; as a picture it is named by its title alone. */
function figure(svg: string): string {
  const plain = svg.replace(/ aria-(?:label|description)="[^"]*"/g, '');
  return `<figure>${plain.replace(/ width="\d+(?:\.\d+)?" height="\d+(?:\.\d+)?"/, '')}</figure>`;
}

function summary(measures: readonly Measure[]): string {
  const value = (id: string): string | undefined => {
    const found = measures.find((measure) => measure.id === id);
    return found && show(found.value);
  };
  const [apex, rise, reach, hop] = ['apexHeight', 'riseTime', 'reach', 'lowestHop'].map(value);
  if (apex === undefined) return `Top speed is reached within ${value('runUpTime')} s.`;
  return `A full jump rises ${apex} units in ${rise} s and reaches ${reach} across; a tap rises ${hop}. Top speed is reached within ${value('runUpTime')} s, and left behind within ${value('stoppingTime')}.`;
}

function measureTables(measures: readonly Measure[]): string {
  const groups = [...new Set(measures.map(({ group }) => group))];
  return groups
    .map((group) => {
      const rows = measures.filter((measure) => measure.group === group).map(({ name, value, unit, tiles, how }) => [name, show(value), unit, tiles === null ? '' : show(tiles), how]);
      return table(MEASURE_GROUPS[group], ['measure', 'value', 'unit', 'tiles', 'how'], rows, [1, 3]);
    })
    .join('\n');
} // prettier-ignore

function levelPart({ svg, survey: { targets, total, places }, tightest }: ReportedLevel): string {
  const ways = targets.map(({ name, kind, answer, time, care }) => [name, kind, answer, time === null ? '' : show(time), care === null ? '' : String(Math.round(1000 * care))]);
  const tight = tightest.map(({ from, to, how, press: { action, press } }) => [`${from} to ${to}`, how, action, (1000 * press.window!).toFixed(1), (60 * press.window!).toFixed(1)]);
  return [
    figure(svg),
    `<p>Of ${places.length} places ${total.yes} are reached, ${total.no} are out of reach, ${total['not found']} were not found.</p>`,
    ...(ways.length > 0 ? [table('What it is to get to', ['to', '', 'answer', 'after, s', 'care, ms'], ways, [3, 4])] : []),
    ...(tight.length > 0 ? [table('The tightest presses between places', ['places', 'how', 'key', 'window, ms', 'frames at 60'], tight, [3, 4])] : []),
  ].join('\n');
} // prettier-ignore

function warningList(motion: Motion, rate: number): string {
  const found = warnings(motion, { rate });
  if (found.length === 0) return '<p>Nothing to say against it.</p>';
  return `<ul>${found.map(({ key, reason, suggestion }) => `<li><code>${escape(key)}</code>: ${escape(reason)}; try ${escape(suggestion)}</li>`).join('')}</ul>`;
}

function comparison(about: Reported, other: Reported, options: { rate: number; abilities: readonly Ability[] }): string {
  const both = [about, other].map(({ name, motion }) => ({ name, tuning: motion }));
  const { names, keys, measures } = compare(both, options);
  const cell = (value: number | null): string => (value === null ? '–' : show(value));
  const differing = measures.filter(({ differences }) => differences[1] !== 0);
  return [
    figure(arcsFigure([about, other].map(({ name, motion }) => arcs(name, motion)))),
    keys.length === 0 ? '<p>No key differs.</p>' : table('Keys that differ', ['key', ...names], keys.map(({ key, values }) => [key, ...values.map(word)]), []),
    differing.length === 0 ? '<p>No measure differs.</p>' : table('Measures that differ', ['measure', 'unit', ...names, 'difference'], differing.map(({ name, unit, values, differences }) => [name, unit, cell(values[0]!), cell(values[1]!), cell(differences[1]!)]), [2, 3, 4]),
  ].join('\n');
} // prettier-ignore

function keyTable({ full }: Motion): string {
  const rows = KEYS.map(({ key }) => [key, valueOfKey(full, key), MEANINGS[key] ?? ''] as const)
    .filter(([, value]) => value !== undefined)
    .map(([key, value, meaning]) => [key, word(value), meaning]);
  return table('The tuning, with its defaults', ['key', 'value', 'what it is'], rows, []);
}

function word(value: unknown): string {
  if (value === undefined) return '–';
  if (typeof value === 'number') return String(Number(value.toPrecision(7)));
  return typeof value === 'object' ? JSON.stringify(value) : String(value);
}

function show(value: number): string {
  return Number.isFinite(value) ? value.toFixed(3) : '–';
}

/** @param right columns whose cells stand to the right */
function table(
  caption: string,
  headings: readonly string[],
  rows: readonly (readonly string[])[],
  right: readonly number[],
): string {
  const align = (column: number): string => (right.includes(column) ? ' class="n"' : '');
  const head = headings.map((heading, i) => `<th scope="col"${align(i)}>${escape(heading)}</th>`).join('');
  const body = rows.map((row) => `<tr>${row.map((cell, i) => (i === 0 ? `<th scope="row">${escape(cell)}</th>` : `<td${align(i)}>${escape(cell)}</td>`)).join('')}</tr>`);
  return `<table><caption>${escape(caption)}</caption><thead><tr>${head}</tr></thead><tbody>\n${body.join('\n')}\n</tbody></table>`;
} // prettier-ignore

function escape(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
}

const STYLE = `
body { margin: 0 auto; max-width: 1100px; padding: 24px; color: #22303a; background: #fff; font: 15px/1.5 'DejaVu Sans', Verdana, sans-serif; }
h1 { margin: 0; font-size: 28px; } h2 { margin: 32px 0 8px; font-size: 20px; border-bottom: 1px solid #9aa5ab; }
nav ul { display: flex; flex-wrap: wrap; gap: 4px 18px; padding: 0; list-style: none; } a { color: #1d4f6e; }
figure { margin: 0; } figure svg { display: block; width: 100%; height: auto; }
table { border-collapse: collapse; width: 100%; margin: 12px 0 20px; font-size: 14px; }
caption { text-align: left; font-weight: bold; padding: 4px 0; }
th, td { padding: 3px 10px 3px 0; text-align: left; font-weight: normal; border-bottom: 1px solid #e4e8ea; vertical-align: top; }
thead th { font-weight: bold; border-bottom: 1px solid #22303a; } .n { text-align: right; font-variant-numeric: tabular-nums; }
code { font-family: 'DejaVu Sans Mono', monospace; } footer { margin-top: 32px; color: #4a575f; font-size: 13px; }
@media print {
  @page { size: A4; margin: 14mm; }
  body { padding: 0; font-size: 10pt; max-width: none; } nav { display: none; }
  table { font-size: 8.5pt; } thead { display: table-header-group; } tr, figure { break-inside: avoid; } h2, caption { break-after: avoid; }
}
`.trim();
