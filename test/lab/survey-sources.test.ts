import { level, type DrawnLevel, type Tuning } from 'apperin';
import { survey, type Answer } from 'apperin/lab';
import { expect } from 'chai';
import { PLAIN } from '../support/known-levels.js';

/** Something that makes a place reachable; without it the same place is out of reach for certain. */
interface Source {
  name: string;
  with: [Tuning, object?];
  without: [Tuning, object?];
  shapes: readonly object[];
  goal: [number, number];
  /** It takes more than is tried: it is not found, and not ruled out. */
  hard?: boolean;
}

const and = (more: Tuning): Tuning => ({ ...PLAIN, ...more });
const HIGH = (top: number): object[] => [{ solid: [-10, -2, 40, 2] }, { solid: [4, top - 1, 6, 1] }];
const FAR = (gap: number, drop = 0): object[] => [
  { solid: [-14, -14, 16, 14] },
  { solid: [2 + gap, -14, 14, 14 - drop] },
];
const surface = (name: string, box: number[]): object => ({ solid: box, surface: name });

const SOURCES: readonly Source[] = [
  { name: 'jump', with: [PLAIN], without: [and({ jump: 'off' })], shapes: HIGH(3), goal: [7, 3] },
  { name: 'charge', with: [and({ charge: {} })], without: [PLAIN], shapes: HIGH(4.2), goal: [7, 4.2] },
  { name: 'air jumps', with: [and({ airJumps: {} })], without: [PLAIN], shapes: HIGH(5), goal: [7, 5] },
  { name: 'air jumps without end', with: [and({ airJumps: { endless: true } })], without: [and({ airJumps: {} })], shapes: HIGH(8), goal: [7, 8] },
  { name: 'coyote time', with: [and({ grace: { ...(PLAIN.grace as object), coyote: 0.15 } })], without: [PLAIN], shapes: FAR(7), goal: [12, 0] },
  { name: 'glide', with: [and({ glide: {} })], without: [PLAIN], shapes: FAR(10), goal: [16, 0] },
  { name: 'lip', with: [and({ grace: { ...(PLAIN.grace as object), lip: 0.3 } })], without: [PLAIN], shapes: HIGH(3.5), goal: [7, 3.5] },
  { name: 'ledges', with: [and({ ledge: {} })], without: [PLAIN], shapes: HIGH(4.2), goal: [7, 4.2] },
  { name: 'walls', with: [and({ wall: {} })], without: [PLAIN], shapes: [{ solid: [-10, -2, 40, 2] }, { solid: [-6, 0, 1, 14] }, { solid: [-2, 0, 8, 8] }], goal: [2, 8] },
  { name: 'step', with: [and({ jump: 'off', slope: { step: 0.4 } })], without: [and({ jump: 'off' })], shapes: [{ solid: [-10, -2, 12, 2] }, { solid: [2, -2, 8, 2.35] }], goal: [6, 0.35] },
  { name: 'run-up', with: [and({ jump: { height: 3.25, riseTime: 0.4, runUp: 1 } })], without: [PLAIN], shapes: [{ solid: [-10, -2, 40, 2] }, { 'one-way': [2, 3, 16, 1] }], goal: [8, 4] },
  { name: 'speed in the air', with: [and({ run: { speed: 5, air: { speed: 8 } } })], without: [and({ run: { speed: 5 } })], shapes: FAR(5), goal: [10, 0] },
  { name: 'pace of surfaces', with: [PLAIN, { surfaces: { quick: { pace: 1.6 } } }], without: [PLAIN, { surfaces: { quick: {} } }], shapes: [surface('quick', [-14, -14, 16, 14]), { solid: [8.5, -14, 14, 14] }], goal: [14, 0] },
  { name: 'belts', with: [PLAIN, { surfaces: { belt: { flow: 5 } } }], without: [PLAIN, { surfaces: { belt: {} } }], shapes: [surface('belt', [-14, -14, 16, 14]), { solid: [8.5, -14, 14, 14] }], goal: [14, 0] },
  { name: 'jump of surfaces', with: [PLAIN, { surfaces: { board: { jump: 1.5 } } }], without: [PLAIN, { surfaces: { board: {} } }], shapes: [surface('board', [-10, -2, 40, 2]), { solid: [4, 3.5, 6, 1] }], goal: [7, 4.5] },
  { name: 'bounce', with: [and({ jump: 'off' }), { surfaces: { pad: { bounce: 0.9 } }, spawns: { start: [-4, 4] } }], without: [and({ jump: 'off' }), { surfaces: { pad: {} }, spawns: { start: [-4, 4] } }], shapes: [{ solid: [-14, 3, 12, 1] }, surface('pad', [-14, -2, 40, 2]), { 'one-way': [5, 1.5, 8, 0.5] }], goal: [9, 2] },
  { name: 'crests', with: [and({ jump: 'off', run: { speed: 12 }, slope: { follow: 0 } })], without: [and({ jump: 'off', run: { speed: 2 }, slope: { follow: 0 } })], shapes: [{ solid: [-14, -4, 12, 4] }, { solid: [[-2, 0], [0, 1.6], [0, -4], [-2, -4]] }, { 'one-way': [1.5, 0.9, 8, 1] }], goal: [5, 1.9], hard: true },
  { name: 'movers', with: [and({ mover: { lend: 'both' } }), { movers: [{ name: 'lift', shapes: [{ solid: [1, -1, 2, 1] }], route: 'M 0 0 V 3 V 0', lap: 1.6 }] }], without: [and({ mover: { lend: 'none' } }), { movers: [{ name: 'lift', shapes: [{ solid: [1, -1, 2, 1] }], route: 'M 0 0 V 3 V 0', lap: 1.6 }] }], shapes: [{ solid: [-10, -2, 11, 2] }, { solid: [3.5, -2, 12, 9] }], goal: [8, 7] },
  { name: 'gravity of zones', with: [PLAIN, { zones: [{ box: [-10, 0, 40, 12], gravity: 0.6 }] }], without: [PLAIN], shapes: HIGH(4.2), goal: [7, 4.2] },
  { name: 'pace of zones', with: [PLAIN, { zones: [{ box: [-14, 0, 40, 12], pace: 1.6 }] }], without: [PLAIN], shapes: FAR(7), goal: [13, 0] },
  { name: 'currents', with: [PLAIN, { zones: [{ box: [-14, 0, 40, 12], current: [5, 0] }] }], without: [PLAIN], shapes: FAR(7), goal: [13, 0] },
  { name: 'borders that come out elsewhere', with: [and({ jump: 'off' }), { bounds: { left: 'wrap', right: 'wrap' } }], without: [and({ jump: 'off' }), { bounds: { left: 'wall', right: 'wall' } }], shapes: [{ solid: [-14, -14, 16, 14] }, { solid: [20, -14, 10, 14] }], goal: [26, 0] },
]; // prettier-ignore

async function answerOf({ shapes, goal }: Source, [tuning, more = {}]: [Tuning, object?]): Promise<Answer> {
  const made = level({
    yPoints: 'up',
    extent: { x: -14, y: -14, width: 44, height: 34 },
    shapes,
    spawns: { start: [-4, 0] },
    ...more,
  } as never) as DrawnLevel;
  const { places } = (await survey({ level: made, tuning, spend: 300_000 })).survey;
  return places.find(({ kind, mover, x1, x2, y1 }) => kind !== 'ledge' && mover === null && x1 <= goal[0] && x2 >= goal[0] && Math.abs(y1 - goal[1]) < 1e-3)!.answer; // prettier-ignore
}

describe('What a survey rules out', () => {
  for (const source of SOURCES)
    it(`allows for ${source.name}: reached with it, out of reach without`, async () => {
      expect(await answerOf(source, source.with), 'with').to.equal(source.hard ? 'not found' : 'yes');
      expect(await answerOf(source, source.without), 'without').to.equal('no');
    });
});
