import { openStage, script, type Level } from 'apperin';
import { drawStage, rumble, type Pen } from 'apperin/browser';
import { expect } from 'chai';
import { presses } from '../support/simulate.js';

const ROOM: Level = {
  rows: ['..........', '..........', '..==......', '@.......#.', '########..'],
  zones: [{ name: 'pool', box: [4, 2, 2, 2], tags: ['wet'] }],
  movers: [{ name: 'lift', shapes: [{ form: 'solid', points: [[8, 4], [10, 4], [10, 5], [8, 5]] }], route: { curve: [[0, 0, 0, -2]], lap: 4, keyPoints: [0, 1, 0] } }], // prettier-ignore
  surfaces: {},
};

/** A pen that writes down what it is asked to do. */
function notebook(scale = 20): { pen: Pen; said: string[]; depth(): number } {
  const said: string[] = [];
  let depth = 0;
  const pen = new Proxy({} as Record<string, unknown>, {
    get: (target, name: string) => {
      if (name === 'getTransform') return () => ({ a: scale, b: 0 });
      if (name in target) return target[name];
      return (...args: unknown[]) => {
        if (name === 'save') depth++;
        if (name === 'restore') depth--;
        said.push([name, ...args.map((arg) => ([arg].flat().map((one) => (typeof one === 'number' ? Math.round(one * 1000) / 1000 : String(one))).join()))].join(' ')); // prettier-ignore
      };
    },
    set: (target, name: string, value) => {
      target[name] = value;
      return true;
    },
  });
  return { pen: pen as unknown as Pen, said, depth: () => depth };
}

describe('What touches a character', () => {
  it('is listed where it touches: ground, walls, what presses and what carries', () => {
    for (const yPoints of ['down', 'up'] as const) {
      const up = yPoints === 'up';
      const rows = ['..........', '..........', '@......#..', '##########'];
      const stage = openStage({ rows, yPoints, ...(up ? { origin: [0, -1] as const } : { origin: [0, -3] as const }) });
      const hero = stage.add({}, { driver: script(presses('right@0')) });
      expect(hero.touching().map(({ side, x, y, normalX, normalY }) => [side, x, y, normalX, normalY])).to.deep.equal([['feet', 0.5, 0, 0, up ? 1 : -1]]); // prettier-ignore
      for (let i = 0; i < 90; i++) stage.tick(1 / 60);
      const [feet, wall] = hero.touching();
      expect([feet!.side, wall!.side, wall!.normalX, wall!.x]).to.deep.equal(['feet', 'right', -1, 7]);
      expect(Math.abs(wall!.y)).to.be.closeTo(0.5, 0.2);
      expect(Math.sign(wall!.y)).to.equal(up ? 1 : -1);
    }
    const stage = openStage(ROOM);
    const hero = stage.add({}, { at: [9, 4] });
    for (let i = 0; i < 30; i++) stage.tick(1 / 60);
    expect(hero.touching()).to.have.lengthOf(1);
    expect(hero.touching()[0]).to.deep.include({ side: 'feet', mover: 'lift', y: stage.mover('lift').y + 4 });
    hero.hop(1);
    stage.tick(1 / 60);
    expect(hero.touching()).to.deep.equal([]);
  });
});

describe('A stage drawn to look for what is wrong', () => {
  const open = () => {
    const stage = openStage(ROOM);
    const hero = stage.add({}, { at: [1, 4], boxes: { reach: [0.3, -1, 1, 0.5], weak: { box: [-0.3, -1, 0.6, 0.5], on: false } } }); // prettier-ignore
    for (let i = 0; i < 10; i++) stage.tick(1 / 60);
    return { stage, hero };
  };

  it('has outlines, zones, boxes, contacts and what was asked, each where it is', () => {
    const { stage, hero } = open();
    const { pen, said, depth } = notebook();
    const met = stage.ray([1, 3.5], [9, 3.5]);
    drawStage(pen, stage, {
      probes: [
        { from: [1, 3.5], to: [9, 3.5], met },
        { from: [0, 0], to: [3, 0] },
      ],
    });
    const count = (word: string): number => said.filter((line) => line.startsWith(word)).length;
    expect([depth(), pen.lineWidth]).to.deep.equal([0, 1.5 * (1 / 20)]);
    // The zone, the ground with its step, the planks, the lift where it is.
    expect(said).to.include.members(['moveTo 4 4', 'lineTo 6 2', 'moveTo 8 3', 'lineTo 0 4', `moveTo 8 ${Math.round((4 + stage.mover('lift').y) * 1000) / 1000}`]); // prettier-ignore
    // The hitbox, and what it carries, the one that is off with dots.
    expect(said).to.include(`rect ${1 - 0.35} ${4 - 1.3} 0.7 1.3`);
    expect(hero.boxes).to.deep.equal([
      { name: 'reach', x: 1.3, y: 3, width: 1, height: 0.5, on: true },
      { name: 'weak', x: 0.7, y: 3, width: 0.6, height: 0.5, on: false },
    ]);
    expect(count('rect')).to.equal(3);
    expect(said).to.include(`setLineDash ${2 / 20},${3 / 20}`);
    // A contact underfoot, and the end of the ray at the step.
    expect(said).to.include('arc 1 4 0.15 0 6.283').and.to.include('arc 8 3.5 0.15 0 6.283').and.to.include('lineTo 3 0'); // prettier-ignore
  });

  it('leaves out what is not wanted, and what is switched off', () => {
    const { stage } = open();
    const { pen, said } = notebook();
    drawStage(pen, stage, { contacts: false, normals: false, zones: false, boxes: false });
    expect(said.some((line) => /^(arc|rect|fill)/.test(line))).to.equal(false);
    stage.setZone('pool', false);
    expect(stage.zones.map(({ name, on, tags, pieces }) => [name, on, ...tags, pieces.length])).to.deep.equal([['pool', false, 'wet', 1]]); // prettier-ignore
    const again = notebook();
    drawStage(again.pen, stage);
    expect(again.said).to.not.include('moveTo 4 4');
    expect(() => drawStage(pen, stage, { between: 2 })).to.throw(RangeError, 'between is 2');
  });
});

describe('A pad that shakes', () => {
  it('does so by what happens, as strongly as that says, until it is ended', () => {
    const stage = openStage(ROOM);
    const hero = stage.add({}, { at: [1, 4] });
    const felt: string[] = [];
    const playEffect = (
      kind: string,
      {
        duration,
        strongMagnitude,
        weakMagnitude,
      }: { duration: number; strongMagnitude: number; weakMagnitude: number },
    ) => {
      // prettier-ignore
      felt.push([kind, duration, strongMagnitude.toFixed(3), weakMagnitude].join(' '));
      return Promise.reject(new Error('no motor'));
    };
    const pad = { vibrationActuator: { playEffect } } as unknown as Pick<Gamepad, 'vibrationActuator'>;
    const end = rumble({ pad: pad as Gamepad }, hero, {
      touchdown: ({ speed }) => (speed > 5 ? { strong: speed / 10, lasts: 0.1 } : undefined),
      takeoff: { weak: 0.25, lasts: 0.05 },
    });
    // One that has no pad, or no motor, is left alone.
    rumble({ pad: null }, hero, { takeoff: { weak: 1, lasts: 1 } });
    rumble({} as Pick<Gamepad, 'vibrationActuator'>, hero, { takeoff: { weak: 1, lasts: 1 } });
    const jump = (height: number): void => {
      hero.hop(height);
      for (let i = 0; i < 90; i++) stage.tick(1 / 60);
    };
    jump(0.05);
    jump(0.5);
    jump(2);
    expect(felt).to.deep.equal(['dual-rumble 50 0.000 0.25', 'dual-rumble 50 0.000 0.25', `dual-rumble 100 ${felt[2]!.split(' ')[2]} 0`, 'dual-rumble 50 0.000 0.25', 'dual-rumble 100 1.000 0']); // prettier-ignore
    end();
    jump(2);
    expect(felt).to.have.lengthOf(5);
    expect(() => rumble(pad, hero, { tuchdown: { lasts: 1 } } as never)).to.throw(
      RangeError,
      'did you mean touchdown?',
    );
  });
});
