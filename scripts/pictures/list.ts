/** The pictures of the docs: what each is made by. Commands run in a folder with copies of the demo data. */
export interface Made {
  name: string;
  /** What a figure's file, or what a terminal shows; `page`: the first screen of what a command wrote. */
  kind: 'figure' | 'terminal' | 'page';
  /** As they are typed; of a terminal, all that is typed. */
  commands: readonly string[];
  /** Lines of a terminal, where there is no room for all. */
  lines?: number;
}

export const MADE: readonly Made[] = [
  { name: 'arcs', kind: 'figure', commands: ['draw arcs brindle.tuning.yaml --out arcs.svg'] },
  { name: 'compare', kind: 'figure', commands: ['compare brindle.tuning.yaml nimble.tuning.yaml yard.level.yaml leap.input.csv --out compare.svg'] },
  { name: 'envelope', kind: 'figure', commands: ['draw envelope brindle.tuning.yaml --reach 4,2 --out envelope.svg'] },
  { name: 'fit', kind: 'figure', commands: ['draw fit old-hand.capture.csv --scale 16 --out fit.svg'] },
  { name: 'margins', kind: 'figure', commands: ['survey yard.level.yaml brindle.tuning.yaml --out found', 'draw margins yard.level.yaml brindle.tuning.yaml found/link-4.input.csv --out margins.svg'] },
  { name: 'search', kind: 'figure', commands: ['search brindle.tuning.yaml jump.height=2.5..4.3/10 run.speed=5..10/6 --promises rooms.promises.yaml --out found.jsonl', 'draw search found.jsonl --out search.svg'] },
  { name: 'survey', kind: 'figure', commands: ['draw survey wheelhouse.level.yaml brindle.tuning.yaml --out survey.svg'] },
  { name: 'trace', kind: 'figure', commands: ['draw trace wheelhouse.level.yaml nimble.tuning.yaml shaft.input.csv --out trace.svg'] },
  { name: 'vary', kind: 'figure', commands: ['vary brindle.tuning.yaml jump.height=2..4/5 gravity.falling=1,2 --out vary.svg'] },
  { name: 'report', kind: 'page', commands: ['report brindle.tuning.yaml --out report.html'] },
  { name: 'design', kind: 'terminal', commands: ['design brindle.tuning.yaml height=3 riseTime=0.35 reach=6', 'verify brindle.promises.yaml brindle.tuning.yaml'] },
  { name: 'run', kind: 'terminal', commands: ['run wheelhouse.level.yaml nimble.tuning.yaml shaft.input.csv', 'check nimble.tuning.yaml --set wall.sameWall=any --set glide.fallSpeed=15'] },
  { name: 'sheet', kind: 'terminal', commands: ['sheet brindle.tuning.yaml'], lines: 44 },
]; // prettier-ignore

/** What a figure says, in words: its title, its description and every text in it. */
export function wordsOf(svg: string): string[] {
  return [...svg.matchAll(/<(title|desc|text|tspan)\b[^>]*>([^<]*)</g)].map(([, , text]) => text!.trim()).filter((text) => text !== ''); // prettier-ignore
}

/** Columns of a terminal. */
const WIDE = 136;

/** What a terminal shows of commands and what they print: what is longer goes on in the next line. */
export function shownBy({ commands, lines }: Made, printed: readonly string[]): string[] {
  const all = commands.flatMap((command, i) => [`$ apperin ${command}`, ...printed[i]!.trimEnd().split('\n'), '']).flatMap((line) => (line === '' ? [''] : (line.match(new RegExp(`.{1,${WIDE}}`, 'g')) ?? []))); // prettier-ignore
  return lines === undefined ? all.slice(0, -1) : all.slice(0, lines);
}
