import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { survey } from 'apperin/lab';
import type { Level } from 'apperin';

const MAIN = fileURLToPath(new URL('../dist/cli/main.js', import.meta.url));
/** A screen is so many tiles. */
const [WIDE, HIGH] = [64, 36] as const;

/** So many screens side by side, with ledges, planks and posts put there by a seed. */
export function screens(many: number, seed = 1): Level {
  let state = seed;
  const chance = (): number => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
  const whole = (least: number, most: number): number => least + Math.floor(chance() * (most - least + 1));
  const wide = many * WIDE;
  const rows = Array.from({ length: HIGH }, (_, y) => Array<string>(wide).fill(y === HIGH - 1 ? '#' : '.'));
  const fill = (x: number, y: number, across: number, down: number, mark: string): void => {
    for (let dy = 0; dy < down; dy++) for (let dx = 0; dx < across; dx++) if (rows[y + dy]?.[x + dx] !== undefined) rows[y + dy]![x + dx] = mark;
  };
  for (let screen = 0; screen < many; screen++)
    for (let i = 0; i < 60; i++) {
      const x = screen * WIDE + whole(1, WIDE - 10);
      const isPlank = chance() < 0.3;
      fill(x, whole(3, HIGH - 4), whole(2, 6), !isPlank && chance() < 0.2 ? whole(2, 4) : 1, isPlank ? '=' : '#');
    }
  // Somebody gets along the floor.
  fill(0, HIGH - 3, wide, 2, '.');
  rows[HIGH - 2]![1] = '@';
  return { rows: rows.map((row) => row.join('')), bounds: { left: 'wall', right: 'wall', top: 'open', bottom: 'out' } };
} // prettier-ignore

/** What a survey of some screens costs: one thread against two by the command, when it has its first answers, how much memory. */
export async function surveys(many: number, say: (line: string) => void): Promise<void> {
  const level = screens(many);
  const began = performance.now();
  let first = NaN;
  const { survey: found } = await survey({
    level,
    tuning: {},
    progress: ({ reached }) => {
      if (reached > 1 && Number.isNaN(first)) first = performance.now() - began;
      return true;
    },
  });
  const seconds = (performance.now() - began) / 1000;
  const { total, spent, places } = found;
  say(`${many} screens, ${places.length} places: ${total.yes} yes, ${total.no} no, ${total['not found']} not found; ${spent} events in ${seconds.toFixed(1)} s, the first answers after ${(first / 1000).toFixed(2)} s; ${Math.floor(process.memoryUsage.rss() / 1e6)} MB`);
  const folder = mkdtempSync(join(tmpdir(), 'survey-'));
  writeFileSync(join(folder, 'screens.level.yaml'), JSON.stringify(level));
  writeFileSync(join(folder, 'plain.tuning.yaml'), '{}');
  const timed = (workers: string): { seconds: number; out: string } => {
    const from = performance.now();
    const { stdout } = spawnSync(process.execPath, [MAIN, 'survey', 'screens.level.yaml', 'plain.tuning.yaml', '--workers', workers, '--json'], { cwd: folder, encoding: 'utf8', maxBuffer: 1e9 });
    return { seconds: (performance.now() - from) / 1000, out: stdout };
  };
  const [one, two] = [timed('1'), timed('2')];
  rmSync(folder, { recursive: true });
  say(`by the command, with how tight its presses are: one thread ${one.seconds.toFixed(1)} s, two ${(two.seconds / one.seconds).toFixed(2)} of it, ${one.out === two.out ? 'the same bytes' : 'OTHER BYTES'}`);
} // prettier-ignore
