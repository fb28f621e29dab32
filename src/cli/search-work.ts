import type { Worker } from 'bullmq';
import type { Redis } from 'ioredis';
import { FOUND_LIMITS, LEVEL_LIMITS, readPlanned, visible, type PlannedFiles } from 'apperin/files';
import type { Long, Shared } from './options.js';
import { abilityHashes, buildOf } from './planned.js';
import { remark } from './print.js';
import { RowsDone } from './rows-done.js';
import { reached } from './search-queue.js';
import { MOST_LOST, addressOf, askedOf, hashed, namesOf, queuePackages, type RowAsked } from './search-wire.js';
import { inThreads, mostThreads, type Threads } from './threads.js';

/** It looks for searches so often, ms. */
const LOOKS = 250;
/** A row whose worker has not been heard of for so long is given to another, ms. */
const LOCK = 5_000;
const STALLS = 1_500;
/** It says so often how far a row has come, ms. */
const SAYS = 1_000;
/** Stalls are counted here, by rows that were begun and not ended: not by the engine. */
const NEVER = 1_000_000;

/** `apperin search work`: does rows of searches of this very build, until it is stopped. Cores run in threads, so that it can say meanwhile that it is still there. */
export async function workCommand(options: Shared & Long & { queue: string }): Promise<void> {
  const { connection, shown } = addressOf(options.queue);
  const { bullmq, Redis } = await queuePackages();
  const tell = (text: string): void => remark(visible(text), options.quiet);
  const build = buildOf();
  const redis = new Redis(connection);
  redis.on('error', () => undefined);
  await reached(redis, shown);
  const workers = options.workers ?? mostThreads();
  tell(`at work for ${shown} with ${workers} thread${workers === 1 ? '' : 's'}, build ${build}; Ctrl+C ends it when the rows that it has are done`);
  try {
    await inThreads(workers, tell, (threads) => new Work(bullmq, redis, { connection, workers, build, modules: options.abilities ?? [], threads, tell }).run(), 'service');
  } finally {
    redis.disconnect();
  }
} // prettier-ignore

interface About {
  connection: ReturnType<typeof addressOf>['connection'];
  workers: number;
  build: string;
  modules: readonly string[];
  threads: Threads;
  tell: (text: string) => void;
}

/** The searches that are worked at, by the hashes of their plans. */
class Work {
  private readonly names;
  private readonly at = new Map<string, Worker | undefined>();

  constructor(
    private readonly bullmq: typeof import('bullmq'),
    private readonly redis: Redis,
    private readonly about: About,
  ) {
    this.names = namesOf(about.build);
  }

  async run(): Promise<void> {
    const { threads } = this.about;
    while (!threads.stopped()) {
      try {
        const plans = await this.redis.smembers(this.names.plans);
        for (const hash of plans) if (!this.at.has(hash)) await this.begin(hash);
        // A search that is over is left.
        for (const [hash, worker] of this.at)
          if (!plans.includes(hash)) {
            this.at.delete(hash);
            await worker?.close();
          }
      } catch {
        // The server is away: it is asked again.
      }
      await new Promise((done) => setTimeout(done, LOOKS));
    }
    await Promise.all([...this.at.values()].map((worker) => worker?.close()));
  }

  /** Begins with a search; one that is not as it should be is refused, and left alone. */
  private async begin(hash: string): Promise<void> {
    const { tell } = this.about;
    let planned: PlannedFiles & { texts: Record<string, string> };
    try {
      planned = await this.planOf(hash);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.at.set(hash, undefined);
      tell(`refused the search ${hash.slice(0, 12)}: ${error.message}`);
      return;
    }
    tell(`search ${hash.slice(0, 12)}: ${planned.plan.rows} rows`);
    this.at.set(hash, this.worker(hash, planned));
  }

  private async planOf(hash: string): Promise<PlannedFiles & { texts: Record<string, string> }> {
    const { names } = this;
    const { build, modules } = this.about;
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new RangeError('its name is no hash');
    const planned = readPlanned(await this.text(names.plan(hash), hash, FOUND_LIMITS.plan));
    if (planned.plan.build !== build) throw new RangeError('it is of another build');
    const here = abilityHashes(modules);
    const missing = planned.plan.abilities.filter((one) => !here.includes(one));
    if (missing.length > 0) throw new RangeError(`it uses ${missing.length} module${missing.length === 1 ? '' : 's'} of abilities that this worker was not given, or that differ: --abilities names them`);
    const texts: Record<string, string> = {};
    for (const [file, { wrong }] of Object.entries(planned.files)) {
      texts[file] = wrong === undefined ? await this.text(names.file(file), file, LEVEL_LIMITS.length) : '';
    }
    return { ...planned, texts };
  } // prettier-ignore

  /** A text that lies under its hash. @throws RangeError where it is none, or too long */
  private async text(name: string, hash: string, most: number): Promise<string> {
    // Of characters that take up to four bytes each.
    const length = await this.redis.strlen(name);
    if (length > 4 * most) throw new RangeError(`${hash.slice(0, 12)} has ${length} bytes: it is too long`);
    return hashed(await this.redis.get(name), hash, most);
  }

  private worker(hash: string, planned: PlannedFiles & { texts: Record<string, string> }): Worker {
    const { bullmq, redis, names } = this;
    const { connection, workers, modules, threads, tell } = this.about;
    const rows = new RowsDone(threads, planned, modules);
    const worker = new bullmq.Worker<RowAsked, string>(
      names.queue(hash),
      async (job) => {
        const { data, id } = job;
        let row: number;
        try {
          ({ row } = askedOf(data, hash, planned.plan.rows));
          if (id !== `row-${row}`) throw new RangeError('its name is not that of its row');
        } catch (error) {
          tell(`refused a job: ${(error as Error).message}`);
          throw new bullmq.UnrecoverableError(`refused: ${(error as Error).message}`);
        }
        const starts = await redis.hincrby(names.starts(hash), String(row), 1);
        const saying = setInterval(() => {
          const doing = rows.doing().find((one) => one.row === row);
          // Where the server is away, nobody hears it.
          if (doing) void job.updateProgress(doing).catch(() => undefined);
        }, SAYS);
        try {
          const found = starts > MOST_LOST ? rows.lost(row) : await rows.row(row);
          await redis.hdel(names.starts(hash), String(row));
          return JSON.stringify(found);
        } finally {
          clearInterval(saying);
        }
      },
      { connection, concurrency: workers, lockDuration: LOCK, stalledInterval: STALLS, maxStalledCount: NEVER },
    );
    worker.on('error', (error) => {
      // That the server is away comes as this, over and over.
      if (!/ECONN|closed|ENOTFOUND|EPIPE|LOADING/.test(error.message)) tell(`a job was left: ${error.message.slice(0, 200)}`);
    });
    return worker;
  } // prettier-ignore
}
