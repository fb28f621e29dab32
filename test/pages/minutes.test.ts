import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { openExample } from '../support/example.js';
import { randomizer } from '../support/random.js';
import { fully, share, shareOf } from '../support/share.js';

/** The pages that have no end, and what a minute in each has to show. */
const PAGES: Record<string, { keys: readonly string[]; poses: readonly string[] }> = {
  'first-hop': { keys: ['ArrowRight', 'ArrowRight', 'ArrowLeft', 'Space', 'Space'], poses: ['idle', 'run', 'rise', 'fall', 'land'] }, // prettier-ignore
  dash: { keys: ['ArrowRight', 'ArrowLeft', 'Space', 'KeyX', 'KeyE', 'ArrowDown'], poses: ['run', 'rise', 'dash', 'crouch', 'dive'] }, // prettier-ignore
  'side-view-3d': { keys: ['ArrowRight', 'ArrowRight', 'ArrowLeft', 'Space', 'Space'], poses: ['idle', 'run', 'rise', 'fall', 'land'] }, // prettier-ignore
};

/** A minute. */
const FRAMES = { quick: 0, test: 1500, deep: 3600 };

describe('The page', () => {
  for (const [name, { keys, poses }] of Object.entries(PAGES))
    fully(`${name} is played by keyboard, and says nothing on the console (${shareOf(FRAMES, 'frames')})`, async () => {
      const { page, errors, close } = await openExample(name, 'stepped', { width: 320, height: 200 });
      try {
        const random = randomizer(name.length);
        const held = new Set<string>();
        const seen = new Set<string>();
        const places: number[] = [];
        for (let frame = 0; frame < share(FRAMES); frame += 12) {
          const key = random.pick(keys);
          if (held.delete(key)) await page.keyboard.up(key);
          else {
            held.add(key);
            await page.keyboard.down(key);
          }
          const { pose, x } = await page.evaluate<{ pose: string[]; x: string }>(`(() => {
            const pose = [];
            for (let i = 0; i < 12; i++) { step(1); pose.push(document.querySelector('output').dataset.pose); }
            return { pose, x: document.querySelector('output').dataset.x };
          })()`);
          for (const one of pose) seen.add(one);
          places.push(Number(x));
        }
        expect([...seen]).to.include.members([...poses]);
        expect(Math.max(...places) - Math.min(...places)).to.be.above(8);
        expect(errors).to.deep.equal([]);
      } finally {
        await close();
      }
    });
});

describe('The example no-picture', () => {
  fully('has the same bits at both ends, and with an input that came late', () => {
    const main = fileURLToPath(new URL('../../examples/no-picture/main.ts', import.meta.url));
    const { status, stdout, stderr } = spawnSync(process.execPath, ['--import=tsx', main], { encoding: 'utf8' });
    expect(stderr).to.equal('');
    expect(stdout.match(/the same bits at both ends/g)).to.have.length(8);
    expect(stdout).to.match(/late input: 8 presses, \d+ ticks played again, the same bits as on time\n$/);
    expect(stdout).to.not.contain('DIFFERENT');
    expect(status).to.equal(0);
  });
});
