import { openStage, rewind, script, type Character, type InputRow, type Level, type Save, type Stage } from 'apperin';
import { expect } from 'chai';
import { presses } from '../support/simulate.js';

/**
 * A little game, written with what is public: two rooms of the mill, coins, bricks, foes that are stomped or hurt, shots, a door. It is played at several rates, saved and
 * loaded, and gone back in.
 */
const YARD: Level = {
  title: 'The yard',
  rows: [
    '..............................',
    '..............................',
    '......bb......................',
    '..............................',
    '..............................',
    '@...c.c..........c............',
    '##############################',
  ],
  marks: {
    b: { solid: 'full', name: 'brick', each: true },
    c: { zone: { tags: ['coin'] }, name: 'coin', each: true },
  },
  zones: [{ name: 'door', box: [28, 4, 1, 2], tags: ['door'] }],
  bounds: { left: 'wall', right: 'wall' },
};
const ATTIC: Level = {
  title: 'The attic',
  rows: ['............', '............', '.@....c.....', '############'],
  marks: { c: { zone: { tags: ['coin'] }, name: 'coin', each: true } },
  bounds: { left: 'wall', right: 'wall' },
};

class Game {
  readonly yard: Stage;
  readonly attic: Stage;
  hero!: Character;
  coins = 0;
  hurt = 0;
  shots = 0;
  readonly log: string[] = [];

  constructor(readonly input: readonly InputRow[]) {
    this.yard = openStage(YARD);
    this.attic = openStage(ATTIC);
  }

  begin(): this {
    this.hero = this.yard.add({ jump: { height: 3.2 } }, { name: 'brindle', driver: script(this.input) });
    for (const [i, x] of [11, 15].entries())
      this.yard.add(
        { run: { speed: 1 } },
        { name: `crab${i}`, at: [x, 6], groups: ['foes'], driver: script(presses('left@0')) },
      );
    return this.follow();
  }

  /** The rules of the game: who listens to what. */
  follow(): this {
    const { hero } = this;
    for (const stage of [this.yard, this.attic]) {
      stage.listen(({ event, time, who, x, y }) => this.log.push([event, time, who, x, y].join(' ')));
    }
    hero.on('enter', ({ zone, tags }) => {
      const room = this.room;
      if (tags.includes('coin')) {
        this.coins++;
        room.setZone(zone, false);
      }
      if (tags.includes('door')) hero.transfer(this.attic);
    });
    hero.on(
      'bump',
      ({ side, shape }) => side === 'head' && shape.startsWith('brick') && this.room.setShape(shape, false),
    );
    this.yard.meet(hero, 'foes');
    hero.on('meet', ({ side, other }) => {
      const foe = this.room.character(other);
      if (side === 'bottom') {
        this.room.remove(foe);
        hero.hop(1.2);
        hero.freeze(0.06);
      } else {
        this.hurt++;
        hero.shove(-6, -6, { lock: 0.2 });
      }
    });
    hero.on('takeoff', ({ x, y }) => {
      if (this.room !== this.yard) return;
      const shot = this.yard.add({}, { name: `shot${this.shots++}`, at: [x + 1, y - 1] });
      shot.shove(14, -2);
      shot.on('touchdown', () => this.yard.remove(shot, { keep: false }));
      shot.on('bump', () => shot.onStage && this.yard.remove(shot, { keep: false }));
    });
    return this;
  }

  get room(): Stage {
    return this.attic.characters.includes(this.hero) ? this.attic : this.yard;
  }

  play(seconds: number, rate: number): void {
    const until = Math.round(seconds * rate);
    for (let i = 0; i < until; i++) this.room.tick(1 / rate);
  }

  get said(): unknown {
    return [this.coins, this.hurt, this.yard.level.shapes.filter((shape) => this.yard.hasShape(shape)), this.room.level.title, this.hero.x, this.hero.y, this.yard.characters.map(({ name }) => name)]; // prettier-ignore
  }
}

const INPUT = presses('right@0 jump@0.62-1 jump@1.4-1.5 jump@2-2.3 jump@3.1-3.2');

describe('A little game', () => {
  it('plays alike at every rate, through its door', () => {
    const games = [15, 60, 240].map((rate) => {
      const game = new Game(INPUT).begin();
      game.play(6, rate);
      return game;
    });
    const [one] = games;
    expect(one!.coins).to.be.greaterThan(1);
    expect(one!.yard.hasShape('brick 6,2') && one!.yard.hasShape('brick 7,2')).to.equal(false);
    expect(one!.room).to.equal(one!.attic);
    expect(one!.log.some((line) => line.startsWith('meet'))).to.equal(true);
    for (const game of games.slice(1)) {
      // But for how long it has been in the other room: that has ticks of its own, and the rest of the tick in which it left is not among them.
      const but = (said: unknown): unknown[] => (said as unknown[]).filter((_, i) => i !== 4);
      expect(but(game.said)).to.deep.equal(but(one!.said));
      expect(game.log).to.deep.equal(one!.log);
    }
  });

  it('goes on from a save as it would have gone on', () => {
    for (const at of [0.5, 1.2, 1.9, 2.4]) {
      const game = new Game(INPUT).begin();
      game.play(at, 60);
      const save = JSON.parse(JSON.stringify(game.yard.save())) as Save;
      const again = new Game(INPUT);
      again.yard.load(save, { brindle: script(INPUT), ...Object.fromEntries(save.characters.filter(({ groups }) => groups.includes('foes')).map(({ name }) => [name, script(presses('left@0'))])) }); // prettier-ignore
      again.hero = again.yard.character('brindle');
      [again.coins, again.hurt, again.shots] = [game.coins, game.hurt, game.shots];
      // What flies is the game's own business: it is followed anew.
      for (const shot of again.yard.characters.filter(({ name }) => name.startsWith('shot'))) {
        shot.on('touchdown', () => again.yard.remove(shot, { keep: false }));
        shot.on('bump', () => shot.onStage && again.yard.remove(shot, { keep: false }));
      }
      again.follow();
      game.log.length = 0;
      for (const one of [game, again]) one.play(6 - at, 60);
      expect(again.said, `saved at ${at}`).to.deep.equal(game.said);
      expect(again.log, `saved at ${at}`).to.deep.equal(game.log);
    }
  });

  it('is gone back in, with those who were stomped', () => {
    const game = new Game(INPUT).begin();
    const past = rewind(game.yard, { seconds: 5 });
    const stomped = (): boolean => game.yard.characters.length < 3;
    let ticks = 0;
    while (!stomped() && ticks++ < 240) {
      game.yard.tick(1 / 60);
      past.keep();
    }
    expect(stomped()).to.equal(true);
    past.back(0.5);
    expect(game.yard.characters.filter(({ name }) => name.startsWith('crab'))).to.have.length(2);
    game.play(0.6, 60);
    expect(game.yard.characters.filter(({ name }) => name.startsWith('crab'))).to.have.length(1);
  });
});
