import { fingerprint, openStage, recordTrace, rowNumbers, script, startOf, type InputRow, type Level, type Tuning } from 'apperin'; // prettier-ignore
import { busyInput } from './everything.js';
import { tiles, tuningFor } from './harder-ground.js';
import { hallOf, movingTuning } from './moving.js';
import { randomInput, randomLevel, livelyTuning } from './make.js';
import { randomizer } from './random.js';

/** The fingerprint of a long run of many characters: the same in every engine, or the engines differ. */
export function longRun(): string {
  const random = randomizer(81);
  const numbers: number[] = [];
  for (let i = 0; i < 60; i++) {
    const harder = i >= 40 ? tiles(random) : undefined;
    const stage = openStage(harder?.level ?? randomLevel(random));
    const driver = script(
      harder ? busyInput(random, 6).filter(({ action }) => action !== 'dash') : randomInput(random, 6),
    );
    const hero = stage.add(
      harder ? tuningFor(random) : livelyTuning(random),
      harder ? { driver, at: harder.at } : { driver },
    );
    const trace = recordTrace(stage, hero);
    for (let tick = 0; tick < 360; tick++) {
      stage.tick(1 / 60);
      trace.row();
    }
    for (const row of trace.rows) numbers.push(...rowNumbers(row));
    for (const event of trace.events) numbers.push(event.time!, event.x!, event.y!, event.vx!, event.vy!);
  }
  for (let i = 0; i < 20; i++) {
    const { level, at } = hallOf(random, 12);
    const stage = openStage(level);
    const driver = script(busyInput(random, 4).filter(({ action }) => action !== 'dash'));
    const hero = stage.add(movingTuning(random), { driver, at });
    for (let tick = 0; tick < 240; tick++) {
      stage.tick(1 / 60);
      numbers.push(hero.x, hero.y, hero.vx, hero.vy, ...stage.movers.flatMap(({ x, y }) => [x, y]));
    }
  }
  return `${numbers.length} numbers, ${fingerprint(Float64Array.from(numbers))}`;
}

/** The fingerprint of all that a recording shows when it is played again. */
export function playedAgain({ level, tuning, input }: Played): string {
  const { rate, spawn, facing, opposed } = startOf(input)!;
  const stage = openStage(level);
  const hero = stage.add(tuning, { driver: script(input), at: spawn, facing, opposed });
  const trace = recordTrace(stage, hero);
  const seconds = input.at(-1)!.time + 1;
  while (stage.time < seconds) {
    stage.tick(1 / rate);
    trace.row();
  }
  return `${stage.ticks} ticks, ${fingerprint(Float64Array.from(trace.rows.flatMap(rowNumbers)))}, ${fingerprint(stage.snapshot())}`;
}

export interface Played {
  level: Level;
  tuning: Tuning;
  input: readonly InputRow[];
}

const asked = globalThis as { longRunResult?: string; recording?: Played };
asked.longRunResult = `${longRun()}${asked.recording ? `; ${playedAgain(asked.recording)}` : ''}`;
