import * as core from 'apperin';
import { missing, playEverything } from '../support/everything.js';
import { playHarder, rareIn } from '../support/harder.js';
import { playMoving, rareAmong } from '../support/moving.js';
import { randomizer } from '../support/random.js';

/** What came of one seed. */
export interface Piece {
  ticks: number;
  /** How often each kind of thing occurred. */
  counts: Readonly<Record<string, Readonly<Record<string, number>>>>;
  /** The deepest that a body was in anything, in tolerances. */
  deepest: number;
  broken: readonly string[];
}

/** What can go on for as long as it is let: each seed is played by itself, so that one alone can be kept and played again. */
export interface Job {
  about: string;
  /** So many ticks count as the whole. */
  whole: number;
  play(seed: number): Piece;
  /** What came up too rarely in all. */
  rare(counts: Record<string, Record<string, number>>, ticks: number): string[];
}

/** Ticks of one seed. */
const TICKS = 4000;

export const JOBS: Readonly<Record<string, Job>> = {
  moves: {
    about: 'every ability on, in shafts and under beams, by random keys',
    whole: 10_000_000,
    play(seed) {
      const { touches, jumps, events, poses, ...found } = playEverything(randomizer(seed), TICKS);
      return { ...found, counts: { touches, jumps, events, poses } };
    },
    rare: (counts) => missing(counts as unknown as Parameters<typeof missing>[0], 10),
  },
  ground: {
    about: 'tiles of all shapes, polygons, lines, one-way slopes',
    whole: 10_000_000,
    play(seed) {
      const { touches, events, ...found } = playHarder(core, randomizer(seed), TICKS);
      return { ...found, counts: { touches, events } };
    },
    rare: (counts, ticks) => rareIn({ ...counts, ticks } as Parameters<typeof rareIn>[0]),
  },
  halls: {
    about:
      'halls of up to forty movers with zones, slanted planks, belts, and abilities on one key; each restored at a random tick',
    whole: 10_000_000,
    play(seed) {
      const { touches, events, ...found } = playMoving(core, 10 * seed, 1, 40, 10, true);
      return { ...found, counts: { touches, events } };
    },
    rare: (counts, ticks) => rareAmong({ ...counts, ticks } as Parameters<typeof rareAmong>[0]),
  },
  movers: {
    about: 'halls of up to forty movers',
    whole: 10_000_000,
    play(seed) {
      const { touches, events, ...found } = playMoving(core, seed, 1);
      return { ...found, counts: { touches, events } };
    },
    rare: (counts, ticks) => rareAmong({ ...counts, ticks } as Parameters<typeof rareAmong>[0]),
  },
};

/** Tests that do a share of what they can in the suite, and all of it here. */
export const SUITES: Readonly<Record<string, { about: string; files: readonly string[] }>> = {
  losses: { about: 'full disks, two pages, editors, fifty kills', files: ['test/cli/loss.test.ts'] },
  attacks: { about: 'resets, pipes, hostile texts', files: ['test/files/attacks.test.ts', 'test/cli/loft.test.ts'] },
  lab: {
    about: 'goals, envelopes and threads in full number',
    files: ['test/lab/*.test.ts', 'test/cli/threads.test.ts'],
  },
  core: { about: 'lip, movers, thrown boxes and rates in full number', files: ['test/core/*.test.ts'] },
  pages: { about: 'each example played for a minute, the game finished', files: ['test/pages/*.test.ts'] },
};
