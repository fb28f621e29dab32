import { fingerprint, openStage, rewind, type Character, type Driver, type Rewind, type Stage } from 'apperin';
import { expect } from 'chai';
import { randomizer } from '../support/random.js';
import { share } from '../support/share.js';

const HALL = {
  rows: ['..............', '..............', '@....o......++', '##############'],
  marks: {
    o: { zone: { tags: ['coin'] }, name: 'coin', each: true },
    '+': { zone: { tags: ['door'] }, name: 'attic' },
  },
  bounds: { left: 'wall', right: 'wall' },
} as const;
const ATTIC = {
  rows: ['..............', '...........o..', '++@...........', '####..########'],
  marks: { o: { zone: { tags: ['coin'] }, name: 'coin', each: true }, '+': { zone: { tags: ['door'] }, name: 'hall' } },
  spawns: { door: [2.5, 3] },
  movers: [{ name: 'raft', shapes: [{ form: 'one-way', points: [[4, 3], [6, 3]] }], route: { curve: [[0, 0, 0, 1]], lap: 2, keyPoints: [0, 1, 0] } }],
  bounds: { left: 'wall', right: 'wall', bottom: 'wall' },
} as const; // prettier-ignore

const GAMES = share({ quick: 6, test: 40, deep: 2000 });

/** Two rooms, with who goes to and fro between them: keys by the game's own tick, which goes back with it. */
class Game {
  readonly hall = openStage(HALL);
  readonly attic = openStage(ATTIC);
  readonly hero: Character;
  readonly past: Rewind;
  tick = 0;
  readonly log: string[] = [];
  private shots = 0;

  constructor(
    private readonly plan: readonly (readonly string[])[],
    seconds = 60,
  ) {
    // It knows nothing but the tick: what is held is part of the stage.
    const driver: Driver = {
      read: (into) => {
        const [before, now] = [this.plan[this.tick - 1] ?? [], this.plan[this.tick] ?? []];
        for (const action of ['left', 'right', 'jump'])
          if (before.includes(action) !== now.includes(action))
            into.push(into.from, action, now.includes(action) ? 1 : 0);
      },
    };
    this.hero = this.hall.add({ run: { speed: 7 } }, { driver, name: 'brindle' });
    this.hero.on('enter', ({ zone, tags }) => {
      if (tags.includes('coin')) this.room.setZone(zone, false);
      if (zone === 'attic') this.hero.transfer(this.attic, { at: 'door' });
      if (zone === 'hall') this.hero.transfer(this.hall, { at: [9.5, 3], facing: -1 });
    });
    this.hero.on('takeoff', ({ x, y }) => {
      const { room } = this;
      const shot = room.add({}, { name: `shot${this.shots++}`, at: [Math.min(13, x + 0.5), y - 1] });
      shot.shove(9, -3);
      shot.on('touchdown', () => room.remove(shot));
    });
    // Its own tick goes back with it.
    this.past = rewind([this.hall, this.attic], {
      seconds,
      rate: 60,
      also: { keep: () => this.tick, back: (kept) => (this.tick = kept) },
    });
    this.past.keep();
  }

  get room(): Stage {
    return this.attic.characters.includes(this.hero) ? this.attic : this.hall;
  }

  /** Everything that is not constant. */
  get state(): string {
    const { hall, attic, hero } = this;
    return [fingerprint(hall.snapshot()), fingerprint(attic.snapshot()), hero.x, hero.y, this.room === hall, hero.onStage, hero.held('right')].join(' '); // prettier-ignore
  }

  /** The same without the numbers of characters, which are never used again. */
  get seen(): string {
    const rooms = [this.hall, this.attic].map(({ time, characters, zones }) => [time, ...characters.flatMap(({ x, y, vx, vy, pose }) => [x, y, vx, vy, pose]), ...zones.map(({ on }) => on)].join(' '));
    return rooms.join(' | ');
  } // prettier-ignore

  play(ticks: number): void {
    for (let i = 0; i < ticks; i++) {
      this.room.tick(1 / 60);
      this.tick++;
      this.past.keep();
      this.log[this.tick] = this.state;
    }
  }

  back(ticks: number): number {
    return Math.round(this.past.back(ticks / 60) * 60);
  }
}

/** Keys for so many ticks, changed by chance; to the right for the most part, or to the left. */
function keys(seed: number, ticks: number): string[][] {
  const random = randomizer(seed);
  const plan: string[][] = [];
  let way = 'right';
  while (plan.length < ticks) {
    if (random.chance(0.3)) way = way === 'right' ? 'left' : 'right';
    const held = [way, ...(random.chance(0.3) ? ['jump'] : [])];
    for (let i = random.whole(4, 60); i > 0; i--) plan.push(held);
  }
  return plan;
}

describe('Rooms', () => {
  it('go back together: through the door, to where somebody was, with what was held, and play the same again', () => {
    const game = new Game(Array.from({ length: 400 }, () => ['right']));
    game.play(200);
    expect(game.room).to.equal(game.attic);
    const { state } = game;
    const coins = (): boolean[] => [game.hall.hasZone('coin 5,2'), game.attic.hasZone('coin 11,1')];
    expect(coins()[0]).to.equal(false);
    game.play(30);
    expect(game.back(200)).to.equal(200);
    expect([game.room === game.hall, game.hero.onStage, game.attic.characters.length, coins()[0]]).to.deep.equal([true, true, 0, true]);
    expect(game.past.seconds).to.be.closeTo(30 / 60, 1e-9);
    game.play(170);
    expect(game.state).to.equal(state);
  }); // prettier-ignore

  it('come back in any order: a room takes back who has gone to another, from wherever it is', () => {
    const { hall, attic, hero, ...game } = new Game([]);
    void game;
    const inHall = hall.snapshot();
    hero.transfer(attic, { at: 'door' });
    const inAttic = attic.snapshot();
    const { driver } = hero;
    hall.restore(inHall);
    expect([hall.characters.includes(hero), attic.characters.length, hero.onStage, hero.x, hero.driver === driver]).to.deep.equal([true, 0, true, 0.5, true]); // prettier-ignore
    attic.restore(inAttic);
    expect([hall.characters.length, attic.characters.includes(hero), hero.x, hero.driver === driver]).to.deep.equal([0, true, 2.5, true]); // prettier-ignore
    for (let i = 0; i < 9; i++) attic.tick(1 / 60);
    attic.remove(hero);
    hall.restore(inHall);
    expect([hero.onStage, hero.x, hall.characters.length]).to.deep.equal([true, 0.5, 1]);
    // To and fro it keeps its number, so that what was kept on the way fits.
    const { id } = hero;
    hero.transfer(attic);
    hero.transfer(hall);
    expect(hero.id).to.equal(id);
    hall.restore(inHall);
    expect([hero.x, hall.characters.length]).to.deep.equal([0.5, 1]);
  });

  it('with random keys, doors, shots and going back again and again: always what was, and the same again', () => {
    let crossed = 0;
    for (let seed = 1; seed <= GAMES; seed++) {
      const random = randomizer(7000 + seed);
      const game = new Game(keys(seed, 4000), 8);
      for (let round = 0; round < 12; round++) {
        const { room } = game;
        game.play(random.whole(30, 300));
        const before = game.log.slice();
        const { seen, tick: until } = game;
        const gone = game.back(random.whole(0, 400));
        const what = `seed ${seed}, round ${round}: ${gone} ticks back to ${game.tick}`;
        if (game.tick > 0) expect(game.state, what).to.equal(before[game.tick]);
        if (round % 3 === 0) {
          game.play(until - game.tick);
          expect(game.seen, what).to.equal(seen);
        }
        if (game.room !== room) crossed++;
      }
    }
    expect(crossed).to.be.above(GAMES);
  }); // prettier-ignore

  it('that stand still cost nothing more, and what is given up of the oldest is still there for the next', () => {
    const game = new Game(
      Array.from({ length: 3000 }, (_, i) => (i % 400 < 200 ? ['right'] : ['left'])),
      4,
    );
    for (let i = 0; i < 30; i++) {
      game.play(90);
      const { tick } = game;
      const gone = game.back(i % 3 === 0 ? 239 : 20);
      expect(gone).to.equal(i % 3 === 0 ? Math.min(tick, 239) : 20);
      if (game.tick > 0) expect(game.state, `${i}`).to.equal(game.log[game.tick]);
    }
  });

  it('forget for good who was removed before the oldest moment, where that is asked for', () => {
    for (const forget of [true, false]) {
      const stage = openStage(HALL);
      const past = rewind(stage, { seconds: 1, rate: 60, forget });
      let first: Float64Array | undefined;
      for (let i = 0; i < 200; i++) {
        const shot = stage.add({}, { name: 'shot' });
        stage.tick(1 / 60);
        past.keep();
        first ??= stage.snapshot();
        stage.remove(shot);
      }
      past.back(0.5);
      expect(stage.characters.length).to.equal(1);
      if (forget) expect(() => stage.restore(first!)).to.throw(RangeError, 'or it was removed for good');
      else stage.restore(first!);
    }
  });

  it('are refused where there is none', () => {
    expect(() => rewind([])).to.throw(RangeError, 'rooms is an empty list; there must be a stage to go back in');
  });
});
