import { compileTuning, type Level, type Tuning } from 'apperin';
import { RULES, flights, play, sheet, warnings } from 'apperin/lab';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { EVERY_ABILITY, PLAIN, randomTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { presses, simulate, the } from '../support/simulate.js';
import { fully } from '../support/share.js';

const measuresOf = (tuning: Tuning): Record<string, number> =>
  Object.fromEntries(sheet(tuning).map(({ id, value }) => [id, value]));

/** Two floors with a gap of this width, and room to run up. */
function gap(width: number): Level {
  // Tiles of a hundredth of the gap, so that its width is exact.
  const tile = width / 100;
  const floor = (units: number): string => '#'.repeat(Math.ceil(units / tile));
  const ground = floor(6) + '.'.repeat(100) + floor(6);
  return { rows: ['.'.repeat(ground.length), ground], tile, spawns: { start: { at: [1, tile] } } };
}

/** Whether a run with a jump just before the edge, or late after it, gets across a gap. */
function crosses(width: number, late: number): boolean {
  const level = gap(width);
  const edge = Math.ceil(6 / (width / 100)) * (width / 100);
  const leave = the(simulate(level, {}, presses('right@0'), 240, 2), 'leave').time;
  const press = late > 0 ? leave + late : leave - 1e-6;
  const run = simulate(
    level,
    {},
    presses(`right@0 jump@${(Math.floor(press * 1e6) / 1e6).toFixed(6)}`),
    240,
    leave + 1,
  );
  return run.events.some(({ event, x }) => event === 'touchdown' && x > edge + width / 2);
}

describe('The sheet', () => {
  fully('agrees with the simulation, measure by measure', () => {
    const random = randomizer(101);
    for (let i = 0; i < 40; i++) {
      const tuning = randomTuning(random);
      const m = compileTuning(tuning);
      const sheetOf = measuresOf(tuning);
      const close = (id: string, value: number, what = id): void =>
        void expect(value, `${what} of tuning ${i}`).to.be.closeTo(sheetOf[id]!, 1e-6 * (1 + Math.abs(sheetOf[id]!)));
      const up = simulate(PLAIN, m, presses('right@0-3 left@5'), 60, 8);
      const full = up.rows.find(({ vx }) => vx === m.ground.speed)!;
      expect(full.time).to.be.within(sheetOf.runUpTime! - 1e-9, sheetOf.runUpTime! + 1 / 60 + 1e-9);
      close('runUp', full.x - up.rows[0]!.x - m.ground.speed * (full.time - sheetOf.runUpTime!));
      const released = up.rows.find(({ time }) => time >= 3)!;
      close('stopping', up.rows.find(({ time }) => time >= 4.99)!.x - released.x);
      const turn = simulate(PLAIN, m, presses('right@0-3 left@3'), 1000, 4);
      const over = Math.max(...turn.rows.map(({ x }) => x)) - turn.rows.find(({ time }) => time >= 3)!.x;
      // The farthest point lies between two rows.
      expect(over).to.be.within(sheetOf.turnOvershoot! - m.ground.speed / 1000, sheetOf.turnOvershoot! + 1e-9);
    }
  });

  fully('agrees with the simulation on jumps', () => {
    const random = randomizer(102);
    for (let i = 0; i < 40; i++) {
      const tuning = randomTuning(random);
      const m = compileTuning(tuning);
      const sheetOf = measuresOf(tuning);
      const close = (id: string, value: number): void =>
        void expect(value, `${id} of tuning ${i}`).to.be.closeTo(sheetOf[id]!, 1e-6 * (1 + Math.abs(sheetOf[id]!)));
      const run = simulate(PLAIN, m, presses('right@0 jump@3'), 60, 7);
      close('apexHeight', the(run, 'takeoff').y - the(run, 'apex').y);
      close('airTime', the(run, 'touchdown').time - 3);
      close('reach', the(run, 'touchdown').x - the(run, 'takeoff').x);
      close('touchdownSpeed', the(run, 'touchdown').speed);
      close('shortPress', 1 - the(simulate(PLAIN, m, presses('jump@0.1-0.16'), 60, 3), 'apex').y);
      const steer = simulate(PLAIN, m, presses('jump@0.1 right@0.1'), 60, 6);
      close('airSteer', the(steer, 'touchdown').x - the(steer, 'takeoff').x);
      const recall = simulate(
        PLAIN,
        m,
        [...presses('right@0-3 jump@3 left@3')].sort((a, b) => a.time - b.time),
        60,
        7,
      );
      close('airRecall', the(recall, 'touchdown').x - the(recall, 'takeoff').x);
      const rows = simulate(PLAIN, m, presses('jump@0.1'), 1000, 4).rows;
      const hang = rows.filter(({ y }) => 1 - y > 0.8 * m.jumpHeight).length / 1000;
      expect(hang).to.be.closeTo(sheetOf.hangTime!, 0.003);
      const fall = simulate({ rows: ['@'] }, m, [], 200, 30).rows;
      const cap = fall.findIndex(({ vy }) => vy === m.cap);
      expect(fall[cap]!.y - 1).to.be.within(sheetOf.dropToCap! - 1e-6, sheetOf.dropToCap! + m.cap / 200 + 1e-6);
    }
  });

  it('says the widest gap: a little less is crossed, a little more is not', () => {
    const { widestGap, widestGapCoyote } = measuresOf({});
    expect(crosses(widestGap! - 1e-3, 0)).to.equal(true);
    expect(crosses(widestGap! + 1e-3, 0)).to.equal(false);
    expect(crosses(widestGapCoyote! - 1e-3, 0.08)).to.equal(true);
    expect(crosses(widestGapCoyote! + 1e-3, 0.08)).to.equal(false);
  });

  it('gives every length in tiles too, and a name and a unit to everything', () => {
    for (const { id, name, unit, tiles, value } of sheet({ tile: 16 })) {
      expect(name.length).to.be.greaterThan(3);
      if (unit === 'units') expect(tiles, id).to.equal(value / 16);
      else expect(tiles, id).to.equal(null);
    }
    expect(sheet({}).map(({ id }) => id)).to.deep.equal([...new Set(sheet({}).map(({ id }) => id))]);
  });
});

describe('Playing and telling', () => {
  it('plays until two seconds after the last input, or as long as asked', () => {
    const input = presses('jump@0.5-0.6');
    expect(play({ level: PLAIN, tuning: {}, input }).last.time).to.be.closeTo(2.6, 1e-9);
    expect(play({ level: PLAIN, tuning: {}, input, seconds: 1, rate: 50 }).rows).to.have.length(51);
    expect(play({ level: PLAIN, tuning: {}, seconds: 0 }).rows).to.have.length(1);
    expect(() => play({ level: PLAIN, tuning: {}, rate: 0 })).to.throw(RangeError, /rate is 0/);
    expect(() => play({ level: PLAIN, tuning: {}, seconds: 1e9 })).to.throw(RangeError, /seconds is 1000000000/);
  });

  it('sums up flights, whichever way y points', () => {
    for (const yPoints of ['down', 'up'] as const) {
      const level: Level = { rows: ['@.....', '##....', '......'], yPoints, bounds: { bottom: 'wall' } };
      const told = flights(play({ level, tuning: {}, input: presses('jump@0.1-0.12 right@1'), rate: 60, seconds: 3 }));
      expect(told.map(({ by }) => by)).to.deep.equal(['ground', 'leave']);
      expect(told[0]!.rise).to.be.closeTo(1.25, 1e-9);
      expect(told[1]!.rise).to.equal(0);
      expect(told[1]!.touchdown).to.be.greaterThan(10);
    }
    const open = flights(play({ level: PLAIN, tuning: {}, input: presses('jump@0.1'), seconds: 0.3 }));
    expect(open).to.have.length(1);
    expect(open[0]!.time).to.equal(null);
  });
});

describe('The sheet of more moves', () => {
  it('agrees with the simulation on wall jumps, charges and run-ups', () => {
    const random = randomizer(95);
    /** Two endless walls; the start touches the left one. */
    const shaft = (width: number): Level => ({
      rows: ['.'],
      tile: width,
      bounds: { left: 'wall', right: 'wall' },
      spawns: { start: { at: [0.35, 0] } },
    });
    for (let i = 0; i < 6; i++) {
      const tuning: Tuning = {
        run: { air: { turnIn: random.between(0.1, 0.3) } },
        wall: { jump: { height: random.between(1, 3), out: random.between(4, 9), lock: random.between(0.1, 0.4) } },
      };
      const found = measuresOf(tuning);
      const back = simulate(
        { rows: ['.'], bounds: { left: 'wall' } },
        tuning,
        presses('left@0 jump@0'),
        240,
        found.wallReturnTime! + 0.1,
        { at: [compileTuning(tuning).half, 0] },
      );
      expect(the(back, 'bump').time).to.be.closeTo(found.wallReturnTime!, 1e-9);
      expect(-the(back, 'bump').y).to.be.closeTo(found.wallGain!, 1e-9);
      // A shaft a little narrower is crossed before the feet are back at the height of the launch, a wider one is not.
      for (const [more, higher] of [
        [-0.01, true],
        [0.01, false],
      ] as const) {
        const run = simulate(shaft(found.widestShaft! + more), tuning, presses('right@0 jump@0'), 60, 2);
        const [launch, other] = [the(run, 'takeoff'), the(run, 'bump')];
        expect(other.y < launch.y).to.equal(higher);
      }
    }
    expect(measuresOf({ charge: {} })).to.include({ charge25: 2.0625, charge50: 2.875, charge100: 4.5 });
    expect(measuresOf({ charge: {} })).to.not.have.property('apexHeight');
    expect(measuresOf({ jump: { runUp: 0.5 } }).runUpHeight).to.be.closeTo(3.75, 1e-9);
    expect(measuresOf({ glide: {} }).glideRange).to.equal(15);
    expect(measuresOf({ ledge: {} }).highestLedge).to.be.closeTo(4.4, 1e-9);
  });
});

/** For each rule a tuning that it is about. */
const ODD: Readonly<Record<string, readonly Tuning[]>> = {
  'gravity.fallSpeed': [{ gravity: { fallSpeed: 10 } }],
  'gravity.falling': [{ gravity: { falling: 0.8 } }],
  'gravity.apexSpeed': [{ gravity: { apexSpeed: 12 } }],
  'jump.lowestHop': [{ jump: { lowestHop: 3.2 } }],
  'jump.minHold': [{ jump: { minHold: 0.25, lowestHop: 3 } }],
  'grace.buffer': [{ grace: { buffer: 0.01 } }],
  'grace.coyote': [{ grace: { coyote: 0.01 } }, { grace: { coyote: 0.3 } }],
  'grace.wallCoyote': [{ wall: {}, grace: { wallCoyote: 0.01 } }],
  'grace.corner': [{ grace: { corner: 0.5 } }],
  'grace.lip': [{ grace: { lip: 0.6 } }],
  'grace.lipSpeed': [{ grace: { lipSpeed: 15 } }],
  'run.turnIn': [{ run: { turnIn: 0.3 } }],
  'run.air.turnIn': [{ run: { air: { turnIn: 0.5 } } }],
  'airJumps.heights': [{ airJumps: { heights: [1, 4] } }],
  'airJumps.restoredBy': [{ airJumps: { restoredBy: ['ledge'] } }],
  'airJumps.spacing': [{ airJumps: { endless: true, spacing: 0.01 } }],
  'charge.highest': [{ charge: { highest: 2 } }],
  'wall.sameWall': [{ wall: { sameWall: 'any' } }],
  'wall.jump.lock': [{ wall: { jump: { lock: 0 } } }],
  'wall.slideSpeed': [{ wall: { slideSpeed: 20 } }],
  'glide.fallSpeed': [{ glide: { fallSpeed: 15 } }],
  'dive.fallSpeed': [{ dive: { fallSpeed: 20 } }],
  'dive.gravity': [{ dive: { gravity: 1.2 } }],
  'ledge.hands': [{ ledge: { hands: 0.3 } }],
  'ledge.reach': [{ ledge: { reach: 1 } }],
  'crouch.height': [{ crouch: { height: 1.25 } }],
  'crouch.speed': [{ crouch: { speed: 9 } }],
  'slope.follow': [{ slope: { steepest: 60 } }],
  'pose.settle': [{ pose: { settle: 0.2 } }],
};

describe('Warnings', () => {
  it('are silent on the defaults, with every ability on too', () => {
    expect(warnings({})).to.deep.equal([]);
    expect(warnings(EVERY_ABILITY)).to.deep.equal([]);
    expect(warnings({ charge: {} })).to.deep.equal([]);
  });

  it('come from at least fifteen rules, each of which a tuning brings up, and the docs explain', () => {
    const page = readFileSync(new URL('../../docs/feel.md', import.meta.url), 'utf8');
    expect(RULES).to.have.length.of.at.least(15);
    expect(Object.values(ODD).flat()).to.have.length(RULES.length);
    for (const { key } of RULES) expect(page).to.match(new RegExp(`^\\| \`${key.replace(/\./g, '\\.')}\` \\|`, 'm'));
    for (const [key, tunings] of Object.entries(ODD))
      for (const tuning of tunings) {
        const found = warnings(tuning).filter((one) => one.key === key);
        expect(found, JSON.stringify(tuning)).to.have.length(1);
        expect(found[0]!.reason.length).to.be.greaterThan(20);
        expect(found[0]!.suggestion).to.not.equal('');
      }
  });

  it('go away where the advice is taken', () => {
    for (const key of [
      'gravity.fallSpeed',
      'grace.buffer',
      'grace.coyote',
      'airJumps.heights',
      'charge.highest',
      'wall.slideSpeed',
      'glide.fallSpeed',
      'crouch.height',
    ] as const) {
      const [group, name] = key.split('.') as [keyof Tuning, string];
      const [tuning] = ODD[key] as [Tuning];
      const advice = Number(/[\d.]+/.exec(warnings(tuning).find((one) => one.key === key)!.suggestion)![0]);
      const margin = key === 'gravity.fallSpeed' || key === 'grace.buffer' || key === 'grace.coyote' ? 1.01 : 1;
      const value = key === 'airJumps.heights' ? [advice] : advice * margin;
      const better = { ...tuning, [group]: { ...(tuning[group] as object), [name]: value } };
      expect(
        warnings(better).filter((one) => one.key === key),
        key,
      ).to.deep.equal([]);
    }
  });
});
