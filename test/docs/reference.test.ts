import { readFileSync } from 'node:fs';
import { EVENTS, KEYS } from 'apperin';
import { expect } from 'chai';
import { PAGES } from '../../scripts/reference/pages.js';
import { laid } from '../../scripts/reference/make.js';

const read = (name: string): string => readFileSync(new URL(`../../docs/reference/${name}`, import.meta.url), 'utf8');

describe('The reference', () => {
  for (const name of Object.keys(PAGES))
    it(`is what the program says of itself today: ${name}`, async () => {
      expect((await laid(name)) === read(name), `docs/reference/${name} is stale: npm run reference makes it anew`).to.equal(true);
    }); // prettier-ignore

  it('has every key, every event, every command, and messages of every part', () => {
    for (const { key } of KEYS) expect(read('keys.md')).to.contain(`\n| \`${key}\``);
    for (const event of EVENTS) expect(read('events.md')).to.contain(`\n## ${event}\n`);
    for (const command of ['run', 'draw margins', 'search work', 'loft']) expect(read('commands.md')).to.contain(`\n## apperin ${command}\n`);
    expect(read('messages.md').match(/^- /gm)!.length).to.be.greaterThan(400);
  }); // prettier-ignore

  it('says of a key which measures follow it', () => {
    expect(read('keys.md')).to.match(/\| `grace.coyote` .*`widestGapCoyote`.*`coyoteAcross`/).and.to.match(/\| `gravity.falling` .*`touchdownSpeed`/); // prettier-ignore
    // What does not change the sheet names no measure.
    expect(read('keys.md')).to.match(/\| `pose.stride` .*\|\s+\|$/m);
  });
});
