import { ability, openStage, placeIn, recordPieces, script, type AddOptions, type Character, type Level, type Stage, type StageEvent, type Tuning } from 'apperin'; // prettier-ignore
import { expect } from 'chai';
import { busyInput } from '../support/everything.js';
import { furnished, hallOf, lively, movingTuning } from '../support/moving.js';
import { randomizer, type Random } from '../support/random.js';
import { share, shareOf } from '../support/share.js';
import { presses } from '../support/simulate.js';

/** Ticks a second; all of them meet at each fifth of a second. */
const RATES = share({ quick: [15, 60, 50], test: [15, 30, 50, 60, 120, 240], deep: [15, 30, 50, 60, 120, 240, 1000] });

const FLAT: Level = { rows: ['@'.padEnd(60, '.'), '#'.repeat(60)], bounds: { left: 'wall', right: 'wall' } };

interface Played {
  stage: Stage;
  hero: Character;
  /** What happened, every field of every event but its tick, and where the body was at each fifth of a second. */
  lines: string[];
}

/** All that an event says, but for the tick that it fell into. */
function wordsOf(event: Readonly<StageEvent>): string {
  return Object.entries(event)
    .filter(([field]) => field !== 'tick')
    .map(([field, value]) => `${field} ${String(value)}`)
    .join(', ');
}

/** Plays a stage to a moment, at a rate. */
function play({ stage, hero, lines }: Played, rate: number, until: number): void {
  while (stage.time < until - 1e-9) {
    stage.tick(1 / rate);
    const fifths = stage.time * 5;
    if (Math.abs(fifths - Math.round(fifths)) < 1e-9)
      lines.push(
        [stage.time, hero.x, hero.y, hero.support, hero.phase, hero.pose, hero.jumpsLeft, hero.height].join(' '),
      );
  }
}

/** A stage with one character, ready to be played; `set` is given both before the first tick. */
function begin(
  level: Level,
  tuning: Tuning,
  options: AddOptions,
  set: (stage: Stage, hero: Character) => void = () => undefined,
): Played {
  const stage = openStage(level);
  const hero = stage.add(tuning, options);
  const lines: string[] = [];
  stage.listen((event) => void lines.push(wordsOf(event)));
  set(stage, hero);
  return { stage, hero, lines };
}

/** What comes of it at a rate. */
function linesAt(rate: number, seconds: number, ...given: Parameters<typeof begin>): string[] {
  const played = begin(...given);
  play(played, rate, seconds);
  return played.lines;
}

/** Expects the same bits at every rate. @returns what came of it */
function sameAtAll(
  rates: readonly number[],
  seconds: number,
  make: () => Parameters<typeof begin>,
  what = '',
): string[] {
  const first = linesAt(rates[0]!, seconds, ...make());
  for (const rate of rates.slice(1))
    expect(linesAt(rate, seconds, ...make()), `${what}, ${rate} a second`).to.deep.equal(first);
  return first;
}

/** A hall with movers and much else, who is in it, and what is pressed. */
function hall(random: Random, kind: 'still' | 'moving' | 'rich'): () => Parameters<typeof begin> {
  const { level: plain, at } = hallOf(random, random.pick([2, 8]));
  const level = kind === 'moving' ? plain : furnished(random, plain);
  const tuning = kind === 'moving' ? movingTuning(random) : lively(random, movingTuning(random));
  const rows = busyInput(random, 6)
    .filter(({ action }) => action !== 'dash')
    .flatMap((row) => (row.action === 'jump' ? [row, { ...row, action: 'glide' as const }] : [row]));
  return () => [kind === 'still' ? { ...level, movers: [] } : level, tuning, { at, driver: script(rows) }];
}

const HALLS = { quick: 4, test: 30, deep: 300 };

describe('A piece of motion', () => {
  for (const kind of ['still', 'moving', 'rich'] as const)
    it(`lives across ticks: the same bits at ${RATES.length} rates, in halls of all kinds (${kind}, ${shareOf(HALLS, 'halls')})`, () => {
      let lines = 0;
      for (let seed = 1; seed <= share(HALLS); seed++)
        lines += sameAtAll(RATES, 6, hall(randomizer(7000 + seed), kind), `hall ${seed}`).length;
      expect(lines).to.be.greaterThan(40 * share(HALLS));
    });

  it('is in snapshots: a fork in the middle of it, at another rate, has the same future bit for bit', () => {
    for (let seed = 1; seed <= share({ quick: 4, test: 30, deep: 300 }); seed++) {
      const random = randomizer(8000 + seed);
      const [level, tuning, options] = hall(random, 'rich')();
      const rows = busyInput(random, 6).filter(({ action }) => action !== 'dash');
      const from = random.whole(1, 25) / 5;
      const played = begin(level, tuning, { ...options, driver: script(rows) });
      play(played, 50, from);
      const fork = played.stage.fork({ hero: script(rows) });
      const lines: string[] = [];
      fork.listen((event) => void lines.push(wordsOf(event)));
      played.lines.length = 0;
      play(played, 50, 6);
      play({ stage: fork, hero: fork.characters[0]!, lines }, 240, 6);
      expect(lines, `hall ${seed}, from ${from}`).to.deep.equal(played.lines);
    }
  });

  it('needs no more work in ticks of a second, or of ten: the same events, and the same place', () => {
    const input = presses('right@0.1-2.05 jump@0.5-0.62 left@2.4-3.3 jump@3.01-3.5 right@4-9');
    const asked = (dt: number): [string[], number, number] => {
      let acts = 0;
      const counter = ability('counter', { act: () => void acts++ });
      const { stage, hero, lines } = begin(FLAT, { airJumps: {} }, { driver: script(input), abilities: [counter] });
      while (stage.time < 10 - 1e-9) stage.tick(dt);
      return [lines, hero.x, acts];
    };
    const [lines, x, acts] = asked(1 / 1000);
    expect(lines.length).to.be.greaterThan(20);
    for (const dt of [1 / 15, 1, 10]) expect(asked(dt)).to.deep.equal([lines, x, acts]);
    // A few times for each press and each change of the motion, whatever the ticks are.
    expect(acts).to.be.within(20, 60);
  });

  it('of a body at rest has no end: nothing is asked in a day', () => {
    let acts = 0;
    const counter = ability('counter', { act: () => void acts++ });
    const { stage, hero, lines } = begin(FLAT, {}, { abilities: [counter] });
    stage.tick(1);
    const before = acts;
    for (let i = 0; i < 86400; i++) stage.tick(1);
    expect(acts).to.equal(before);
    expect(lines).to.deep.equal([]);
    expect(hero.parts).to.equal(1);
    expect(hero.poseTime).to.equal(86401);
  });

  it('is not cut by what leaves everything as it was', () => {
    const patient = begin(FLAT, {}, { driver: script(presses('move@0.1')) });
    const eager = begin(
      FLAT,
      {},
      {
        driver: {
          read(into) {
            for (let at = into.from; at < into.until; at += 0.003) into.push(at, 'move', at >= 0.1 - 1e-9 ? 1 : 0);
          },
        },
      },
    );
    play(patient, 60, 3);
    play(eager, 60, 3);
    expect(eager.hero.x).to.be.closeTo(patient.hero.x, 0.05);
    // Both run at top speed from the same piece on: the place grows by the same bits.
    const [a, b] = [patient.hero.x, eager.hero.x];
    play(patient, 60, 4);
    play(eager, 60, 4);
    expect(eager.hero.x - b).to.be.closeTo(patient.hero.x - a, 1e-12);
    expect(eager.hero.parts).to.be.at.most(2);
  });
});

describe('A call of the game that changes nothing', () => {
  it('ends no piece: the tuning that a character has already, in whatever order it is written', () => {
    const tuning: Tuning = { run: { speed: 8, upIn: 0.3 }, jump: { height: 3, riseTime: 0.4 } };
    const again: Tuning = { jump: { riseTime: 0.4, height: 3 }, run: { upIn: 0.3, speed: 8 } };
    const [plain, retuned] = [false, true].map((retunes) => {
      const { stage, hero, lines } = begin(FLAT, tuning, { driver: script(presses('right@0.1 jump@0.5-0.6')) });
      for (let i = 0; i < 120; i++) {
        stage.tick(1 / 60);
        if (retunes) hero.retune(i % 2 === 0 ? again : hero.motion.full);
        lines.push(`${hero.x} ${hero.y}`);
      }
      return lines;
    });
    expect(retuned).to.deep.equal(plain);
  });
});

describe('The clock', () => {
  it('is one division: rates may change, ticks may be split, and shared moments are the same number', () => {
    const stage = openStage(FLAT);
    for (let i = 0; i < 90; i++) stage.tick(1 / 60);
    for (let i = 0; i < 240; i++) stage.tick(1 / 120);
    for (let i = 0; i < 1000; i++) stage.tick(1 / 1000);
    for (let i = 0; i < 7; i++) stage.tick(1 / 50);
    expect(stage.time).to.equal(4.64);
    expect(stage.ticks).to.equal(1337);
    const odd = openStage(FLAT);
    for (let i = 0; i < 1000; i++) odd.tick(0.0137);
    expect(odd.time).to.be.closeTo(13.7, 1e-12);
  });

  it('makes a game that changes its rate play the same bits', () => {
    const make = hall(randomizer(4242), 'rich');
    const first = begin(...make());
    play(first, 60, 6);
    const other = begin(...make());
    for (const [rate, until] of [[15, 1], [240, 2.4], [50, 4], [30, 5.2], [1000, 6]] as const) play(other, rate, until); // prettier-ignore
    expect(other.lines).to.deep.equal(first.lines);
  });
});

/** A yard with a spring, a plank that crumbles, a pool that throws out whoever comes in, and a lift. */
const YARD: Level = {
  rows: [
    '........................',
    '........................',
    '.....................#..',
    '@.......==.....#.....#..',
    '######.....#####..######',
    '######.####.............',
  ],
  zones: [{ name: 'pool', box: [12, 0, 2, 3] }],
  bounds: { left: 'wall', right: 'wall', bottom: 'wall' },
  movers: [{ name: 'lift', shapes: [{ form: 'solid', points: [[12, 1], [14, 1], [14, 1.5], [12, 1.5]] }], route: { curve: [[0, 0, 0, 2]], lap: 2.3, keyPoints: [0, 1, 0] } }],
} as unknown as Level; // prettier-ignore

/** What a game's own handlers do about it. */
function gameOf(stage: Stage, hero: Character): void {
  hero.on('touchdown', ({ x }) => {
    if (x > 1.5 && x < 9) hero.hop(1.2);
  });
  hero.on('bump', ({ side }) => {
    if (side !== 'head') hero.shove(side === 'right' ? -4 : 4, 5, { lock: 0.15 });
  });
  hero.on('enter', () => hero.place('start'));
  hero.on('takeoff', ({ by }) => {
    if (by === 'ground') hero.allow('airJumps', 2);
  });
  stage.listen(({ event }) => {
    if (event === 'apex') hero.retune({ airJumps: {}, run: { speed: 7 + (stage.time % 1) } });
  });
}

const BUSY = presses(
  'right@0.2-1.4 jump@0.3-0.5 jump@0.91-1.2 left@1.6-2.2 jump@1.83-1.9 right@2.3-5.9 jump@2.6-3 jump@3.3-3.4 jump@4.2-4.3 jump@5.01-5.3',
);

describe('What handlers do', () => {
  it('they do at the moment of the event: the same bits at every rate', () => {
    const lines = sameAtAll(RATES, 6, () => [YARD, { airJumps: {} }, { driver: script(BUSY) }, gameOf]);
    for (const what of ['by hop', 'event bump', 'event enter', 'event apex']) expect(lines.join()).to.contain(what);
  });

  it('they do at the time of the stage, and see places, of that moment', () => {
    let seen = 0;
    linesAt(15, 6, YARD, { airJumps: {} }, { driver: script(BUSY) }, (stage, hero) => {
      stage.listen(({ time, x, y }) => {
        expect(stage.time).to.equal(time);
        expect([hero.x, hero.y]).to.deep.equal([x, y]);
        seen++;
      });
    });
    expect(seen).to.be.greaterThan(20);
  });

  it('is recorded with its moment: a recording plays to the same bits, at its own rate and at others', () => {
    const first = begin(YARD, { airJumps: {} }, { driver: script(BUSY) }, gameOf);
    const recording = first.stage.record(first.hero);
    play(first, 60, 6);
    for (const rate of [60, 15, 240]) {
      // Handlers of the game are there again, and nothing is done twice.
      const again = begin(YARD, { airJumps: {} }, { driver: script(recording.rows) }, gameOf);
      play(again, rate, 6);
      expect(again.lines, `${rate} a second`).to.deep.equal(first.lines);
    }
  });

  it('about who plays takes what was still to be pressed in that tick', () => {
    // Within one tick of 15 a second: a jump, another driver, and what the first one would have pressed after that.
    const rows = presses('right@0 jump@0.41-0.43 left@0.44 jump@0.45');
    const at = (rate: number, input: typeof rows, swaps: boolean): { lines: string[]; rows: typeof rows } => {
      const played = begin(FLAT, {}, { driver: script(input) }, (_, hero) => {
        if (swaps) hero.on('takeoff', () => hero.drive(undefined));
      });
      const recording = played.stage.record(played.hero);
      play(played, rate, 2);
      expect(played.hero.held('left') + played.hero.held('jump')).to.equal(0);
      return { lines: played.lines, rows: [...recording.rows] };
    };
    const first = at(15, rows, true);
    expect(at(1000, rows, true).lines).to.deep.equal(first.lines);
    expect(at(60, first.rows, false).lines).to.deep.equal(first.lines);
  });

  it('to a takeoff counts, whatever else happens at that moment', () => {
    for (const tuning of [{}, { wall: {}, glide: {} }, { charge: {} }] as Tuning[]) {
      const lines = sameAtAll(RATES, 2, () => [
        FLAT,
        tuning,
        { driver: script(presses('right@0.1 jump@0.503-0.6')) },
        (_, hero) => void hero.on('takeoff', ({ by }) => void (by !== 'hop' && hero.shove(-6, -9, { lock: 0.3 }))),
      ]);
      const across = (event: string): number =>
        Number(/ x ([-\d.e]+),/.exec(lines.find((line) => line.includes(`event ${event}`))!)![1]);
      expect(across('apex'), JSON.stringify(tuning)).to.be.below(across('takeoff') - 0.2);
    }
  });

  it('to what somebody stands on takes effect at once', () => {
    const level: Level = {
      rows: ['..........', '@.........', '###pppp###', '..........', '##########'],
      marks: { p: { solid: 'full', name: 'plank' } } as never,
    };
    const lines = sameAtAll(RATES, 3, () => [
      level,
      {},
      { driver: script(presses('right@0.2-1.5 jump@0.3-0.35')) },
      (stage, hero) => {
        hero.on('touchdown', ({ y }) => {
          if (y < 3) stage.setShape('plank', false);
        });
      },
    ]);
    expect(lines.filter((line) => line.includes('event touchdown')).length).to.equal(2);
  });

  it('of characters that land together is told in the order in which they came', () => {
    for (const rate of [15, 60]) {
      const stage = openStage(FLAT);
      const told: string[] = [];
      for (let i = 0; i < 20; i++) stage.add({}, { at: [2 + 2 * i, 0], name: `crate${i}` });
      for (const { name } of stage.characters) stage.characters[0]!.on('touchdown', () => void name);
      stage.listen(({ event, who }) => void (event === 'touchdown' && told.push(who)));
      for (const hero of stage.characters) hero.hop(1);
      for (let i = 0; i < 2 * rate; i++) stage.tick(1 / rate);
      expect(told).to.deep.equal(stage.characters.map(({ name }) => name));
    }
  });
});

describe('An ability', () => {
  it('is asked where a piece begins, as often at every rate; at every tick where it says so', () => {
    const count = (rate: number, every?: 'tick'): number => {
      let acts = 0;
      const counter = ability('counter', { ...(every && { every }), act: () => void acts++ });
      linesAt(rate, 2, FLAT, {}, { driver: script(presses('right@0.1 jump@0.5-0.6')), abilities: [counter] });
      return acts;
    };
    const often = count(15);
    expect(often).to.be.within(8, 30);
    for (const rate of [60, 240, 1000]) expect(count(rate)).to.equal(often);
    expect(count(240, 'tick')).to.be.within(480, 480 + 2 * often);
    expect(() => ability('wrong', { every: 'frame' as never, act: () => undefined })).to.throw(RangeError, 'every is frame; it must be tick'); // prettier-ignore
  });

  it('asks to look again at a moment, and does so at every rate', () => {
    const at = (rate: number): number[] => {
      const moments: number[] = [];
      // A light that blinks: nothing else happens.
      const blink = ability('blink', {
        slots: ['next'],
        act(c, _, s) {
          if (c.now >= s.next - 1e-9) {
            moments.push(c.now);
            s.next = c.now + 0.13;
          }
          c.lookAgain(s.next - c.now);
        },
      });
      linesAt(rate, 2, FLAT, {}, { abilities: [blink] });
      return moments;
    };
    const first = at(15);
    expect(first.length).to.equal(16);
    for (const rate of [60, 1000]) expect(at(rate)).to.deep.equal(first);
    const soon = ability('soon', { act: (c) => c.lookAgain(1e-7) });
    expect(() => linesAt(60, 1, FLAT, {}, { abilities: [soon] })).to.throw(RangeError, 'ability soon: seconds is 1e-7');
  });
});

describe('A picture between two ticks', () => {
  it('shows where the character was at that very moment, and every mover', () => {
    // No press at a moment that is a tick's end at one rate and within a tick at another.
    const rows = BUSY.map((row) => ({ ...row, time: row.time + 0.0007 }));
    const at = (rate: number, parts: number): { poses: string[]; numbers: number[] } => {
      const { stage, hero } = begin(YARD, { airJumps: {}, wall: {} }, { driver: script(rows) });
      const seen = { poses: [] as string[], numbers: [] as number[] };
      for (let i = 0; i < 6 * rate; i++) {
        stage.tick(1 / rate);
        for (let k = 1; k <= parts; k++) {
          const { x, y, strides, facing, pose } = hero.view(k / parts);
          const lift = stage.shapes(k / parts).find(({ mover }) => mover === 'lift')!;
          seen.numbers.push(x, y, strides, lift.y);
          seen.poses.push(`${facing} ${pose}`);
        }
      }
      return seen;
    };
    const fine = at(480, 1);
    // A press acts at its own moment, and so does everything else: nothing is drawn where it never was.
    for (const [rate, parts] of [[15, 32], [60, 8]] as const) {
      const { poses, numbers } = at(rate, parts);
      expect(poses).to.deep.equal(fine.poses);
      numbers.forEach((value, i) => expect(value).to.be.closeTo(fine.numbers[i]!, 1e-9));
    } // prettier-ignore
  });

  it('shows the moment that was restored', () => {
    const { stage, hero } = begin(FLAT, {}, { driver: script(presses('right@0')) });
    for (let i = 0; i < 30; i++) stage.tick(1 / 60);
    const kept = stage.snapshot();
    const { x } = hero;
    for (let i = 0; i < 30; i++) stage.tick(1 / 60);
    stage.restore(kept);
    expect(hero.view(1).x).to.equal(x);
  });
});

describe('Pieces that are kept', () => {
  it('say where the feet were at any moment, and are the same at every rate', () => {
    for (let seed = 1; seed <= share({ quick: 3, test: 20, deep: 200 }); seed++) {
      const make = hall(randomizer(9000 + seed), 'rich');
      const at = (rate: number): string => {
        const played = begin(...make());
        const kept = recordPieces(played.stage, played.hero);
        play(played, rate, 3);
        kept.end();
        play(played, rate, 3.4);
        return JSON.stringify(kept.pieces);
      };
      expect(at(240)).to.equal(at(15));
      const { stage, hero } = begin(...make());
      const kept = recordPieces(stage, hero);
      for (let i = 0; i < 180; i++) {
        stage.tick(1 / 60);
        const piece = kept.pieces.findLast(({ from, until }) => stage.time >= from && stage.time <= until)!;
        const { x, y, vx, vy } = placeIn(piece, stage.time);
        expect(x).to.be.closeTo(hero.x, 1e-9);
        expect(y).to.be.closeTo(hero.y, 1e-9);
        if (stage.time < piece.until) {
          expect(vx).to.be.closeTo(hero.vx, 1e-7);
          expect(vy).to.be.closeTo(hero.vy, 1e-7);
        }
      }
      // Without a gap from the beginning to the end.
      const { pieces } = kept;
      expect(pieces[0]!.from).to.equal(0);
      expect(pieces.at(-1)!.until).to.equal(3);
      pieces.slice(1).forEach(({ from }, i) => expect(from).to.equal(pieces[i]!.until));
    }
  });

  it('begin where the recording does, in the middle of one', () => {
    for (const tuning of [{}, { run: { feel: 'eased' } }] as Tuning[]) {
      const { stage, hero } = begin(FLAT, tuning, { driver: script(presses('right@0 jump@0.15-0.3')) });
      for (let i = 0; i < 8; i++) stage.tick(1 / 60);
      const { x, y, vx } = hero;
      const kept = recordPieces(stage, hero);
      for (let i = 0; i < 60; i++) stage.tick(1 / 60);
      const [first] = kept.pieces;
      expect(first!.from).to.equal(8 / 60);
      const start = placeIn(first!, 8 / 60);
      expect(start.x).to.be.closeTo(x, 1e-12);
      expect(start.y).to.be.closeTo(y, 1e-12);
      expect(start.vx).to.be.closeTo(vx, 1e-12);
      expect(placeIn(first!, first!.until).x).to.be.closeTo(placeIn(kept.pieces[1]!, first!.until).x, 1e-12);
    }
  });
});
