import { openExample } from '../test/support/example.js';
import { FINISH, KEYS } from '../test/support/finish.js';

/** What the script of the example game takes of a frame of 1/60 s, played from the quay to the bell: the median and the worst of ten frames in a row. */
export async function millFrames(showing: boolean): Promise<{ median: number; worst: number }> {
  const { page, close } = await openExample('tide-mill', 'stepped', { width: 480, height: 300 });
  try {
    await page.evaluate(`(() => {
      window.times = [];
      const real = window.step;
      let [spent, frames] = [0, 0];
      window.timed = (condition) => {
        for (let i = 0; i < 1500; i++) {
          if (stepUntil(condition, 0) === 0) return i;
          const from = performance.now();
          real(1);
          spent += performance.now() - from;
          if (++frames % 10 === 0) { times.push(spent / 10); spent = 0; }
        }
        return -1;
      };
    })()`);
    if (showing) {
      await page.keyboard.press('Escape');
      await page.check('#show');
      await page.click('#resume');
    }
    for (const { when, down = [], up = [] } of FINISH) {
      await page.evaluate(`timed(${JSON.stringify(when.includes('since') ? 'true' : when)})`);
      for (const action of up) await page.keyboard.up(KEYS[action]!);
      for (const action of down) await page.keyboard.down(KEYS[action]!);
    }
    // The first second compiles it all.
    const times = (await page.evaluate<number[]>('times')).slice(6).sort((a, b) => a - b);
    return { median: (times[times.length >> 1]! * 60) / 1000, worst: (times.at(-1)! * 60) / 1000 };
  } finally {
    await close();
  }
}
