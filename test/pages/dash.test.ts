import { expect } from 'chai';
import { openExample, type OpenExample } from '../support/example.js';

describe('The page dash', () => {
  let example: OpenExample;

  before(async () => {
    example = await openExample('dash');
  });
  after(() => example?.close());

  const pose = (wanted: string) => example.until('pose', wanted);

  it('dashes by its key, as far as its numbers say', async () => {
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

  it('crouches by holding down', async () => {
    await example.page.keyboard.down('ArrowDown');
    await pose('crouch');
    await example.page.keyboard.up('ArrowDown');
    await pose('idle');
  });

  it('glides by a press of the jump key that starts no jump', async () => {
    for (let i = 0; i < 2; i++) {
      await example.page.keyboard.down('Space');
      await pose('rise');
      await example.page.keyboard.up('Space');
      await pose('fall');
    }
    await example.page.keyboard.down('Space');
    await pose('glide');
    await example.page.keyboard.up('Space');
    await pose('idle');
  });

  it('said nothing on the console', () => expect(example.errors).to.deep.equal([]));
});
