/**
 * `npm run deep -- NAME`: plays random things for as long as it is let, and goes on where it was ended. Names are those of `jobs.ts`.
 *
 * Options: `--until TICKS` (ends there), `--from SEED` (begins anew from a seed), `--seed SEED` (plays one, and says what is wrong in it).
 * What it has done stands in `out/deep/NAME.json`; each seed in which a rule was broken in a file of its own beside it, which a test holds when it is
 * moved to `test/kept/`.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { JOBS, SUITES, type Job } from './jobs.js';

/** What has been done of a job. */
interface Done {
  job: string;
  commit: string;
  /** The first seed, and the one that is next. */
  from: number;
  next: number;
  ticks: number;
  deepest: number;
  broken: number;
  counts: Record<string, Record<string, number>>;
}

const FOLDER = 'out/deep';
/** What is saved at once, seeds. */
const BATCH = 20;

const { positionals, values } = parseArgs({ allowPositionals: true, options: { until: { type: 'string' }, from: { type: 'string' }, seed: { type: 'string' } } }); // prettier-ignore
const [name = ''] = positionals;
const job = Object.hasOwn(JOBS, name) ? JOBS[name] : undefined;
const suite = Object.hasOwn(SUITES, name) ? SUITES[name] : undefined;
if (suite) {
  const args = ['mocha', '--no-config', '--node-option', 'import=tsx', '--node-option', 'expose-gc', '--timeout', '0', ...suite.files]; // prettier-ignore
  process.exitCode = spawnSync('npx', args, { stdio: 'inherit', env: { ...process.env, APPERIN_TESTS: 'deep' } }).status ?? 1; // prettier-ignore
} else if (job) await go(job);
else {
  const list = [...Object.entries(JOBS), ...Object.entries(SUITES)].map(
    ([one, { about }]) => `  ${one.padEnd(8)} ${about}`,
  );
  console.error(`npm run deep -- NAME [--until TICKS] [--from SEED] [--seed SEED]\n${list.join('\n')}`);
  process.exitCode = 2;
}

async function go({ play, rare, whole }: Job): Promise<void> {
  if (values.seed !== undefined) {
    const { broken } = play(Number(values.seed));
    console.log(broken.length > 0 ? broken.join('\n') : `nothing is wrong in seed ${values.seed}`);
    process.exitCode = broken.length > 0 ? 1 : 0;
    return;
  }
  const commit = execFileSync('git', ['rev-parse', '--short', 'HEAD'], { encoding: 'utf8' }).trim();
  const file = `${FOLDER}/${name}.json`;
  mkdirSync(FOLDER, { recursive: true });
  const before = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Done) : undefined;
  const goesOn = before?.commit === commit && values.from === undefined;
  // Another commit is another core: it goes on with new seeds, and counts from none.
  const from = Number(values.from ?? before?.next ?? 1);
  const done: Done = goesOn ? before : { job: name, commit, from, next: from, ticks: 0, deepest: 0, broken: 0, counts: {} }; // prettier-ignore
  const until = Number(values.until ?? Infinity);
  let ended = false;
  process.on('SIGINT', () => (ended = true));
  while (!ended && done.ticks < until) {
    for (let i = 0; i < BATCH && done.ticks < until; i++) one(done, play);
    writeFileSync(`${file}.part`, `${JSON.stringify(done, undefined, 1)}\n`);
    renameSync(`${file}.part`, file);
    console.error(`${name}: ${done.ticks.toLocaleString('en')} of ${whole.toLocaleString('en')} ticks, next seed ${done.next}, ${done.broken} broken`); // prettier-ignore
    // An interruption comes in between two batches.
    await new Promise((later) => setImmediate(later));
  }
  console.log(`${done.ticks} ticks of ${name}, seeds ${done.from} to ${done.next - 1}, commit ${commit}; deepest ${done.deepest.toFixed(4)} of the tolerance; ${done.broken} seeds broken`); // prettier-ignore
  for (const [kind, list] of Object.entries(done.counts)) {
    const sorted = Object.entries(list).sort(([, a], [, b]) => b - a);
    console.log(`${kind}: ${sorted.map(([what, count]) => `${what} ${count}`).join(', ')}`);
  }
  const missed = done.ticks >= Math.min(whole, 1_000_000) ? rare(done.counts, done.ticks) : [];
  for (const what of missed) console.log(`RARE: ${what}`);
  process.exitCode = done.broken + missed.length > 0 ? 1 : 0;
}

function one(done: Done, play: Job['play']): void {
  const seed = done.next++;
  const { ticks, counts, deepest, broken } = play(seed);
  done.ticks += ticks;
  done.deepest = Math.max(done.deepest, deepest);
  for (const [kind, list] of Object.entries(counts))
    for (const [what, count] of Object.entries(list)) {
      const sums = (done.counts[kind] ??= {});
      sums[what] = (sums[what] ?? 0) + count;
    }
  if (broken.length === 0) return;
  done.broken++;
  const kept = `${FOLDER}/${done.job}-${seed}.json`;
  writeFileSync(kept, `${JSON.stringify({ job: done.job, seed, commit: done.commit, broken }, undefined, 1)}\n`);
  console.error(`seed ${seed}: ${broken[0]}\n  kept as ${kept}`);
}
