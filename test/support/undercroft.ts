import { KEYS as MILL_KEYS, type Move } from './finish.js';

/**
 * How the undercroft is finished, as `finish.ts` says it. Conditions see the game and Brindle's `x`, `y`, `vy`, `on` (what holds it up), the `room`, `foe(name)` and
 * `since`: the seconds since the last move.
 */
export const FINISH: readonly Move[] = [
  { when: 'x > 0', down: ['right'] },
  { when: 'x > 4.2', down: ['jump'] },
  { when: 'on === "ground" && y < 11.5', up: ['jump', 'right'] },
  { when: 'since > 0.2', down: ['jump'] },
  { when: 'vy > 0', up: ['jump'] },
  { when: 'on === "ground"', down: ['right'] },
  { when: 'x > 9.6', up: ['right'] },
  { when: 'foe("crab-1").x - x < 4.3 && foe("crab-1").vx < 0', down: ['right', 'jump'] },
  { when: '!foe("crab-1")', up: ['jump', 'right'] },
  { when: 'on === "ground"', down: ['right'] },
  { when: 'x > 16.4', down: ['jump'] },
  { when: 'on === "ground" && y < 12', up: ['jump'] },
  { when: 'x > 23', up: ['right'] },
  { when: 'since > 0.3 && foe("crab-2").x - x < 2.3 && foe("crab-2").vx < 0', down: ['right'] },
  { when: '!foe("crab-2")', down: [] },
  { when: 'x > 26 && on === "ground"', down: ['jump'] },
  { when: 'on === "ground" && y < 10.5', up: ['jump'] },
  { when: 'room === "cistern" && x > 14', down: ['jump'] },
  { when: 'y > 13.5', up: ['jump'] },
  { when: 'y > 15', down: ['jump'] },
  { when: 'since > 0.1', up: ['jump'] },
  { when: 'y > 15.5', down: ['jump'] },
  { when: 'since > 0.1', up: ['jump'] },
  { when: 'on === "ground" && x > 33.7', up: ['right'], down: ['up'] },
  { when: 'y < 5', up: ['up'], down: ['right'] },
  { when: 'x > 35 && on === "ground"', up: ['right'], down: ['sling'] },
  { when: '!foe("crab-1")', up: ['sling'], down: ['right'] },
  { when: 'room === "belfry" && x > 8', up: ['right'] },
  { when: 'foe("crab-1").x - x < 4', down: ['sling'] },
  { when: '!foe("crab-1")', up: ['sling'], down: ['jump'] },
  { when: 'on === "ground" && y < 18', up: ['jump'] },
  { when: 'foe("crab-2").x > 14.5 && foe("crab-2").vx > 0', down: ['right', 'jump'] },
  { when: 'on === "ground" && y < 15', up: ['right', 'jump'], down: ['sling'] },
  { when: '!foe("crab-2")', up: ['sling'], down: ['right'] },
  { when: 'x > 17.3', up: ['right'], down: ['up'] },
  { when: 'y < 8', up: ['up'], down: ['left'] },
  { when: 'on === "ground" && x < 14.4', down: ['jump'] },
  { when: 'on === "ground" && y < 6', up: ['jump'] },
  { when: 'game.won', up: ['left'] },
];

/** The keys of the example by action. */
export const KEYS: Readonly<Record<string, string>> = { ...MILL_KEYS, sling: 'KeyC' };

/** Runs in the page: frames until a condition holds. Returns how many there were, or −1. */
export function stepGame({ when, most, rate }: { when: string; most: number; rate: number }): number {
  const { game, step } = window as unknown as { game: UndercroftGame; step(frames: number): void };
  const holds = new Function('game', 'x', 'y', 'vy', 'on', 'room', 'foe', 'since', `return ${when}`) as (
    ...is: unknown[]
  ) => unknown;
  for (let i = 0; i <= most; i++) {
    const { hero, here, stage } = game;
    if (
      holds(
        game,
        hero.x,
        hero.y,
        hero.vy,
        hero.support,
        here,
        (name: string) => stage.characters.find((one) => one.name === name),
        i / rate,
      )
    )
      return i;
    step(1);
  }
  return -1;
}

/** What the page shows of its game. */
export interface UndercroftGame {
  hero: { x: number; y: number; vy: number; support: string };
  here: string;
  stage: { time: number; characters: readonly { name: string }[] };
  pennies: readonly [number, number];
  won: boolean;
}
