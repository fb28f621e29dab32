import { expect } from 'chai';
import { openExample, type OpenExample } from '../support/example.js';
import { fully } from '../support/share.js';
import { FINISH, KEYS, stepGame, type UndercroftGame } from '../support/undercroft.js';

describe('The game in the undercroft', () => {
  let open: OpenExample;
  let rate = 60;

  const begin = async (frames: number): Promise<void> => {
    rate = frames;
    open = await openExample('undercroft', 'stepped', { width: 480, height: 300 }, frames);
  };
  afterEach(async () => {
    const { errors } = open;
    await open.close();
    expect(errors).to.deep.equal([]);
  });

  /** What is seen of the game. */
  const seen = (): Promise<{ here: string; x: number; who: string[]; pennies: number; won: boolean }> =>
    open.page.evaluate(() => {
      const { game } = window as unknown as { game: UndercroftGame };
      return { here: game.here, x: game.hero.x, who: game.stage.characters.map(({ name }) => name.replace(/ .*/, '')).sort(), pennies: game.pennies[0], won: game.won };
    });
  const until = async (when: string): Promise<void> => {
    expect(await open.page.evaluate(stepGame, { when, most: 20 * rate, rate }), `${when}, ${JSON.stringify(await seen())}`).to.be.at.least(0);
  };
  /** Plays moves of the way to the end. */
  const play = async (from: number, to: number): Promise<void> => {
    for (const { when, down = [], up = [] } of FINISH.slice(from, to)) {
      await until(when);
      for (const action of up) await open.page.keyboard.up(KEYS[action]!);
      for (const action of down) await open.page.keyboard.down(KEYS[action]!);
    }
  };
  /** Holds the key that goes back, for so many seconds of frames; it goes back twice as fast. */
  const back = async (seconds: number): Promise<void> => {
    for (const key of Object.values(KEYS)) await open.page.keyboard.up(key);
    await open.page.keyboard.down('Backspace');
    await open.page.evaluate(`window.step(${Math.round(seconds * rate)})`);
    await open.page.keyboard.up('Backspace');
  };
  const at = (what: string): number => FINISH.findIndex(({ when }) => when.includes(what));

  for (const frames of [60, 144])
    fully(`is played to its end, at ${frames} frames a second`, async () => {
      await begin(frames);
      await play(0, FINISH.length);
      const { here, won, pennies, who } = await seen();
      expect([here, won, who]).to.deep.equal(['belfry', true, ['brindle']]);
      expect(pennies).to.be.at.least(8);
      expect(await open.page.textContent('#say')).to.contain('The bell rings.');
    });

  fully('goes back across a removal, a shot and a door, and is played on from there', async () => {
    await begin(60);
    // The first crab is stomped, and is there again.
    await play(0, at('!foe("crab-1")') + 1);
    expect((await seen()).who).to.deep.equal(['brindle', 'crab-2']);
    await back(0.6);
    expect((await seen()).who).to.deep.equal(['brindle', 'crab-1', 'crab-2']);
    const { x } = await seen();
    expect(x).to.be.below(11);
    // A pebble is on its way, and has not been slung yet.
    await open.page.keyboard.down('KeyC');
    await open.page.evaluate('window.step(4)');
    expect((await seen()).who).to.include('pebble');
    await back(0.1);
    expect((await seen()).who).to.not.include('pebble');
    // From the start again, through the door, and back into the room before; a penny with it.
    await back(30);
    await play(0, at('x > 14'));
    await until('room === "cistern"');
    const beyond = await seen();
    expect(beyond.who).to.deep.equal(['brindle', 'crab-1']);
    await back(0.5);
    const before = await seen();
    expect([before.here, before.x < 37]).to.deep.equal(['cellar', true]);
    await open.page.keyboard.down(KEYS.right!);
    await until('room === "cistern" && x > 4');
    expect((await seen()).pennies).to.equal(beyond.pennies);
  });

  fully('goes on from its last lantern when the page is opened again, and anew when that is asked for', async () => {
    await begin(60);
    await play(0, at('x > 14') + 1);
    await play(at('x > 14') + 1, at('x > 33.7'));
    await until('x > 33');
    const { pennies } = await seen();
    expect(pennies).to.be.above(3);
    await open.page.keyboard.up(KEYS.right!);
    await open.again();
    const again = await seen();
    expect([again.here, again.pennies, again.who]).to.deep.equal(['cistern', pennies, ['brindle', 'crab-1']]);
    expect(again.x).to.be.within(31, 32.5);
    await open.page.keyboard.down(KEYS.right!);
    await until('x > 33');
    // What the controller sees is drawn over it; a new game begins in the cellar.
    await open.page.keyboard.press('KeyB');
    await open.page.keyboard.press('KeyN');
    await open.page.evaluate('window.step(3)');
    expect([(await seen()).here, (await seen()).pennies]).to.deep.equal(['cellar', 0]);
  });
}); // prettier-ignore
