import {
  abilities,
  ability,
  level,
  openStage,
  recordTrace,
  script,
  type Ability,
  type Control,
  type InputRow,
  type Level,
  type Tuning,
} from 'apperin';
import { expect } from 'chai';
import { dash } from '../../examples/dash/dash.js';
import { EVERY_ABILITY, PLAIN, livelyTuning, randomInput, randomLevel } from '../support/make.js';
import { randomizer } from '../support/random.js';
import { RATES, names, presses, simulate, the } from '../support/simulate.js';

const YARD: Level = { rows: ['#........#', '#........#', '#........#', '#.@......#', '##########'] };

describe('A ladder, as an ability of a game', () => {
  it('is climbed from the ground and let go of: leaving what does not hold changes nothing', () => {
    const climb = ability('ladder', {
      act(c) {
        if (!c.inTag('ladder') || !c.held('up')) return;
        c.claim();
        c.leave();
        c.gravity = 0;
        c.vy = 4;
      },
    });
    const heights = [15, 60, 240].map((rate) => {
      const stage = openStage(level({ rows: ['...', '...', '...', '...', '.@.', '###'], zones: [{ name: 'rungs', box: [1, 0, 1, 5], tags: ['ladder'] }] }));
      const hero = stage.add({}, { abilities: [climb], driver: script([{ time: 0.2, action: 'up', value: 1 }, { time: 0.9, action: 'up', value: 0 }]) });
      const said: string[] = [];
      stage.listen(({ event }) => said.push(event));
      const seen: number[] = [];
      for (let i = 0; i < 2 * rate; i++) {
        stage.tick(1 / rate);
        if (Math.abs(stage.time % 0.2) < 1e-9) seen.push(hero.y);
      }
      expect(Math.min(...seen)).to.be.closeTo(5 - 4 * 0.6, 0.4);
      expect(said).not.to.include('stuck');
      return [said.join(), hero.y];
    });
    expect(heights[1]).to.deep.equal(heights[0]);
    expect(heights[2]).to.deep.equal(heights[0]);
  }); // prettier-ignore
});

describe('Built-in abilities', () => {
  for (const name of Object.keys(abilities) as (keyof typeof abilities)[]) {
    it(`${name}: registered again under another name, it gives the same bits`, () => {
      const again = ability(`other${name}`, {
        ...(abilities[name].spec as object),
        act: abilities[name].spec.act,
        instead: name,
      });
      const random = randomizer(501);
      for (let i = 0; i < 12; i++) {
        const tuning: Tuning = { ...livelyTuning(random), ...(name === 'charge' ? { charge: {} } : {}) };
        const level = randomLevel(random);
        const input = randomInput(random, 4);
        const [one, other] = [[], [again]].map((added) => simulate(level, tuning, input, 60, 4, { abilities: added }));
        expect(other!.rows).to.deep.equal(one!.rows);
        expect(other!.events).to.deep.equal(one!.events);
      }
    });
  }
});

describe('The dash', () => {
  const all: readonly Ability[] = [dash];

  it('goes straight ahead at its speed for its time, whatever the rate, and rests', () => {
    for (const rate of RATES) {
      const run = simulate(
        PLAIN,
        EVERY_ABILITY,
        presses('left@0.1-0.11 jump@0.2-0.5 dash@0.45-0.5 dash@0.7-0.75 dash@0.86'),
        rate,
        1.5,
        { abilities: all },
      );
      const [on, off] = [the(run, 'dashOn'), the(run, 'dashOff')];
      expect(on.time).to.be.closeTo(0.45, 1e-9);
      expect(off.time - on.time).to.be.closeTo(0.15, 1e-9);
      expect(on.x - off.x).to.be.closeTo(18 * 0.15, 1e-9);
      expect(off.y).to.equal(on.y);
      // The press at 0.7 is too early, and too old when the rest is over; the one at 0.86 waits for it.
      expect(the(run, 'dashOn', 1).time).to.be.closeTo(0.95, 1e-9);
      expect(run.events.filter(({ event }) => event === 'dashOn')).to.have.length(2);
    }
  });

  it('shows its pose and phase, and has its numbers set under `own`', () => {
    const tuning: Tuning = { ...EVERY_ABILITY, own: { dash: { speed: 10, lasts: 0.3 } } };
    const run = simulate(PLAIN, tuning, presses('jump@0.1 dash@0.2'), 60, 0.45, { abilities: all });
    expect(run.rows.at(-1)).to.include({ pose: 'dash', phase: 'dash', vx: 10, vy: 0 });
  });

  it('ends at a wall, and by a jump', () => {
    const wall = simulate(YARD, EVERY_ABILITY, presses('right@0-0.9 dash@0.6'), 60, 1, { abilities: all });
    expect(the(wall, 'dashOff').time).to.equal(the(wall, 'bump').time);
    const jump = simulate(PLAIN, EVERY_ABILITY, presses('dash@0.1 jump@0.15'), 60, 0.3, { abilities: all });
    expect(the(jump, 'dashOff').time).to.be.closeTo(0.15, 1e-9);
    expect(jump.rows.some(({ vy }) => vy < -10)).to.equal(true);
  });

  it('keeps to the rules of the core: rates, mirror images, snapshots', () => {
    const random = randomizer(502);
    for (let i = 0; i < 25; i++) {
      const level = randomLevel(random);
      const tuning = livelyTuning(random);
      const more = randomInput(random, 4, 2).map((row): InputRow => ({ ...row, action: 'dash' }));
      const input = [...randomInput(random, 4), ...more];
      const runs = [30, 60, 240].map((rate) => simulate(level, tuning, input, rate, 4, { abilities: all }));
      for (const run of runs) expect(names(run), `level ${i}`).to.deep.equal(names(runs[0]!));
      const flipped = {
        ...level,
        rows: level.rows.map((row) => [...row].reverse().join('')),
        origin: [-level.rows[0]!.length, 0] as const,
      };
      const opposite: Record<string, string> = { left: 'right', right: 'left' };
      const mirrored = simulate(
        flipped,
        tuning,
        input.map((row) => ({ ...row, action: opposite[row.action] ?? row.action })),
        60,
        4,
        { abilities: all, facing: -1 },
      );
      expect(mirrored.rows.map(({ x, y }) => [-x + 0, y])).to.deep.equal(runs[1]!.rows.map(({ x, y }) => [x, y]));
    }
  });
});

describe('Snapshots with everything on', () => {
  it('taken at any tick and restored, give the rest of the run bit for bit', () => {
    const random = randomizer(503);
    const level = randomLevel(random, 16, 12);
    const input = [
      ...randomInput(random, 6, 8),
      ...randomInput(random, 6, 2).map((row): InputRow => ({ ...row, action: 'dash' })),
    ];
    const stage = openStage(level);
    const hero = stage.add(EVERY_ABILITY, { driver: script(input), abilities: [dash] });
    const told = recordTrace(stage, hero);
    const state = (): number[] => [...stage.snapshot()];
    const kept = [stage.snapshot()];
    const ticks = 6 * 60;
    for (let i = 0; i < ticks; i++) {
      stage.tick(1 / 60);
      kept.push(stage.snapshot());
    }
    const end = state();
    const events = [...told.events];
    expect(events.length).to.be.greaterThan(20);
    for (let from = 0; from < ticks; from++) {
      stage.restore(kept[from]!);
      told.events.length = 0;
      for (let i = from; i < ticks; i++) stage.tick(1 / 60);
      expect(state(), `from tick ${from}`).to.deep.equal(end);
      expect(told.events, `from tick ${from}`).to.deep.equal(events.filter(({ tick }) => tick! >= from));
    }
  });
});

describe('ability(…)', () => {
  it('refuses names and numbers that cannot be, by name', () => {
    const act = (): void => undefined;
    for (const [make, message] of [
      [() => ability('my dash', { act }), 'my dash is not a name'],
      [() => ability('spin', { slots: ['a', 'a'], act }), 'ability spin: a is listed twice'],
      [
        () => ability('spin', { own: { speed: { value: 5, most: 4 } }, act }),
        'speed is 5; it must be at least 0 and at most 4',
      ],
      [() => simulate(PLAIN, {}, [], 60, 0, { abilities: [ability('jump', { act })] }), 'two abilities named jump'],
      [
        () => simulate(PLAIN, {}, [], 60, 0, { abilities: [ability('spin', { after: 'twirl', act })] }),
        'to come after twirl, but there is none',
      ],
      [
        () => simulate(PLAIN, { own: { dash: { sped: 3 } } }, [], 60, 0, { abilities: [dash] }),
        'own.dash.sped: the ability dash has no such number; it has speed, lasts, rest',
      ],
      [
        () => simulate(PLAIN, { own: { dash: { lasts: 3 } } }, [], 60, 0, { abilities: [dash] }),
        'own.dash.lasts is 3; it must be at least 0.02 and at most 1',
      ],
      [
        () => simulate(PLAIN, { own: { dash: { speed: 3 } } }, [], 60, 0),
        'own.dash: the character has no ability of that name',
      ],
      [() => simulate(PLAIN, { own: 3 as never }, [], 60, 0), 'own is 3; it must be a group of keys'],
    ] as const)
      expect(make).to.throw(message);
  });

  it('is told where it would bring the body into no number', () => {
    for (const [act, message] of [
      [(c: Control) => void (c.vx = NaN), 'ability odd: vx is NaN'],
      [(c: Control) => void (c.vy = Infinity), 'ability odd: vy is Infinity'],
      [(c: Control) => c.vertical(0, NaN), 'ability odd: rate is NaN'],
      [(c: Control) => c.across(-Infinity, 1), 'ability odd: to is -Infinity'],
    ] as const)
      expect(() => simulate(PLAIN, {}, [], 60, 0.1, { abilities: [ability('odd', { act })] })).to.throw(
        RangeError,
        message,
      );
  });

  it('asks `met` at a contact, before the body is stopped', () => {
    const bounce = ability('bounce', {
      own: { least: 5 },
      slots: ['count'],
      act: () => undefined,
      met(c, own, s, { side, speed }) {
        if (side !== 'feet' || speed < own.least) return false;
        s.count++;
        c.vy = speed / 2;
        return true;
      },
    });
    const run = simulate(PLAIN, {}, presses('jump@0.1'), 60, 3, { abilities: [bounce] });
    const landing = the(run, 'touchdown');
    expect(landing.speed).to.be.below(5);
    expect(run.events.filter(({ event }) => event === 'apex').length).to.be.greaterThan(2);
    expect(run.events.filter(({ event }) => event === 'touchdown')).to.have.length(1);
    // One that says it has dealt with a contact, and goes on into it, is not believed.
    const liar = ability('liar', { act: () => undefined, met: () => true });
    const stopped = simulate(PLAIN, {}, presses('jump@0.1'), 60, 3, { abilities: [liar] });
    expect(names(stopped)).to.deep.equal(['takeoff', 'apex', 'touchdown']);
  });

  it('cuts the tick where `watch` says, and keeps timers and slots to the moment', () => {
    const marks: number[] = [];
    const gate = ability('gate', {
      own: { at: 2.5 },
      slots: ['passed'],
      timers: ['open'],
      act(c, own, s) {
        if (s.passed === 0 && c.x >= own.at - 1e-6) {
          s.passed = 1;
          s.open = 0.05;
          marks.push(c.now, c.x);
        } else if (s.passed === 1 && s.open === 0) {
          s.passed = 2;
          marks.push(c.now);
        }
      },
      watch: (c, own) => c.cutAtX(own.at),
    });
    for (const rate of RATES) {
      marks.length = 0;
      simulate(PLAIN, {}, presses('right@0'), rate, 1, { abilities: [gate] });
      const arrives = 0.12 + (2 - 7.5 * 0.06) / 7.5;
      expect(marks[0]).to.be.closeTo(arrives, 1e-9);
      expect(marks[1]).to.be.closeTo(2.5, 1e-9);
      expect(marks[2]! - marks[0]!).to.be.closeTo(0.05, 1e-9);
    }
  });

  it('tells an ability when the claim of an earlier one stops it', () => {
    const seen: string[] = [];
    const frozen = ability('frozen', {
      after: 'jump',
      every: 'tick',
      act: (c) => (c.now > 0.5 ? c.claim({ but: ['crouch'] }) : undefined),
    });
    const later = ability('later', { act: () => seen.push('act'), stopped: () => seen.push('stopped') });
    const run = simulate(PLAIN, {}, presses('right@0'), 10, 1, { abilities: [frozen, later] });
    expect(seen[0]).to.equal('act');
    expect(seen.at(-1)).to.equal('stopped');
    expect(run.rows.at(-1)!.pose).to.equal('frozen');
  });
});
