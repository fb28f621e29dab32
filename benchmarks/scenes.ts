import { rooms } from './large-level.js';
import { ability, openStage, type Driver, type Level, type Stage, type Tuning } from 'apperin';
import { bareLoop, ring } from './bare-loop.js';
import { LIFTS, RICH } from './ticks.js';

/** What a tick costs in scenes of play, against the bare loop: each has an aim. */

const DT = 1 / 60;
/** Ticks before anything is measured: what is not compiled yet rules short rounds. */
const WARM = 200_000;
const ROUNDS = 7;

const FLAT: Level = { rows: ['@'.padEnd(301, '.'), '#'.repeat(301)], bounds: { left: 'wall', right: 'wall' } };

/** The same, with movers that nobody ever comes near. */
const FAR: Level = {
  ...FLAT,
  movers: Array.from({ length: 64 }, (_, i) => ({
    name: `far${i}`,
    shapes: [{ form: 'solid', points: [[10 * i, -200], [10 * i + 4, -200], [10 * i + 4, -199], [10 * i, -199]] }],
    route: { curve: [[0, 0, 0, -5]], lap: 3, keyPoints: [0, 1, 0] },
  })),
}; // prettier-ignore

/** Presses and lets go without end: left, right or jump, one change in so many seconds. */
export function restless(gap: number, seed = 1): Driver {
  let state = seed;
  let next = gap;
  const held = new Uint8Array(3);
  return {
    read(into) {
      for (; next < into.until; next = Math.floor((next + gap) * 1e6 + 0.5) / 1e6) {
        state = (state * 1103515245 + 12345) % 2147483648;
        const which = Math.floor((3 * state) / 2147483648);
        held[which]! ^= 1;
        into.push(next, which === 2 ? 4 : which, held[which]!);
      }
    },
  };
}

function stageOf(level: Level, gap = 0, tuning: Tuning = {}): Stage {
  const stage = openStage(level);
  stage.add(tuning, gap > 0 ? { driver: restless(gap) } : {});
  return stage;
}

const edges = ring(16);

/** Seconds that something takes: the least of several rounds. */
function least(run: () => void, rounds = ROUNDS): number {
  let best = Infinity;
  for (let i = 0; i < rounds; i++) {
    const from = performance.now();
    run();
    best = Math.min(best, (performance.now() - from) / 1000);
  }
  return best;
}

const bare = (): number => least(() => void bareLoop(200_000, DT, edges)) / 200_000;

function ticksOf(stage: Stage, ticks = 20_000): number {
  return least(() => {
    for (let i = 0; i < ticks; i++) stage.tick(DT);
  }) / ticks; // prettier-ignore
}

function warmed(stage: Stage, ticks = WARM): Stage {
  for (let i = 0; i < ticks; i++) stage.tick(DT);
  return stage;
}

/** Prints every scene. @param say where a line goes */
export function scenes(say: (line: string) => void): void {
  for (let i = 0; i < 20; i++) bareLoop(100_000, DT, edges);
  const line = (name: string, ratio: number, aim: string, more = ''): void =>
    say(`${name}: ${ratio.toPrecision(3)} times the bare loop (aim ${aim})${more}`);
  const measure = (name: string, aim: string, stage: Stage): void => {
    line(name, ticksOf(warmed(stage)) / bare(), aim);
  };
  measure('at rest', '0.5', stageOf({ rows: ['@....', '#####'] }));
  measure('on flat ground, a change every half second', '4', stageOf(FLAT, 0.5));
  measure('rich terrain, a change every 0.3 s', '8', stageOf(RICH, 0.3));
  measure('among four lifts, a change every 0.3 s', '12', stageOf(LIFTS, 0.3));
  const beside = (gap: number): string => {
    const [far, none] = [warmed(stageOf(FAR, gap)), warmed(stageOf(FLAT, gap))];
    return (ticksOf(far) / ticksOf(none)).toFixed(2);
  };
  say(`64 movers out of reach: at rest ${beside(0)}, in play ${beside(0.5)} times none (aim 1.2)`);

  for (const [count, aim] of [[1000, '0.1 a body'], [10_000, '1 ms a tick']] as const) {
    const stage = openStage(FLAT);
    for (let i = 0; i < count; i++) stage.add({}, { at: [1 + (i % 299), 1], name: `sleeper${i}` });
    if (count === 10_000) stage.add({}, { driver: restless(0.3) });
    const time = ticksOf(warmed(stage, 2000), 2000);
    line(`${count} sleepers${count === 10_000 ? ' and one who plays' : ''}, a body`, time / count / bare(), aim, `, ${(time * 1000).toFixed(4)} ms a tick`); // prettier-ignore
  } // prettier-ignore

  const many = openStage(RICH);
  const alone = Array.from({ length: 100 }, (_, i) => {
    many.add({}, { driver: restless(0.3, 777 + i), name: `hero${i}` });
    const stage = openStage(RICH);
    stage.add({}, { driver: restless(0.3, 777 + i) });
    return stage;
  });
  for (let i = 0; i < 4000; i++) for (const stage of [many, ...alone]) stage.tick(DT);
  const together = ticksOf(many, 300);
  const apart = least(() => {
    for (let i = 0; i < 300; i++) for (const stage of alone) stage.tick(DT);
  }) / 300; // prettier-ignore
  say(`100 who all play: ${(together / apart).toFixed(2)} times each on a stage alone (aim 1.2)`);

  // The same density of bodies that all meet whom they come near: what it costs goes by those.
  const crowd = (count: number, meets: boolean): Stage => {
    const hall: Level = {
      rows: ['@'.padEnd(2 * count, '.'), '#'.repeat(2 * count)],
      bounds: { left: 'wall', right: 'wall' },
    };
    const stage = openStage(hall);
    for (let i = 0; i < count; i++)
      stage.add({}, { name: `n${i}`, at: [1 + 2 * i, 1], groups: ['all'], driver: restless(0.5, i + 1) });
    if (meets) stage.meet('all', 'all');
    for (let i = 0; i < 1200; i++) stage.tick(DT);
    return stage;
  };
  const each = (count: number, meets: boolean): number => ticksOf(crowd(count, meets), 120) / count;
  const meeting = (count: number): string => (each(count, true) / each(count, false)).toFixed(2);
  say(`100 who all meet whom they come near: ${meeting(100)} times as many who do not`);
  say(`1,000 of them, in a room ten times as long: ${meeting(1000)} times as many who do not (aim: as 100)`);

  const asking = warmed(stageOf(RICH, 0.3), 20_000);
  const area = { x: 3, y: 3, width: 1, height: 1 };
  const list = { count: 0, found: [] };
  const hit = asking.ray([2, 2], [30, 9])!;
  const ask = (question: (i: number) => void): number => {
    for (let i = 0; i < 50_000; i++) question(i);
    return (
      least(() => {
        for (let i = 0; i < 20_000; i++) question(i);
      }) / 20_000
    );
  };
  const overlapped = ask((i) => {
    area.x = (i % 160) / 8;
    asking.overlap(area, undefined, list);
  });
  const from: [number, number] = [0, 2];
  const to: [number, number] = [20, 8];
  const looked = ask((i) => {
    from[0] = (i % 160) / 8;
    asking.ray(from, to, undefined, hit);
  });
  line('a question: what overlaps a box', overlapped / bare(), '-');
  line('a question: a ray of twenty units', looked / bare(), '-');

  // Digging and filling about in rooms: a hundred of them, and as many as a million tiles are.
  const digging = (across: number, up: number): { each: number; first: number; worst: number } => {
    const level = rooms(across, up);
    const stage = openStage(level);
    stage.add({});
    const change = (i: number): void => {
      const [x, y] = [((i * 7919) % (10 * across)) + 0.5, ((i * 104729) % (10 * up)) + 0.5];
      stage.setMark(x, y, stage.markAt(x, y) === '#' ? '.' : '#');
    };
    const start = performance.now();
    change(0);
    const first = performance.now() - start;
    for (let i = 1; i < 20_000; i++) change(i);
    let worst = 0;
    const times = Array.from({ length: 20_000 }, (_, i) => {
      const from = performance.now();
      change(20_000 + i);
      const took = performance.now() - from;
      worst = Math.max(worst, took);
      return took;
    }).sort((a, b) => a - b);
    return { each: times[10_000]!, first, worst };
  };
  const [cells, million] = [digging(10, 10), digging(100, 100)];
  say(
    `a cell that is changed in a million tiles: ${(million.each / cells.each).toFixed(2)} times one in ten thousand, ${million.each.toFixed(3)} ms (aim 0.2), the first ${million.first.toFixed(1)} ms, the longest of 20,000 ${million.worst.toFixed(1)} ms`,
  );

  // What an event costs, over a stage on which a driver is asked and nothing happens.
  let pieces = 0;
  const counted = openStage(RICH);
  counted.add({}, { driver: restless(0.3), abilities: [ability('counter', { act: () => void pieces++ })] });
  warmed(counted, 20_000);
  const asked = openStage(RICH);
  asked.add({}, { driver: { read: () => undefined } });
  const an = ((ticksOf(warmed(stageOf(RICH, 0.3))) - ticksOf(warmed(asked))) * 20_000) / pieces;
  line('an event in rich terrain, with the next piece', an / bare(), '25', `, ${(pieces / 20_000).toFixed(2)} a tick`);

  // The same run with short strides and with long ones: what is left is the footfalls.
  const far: Level = { rows: ['@'.padEnd(4000, '.'), '#'.repeat(4000)], bounds: { left: 'wall', right: 'wall' } };
  const strides = (stride: number): { time: number; count: number } => {
    const stage = openStage(far);
    stage.add(
      { pose: { stride } },
      { driver: { read: (into) => void (into.start === 0 && into.push(into.from, 'right', 1)) } },
    );
    const start = stage.snapshot();
    const run = (): void => {
      stage.restore(start);
      for (let k = 0; k < 6000; k++) stage.tick(DT);
    };
    for (let i = 0; i < WARM / 6000; i++) run();
    let count = 0;
    stage.listen(({ event }) => void (event === 'footfall' && count++));
    const time = least(run);
    return { time, count: count / ROUNDS };
  };
  const [few, often] = [strides(4), strides(0.25)];
  line('one that is only told', (often.time - few.time) / (often.count - few.count) / bare(), '4');

  const late = warmed(stageOf(RICH, 0.3), 20_000);
  const kept = late.snapshot();
  const again = least(() => {
    for (let i = 0; i < 1000; i++) {
      late.restore(kept);
      for (let k = 0; k < 8; k++) late.tick(DT);
    }
  }) / 1000; // prettier-ignore
  say(`late input, eight ticks played again: ${(again / an).toFixed(1)} events' cost (aim 40)`);

  const long = (dt: number, seconds: number): number => {
    const stage = stageOf(RICH, 0.3);
    for (let i = 0; i < 200_000 / 60 / dt; i++) stage.tick(dt);
    return least(() => {
      for (let i = 0; i < seconds / dt; i++) stage.tick(dt);
    });
  };
  const small = long(DT, 1000);
  say(`ticks of 1 s: ${(long(1, 1000) / small).toFixed(2)}, of 10 s: ${(long(10, 1000) / small).toFixed(2)} times ticks of 1/60 s (aim 1)`); // prettier-ignore
}
