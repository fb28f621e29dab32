/**
 * How the mill is finished: what is pressed and let go of, each as soon as its condition holds. Conditions see what the page shows of
 * the character (`x y vx vy support`), of the time (`t`; `since`: since the last move, s) and of what moves (`bucket stamp`: how far
 * from where they begin, units down).
 */
export interface Move {
  when: string;
  down?: readonly string[];
  up?: readonly string[];
}

/** The keys of the example by action. */
export const KEYS: Readonly<Record<string, string>> = { left: 'ArrowLeft', right: 'ArrowRight', up: 'ArrowUp', down: 'ArrowDown', jump: 'Space', glide: 'KeyE' }; // prettier-ignore

export const FINISH: readonly Move[] = [
  { when: 't > 0.1', down: ['right'] },
  // Over the water, and under the beam.
  { when: 'x > 9.2', down: ['jump'] },
  { when: 'x > 13.5 && support === "ground"', up: ['jump'] },
  { when: 'x > 15', down: ['down'] },
  { when: 'x > 20.6', up: ['down'] },
  // Onto the sacks: a second jump at the top of the first.
  { when: 'x > 22.3', down: ['jump'] },
  { when: 'vy > -2 && y < 14', up: ['jump'] },
  { when: 'vy > -1 && y < 13.5', down: ['jump'] },
  { when: 'x > 26 && support === "ground"', up: ['jump'] },
  { when: 'x > 26.8', down: ['jump'] },
  { when: 'x > 31.5 && support === "ground"', up: ['jump'] },
  // Up the shaft from wall to wall.
  { when: 'x > 36 && support === "ground"', down: ['jump'] },
  { when: 'support === "wall"', up: ['jump', 'right'], down: ['left'] },
  { when: 'true', down: ['jump'] },
  { when: 'support === "wall" && x < 35', up: ['jump', 'left'], down: ['right'] },
  { when: 'true', down: ['jump'] },
  { when: 'support === "wall" && x > 36', up: ['jump', 'right'], down: ['left'] },
  { when: 'true', down: ['jump'] },
  { when: 'support === "wall" && x < 35', up: ['jump', 'left'], down: ['right'] },
  { when: 'true', down: ['jump'] },
  { when: 'x > 38', up: ['jump'] },
  // Up the tower by its edge.
  { when: 'x > 42.6 && support === "ground"', down: ['jump'] },
  { when: 'support === "ledge"', up: ['jump'] },
  { when: 'since > 0.3', down: ['down'] },
  { when: 'support === "ground"', up: ['down'] },
  { when: 'since > 0.2', down: ['jump'] },
  { when: 'support === "ledge"', up: ['jump', 'right'] },
  { when: 'true', down: ['jump'] },
  { when: 'support === "ground"', up: ['jump'], down: ['right'] },
  { when: 'since > 0.2', down: ['jump'] },
  { when: 'support === "ledge"', up: ['jump'], down: ['up'] },
  { when: 'support === "ground" && y < 1.1', up: ['up'] },
  // Over the mill race: a jump, another in the air, and a long glide; the last stretch is a dive.
  { when: 'x > 46.5', down: ['jump'] },
  { when: 'vy > -1', up: ['jump'] },
  { when: 'vy > 0', down: ['jump'] },
  { when: 'vy > 0', up: ['jump'], down: ['glide'] },
  { when: 'x > 61.6', up: ['glide'] },
  { when: 'true', up: ['right'], down: ['down'] },
  { when: 'support === "ground"', up: ['down'], down: ['right'] },
  // Down through the grating, and along the cellar.
  { when: 'x > 64', up: ['right'], down: ['down'] },
  { when: 'vx === 0', down: ['jump'] },
  { when: 'y > 13', up: ['down', 'jump'], down: ['right'] },
  { when: 'x > 72.5', up: ['right'] },
  // Up with the bucket.
  { when: 'bucket === 0', down: ['right'] },
  { when: 'x > 75.2', up: ['right'] },
  { when: 'bucket === -8', down: ['right'] },
  // Under the stamp while it rests above.
  { when: 'x > 79', up: ['right'] },
  { when: 'stamp > 2', up: [] },
  { when: 'stamp < 0.4', down: ['right'] },
  // With the boots on, up to the bell.
  { when: 'x > 87.6', down: ['jump'] },
  { when: 'since > 0.75', up: ['jump'] },
  { when: 'vy > -1 && support === ""', down: ['jump'] },
  { when: 'support === "ground" && y < 2.1', up: ['jump'] },
];
