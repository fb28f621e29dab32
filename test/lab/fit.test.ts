import { expect } from 'chai';
import { compileTuning, fillTuning, type InputRow, type Tuning } from 'apperin';
import { CaptureError, compare, fit, sheet, type Capture, type Fitted } from 'apperin/lab';
import { readTuning } from 'apperin/files';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { OLD_HAND, flat, noisy, randomOf, record, seen, session, stepped, type Captured } from '../support/captures.js';
import { DATA } from '../support/cli.js';
import { wrongOf } from '../support/fitting.js';

interface Filmed {
  film: Captured;
  rows: InputRow[];
}

/** A capture of somebody who tries everything: half a minute. */
function filmed(tuning: Tuning, seed: number, { pixels = 0.5, ...what }: Parameters<typeof session>[1] & { pixels?: number } = {}): Filmed {
  const random = randomOf(seed);
  const rows = session(random, { full: 6, short: 6, runs: 5, ...what });
  return { rows, film: noisy(record(tuning, rows), random, pixels) };
} // prettier-ignore

const keysOf = ({ found }: Fitted): string[] => Object.keys(found);
const cannot = ({ cannotTell }: Fitted): string[] => cannotTell.map(({ key }) => key);

/** Whether a time is in what was not explained. */
const isOut = ({ unexplained }: Fitted, time: number): boolean => unexplained.some(({ from, to }) => time > from && time < to); // prettier-ignore

describe('The numbers of a captured motion', () => {
  it('are those that it was made with, as sure as they say', () => {
    // As many as a capture should have: ten full jumps, ten short ones, thirty starts, stops and turns.
    const { film } = filmed({}, 1, { full: 10, short: 10, runs: 15 });
    const fitted = fit(seen(film));
    expect(wrongOf(fitted, {})).to.deep.equal([]);
    const halves = { 'jump.height': 1, 'jump.riseTime': 2, 'gravity.falling': 4, 'gravity.released': 10, 'gravity.apex': 12, 'run.speed': 0.5, 'run.upIn': 10, 'run.stopIn': 13, 'run.turnIn': 12 }; // prettier-ignore
    for (const [key, percent] of Object.entries(halves)) {
      const { value, within, stretches } = fitted.found[key]!;
      expect((100 * within) / value, key).to.be.at.most(percent);
      expect(stretches, key).to.be.at.least(10);
    }
    expect(fitted.residual.rms).to.be.closeTo(0.5 / 16, 0.003);
    expect(fitted.unexplained).to.deep.equal([]);
    expect(cannot(fitted)).to.include.members(['gravity.fallSpeed', 'airJumps.heights', 'run.air.upIn']);
  });

  it('are those that it was made with to the last digit, where nothing is off', () => {
    const { film } = filmed({}, 2, { pixels: 0 });
    const fitted = fit(seen(film));
    expect(wrongOf({ ...fitted, found: Object.fromEntries(Object.entries(fitted.found).map(([key, one]) => [key, { ...one, within: 1e-4 }])) }, {})).to.deep.equal([]); // prettier-ignore
  });

  it('hold for pixels with y down, rows missing, shown twice, at uneven times and far off', () => {
    const { film } = filmed({}, 3);
    const random = randomOf(30);
    const made: Captured = { ...film, x: film.x.slice(), y: film.y.slice() };
    for (let i = 1; i < made.time.length; i++) {
      if (random.chance(0.02)) [made.x[i], made.y[i]] = [made.x[i - 1]!, made.y[i - 1]!];
      if (random.chance(0.01)) made.y[i]! += random.pick([-1.5, 1.5]);
    }
    const kept = made.time.map(() => !random.chance(0.1));
    const some = (of: readonly number[], by = 1): number[] => of.filter((_, i) => kept[i]).map((value) => value * by);
    const fitted = fit(
      { time: some(made.time).map((time) => time + random.between(-0.002, 0.002)), x: some(made.x, 16), y: some(made.y, -16) },
      { scale: 16 },
    ); // prettier-ignore
    expect(fitted.yPoints).to.equal('down');
    expect(fitted.residual.strays).to.be.above(10);
    for (const [key, most] of [['jump.height', 0.05], ['jump.riseTime', 0.008], ['gravity.falling', 0.12], ['run.speed', 0.06], ['run.upIn', 0.02], ['run.turnIn', 0.025]] as const) {
      const truth = key.split('.').reduce<unknown>((of, part) => (of as Record<string, unknown>)[part], fillTuning({})) as number;
      expect(fitted.found[key]!.value, key).to.be.closeTo(truth, most);
    } // prettier-ignore
  });

  it('hold for places in whole pixels, eight of them a unit', () => {
    const { film } = filmed({}, 4, { pixels: 0 });
    const whole = (of: readonly number[]): number[] => of.map((value) => Math.floor(value * 8 + 0.5));
    expect(wrongOf(fit({ time: film.time, x: whole(film.x), y: whole(film.y) }, { scale: 8 }), {})).to.deep.equal([]);
  });

  it('are not harmed by a bounce, a teleport and a ride, which are named', () => {
    const { film } = filmed({}, 5, { runs: 2 });
    const odd: Captured = { ...film, time: [...film.time], x: [...film.x], y: [...film.y] };
    const start = odd.time.at(-1)!;
    const [x, ground] = [odd.x.at(-1)!, 1];
    const random = randomOf(50);
    const add = (seconds: number, at: (t: number) => number): void => {
      const from = odd.time.at(-1)!;
      for (let i = 1; i <= seconds * 60; i++) {
        odd.time.push(from + i / 60);
        odd.x.push(x + random.between(-0.03, 0.03));
        odd.y.push(at(i / 60) + random.between(-0.03, 0.03));
      }
    };
    // Thrown up from the ground, and bouncing; lifted; away at once; and home.
    add(0.5, () => ground);
    add(0.6, (t) => ground + Math.max(0, t < 0.3 ? 9 * t - 30 * t * t : 6 * (t - 0.3) - 30 * (t - 0.3) ** 2));
    add(0.5, () => ground);
    add(1, (t) => ground + 3 * t);
    add(0.5, () => ground + 3);
    // Carried down again, where it has stood: no slide along a wall.
    add(0.6, (t) => ground + 3 - 2 * t);
    add(0.5, () => ground + 1.8);
    add(0.5, () => ground + 9);
    const fitted = fit(seen(odd));
    for (const [what, time] of [['bounce', 0.8], ['ride', 2.1], ['teleport', 4.208]] as const) expect(isOut(fitted, start + time), what).to.equal(true);
    expect(keysOf(fitted).filter((key) => key.startsWith('wall'))).to.deep.equal([]);
    const plain = fit(seen(film));
    for (const key of ['jump.height', 'jump.riseTime', 'gravity.falling']) expect(fitted.found[key]!.value, key).to.be.closeTo(plain.found[key]!.value, plain.found[key]!.within);
  }); // prettier-ignore

  it('have an apex band where the motion has one, and none where it has not', () => {
    for (const seed of [1, 2, 3]) {
      const none = fit(seen(filmed({ gravity: { apexSpeed: 0 } }, seed, { runs: 0 }).film));
      expect(keysOf(none), `${seed}`).to.not.include('gravity.apex');
      expect(none.tuning.gravity).to.include({ apexSpeed: 0 });
      const tuning = { gravity: { apexSpeed: 2, apex: 0.7 } };
      expect(keysOf(fit(seen(filmed(tuning, seed, { runs: 0, full: 10 }).film))), `${seed}`).to.include('gravity.apex');
    }
  });

  it('tell what letting go does: another gravity, or a share of the speed', () => {
    const cut = fit(seen(filmed({ gravity: { cutTo: 0.45 } }, 6, { runs: 0 }).film));
    expect(keysOf(cut)).to.include('gravity.cutTo').and.not.include('gravity.released');
    expect(cut.found['gravity.cutTo']!.value).to.be.closeTo(0.45, 0.05);
  });

  it('have the lowest hop, where keys are let go of at once', () => {
    const fitted = fit(seen(filmed({}, 7, { runs: 0, short: 8, held: () => 0.02 }).film));
    expect(fitted.found['jump.lowestHop']!.value).to.be.closeTo(1.25, 0.05);
    expect(sheet(compileTuning(fitted.tuning)).find(({ id }) => id === 'lowestHop')!.value).to.be.closeTo(1.25, 0.05);
  });

  it('are surer where keys were captured', () => {
    const { film } = filmed({}, 8, { runs: 0, rate: 60, held: (random) => random.between(0.02, 0.12) });
    const [without, withKeys] = [fit(seen(film)), fit(film as Capture)];
    expect(withKeys.found['gravity.released']!.within).to.be.below(0.6 * without.found['gravity.released']!.within);
    expect(wrongOf(withKeys, {})).to.deep.equal([]);
  });

  it('tell how running feels', () => {
    const eased = fit(seen(filmed({ run: { feel: 'eased' } }, 9, { full: 3, short: 0 }).film));
    expect(eased.tuning.run).to.include({ feel: 'eased' });
    expect(wrongOf(eased, { run: { feel: 'eased' } })).to.deep.equal([]);
  });

  it('tell how it is steered in the air, and how high it jumps there', () => {
    const steered = fit(seen(filmed({}, 15, { full: 2, short: 0, runs: 3, steers: 12 }).film));
    expect(keysOf(steered)).to.include.members(['run.air.upIn', 'run.air.stopIn', 'run.air.turnIn']);
    expect(wrongOf(steered, {})).to.deep.equal([]);
    const tuning = { airJumps: { heights: [1.8] }, gravity: { fallSpeed: 18 } };
    const twice = fit(seen(filmed(tuning, 16, { full: 4, short: 3, runs: 0, airs: 5 }).film));
    expect(twice.found['airJumps.heights.0']!.value).to.be.closeTo(1.8, 0.05);
    expect(twice.found['gravity.fallSpeed']!.value).to.be.closeTo(18, 1);
    expect(twice.tuning.airJumps).to.have.property('heights').with.length(1);
  });

  it('have presses and releases that changed the motion, to a frame', () => {
    const { film, rows } = filmed({}, 10);
    const { presses } = fit(seen(film));
    const isNear = (action: string, value: number, time: number): boolean => presses.some((one) => one.action === action && one.value === value && Math.abs(one.time - time) < 1 / 60); // prettier-ignore
    for (const { time, action, value } of rows) {
      // A full jump is not changed by when it is let go of.
      if (action === 'jump' && value === 0 && time < 7.5) continue;
      expect(isNear(action, value, time), `${action} ${value} at ${time}`).to.equal(true);
    }
  });

  it('meet a motion that goes by frames, in height to half a percent', () => {
    for (const order of ['velocity-first', 'position-first'] as const) {
      const random = randomOf(11);
      const film = stepped({ ...OLD_HAND, order }, random);
      const fitted = fit(seen(noisy(film, random, 0.25)));
      const top = Math.max(...film.y);
      expect(fitted.found['jump.height']!.value / top, order).to.be.closeTo(1, 0.005);
      expect(fitted.stepped, order).to.deep.equal({ rate: 60, order: 'either' });
    }
    expect(fit(seen(filmed({}, 1, { runs: 0 }).film)).stepped).to.equal(null);
  });

  it('come back from runs of the sample tunings: what is found is alike in every measure', () => {
    for (const name of ['brindle', 'nimble', 'spring']) {
      const open = (file: string) => ({ text: readFileSync(join(DATA, file), 'utf8'), file });
      const { tuning } = readTuning(readFileSync(join(DATA, `${name}.tuning.yaml`), 'utf8'), { open });
      const { film } = filmed(tuning, 12, { pixels: 0, airs: name === 'nimble' ? 4 : 0, ...(name === 'spring' ? { full: 0, short: 0, wound: 12 } : {}) });
      const fitted = fit(seen(film), { tuning });
      const { measures } = compare([{ name, tuning }, { name: 'found', tuning: fitted.tuning }]);
      for (const { id, values } of measures) {
        const [truth, found] = values as [number, number];
        if (Number.isFinite(truth)) expect(found, `${name} ${id}`).to.be.closeTo(truth, 0.01 * Math.abs(truth) + 0.002);
      }
    }
  }); // prettier-ignore

  it('tell jumps that are wound up from such that are cut short, and with keys how they are', () => {
    const tuning = { charge: { lowest: 1, highest: 4, fullIn: 0.6 } };
    const { film } = filmed(tuning, 17, { full: 0, short: 0, wound: 14, runs: 1, rate: 60 });
    const [without, withKeys] = [fit(seen(film), { tuning: { jump: { height: 2 } } }), fit(film as Capture)];
    expect(keysOf(without)).to.include('charge.highest').and.not.include('jump.height');
    expect(cannot(without)).to.include.members(['charge.lowest', 'charge.fullIn']);
    // A plain jump says gravity, and stays as high as it was.
    expect(without.tuning.jump).to.have.property('height', 2);
    expect(compileTuning(without.tuning).gravity / compileTuning(tuning).gravity).to.be.closeTo(1, 0.03);
    expect(keysOf(withKeys)).to.include.members(['charge.lowest', 'charge.highest', 'charge.fullIn']);
    expect(wrongOf(withKeys, tuning)).to.deep.equal([]);
    expect(withKeys.presses.filter(({ action }) => action === 'jump')).to.have.length(28);
    expect(keysOf(fit(seen(filmed({}, 18, { runs: 0 }).film)))).to.not.include('charge.highest');
  });

  it('end at walls, of which they tell how they are slid down and jumped off', () => {
    const tuning = { wall: { slideSpeed: 3, jump: { height: 2, out: 6 } } };
    const rows: InputRow[] = [];
    const key = (time: number, action: string, value: number): void => void rows.push({ time, action, value });
    // Jumps, then runs into a wall, up it and off it, and slides down one at last: again and again.
    for (let i = 0, time = 0.3; i < 8; i++, time += 5) {
      for (const [at, action, value] of [
        [0, 'left', 1], [1.2, 'left', 0], [1.3, 'right', 1], [1.8, 'jump', 1], [2.6, 'jump', 0],
        [2.8 + i * 0.01, 'right', 0], [2.8 + i * 0.01, 'jump', 1], [2.8 + i * 0.01, 'left', 1],
        [3.3, 'left', 0], [3.4, 'jump', 0], [4, 'jump', 1], [4.7, 'jump', 0],
      ] as const) key(time + at, action, value); // prettier-ignore
    }
    const walled = { yPoints: 'up' as const, rows: [...Array.from({ length: 14 }, () => '#........#'), '#...@....#', '##########'] };
    const random = randomOf(19);
    const { found, unexplained, cannotTell } = fit(seen(noisy(record(tuning, rows.sort((one, other) => one.time - other.time), 60, walled), random)), { tuning: { wall: { cling: 0.1 } } });
    expect(unexplained.map(({ why }) => why).join()).to.include('at a wall');
    expect(cannotTell.map((one) => one.key)).to.include('wall.cling');
    for (const [name, truth] of [['slideSpeed', 3], ['jump.height', 2], ['jump.out', 6]] as const) {
      const { value, within } = found[`wall.${name}`]!;
      expect(Math.abs(value - truth), name).to.be.at.most(within);
    }
    for (const [name, truth] of [['jump.height', 3.25], ['run.upIn', 0.12]] as const) expect(Math.abs(found[name]!.value - truth), name).to.be.at.most(found[name]!.within);
  }); // prettier-ignore

  it('come from several captures of one character together, and leave the rest as in the tuning to start from', () => {
    const jumps = filmed({}, 13, { runs: 0 }).film;
    const runs = filmed({}, 14, { full: 0, short: 0 }).film;
    const tuning = { grace: { coyote: 0.2 }, run: { speed: 3 } };
    const fitted = fit([seen(jumps), seen(runs)], { tuning });
    expect(keysOf(fitted)).to.include.members(['jump.height', 'run.speed', 'run.turnIn']);
    expect(fitted.tuning.grace).to.deep.equal({ coyote: 0.2 });
    expect(fitted.tuning.run!.speed).to.be.closeTo(7.5, 0.1);
    expect(fitted.segments.map(({ capture }) => capture)).to.include.members([0, 1]);
  });
});

describe('What is no capture', () => {
  const line = Array.from({ length: 40 }, (_, i) => i / 60);
  const jump = { time: line, x: line.map(() => 0), y: line.map((t) => Math.max(0, 10 * t - 30 * t * t)) };

  for (const [what, capture, says] of [
    ['of which nothing moves', { ...jump, y: line.map(() => 2) }, 'nothing moves'],
    ['with time going back', { ...jump, time: [...line.slice(0, 20), ...line.slice(0, 20)] }, 'time goes back at sample 21'],
    ['of two bodies by turns', { ...jump, x: line.map((_, i) => (i % 2) * 5) }, 'two bodies were mixed'],
    ['of two bodies at each moment', { ...jump, time: line.map((_, i) => Math.floor(i / 2)) }, 'several samples'],
    ['that is too short', { time: [0, 1, 2], x: [0, 0, 0], y: [0, 1, 0] }, 'at least 12'],
    ['with lists that do not match', { ...jump, x: [0] }, 'as many'],
    ['with a place that is no number', { ...jump, x: line.map((_, i) => (i === 7 ? NaN : 0)) }, 'x of sample 8 is NaN'],
    ['of noise', { ...jump, y: line.map((_, i) => Math.sin(i * i)) }, 'neither a jump nor a run'],
  ] as const)
    it(`is refused with a sentence: one ${what}`, () => {
      expect(() => fit(capture)).to.throw(CaptureError, says);
    }); // prettier-ignore

  it('is no reason to fail where it is only odd: a level of slopes, a single jump, a long rest', () => {
    const random = randomOf(1);
    const single = record({}, [{ time: 1, action: 'jump', value: 1 }, { time: 2, action: 'jump', value: 0 }], 60, flat());
    expect(fit(seen(noisy(single, random))).found['jump.height']!.value).to.be.closeTo(3.25, 0.1);
    const still = { time: Array.from({ length: 5000 }, (_, i) => i / 60), x: Array.from({ length: 5000 }, () => 0), y: Array.from({ length: 5000 }, (_, i) => (i < 120 ? Math.max(0, 14 * (i / 60 - 1) - 24 * (i / 60 - 1) ** 2) : 0)) }; // prettier-ignore
    expect(fit(still).found['jump.height']!.value).to.be.closeTo((14 * 14) / (4 * 24), 0.05);
  }); // prettier-ignore
});
