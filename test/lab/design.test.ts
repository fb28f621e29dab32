import { compileTuning, fillTuning, openStage, valueOfKey, withKey, type Tuning } from 'apperin';
import { editTuning, readTuning } from 'apperin/files';
import { design, fromFrames, gapSpare, openGround, sheet, toFrames, verify, type FrameNumbers } from 'apperin/lab';
import { expect } from 'chai';
import { livelyTuning, randomTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { presses, simulate } from '../support/simulate.js';
import { fully, share, shareOf } from '../support/share.js';

const measure = (tuning: Tuning, id: string): number => sheet(tuning).find((one) => one.id === id)!.value;

/** Measures without a closed form, and a key behind each. */
const BEHIND: Readonly<Record<string, string>> = {
  runUp: 'run.upIn', runUpTime: 'run.upIn', stopping: 'run.stopIn', turnOvershoot: 'run.turnIn', turnTime: 'run.turnIn', widestGap: 'run.speed',
  widestGapCoyote: 'grace.coyote', highestStepLip: 'grace.lip', highestLedge: 'ledge.hands', hangTime: 'gravity.apex', touchdownSpeed: 'gravity.falling',
  dropToCap: 'gravity.fallSpeed', airSteer: 'run.air.upIn', airRecall: 'run.air.turnIn', bufferAbove: 'grace.buffer', wallJumpRise: 'wall.jump.height',
  wallJumpOut: 'wall.jump.out', wallReturnTime: 'wall.jump.lock', widestShaft: 'wall.jump.out', glideRatio: 'glide.fallSpeed', glideRange: 'glide.budget',
}; // prettier-ignore

const SETS = { quick: 2, test: 250, deep: 500 };
const LIVELY = { quick: 1, test: 60, deep: 300 };

describe('Numbers for goals', () => {
  it(`meet every goal of random sets that can be met, in the file that is written, run in the simulation (${shareOf(SETS, 'sets')})`, function () {
    const random = randomizer(711);
    let [worst, most, met] = [0, 0, 0];
    for (let i = 0; i < share(SETS); i++) {
      // What some tuning comes to can be had.
      const some = randomTuning(random);
      some.run = { speed: random.between(3, 12), upIn: random.between(0.05, 0.3), stopIn: random.between(0.05, 0.3), turnIn: random.between(0.05, 0.3) };
      some.gravity = { falling: random.between(1, 2.5), fallSpeed: 60, apexSpeed: random.between(0, 2) };
      some.jump = { height: random.between(1.5, 5), riseTime: random.between(0.25, 0.6) };
      const ids = [...new Set(Array.from({ length: random.whole(1, 4) }, () => random.pick(['height', 'riseTime', 'airTime', 'reach', 'stopping', 'runUp', 'turnTime', 'coyoteAcross'])))]; // prettier-ignore
      const goals = Object.fromEntries(ids.map((id) => [id, measure(some, id === 'height' ? 'apexHeight' : id)]));
      const base: Tuning = { gravity: { fallSpeed: 60, apexSpeed: 0 } };
      const made = design(base, goals);
      most = Math.max(most, made.evaluations);
      if (made.contradiction !== '') continue;
      met++;
      const written = editTuning('gravity: { fallSpeed: 60, apexSpeed: 0 }\n', made.keys.map(({ key, now }) => ({ key, value: now })));
      const { tuning } = readTuning(written);
      const motion = compileTuning(tuning);
      const seconds = 0.05 + measure(tuning, 'runUpTime') + measure(tuning, 'airTime') + 0.4;
      const press = 0.02 + Math.ceil(measure(tuning, 'runUpTime') * 60) / 60;
      const run = simulate(openGround(), motion, presses(`right@0 jump@${press}`), 60, seconds + 0.5);
      const [takeoff, apex, touchdown] = ['takeoff', 'apex', 'touchdown'].map((name) => run.events.find(({ event }) => event === name)!);
      const simulated: Record<string, number> = {
        height: Math.abs(takeoff!.y - apex!.y),
        riseTime: apex!.time - takeoff!.time,
        airTime: touchdown!.time - takeoff!.time,
        reach: touchdown!.x - takeoff!.x,
      };
      for (const id of ids) {
        const got = simulated[id] ?? measure(tuning, id);
        worst = Math.max(worst, Math.abs(got - goals[id]!) / goals[id]!);
      }
    }
    expect(worst).to.be.below(1e-6);
    expect(most).to.be.at.most(2000);
    expect(met).to.be.at.least(0.9 * share(SETS));
    this.test!.title += ` (${met} met; worst ${worst.toExponential(1)}; at most ${most} tunings tried)`;
  }); // prettier-ignore

  fully('are found where there is no closed form', () => {
    const base: Tuning = { wall: {}, airJumps: {} };
    const goals = { widestShaft: 6, hangTime: 0.42, touchdownSpeed: 18, airSteer: 3.5 };
    const made = design(base, goals);
    expect(made.contradiction).to.equal('');
    for (const [id, value] of Object.entries(goals)) expect(measure(made.tuning, id), id).to.be.closeTo(value, value * 1e-6);
    expect(made.sensitivity.some(({ id, key, percent }) => id === 'hangTime' && key === 'gravity.apex' && percent < 0)).to.equal(true);
  }); // prettier-ignore

  it(`are found for random sets without a closed form, in at most 2,000 tunings (${shareOf(LIVELY, 'sets')})`, function () {
    const random = randomizer(723);
    const missed: string[] = [];
    let sets = 0;
    let most = 0;
    while (sets < share(LIVELY)) {
      // Goals that one tuning meets, to be found from another in which the keys behind them are not the same.
      const meant = livelyTuning(random);
      const full = fillTuning(meant);
      const numberOf = (key: string): number => {
        const value = valueOfKey(full, key);
        return typeof value === 'number' ? value : 0;
      };
      const can = sheet(meant).filter(({ id, value }) => id in BEHIND && Number.isFinite(value) && value !== 0 && numberOf(BEHIND[id]!) > 0);
      const goals: Record<string, number> = {};
      let base: Tuning = meant;
      const free = new Set<string>();
      for (let tries = random.pick([1, 2, 3, 4, 6]); tries > 0; tries--) {
        const { id, value } = random.pick(can);
        if (free.has(BEHIND[id]!)) continue;
        goals[id] = value;
        free.add(BEHIND[id]!);
        base = withKey(base, BEHIND[id]!, numberOf(BEHIND[id]!) * random.between(0.6, 1.6));
      }
      try {
        compileTuning(base);
      } catch {
        continue;
      }
      sets++;
      const made = design(base, goals, { free: [...free].map((key) => ({ key })) });
      most = Math.max(most, made.evaluations);
      for (const { id, wanted, got } of made.goals) {
        expect(got, id).to.equal(measure(made.tuning, id));
        if (!(Math.abs(got - wanted) <= 0.005 * Math.abs(wanted))) missed.push(`${id}: ${got}, not ${wanted}`);
      }
    }
    this.test!.title += ` (${sets - missed.length} of ${sets} within 0.5 %; at most ${most} tunings tried)`;
    expect(most).to.be.at.most(2000);
    expect(missed.length, missed.join('; ')).to.be.at.most(share({ quick: 0, test: 1, deep: 2 }));
  }); // prettier-ignore

  fully('name the goals that contradict each other, and how far off they are', () => {
    const three = design({}, { height: 3, launchSpeed: 10, baseGravity: 20 });
    expect(three.contradiction).to.match(/baseGravity comes to 17\.6\d*, not 20.*height, launchSpeed, baseGravity cannot all be met/);
    expect(three.goals.map(({ met }) => met)).to.deep.equal([true, true, false]);
    expect(design({}, { lowestHop: 4, height: 3 }).contradiction).to.match(/lowestHop/);
    const bounded = design({}, { widestGap: 9 }, { free: [{ key: 'run.speed', least: 5, most: 8 }] });
    expect(bounded.contradiction).to.match(/widestGap comes to 6\.\d+, not 9/);
    expect(bounded.keys).to.deep.equal([{ key: 'run.speed', before: undefined, now: 8 }]);
  }); // prettier-ignore

  it('leave alone what no goal asks for, and refuse what there is not', () => {
    const made = design({}, { stopping: 0.5 }, { free: [{ key: 'run.stopIn' }, { key: 'gravity.falling' }] });
    expect(made.undecided).to.deep.equal(['gravity.falling']);
    expect(() => design({}, {})).to.throw(RangeError, /no goal/);
    expect(() => design({}, { heigth: 3 })).to.throw(RangeError, /there is no measure heigth.*height, riseTime/);
    expect(() => design({}, { height: NaN })).to.throw(RangeError, /height is NaN/);
    expect(() => design({}, { stopping: 1 }, { free: [{ key: 'run.feel' }] })).to.throw(RangeError, /run.feel is no number/); // prettier-ignore
    expect(() => design({}, { stopping: 1 }, { free: [{ key: 'glide.budget' }] })).to.throw(RangeError, /this tuning has none/); // prettier-ignore
  });

  it('go into a file whose comments, order and style stay', () => {
    const text = '# Mine\nrun: { stopIn: 0.10, speed: 7.5 } # quick\njump:\n  # the pair\n  height: 3\n  riseTime: 0.40 # s\n';
    const edited = editTuning(text, [{ key: 'run.stopIn', value: 0.2 }, { key: 'jump.height', value: 4 }, { key: 'jump.reach', value: 6 }, { key: 'grace.coyote', value: 0.1 }]);
    expect(edited).to.equal('# Mine\nrun: { stopIn: 0.20, speed: 7.5 } # quick\njump:\n  # the pair\n  height: 4\n  reach: 6\ngrace:\n  coyote: 0.1\n');
    expect(readTuning(edited).tuning.jump).to.deep.equal({ height: 4, reach: 6 });
  }); // prettier-ignore
});

/** The way a beginner writes it: a character that is moved by frames. */
function loop(f: FrameNumbers, frames: number): number[] {
  const heights = [0];
  let y = 0;
  let v = f.launch;
  for (let i = 0; i < frames; i++) {
    if (f.order === 'position-first') y += v;
    v -= v > 0 ? f.gravity : (f.fallGravity ?? f.gravity);
    if (f.fallSpeed !== undefined) v = Math.max(v, -f.fallSpeed);
    if (f.order === 'velocity-first') y += v;
    heights.push(y);
  }
  return heights;
}

describe('Numbers by frames', () => {
  fully('are the same arc at every frame, or within the bound that is said, of which much is used', function () {
    const random = randomizer(721);
    let exact = 0;
    const used: number[] = [];
    for (let i = 0; i < 200; i++) {
      const plain = random.chance(0.4);
      const rate = random.pick([30, 50, 60]);
      const frames: FrameNumbers = {
        rate,
        order: random.pick(['velocity-first', 'position-first'] as const),
        gravity: random.between(0.005, 0.02),
        launch: random.between(0.2, 0.5),
        ...(plain
          ? { fallSpeed: 50 }
          : { fallGravity: random.between(0.01, 0.04), fallSpeed: random.between(0.2, 0.6) }),
      };
      const { tuning, bound } = fromFrames(frames);
      // High above everything: sent up just as a jump is.
      const stage = openStage({ rows: ['.'], yPoints: 'up' });
      const hero = stage.add(tuning, { at: [0, 1000] });
      hero.hop(measure(tuning, 'apexHeight'));
      let worst = 0;
      for (const [n, height] of loop(frames, 3 * rate).entries()) {
        if (n > 0) stage.tick(1 / rate);
        worst = Math.max(worst, Math.abs(hero.y - 1000 - height));
      }
      expect(worst).to.be.at.most(bound + 1e-9);
      if (plain) {
        expect(bound).to.be.below(1e-9);
        exact++;
      } else used.push(worst / bound);
    }
    expect(exact).to.be.above(50);
    expect(Math.min(...used)).to.be.above(0.1);
    this.test!.title += ` (${exact} exact; of the bounds at least ${Math.min(...used).toFixed(2)} used)`;
  });

  it('come back as they were', () => {
    for (const order of ['velocity-first', 'position-first'] as const) {
      const frames: FrameNumbers = { rate: 60, order, gravity: 0.014, launch: 0.3, fallGravity: 0.02, fallSpeed: 0.4, speed: 0.125, acceleration: 0.02, deceleration: 0.025, cut: 0.5, coyote: 5, buffer: 7 }; // prettier-ignore
      const back = toFrames(fromFrames(frames).tuning, 60, order).frames as unknown as Record<string, number>;
      for (const [key, value] of Object.entries(frames))
        if (typeof value === 'number') expect(back[key], key).to.be.closeTo(value, 1e-12);
      const eased: FrameNumbers = { rate: 60, order, gravity: 0.014, launch: 0.3, speed: 0.125, approach: 0.2, friction: 0.85 }; // prettier-ignore
      const again = toFrames(fromFrames(eased).tuning, 60, order).frames;
      expect([again.approach, again.friction].map((one) => one!.toFixed(10))).to.deep.equal(['0.2000000000', '0.8500000000']); // prettier-ignore
    }
    expect(() => fromFrames({ rate: 60, order: 'velocity-first', gravity: 1, launch: 0.4 })).to.throw(RangeError, /launch is 0.4/); // prettier-ignore
    expect(() => fromFrames({ rate: 0, order: 'velocity-first', gravity: 1, launch: 4 })).to.throw(RangeError, /rate is 0/); // prettier-ignore
  });
});

describe('Promises', () => {
  fully('a gap is crossed by just the presses that the measure counts', () => {
    const motion = compileTuning({ jump: { height: 3.25, riseTime: 0.4 } });
    const edge = 20;
    for (const gap of share({ quick: [6], test: [4, 5, 6, 6.5], deep: [4, 5, 6, 6.5] })) {
      const [open, floor] = ['.'.repeat(120), `${'#'.repeat(2 * edge)}${'.'.repeat(2 * gap)}`.padEnd(120, '#')];
      const level = { tile: 0.5, rows: [...Array.from({ length: 14 }, () => open), floor, ...Array.from({ length: 12 }, () => open)] };
      const crosses = (press: number): boolean =>
        simulate(level, motion, presses(`right@0 jump@${press}`), 240, 5, { at: [2.5, 7] }).events.some(
          ({ event, y, x }) => event === 'touchdown' && y === 7 && x > edge + gap / 2,
        );
      // When its trailing corner leaves the edge, after the run-up.
      const atEdge = 0.12 / 2 + (edge + 0.35 - 2.5) / 7.5;
      const step = 0.002;
      let crossed = 0;
      for (let t = atEdge - 0.5; t < atEdge + 0.1; t += step) if (crosses(t)) crossed++;
      expect(crossed * step, `a gap of ${gap}`).to.be.closeTo(gapSpare(motion, gap), 1.5 * step);
    }
  }); // prettier-ignore

  it('are kept or broken by their bounds, and by measures that there are not', () => {
    const tuning: Tuning = { jump: { height: 3, riseTime: 0.4 } };
    const found = verify(tuning, [
      { name: 'exactly', measure: 'apexHeight', least: 3, most: 3 },
      { name: 'too low', measure: 'apexHeight', least: 3.1 },
      { name: 'too high', measure: 'apexHeight', most: 2.9 },
      { name: 'no glide', measure: 'glideRatio', least: 1 },
      { name: 'a gap', gap: 4, least: 0.1 },
    ]);
    expect(found.map(({ kept }) => kept)).to.deep.equal([true, false, false, false, true]);
    expect(found.map(({ remark }) => remark)).to.deep.equal(['', 'too little', 'too much', 'this tuning has no such measure', '']); // prettier-ignore
  });
});
