import { acrossAt, acrossPieces, arcPieces, comingDown, compileTuning, fallPieces, openStage, script, stateAt, type InputRow, type Tuning } from 'apperin'; // prettier-ignore
import { envelope, type Envelope } from 'apperin/lab';
import { expect } from 'chai';
import { randomizer, type Random } from '../support/random.js';
import { share, shareOf } from '../support/share.js';

const ACTED = ['left', 'right', 'jump', 'glide', 'down'] as const;
/** Stamps are whole microseconds, which moves a body by so much at the most, units. */
const STAMPED = 1e-4;

/** A stage at the edge, a moment before the floor is left, and when that is, s. */
function atEdge(tuning: Tuning, { level }: Envelope) {
  const stage = openStage(level);
  const hero = stage.add(tuning, { at: 'edge', driver: script([{ time: 0, action: 'right', value: 1 }]) });
  let leaves = NaN;
  hero.on('leave', ({ time }) => void (leaves = time));
  let before = stage.snapshot();
  for (let i = 0; Number.isNaN(leaves); i++) {
    if (i % 8 === 0) before = stage.snapshot();
    stage.tick(1 / 64);
  }
  stage.restore(before);
  return { stage, hero, before, leaves };
}

/** Keys by chance from the takeoff on: mostly a jump, at the edge or late, then anything. */
function keys(random: Random, tuning: Tuning, leaves: number): InputRow[] {
  const { coyote, charges } = compileTuning(tuning);
  const rows: InputRow[] = [];
  const press = (action: string, time: number, hold: number): void => {
    rows.push({ time, action, value: 1 }, { time: time + hold, action, value: 0 });
  };
  if (charges) press('jump', leaves - 1e-6 - random.between(0, 0.1), 1);
  else if (random.chance(0.85)) press('jump', random.chance(0.3) ? leaves - 1e-6 : leaves + random.between(0, coyote), random.between(0, 0.6)); // prettier-ignore
  for (let i = random.whole(1, 8); i > 0; i--) press(random.pick(ACTED), leaves + random.between(0, random.chance(0.3) ? 0.1 : 1), random.between(0, 0.5)); // prettier-ignore
  if (random.chance(0.5)) rows.push({ time: leaves + 1e-6, action: 'right', value: 0 }, { time: leaves + 1e-6 + random.between(0, 0.1), action: 'left', value: 1 }); // prettier-ignore
  return rows.map((row) => ({ ...row, time: Math.floor(row.time * 1e6) / 1e6 })).sort((one, other) => one.time - other.time); // prettier-ignore
}

describe('The envelope', () => {
  const TUNINGS: Record<string, Tuning> = {
    'a jump': {},
    'a jump without coyote time': { grace: { coyote: 0 } },
    'a jump and one in the air': { airJumps: { heights: [2.25] } },
    'two in the air, the second a small one': { airJumps: { heights: [2.4, 1] } },
    'a run locked in the air': { run: { air: 'locked' } },
    'a run that glides to a halt, eased': { run: { feel: 'eased', air: { turnIn: 0.6, stopIn: 0.1 } } },
    'a run that stops quicker than it turns': { run: { air: { turnIn: 0.6, stopIn: 0.1 } } },
    'air that is slower than the ground': { run: { speed: 10, air: { speed: 5 } } },
    'a jump, one in the air and a dive': { dive: {}, airJumps: { heights: [2] } },
    'a dive that is a parachute': { dive: { gravity: 0.4, fallSpeed: 6 } },
    'a fall that grows heavier, and a jump in the air': { gravity: { falling: 1, fallRamp: { to: 2.5, over: 0.4 } }, airJumps: { heights: [2] } }, // prettier-ignore
    'a charge': { charge: {} },
    'cut jumps with a run-up': { jump: { lowestHop: 0.9, runUp: 1 }, gravity: { cutTo: 0.4 } },
    'a heavy apex': { gravity: { apex: 2.5, apexSpeed: 4 } },
    'jumps in the air only': { jump: 'off', airJumps: { heights: [2, 2] } },
    'a glide': { glide: {} },
    'endless jumps in the air': { airJumps: { heights: [1.5], endless: true, spacing: 0.2 } },
  };

  const INPUTS = { quick: 150, test: 1200, deep: 60_000 };
  for (const [what, tuning] of Object.entries(TUNINGS))
    it(`of ${what}: no keys lead out of it`, function () {
      const found = envelope(tuning);
      const random = randomizer(20_817);
      const { stage, hero, before, leaves } = atEdge(tuning, found);
      const touched = { down: false };
      hero.on('touchdown', () => (touched.down = true));
      let places = 0;
      for (let run = 0; run < share(INPUTS); run++) {
        const rows = keys(random, tuning, leaves);
        hero.drive(script(rows));
        stage.restore(before);
        touched.down = false;
        while (stage.time < leaves + 3) {
          stage.tick(1 / 64);
          if (stage.time <= leaves) continue;
          if (touched.down || hero.support === 'ground' || hero.y < -found.below) break;
          places++;
          if (!found.holds(hero.x, hero.y, 1e-5)) expect.fail(`at ${hero.x}, ${hero.y} after ${stage.time - leaves} s: ${JSON.stringify(rows)}`); // prettier-ignore
        }
      }
      expect(places).to.be.greaterThan(share(INPUTS) * 5);
      this.test!.title += ` (${shareOf(INPUTS, 'random inputs')})`;
    });

  for (const [what, tuning] of Object.entries(TUNINGS))
    it(`of ${what}: keys lead to places in it, at its very sides too`, () => {
      const found = envelope(tuning);
      const random = randomizer(404);
      const { tile } = compileTuning(tuning).full;
      let [asked, come] = [0, 0];
      for (let i = 0; i < share({ quick: 8, test: 40, deep: 400 }); i++) {
        const y = random.between(-found.below, Math.min(found.highest, 20));
        const spans = found.spans(y);
        const [left, right] = spans[i % spans.length]!;
        const x = left + (right - left) * [0, 1, random.between(0, 1), random.between(0, 1)][i % 4]!;
        asked++;
        const keys = found.inputFor(x, y);
        if (keys === undefined) continue;
        come++;
        const [start, ...rows] = keys.rows;
        for (const rate of [15, 64, 1000]) {
          const stage = openStage(found.level);
          const { spawn } = start!.call as { spawn: string };
          const hero = stage.add(tuning, { at: spawn, driver: script(rows) });
          while (stage.time + 1 / rate <= keys.time) stage.tick(1 / rate);
          if (stage.time < keys.time) stage.tick(keys.time - stage.time);
          expect(Math.hypot(hero.x - x, hero.y - y), `${x}, ${y}`).to.be.below(2 * STAMPED * tile);
        }
      }
      // A bound is not quite reached.
      if (found.exact) expect(come).to.equal(asked);
      else expect(come).to.be.at.least(1);
      expect(found.inputFor(found.farthest + 0.1, 0)).to.equal(undefined);
      expect(found.inputFor(0, found.highest + 0.1)).to.equal(undefined);
    });

  it('of plain jumps is that of the closed form, to a millionth: on both sides, with coyote time and without', () => {
    for (const tuning of [{}, { grace: { coyote: 0 } }, { jump: { height: 9, riseTime: 0.9 }, run: { speed: 14 } }, { tile: 16 }] as Tuning[]) {
      const motion = compileTuning(tuning);
      const { coyote, launch, ground, air, half } = motion;
      const found = envelope(tuning, { below: 4 * motion.full.tile });
      expect(found.start).to.equal(half);
      expect(found.highest).to.be.closeTo(motion.jumpHeight, 1e-9 * motion.jumpHeight);
      const fallen = -stateAt(fallPieces(motion), coyote).y;
      const full = arcPieces(motion, launch);
      const left = acrossPieces(air, ground.speed, -air.speed);
      // Where it comes down faster than it fell within the window, it is best to wait all of that.
      const slowest = -stateAt(fallPieces(motion), coyote).v;
      let looked = 0;
      for (let y = motion.jumpHeight * 0.99; y > -4 * motion.full.tile; y -= motion.jumpHeight / 40) {
        const { time, speed } = comingDown(full, y + fallen);
        if (!(speed >= slowest)) continue;
        looked++;
        const last = coyote + time;
        const spans = found.spans(y);
        expect(spans.at(-1)![1], `right at ${y}`).to.be.closeTo(half + ground.speed * last, 1e-6);
        expect(spans[0]![0], `left at ${y}`).to.be.closeTo(y >= 0 ? half + acrossAt(left, last).x : half, 1e-6);
      }
      expect(looked).to.be.greaterThan(20);
    }
  }); // prettier-ignore

  it('with a jump in the air is highest where both are left at one speed', () => {
    const tuning: Tuning = { airJumps: { heights: [2.25] }, gravity: { apexSpeed: 0 }, grace: { coyote: 0 } };
    const { gravity, falling, ground, half, cap } = compileTuning(tuning);
    const found = envelope(tuning);
    expect(found.highest).to.be.closeTo(3.25 + 2.25, 1e-9);
    // Down to that speed the falls of both are alike: as one with half of the gravity.
    for (let drop = 0.1; drop < 5; drop += 0.4) {
      const rises = Math.sqrt((2 * 3.25) / gravity) + Math.sqrt((2 * 2.25) / gravity);
      const falls = Math.sqrt((2 * drop) / (falling / 2));
      if ((falls / 2) * falling > cap) break;
      expect(found.spans(5.5 - drop).at(-1)![1]).to.be.closeTo(half + ground.speed * (rises + falls), 1e-6);
    }
  });

  it('has no corners but where it should: its sides go on from band to band, and join its level parts', () => {
    for (const [what, tuning] of Object.entries(TUNINGS)) {
      const found = envelope(tuning);
      const { bands, flats, below, highest } = found;
      expect([bands[0]!.low, bands.at(-1)!.high], what).to.deep.equal([-below, highest]);
      bands.forEach(({ low, high, spans: here }, i) => {
        const over = bands[i + 1];
        expect(over === undefined || over.low - high < 1e-9, what).to.equal(true);
        for (const { left, right } of here)
          for (const side of [left, right]) {
            expect(side[0]!.y, what).to.be.closeTo(low, 1e-7);
            const end = side.at(-1)!;
            expect(end.y).to.be.closeTo(high, 1e-7);
            const goesOn = over?.spans.flatMap(({ left: l, right: r }) => [l[0]!.x, r[0]!.x]).some((x) => Math.abs(x - end.x) < 1e-5);
            const flat = flats.some(({ x1, x2, y }) => Math.abs(y - high) < 1e-7 && (Math.abs(x1 - end.x) < 1e-5 || Math.abs(x2 - end.x) < 1e-5));
            // Or it meets another side there.
            const meets = here.flatMap((one) => [one.left, one.right]).some((other) => other !== side && Math.abs(other.at(-1)!.x - end.x) < 1e-4);
            expect(goesOn === true || flat || meets, `${what} at ${end.x}, ${end.y}`).to.equal(true);
          }
        // In the middle of the band its sides are where it ends.
        const middle = (low + high) / 2;
        expect(found.spans(middle).length, what).to.equal(here.length);
      });
    }
  }); // prettier-ignore

  it('of a run that is locked in the air leaves out what is below the lowest hop', () => {
    const found = envelope({ run: { air: 'locked' } });
    const { coyote, ground, half, launch } = compileTuning({});
    const tap = arcPieces(compileTuning({}), launch, 0);
    // Not jumping at all, the lowest hop at the edge, and one at the last moment: between them there is nothing.
    const [fall, hop] = found.spans(-1);
    expect(fall![1] - fall![0]).to.be.below(1e-9);
    expect(hop![0]).to.be.closeTo(half + ground.speed * comingDown(tap, -1).time, 1e-6);
    expect([found.holds(2, 0.5), found.holds(1.2, 0.2), found.holds(half + ground.speed * (coyote + 0.05), 0.8)]).to.deep.equal([false, false, true]); // prettier-ignore
  });

  it('says where it is a bound, and what goes on for ever', () => {
    expect([envelope({}).exact, envelope({}).cut]).to.deep.equal([true, false]);
    expect([envelope({ glide: {} }).exact, envelope({ glide: {} }).cut]).to.deep.equal([false, false]);
    const endless = envelope({ airJumps: { heights: [1.5], endless: true } });
    expect([endless.exact, endless.cut]).to.deep.equal([false, true]);
    expect(endless.highest).to.be.greaterThan(20);
    expect(envelope({}, { below: 0 }).bands[0]!.low).to.equal(0);
    expect(() => envelope({}, { below: -1 })).to.throw(RangeError, /below is -1/);
    expect(() => envelope({}, { below: NaN })).to.throw(RangeError, /below is NaN/);
    // Who can do nothing at all stays where he is.
    expect(envelope({ run: { speed: 0 }, jump: 'off' }).highest).to.equal(0);
    // In pixels it is the same picture, larger.
    const [one, large] = [envelope({}), envelope({ tile: 16 })];
    expect(large.farthest).to.be.closeTo(16 * one.farthest, 1e-5);
  });
});
