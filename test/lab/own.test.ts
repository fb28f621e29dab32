import { ability, compileTuning, type Ability, type Tuning } from 'apperin';
import { compare, design, envelope, play, sheet, vary, verify } from 'apperin/lab';
import { envelopeFigure } from 'apperin-tools/figures';
import { arcs } from 'apperin/lab';
import { expect } from 'chai';

/** Ahead at one speed, at one height, for so long; once a press. */
const dash = ability('dash', {
  own: { speed: { value: 7.5, unit: 'speed' }, lasts: { value: 0.1, unit: 'time' } },
  timers: ['active'],
  actions: ['dash'],
  act(c, own, s) {
    if (c.take('dash')) s.active = own.lasts;
    if (!s.active) return;
    c.claim();
    c.gravity = 0;
    c.vx = c.facing * own.speed;
    c.vy = 0;
  },
});

/** Up at one speed, wherever it is, once until it stands again. */
const flap = ability('flap', {
  own: { speed: 6 },
  slots: ['used'],
  actions: ['flap'],
  act(c, own, s) {
    if (c.support === 'ground') s.used = 0;
    if (s.used === 0 && c.support !== 'ground' && c.take('flap')) {
      s.used = 1;
      c.vy = own.speed;
    }
  },
});

const tuning: Tuning = { run: { speed: 7.5 }, jump: { height: 3, riseTime: 0.4 }, gravity: { falling: 1, apexSpeed: 0, fallSpeed: 200 } }; // prettier-ignore
const value = (measures: readonly { id: string; value: number }[], id: string): number =>
  measures.find((one) => one.id === id)!.value;

describe('Moves of the game’s own, measured', () => {
  it('stand in the sheet, by their actions: on the run, and at the best moment of a jump', () => {
    const plain = sheet(tuning);
    const measures = sheet(tuning, { abilities: [dash] });
    expect(measures.slice(0, plain.length)).to.deep.equal(plain);
    expect(measures.slice(plain.length).map(({ id, group, how }) => `${group} ${id} ${how}`)).to.deep.equal(['Across', 'Speed', 'Rise', 'Reach', 'Height'].map((id) => `own dash${id} simulated`));
    // At the speed of the run: it puts off the fall by 0.1 s, and stops it, which is best half-way: two falls of H/2 take √2 times as long as one of H.
    expect(value(measures, 'dashAcross')).to.be.closeTo(0, 1e-9);
    expect(value(measures, 'dashReach')).to.be.closeTo(7.5 * (0.4 + 0.4 * Math.SQRT2 + 0.1), 1e-3);
    expect(value(measures, 'dashHeight')).to.be.closeTo(3, 1e-9);
    const fast = sheet({ ...tuning, own: { dash: { speed: 17.5 } } }, { abilities: [dash] });
    expect(value(fast, 'dashSpeed')).to.be.closeTo(17.5, 1e-9);
    // 10 units/s faster for 0.1 s, and then slower and slower until it runs as before.
    const { stopIn, speed } = compileTuning(tuning).ground;
    expect(value(fast, 'dashAcross')).to.be.above(1).and.below(1 + (10 * 10 * stopIn) / speed);
  }); // prettier-ignore

  it('go up as high as they can', () => {
    const measures = sheet(tuning, { abilities: [flap] });
    const { gravity } = compileTuning(tuning);
    // At the apex, which a launch of 6 units/s adds v²/2g to.
    expect(value(measures, 'flapHeight')).to.be.closeTo(3 + 36 / (2 * gravity), 1e-3);
    expect(value(measures, 'flapRise')).to.equal(0);
  });

  it('are measures like any other: compared, varied, designed for, promised', () => {
    const abilities = [dash];
    const quick: Tuning = { ...tuning, own: { dash: { speed: 15 } } };
    const { measures } = compare([{ name: 'now', tuning }, { name: 'quick', tuning: quick }], { abilities });
    expect(measures.find(({ id }) => id === 'dashSpeed')!.differences[1]).to.be.closeTo(7.5, 1e-9);
    expect(vary(tuning, [{ key: 'run.speed', values: [6, 7.5] }], { abilities }).changing.map(({ id }) => id)).to.include('dashReach');
    const made = design(tuning, { dashReach: 7 }, { free: [{ key: 'run.speed', least: 5, most: 9 }], abilities });
    expect(made.contradiction).to.equal('');
    expect(value(sheet(made.tuning, { abilities }), 'dashReach')).to.be.closeTo(7, 1e-4);
    const promised = verify(quick, [{ name: 'quick', measure: 'dashSpeed', least: 14 }, { name: 'too quick', measure: 'dashSpeed', least: 16 }], { abilities });
    expect(promised.map(({ kept }) => kept)).to.deep.equal([true, false]);
    expect(() => design(tuning, { dashReach: 7 })).to.throw(RangeError, 'dashReach');
  }); // prettier-ignore

  it('are nothing where an ability has no action, or where nobody jumps', () => {
    const still = ability('still', { act: () => undefined });
    expect(sheet(tuning, { abilities: [still] })).to.deep.equal(sheet(tuning));
    const measures = sheet({ ...tuning, jump: 'off' }, { abilities: [dash] });
    expect(measures.filter(({ group }) => group === 'own').map(({ id }) => id)).to.deep.equal(['dashAcross', 'dashSpeed', 'dashRise']); // prettier-ignore
  });
});

describe('The envelope with moves of the game’s own', () => {
  const quick: Tuning = { ...tuning, own: { dash: { speed: 18 } } };
  const found = envelope(quick, { abilities: [dash] });

  it('has the flights that leave what is reached without them', () => {
    const plain = envelope(quick);
    expect([found.highest, found.farthest, plain.flights.length]).to.deep.equal([plain.highest, plain.farthest, 0]);
    expect(found.flights.length).to.be.above(20);
    for (const { pieces, action } of found.flights) {
      expect(action).to.equal('dash');
      expect(pieces.some(({ from, until, x, y }) => [from, until].some((time) => !plain.holds((x[0] ?? 0) + (x[1] ?? 0) * (time - from) + (x[2] ?? 0) * (time - from) ** 2, (y[0] ?? 0) + (y[1] ?? 0) * (time - from) + (y[2] ?? 0) * (time - from) ** 2)))).to.equal(true);
    }
    const far = Math.max(...found.flights.map(({ farthest }) => farthest || 0));
    expect(far - plain.start).to.be.at.most(value(sheet(quick, { abilities: [dash] }), 'dashReach') + 1e-6).and.above(plain.farthest + 2);
  }); // prettier-ignore

  it('leads to places beyond, by keys that replay at any rate', () => {
    for (const [x, y] of [[8, 1], [9.5, 0.25], [6, 2.5]] as const) {
      expect(found.holds(x, y)).to.equal(false);
      const keys = found.inputFor(x, y)!;
      for (const rate of [64, 128, 1024]) {
        const { last } = play({ level: found.level, tuning: quick, abilities: [dash], input: keys.rows, seconds: keys.time, rate });
        expect(Math.hypot(last.x - x, last.y - y), `${x}, ${y} at ${rate}`).to.be.below(5e-4);
      }
    }
    expect(found.inputFor(30, 2)).to.equal(undefined);
    expect(found.inputFor(2, 1)).to.not.equal(undefined);
  }); // prettier-ignore

  it('draws them, and says what they are', () => {
    const svg = envelopeFigure(found, arcs('quick', quick));
    expect(svg).to.include('Thin: with one press of dash, as played; more may be reached.').and.include('without dash');
    expect(envelopeFigure(envelope(quick), arcs('quick', quick))).to.not.include('one press');
  });

  it('looks at every tick where an ability does, and leaves out what is not known', () => {
    const eager: Ability = ability('eager', { actions: ['eager'], every: 'tick', act: (c) => void (c.held('eager') && (c.vy = 3)) }); // prettier-ignore
    expect(envelope(tuning, { abilities: [eager] }).flights.length).to.be.above(0);
    expect(envelope(quick).flights).to.deep.equal([]);
  });
});
