import { expect } from 'chai';
import { openExample, type OpenExample } from '../support/example.js';
import { fully } from '../support/share.js';

describe('The page dash', () => {
  let example: OpenExample;

  before(async () => {
    example = await openExample('dash');
  });
  after(() => example?.close());

  const pose = (wanted: string) => example.until('pose', wanted);

  fully('dashes by its key, as far as its numbers say', async () => {
    await pose('idle');
    const from = Number((await example.state()).x);
    await example.page.keyboard.press('KeyX');
    await example.until('dashes', '1');
    await pose('dash');
    await pose('idle');
    const to = Number((await example.state()).x);
    // At its speed for its time; then it is faster than the run, and brakes to a stop.
    const brakes = (18 * 18) / (2 * (7.5 / 0.09));
    expect(to - from).to.be.closeTo(18 * 0.15 + brakes, 1e-6);
  });

  fully('crouches by holding down', async () => {
    await example.page.keyboard.down('ArrowDown');
    await pose('crouch');
    await example.page.keyboard.up('ArrowDown');
    await pose('idle');
  });

  fully('glides by a press of the jump key that starts no jump', async () => {
    // The page presses by itself, in the frame in which each pose is shown: a fall is soon over.
    const shown = await example.page.evaluate(async (moves) => {
      const poses: string[] = [];
      for (const [pose, type] of moves) {
        while (document.querySelector('output')!.dataset.pose !== pose) await new Promise(requestAnimationFrame);
        poses.push(pose);
        if (type !== '') window.dispatchEvent(new KeyboardEvent(type, { code: 'Space' }));
      }
      return poses;
    }, [['idle', 'keydown'], ['rise', 'keyup'], ['fall', 'keydown'], ['rise', 'keyup'], ['fall', 'keydown'], ['glide', 'keyup'], ['idle', '']] as [string, string][]); // prettier-ignore
    expect(shown.at(-2)).to.equal('glide');
  });

  fully('said nothing on the console', () => expect(example.errors).to.deep.equal([]));
});
