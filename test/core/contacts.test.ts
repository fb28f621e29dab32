import * as core from 'apperin';
import type { Tuning } from 'apperin';
import { expect } from 'chai';
import {
  block,
  bothWays,
  mirrored,
  mirroredKeys,
  open,
  playIn,
  sent,
  shape,
  told,
  TOUCH_RATES,
  type Drawing,
  type Played,
} from '../support/drawn.js';
import { busyInput } from '../support/everything.js';
import { furnished, hallOf, lively, movingTuning, playMoving } from '../support/moving.js';
import { shareOf, share } from '../support/share.js';
import { randomizer } from '../support/random.js';

/** How far the body has come, turned back in a mirror image. */
const along = ({ hero, side }: Played): number => hero.x * side;

describe('Contact: steps between floors and movers', () => {
  const floor = (from: number, to: number) => block(from, -2, to - from, 2);
  for (const step of [0.2, -0.2, 0.29, -0.29])
    it(`walks over a floor and a mover beside it that lies ${step} higher, both ways, and from mover to mover`, () => {
      for (const how of ['rest', 'come', 'both'] as const) {
        const lift = block(10, -1, 6, 1);
        const level: Drawing = {
          outlines: [floor(-10, 10), ...(how === 'both' ? [] : [floor(16, 40)])],
          movers: [
            how === 'rest'
              ? { name: 'lift', shapes: [block(10, step - 1, 6, 1)] }
              : sent('lift', [lift], [0, step], 0.5),
            ...(how === 'both' ? [sent('other', [block(16, -1.5, 24, 1)], [0, 0.5], 0.5)] : []),
          ],
          spawns: { start: { at: [5, 0] }, end: { at: [22, 0] } },
        };
        bothWays(level, {}, 'right@1', 4, (played, what) => {
          expect(along(played), `${how}, ${what}`).to.be.above(17);
          expect(played.names, `${how}, ${what}`).to.not.include('bump');
        });
        bothWays(
          level,
          {},
          'left@1',
          4,
          (played, what) => expect(along(played), `${how} back, ${what}`).to.be.below(9),
          { at: 'end' },
        );
      }
    });

  it('a lift that stops a little short of a floor blocks nobody, nor does a gate that sank to a lip', () => {
    for (const short of [0.29, 0.1, 0.001, -0.001, -0.1, -0.29]) {
      const level: Drawing = {
        outlines: [floor(-10, 10), block(14, 1, 30, 2)],
        movers: [
          sent('lift', [block(10, -1, 4, 1)], [0, 3 - short], 2),
          sent('gate', [block(24, 3, 1, 4)], [0, -4 + Math.abs(short)], 1),
        ],
        spawns: { start: { at: [12, 0] } },
      };
      bothWays(level, {}, 'right@2.5', 6, (played, what) => expect(along(played), `${short}, ${what}`).to.be.above(30));
    }
  });
});

describe('Contact: crouching under what is lower than the body', () => {
  const LOW: Tuning = { crouch: { height: 0.8 } };
  const floor = block(-10, -2, 60, 2);
  const over: Record<string, Drawing> = {
    'a lintel': { outlines: [floor, block(6, 1, 6, 5)] },
    'a sloping ceiling': { outlines: [floor, shape(5, 2, 8, 1, 12, 1, 12, 6, 5, 6)] },
    'a mover': {
      outlines: [floor],
      movers: [sent('beam', [block(6, 2, 6, 5)], [0, -1], 0.5)],
    },
    'a lintel on a slope': {
      outlines: [shape(-10, -2, 50, -2, 50, 8, 0, -2), shape(20, 3.2, 26, 4.4, 26, 10, 20, 10)],
      spawns: { start: { at: [14, 0.8] } },
    },
  };
  for (const [name, drawn] of Object.entries(over)) {
    const level: Drawing = { spawns: { start: { at: [2, 0] } }, ...drawn };
    const from = name.endsWith('slope') ? 14 : 2;
    const beyond = name.endsWith('slope') ? 27 : 13;
    for (const [how, keys] of [
      ['still pressing', 'right@2 down@4'],
      ['let go, crouch and press again', 'right@2-3.5 down@4 right@4.5'],
      ['crouched a little away from it', 'right@2-3.5 left@3.6-3.7 down@4 right@4.5'],
    ] as const)
      it(`goes under ${name}: ${how}`, () => {
        bothWays(level, LOW, keys, 9, (played, what) => expect(along(played), what).to.be.above(beyond));
        bothWays(level, LOW, keys.replace(/ down@4/, ''), 9, (played, what) =>
          expect(along(played), what).to.be.within(from, beyond - 4),
        );
      });
    it(`goes under ${name} after a retune to a lower body`, () => {
      bothWays(
        level,
        { body: { height: 1.3 } },
        'right@2',
        9,
        (played, what) => expect(along(played), what).to.be.above(beyond),
        {
          each: ({ hero, stage }) => {
            if (stage.ticks === Math.round(4 * (stage.ticks / stage.time))) hero.retune({ body: { height: 0.8 } });
          },
        },
      );
    });
  }
});

describe('Contact: crush', () => {
  const shaft = (policy: 'stop' | 'through' | 'tell'): Drawing => ({
    outlines: [block(-3, -1, 3, 31), block(-10, -2, 40, 1)],
    // A block that comes across while the body falls beside the wall.
    movers: [{ ...sent('press', [block(3, 0, 2, 30)], [-2.6, 0], 1), policy }],
    spawns: { start: { at: [0.35, 25] } },
  });
  for (const policy of ['stop', 'through', 'tell'] as const)
    it(`a body that falls between an upright wall and a block is told as crushed, and goes on falling (${policy})`, () => {
      let all: string[] | undefined;
      bothWays(shaft(policy), {}, 'jump@1.02', 3, (played, what) => {
        const crushed = played.events.filter(({ event }) => event === 'crushed');
        expect(crushed.length, what).to.equal(1);
        expect(crushed[0], what).to.include({ mover: 'press', against: 'wall' });
        const landed = played.events.find(({ event }) => event === 'touchdown');
        expect(landed, what).to.not.equal(undefined);
        // As fast as if nothing had pinched it.
        const free = playIn({ outlines: [block(-10, -2, 40, 1)], spawns: { start: { at: [0.35, 25] } } }, {}, '', 60, 3);
        expect(landed!.time, what).to.be.closeTo(free.events.find(({ event }) => event === 'touchdown')!.time, 1e-7);
        // No ground, no rights: the press in the air does nothing.
        expect(played.names, what).to.not.include('takeoff');
        if (policy === 'stop') expect(played.stage.mover('press').waits, what).to.equal(true);
        else expect(played.stage.mover('press').x * played.side, what).to.be.closeTo(-2.6, 1e-6);
        expect(along(played), what).to.be.closeTo(0.35, 1e-6);
        all ??= told(played);
        expect(told(played), what).to.deep.equal(all);
      }, { each: ({ hero, stage }) => { if (stage.time > 0.9 && stage.time < 1) expect(hero.jumpsLeft).to.equal(0); } });
    }); // prettier-ignore

  it('tells the same moments at every rate where the policy is to tell', () => {
    const level: Drawing = {
      outlines: [block(-10, -2, 40, 2), block(-10, 4, 40, 2)],
      movers: [{ name: 'stamp', shapes: [block(1, 2, 3, 1)], policy: 'tell', route: { curve: [[0, 0, 0, -1.9], [0, -1.9, 0, 0]], lap: 1.37 } }],
      spawns: { start: { at: [2, 0] } },
    }; // prettier-ignore
    for (const keys of ['', 'right@0.4-0.9 left@1.3-1.9', 'jump@0.3 right@0.62']) {
      let all: string[] | undefined;
      bothWays(level, {}, keys, 5, (played, what) => {
        all ??= told(played, ['turned']);
        expect(told(played, ['turned']), `${keys}, ${what}`).to.deep.equal(all);
      });
      expect(all!.some((line) => line.startsWith('crushed'))).to.equal(true);
    }
  });

  it('a lift under a pointed ceiling crushes, once', () => {
    const level: Drawing = {
      outlines: [shape(-4, 6, 0, 3, -0.0, 3, -8, 3, -8, 8, 8, 8, 8, 3, 0.001, 3, 4, 6)],
      movers: [{ ...sent('lift', [block(-1, -1, 2, 1)], [0, 5], 2), policy: 'stop' }],
      spawns: { start: { at: [0, 0] } },
    };
    const roof: Drawing = { ...level, outlines: [shape(-8, 2, 0, 4.5, 8, 2, 8, 8, -8, 8)] };
    bothWays(roof, {}, '', 4, (played, what) => {
      expect(played.names.filter((name) => name === 'crushed').length, what).to.equal(1);
      expect(played.stage.mover('lift').waits, what).to.equal(true);
    });
  });

  for (const policy of ['stop', 'turn'] as const)
    it(`a lift whose rider meets a ceiling ${policy === 'stop' ? 'waits' : 'goes back the way it came'}`, () => {
      const level: Drawing = {
        outlines: [block(-5, 5, 10, 1)],
        movers: [{ name: 'lift', shapes: [block(-2, -1, 4, 1)], policy: policy as 'stop', route: { curve: [[0, 0, 0, 5], [0, 5, 0, 0]], lap: 4 } }],
        spawns: { start: { at: [0, 0] } },
      }; // prettier-ignore
      let all: string[] | undefined;
      bothWays(level, {}, '', 8, (played, what) => {
        const first = played.events.find(({ event }) => event === 'crushed')!;
        expect(first.time, what).to.be.closeTo((3.7 / 5) * 2, 1e-7);
        expect(played.names, what).to.not.include('leave');
        all ??= told(played);
        expect(told(played), what).to.deep.equal(all);
        if (policy === 'stop') {
          expect(played.names.filter((name) => name === 'crushed').length, what).to.equal(1);
          expect(played.hero.y, what).to.be.closeTo(3.7, 1e-6);
        } else {
          expect(played.stage.mover('lift').waits, what).to.equal(false);
          // Down for as long as it took to come, then up again.
          const again = played.events.filter(({ event }) => event === 'crushed');
          expect(again[1]!.time - again[0]!.time, what).to.be.closeTo((3.7 / 5) * 4, 1e-6);
        }
      });
    });
});

describe('Contact: under a block that slides away', () => {
  const PART = { quick: 40, test: 400, deep: 4000 };
  it(`a body that runs up a slope neither falls through it nor sticks, nor tells of one touch twice (${shareOf(PART, 'cases')})`, () => {
    const random = randomizer(404);
    const broken: string[] = [];
    for (let i = 0; i < share(PART); i++) {
      const rise = random.between(0.15, 1);
      const form = random.pick(['solid', 'one-way', 'ground'] as const);
      const length = 24;
      const ramp = form === 'solid' ? shape(0, 0, length, length * rise, length, -3, 0, -3) : open(form, 0, 0, length, length * rise);
      const at = random.between(4, 12);
      const overhead = block(at, at * rise + random.between(0.9, 1.8), random.between(1, 6), 2);
      const away = [random.between(0.5, 12), random.pick([0, 0, random.between(-0.5, 2)])] as const;
      const more = { after: random.between(0, 1.5), policy: random.pick(['stop', 'turn', 'through', 'tell'] as const) };
      const level: Drawing = {
        outlines: [block(-12, -3, 12, 3), ramp],
        movers: [sent('block', [overhead], away, random.between(0.4, 3), more)],
        spawns: { start: { at: [-1, 0] } },
      };
      const tuning: Tuning = { run: { speed: random.between(3, 9), upIn: random.pick([0, 0.12]) } };
      const keys = `right@0${random.chance(0.3) ? ` jump@${random.between(0.3, 2).toFixed(3)}` : ''}`;
      const found = new Set<string>();
      const mirror = i % 2 === 1;
      const played = playIn(mirror ? mirrored(level) : level, tuning, mirror ? mirroredKeys(keys) : keys, TOUCH_RATES[i % 4]!, 4, { each: ({ hero, side }) => {
        const x = hero.x * side;
        if (x < length && hero.y < (x < 0 ? 0 : x * rise) - 1e-4 * (1 + rise)) found.add('falls through');
      } }, mirror ? -1 : 1);
      if (played.names.includes('stuck')) found.add('stuck');
      const bumps = played.events.filter(({ event }) => event === 'bump');
      bumps.forEach(({ time }, k) => { if (k > 0 && time - bumps[k - 1]!.time < 1e-6) found.add(`two bumps at ${time}`); });
      if (found.size > 0) broken.push(`case ${i}: ${[...found].join(', ')}`);
    }
    expect(broken).to.deep.equal([]);
  });
}); // prettier-ignore

describe('Contact: pits, tips and sides', () => {
  it('a body in a pit against a waiting mover never hangs in the air', () => {
    const random = randomizer(66);
    for (let i = 0; i < share({ quick: 8, test: 60, deep: 1000 }); i++) {
      // A steep face on the left; a plug with a steep face of its own comes from the right, and perhaps a lid from above.
      const steep = random.between(1.3, 4);
      const y = random.between(1, 2.5);
      const level: Drawing = {
        outlines: [shape(-8, -6, 0, -6, 0, 0, -3, 3 * steep, -8, 3 * steep)],
        movers: [
          { ...sent('plug', [shape(1, -6, 8, -6, 8, 3, 1 + random.between(0, 2), 3, 1, 0)], [-random.between(0.7, 1), random.between(-0.3, 0.3)], random.between(0.3, 1.5)), policy: 'stop' },
          ...(random.chance(0.7) ? [sent('lid', [block(-3, 5, 8, 1)], [0, -random.between(0.5, 3)], random.between(0.3, 1.2))] : []),
        ],
        spawns: { start: { at: [0.4 - y / steep, y] } },
      };
      const keys = `jump@${random.between(0.8, 2).toFixed(3)} jump@${random.between(2.2, 2.8).toFixed(3)}-3`;
      const rate = TOUCH_RATES[i % 4]!;
      let still = 0;
      playIn(level, {}, keys, rate, 4, { each: ({ hero, stage }) => {
        const hangs = hero.support === '' && hero.vy === 0 && hero.vx === 0;
        still = hangs ? still + 1 / rate : 0;
        expect(still, `case ${i} at ${stage.time}: hangs at ${hero.x}, ${hero.y}, ${rate} a second`).to.be.at.most(0.1);
      } });
    }
  }); // prettier-ignore

  for (const form of ['line', 'ground', 'one-way'] as const)
    it(`a jump straight up beside the low end of a slanted ${form} does not land on its tip with no overlap`, () => {
      for (const off of [0, 1e-9, -1e-9, -1e-7, -1e-6])
        for (const rise of [0.2, 0.5, 1, 1.5]) {
          const low = [4, 1, 8, 1 + 4 * rise];
          const level: Drawing = {
            outlines: [block(-10, -2, 30, 2), open(form, ...low)],
            spawns: { start: { at: [4 - 0.35 + off, 0] } },
          };
          bothWays(level, {}, 'jump@0.2', 2, (played, what) => {
            const lands = played.events.filter(({ event }) => event === 'touchdown');
            expect(
              lands.map(({ y }) => y),
              `${form} ${off} ${rise}, ${what}`,
            ).to.deep.equal([0]);
          });
        }
    });

  it('a body that rises after a bump at its side tells its apex at every rate', () => {
    for (const wallAt of [2, 2.7, 3.3]) {
      const level: Drawing = {
        outlines: [block(-10, -2, 30, 2), block(wallAt, 0, 3, 12)],
        spawns: { start: { at: [0, 0] } },
      };
      let all: string[] | undefined;
      bothWays(level, {}, 'right@0 jump@0.1', 2, (played, what) => {
        expect(played.names.filter((name) => name === 'apex').length, what).to.equal(1);
        expect(played.names, what).to.include('bump');
        all ??= told(played);
        expect(told(played), what).to.deep.equal(all);
      });
    }
  });

  it('a jump that is pressed on a tick tells its apex', () => {
    const level: Drawing = { outlines: [block(-10, -2, 30, 2)], spawns: { start: { at: [0, 0] } } };
    for (const rate of [15, 30, 50, 60, 100, 120, 144, 240, 480, 1000])
      for (const riseTime of [0.3, 0.4, 0.5])
        for (let k = 1; k < 12; k++) {
          const played = playIn(
            level,
            { jump: { height: 3.25, riseTime } },
            `jump@${(Math.ceil((k / rate) * 1e6) / 1e6).toFixed(6)}`,
            rate,
            2,
          );
          expect(
            played.names.filter((name) => name === 'apex').length,
            `${rate} a second, ${riseTime}, tick ${k}`,
          ).to.equal(1);
        }
  });

  it('a lip of less than a five-hundredth of the body stops nobody, nor are such lips stairs up a steep face', () => {
    const lip = 0.7 / 512;
    for (const height of [lip, lip * 0.99, lip / 3, lip / 100, 1e-6])
      for (const step of [0, 0.3]) {
        const level: Drawing = {
          outlines: [
            block(-10, -2, 14, 2),
            block(4, -2, 4, 2 + height),
            block(8, -2, 4, 2),
            block(12, -2, 20, 2 + height),
          ],
          spawns: { start: { at: [0, 0] } },
        };
        bothWays(level, { slope: { step } }, 'right@0', 3, (played, what) => {
          expect(along(played), `${height} ${step}, ${what}`).to.be.above(15);
          expect(
            // Down from one it may fall that far, where nothing is followed down.
            played.names.filter(
              (name) => name !== 'turned' && (step > 0 || (name !== 'leave' && name !== 'touchdown')),
            ),
            `${height} ${step}, ${what}`,
          ).to.deep.equal([]);
          expect(Math.abs(played.hero.vx), what).to.equal(7.5);
        });
        // In the air, too: coming down beside it, where there is room.
        bothWays(level, { slope: { step } }, 'right@0 jump@0.1', 3, (played, what) =>
          expect(along(played), what).to.be.above(15),
        );
      }
    // A face of 80 degrees, made of lips.
    const face: number[] = [4, -2, 4, 0];
    let [x, y] = [4, 0];
    for (let i = 0; i < 400; i++) {
      y += lip * 0.98;
      face.push(x, y);
      x += (lip * 0.98) / 5.67;
      face.push(x, y);
    }
    const stairs: Drawing = {
      outlines: [block(-10, -2, 14, 2), shape(...face, 20, y, 20, -2)],
      spawns: { start: { at: [0, 0] } },
    };
    bothWays(stairs, { slope: { step: 0 } }, 'right@0', 3, (played, what) =>
      expect(played.hero.y, what).to.be.below(0.02),
    );
  });
});

describe('Contact: pushed out of something solid', () => {
  const inside: Drawing = {
    outlines: [block(-10, -2, 40, 2), block(0, 0, 6, 3)],
    zones: [{ name: 'mist', box: [-20, 1.1, 60, 6], gravity: 0.5 }],
    spawns: { start: { at: [3, 0.3] } },
  };
  it('a press, a border of a zone and a window act at their own moments, the same at every rate', () => {
    for (const [tuning, keys] of [
      [{}, 'jump@0.09'],
      [{}, 'jump@0.09'],
      [{}, 'jump@0.11'],
      [{}, 'jump@0.19'],
      [{ grace: { buffer: 0.06 } }, 'jump@0.171 right@0.05 left@0.13'],
      [{ body: { freeBy: 5 }, airJumps: { heights: [1] } }, 'jump@0.3'],
      [{ body: { freeBy: 5 }, grace: { buffer: 0.2 } }, 'jump@0.52'],
    ] as [Tuning, string][]) {
      let all: string[] | undefined;
      bothWays(inside, tuning, keys, 2.5, (played, what) => {
        expect(played.names, what).to.include.members(['enter', 'freed']);
        all ??= told(played);
        expect(told(played), `${keys}, ${what}`).to.deep.equal(all);
      });
    }
  });
});

describe('Contact: carriers', () => {
  it('one that falls away in a zone of other gravity is left at the same moment at every rate, and after a restore', () => {
    for (const gravity of [0.25, 0.5]) {
      const level: Drawing = {
        outlines: [block(-10, -22, 30, 2)],
        movers: [{ name: 'lift', shapes: [block(-2, -1, 4, 1)], route: { curve: [[0, 0, 0, -18], [0, -18, 0, 0]], lap: 6, keyPoints: [0, 0.5, 1], keyTimes: [0, 0.5, 1], keySplines: [[0.6, 0, 1, 0.4], [0.3, 0.3, 0.6, 0.6]] } }],
        zones: [{ name: 'air', box: [-20, -40, 40, 39.3], gravity }],
        spawns: { start: { at: [0, 0] } },
      }; // prettier-ignore
      const tuning: Tuning = { jump: { baseGravity: 8, height: 2 }, gravity: { falling: 1 } };
      let all: string[] | undefined;
      bothWays(level, tuning, '', 3, (played, what) => {
        all ??= told(played);
        expect(told(played), what).to.deep.equal(all);
      });
      bothWays(level, tuning, '', 3, (played, what) => expect(told(played), `restored, ${what}`).to.deep.equal(all), {
        each: ({ stage }) => stage.restore(stage.snapshot()),
      });
      expect(all!.some((line) => line.startsWith('alight'))).to.equal(true);
    }
  });

  it('a lift that reverses throws nobody off; a belt, a lift and a floor in a row are one floor', () => {
    const turns: Drawing = {
      outlines: [],
      movers: [
        {
          name: 'lift',
          shapes: [block(-2, -1, 4, 1)],
          route: {
            curve: [
              [0, 0, 0, 3],
              [0, 3, 0, 0],
            ],
            lap: 1.2,
          },
        },
      ],
      spawns: { start: { at: [0, 0] } },
    };
    bothWays(turns, {}, '', 5, (played, what) => expect(played.names, what).to.deep.equal(['board']));
    const row: Drawing = {
      outlines: [{ ...block(-10, -2, 14, 2), carry: { surface: 'belt' } }, block(8, -2, 30, 2)],
      movers: [{ name: 'lift', shapes: [block(4, -1, 4, 1)], route: { curve: [[0, 0, 0, 2], [0, 2, 0, 0]], lap: 8, keyPoints: [0, 0, 0.5, 1], keyTimes: [0, 0.5, 0.75, 1] } }],
      surfaces: { belt: { flow: 2 } },
      spawns: { start: { at: [0, 0] } },
    }; // prettier-ignore
    bothWays(row, {}, 'right@0', 3, (played, what) => {
      expect(
        played.names.filter((name) => name !== 'surface' && name !== 'turned'),
        what,
      ).to.deep.equal(['board', 'alight']);
      // The speed across the screen is kept.
      for (const { event, vx } of played.events)
        if (event === 'board' || event === 'alight') expect(Math.abs(vx), what).to.be.above(7.4);
    });
  });
});

describe('Contact: narrow places', () => {
  it('a corridor exactly as high as the body is run through, and a wedge of one degree stops without shaking', () => {
    const tall = 1.3;
    const height = Math.round((tall * 67108864) / 2) * 2 / 67108864;
    const level: Drawing = { outlines: [block(-10, -2, 60, 2), block(6, height, 6, 3)], spawns: { start: { at: [0, 0] } } };
    bothWays(level, {}, 'right@0', 3, (played, what) => {
      expect(along(played), what).to.be.above(14);
      expect(played.names.filter((name) => name !== 'turned'), what).to.deep.equal([]);
    });
    const tan = Math.tan(Math.PI / 180);
    const wedge: Drawing = {
      outlines: [block(-10, -2, 140, 2), shape(0, 1.3 + 30 * tan, 100, 1.3 + 30 * tan - 100 * tan, 100, 8, 0, 8)],
      spawns: { start: { at: [20, 0] } },
    };
    bothWays(wedge, {}, 'right@0-3 left@4', 5, (played, what) => {
      expect(played.names.filter((name) => name === 'bump').length, what).to.equal(1);
      expect(played.names, what).to.not.include('stuck');
      expect(along(played), what).to.be.below(25);
    }, { each: ({ hero, stage, side }) => { if (stage.time > 2.5 && stage.time < 3) { expect(hero.x * side).to.be.closeTo(29.65, 1e-4); expect(hero.vx).to.equal(0); } } });
  }); // prettier-ignore
});

describe('Contact: dropping through', () => {
  it('what stands on two one-way pieces drops through both', () => {
    const floor = block(-10, -12, 40, 2);
    for (const [name, level] of Object.entries<Drawing>({
      'two planks': { outlines: [floor, open('one-way', -4, 0, 0.1, 0), open('one-way', 0.1, 0, 6, 0)] },
      'two that overlap': { outlines: [floor, open('one-way', -4, 0, 1, 0), open('one-way', 0, 0, 6, 0)] },
      'two a gap apart': { outlines: [floor, open('one-way', -4, 0, -0.1, 0), open('one-way', 0.1, 0, 6, 0)] },
      'a plank and that of a mover': {
        outlines: [floor, open('one-way', -4, 0, 0.1, 0)],
        movers: [{ name: 'lift', shapes: [open('one-way', 0.1, 0, 6, 0)] }],
      },
      'two of movers': {
        outlines: [floor],
        movers: [
          { name: 'lift', shapes: [open('one-way', 0.1, 0, 6, 0)] },
          { name: 'other', shapes: [open('one-way', -6, 0, 0.1, 0)] },
        ],
      },
      'two planks that slant': {
        outlines: [floor, open('one-way', -4, -1, 0, 0), open('one-way', -4, -1, 0, 0), open('one-way', 0, 0, 4, -1)],
      },
    }))
      for (const x of [0, 0.2, -0.2])
        bothWays(
          { ...level, spawns: { start: { at: [x, 0] } } },
          { drop: {} },
          'down@0.3 jump@0.5',
          2,
          (played, what) => {
            expect(played.names.filter((one) => one === 'dropThrough').length, `${name} at ${x}, ${what}`).to.equal(1);
            expect(played.hero.y, `${name} at ${x}, ${what}`).to.equal(-10);
          },
        );
  });
});

describe('Contact: halls of movers with zones, slanted planks, belts, and abilities on one key', () => {
  const PART = { quick: 2, test: 24, deep: 200 };
  it(`never lets a body in or through, never gets it stuck, and plays on alike after a restore (${shareOf(PART, 'halls')})`, () => {
    for (let i = 0; i < share(PART); i++) expect(playMoving(core, 70_000 + i, 1, 40, 10, true).broken).to.deep.equal([]);
  });

  const ALIKE = { quick: 4, test: 40, deep: 400 };
  it(`the same events at the same moments at 15, 60 and 120 a second, until somebody is crushed (${shareOf(ALIKE, 'halls')})`, () => {
    for (let seed = 200; seed < 200 + share(ALIKE); seed++) {
      const random = randomizer(seed);
      const { level, at } = hallOf(random, random.pick([2, 8]));
      const tuning = lively(random, movingTuning(random));
      const hall = furnished(random, level);
      const input = busyInput(random, 6).filter(({ action }) => action !== 'dash');
      const [first, ...others] = [15, 60, 120].map((rate) => {
        const stage = core.openStage(hall);
        stage.add(tuning, { at, driver: core.script(input) });
        const list: (readonly [string, number])[] = [];
        stage.listen(({ event, time }) => event !== 'footfall' && list.push([event, time]));
        for (let i = 0; i < 6 * rate; i++) stage.tick(1 / rate);
        // What is pressed to and fro goes its way to within a few times that.
        const crushed = list.findIndex(([event]) => event === 'crushed');
        return crushed < 0 ? list : list.slice(0, crushed);
      });
      for (const other of others) {
        expect(other.map(([event]) => event), `hall ${seed}`).to.deep.equal(first!.map(([event]) => event));
        other.forEach(([event, time], i) => expect(time, `hall ${seed}: ${event}`).to.be.closeTo(first![i]![1], 1e-7));
      }
    }
  });
}); // prettier-ignore
