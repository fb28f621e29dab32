import { readFrames, writeFrames, readTuning } from 'apperin/files';
import { compileTuning, type InputRow } from 'apperin';
import { fromFrames, openGround, play, toFrames, type FrameNumbers } from 'apperin/lab';
import { expect } from 'chai';
import { editTuning } from 'apperin/files';

/** Keys by frame: from each on, until the next. */
type Plan = readonly (readonly [frame: number, way: number, jump: boolean])[];

/** The way a beginner writes it: one frame after the other, keys first. Written without regard to the library. */
function loop(f: FrameNumbers, plan: Plan, frames: number): { x: number[]; y: number[]; lands: number } {
  const [xs, ys]: [number[], number[]] = [[0], [0]];
  let [x, y, vx, vy, ground, held, cut, lands] = [0, 0, 0, 0, true, false, false, NaN];
  for (let n = 0; n < frames; n++) {
    const [, way, jump] = plan.filter(([from]) => from <= n).at(-1)!;
    if (jump && !held && ground) [vy, ground, cut] = [f.launch, false, false];
    if (!jump && held && vy > 0 && !cut) [vy, cut] = [vy * (f.cut ?? 1), true];
    held = jump;
    const [oldX, oldY] = [vx, vy];
    const here = ground || f.air === undefined ? f : f.air === 'none' ? undefined : { ...f, ...f.air };
    if (here !== undefined) {
      const { speed = Infinity, acceleration, turning = acceleration, deceleration, approach, friction } = here;
      if (acceleration !== undefined && friction !== undefined) vx = (vx + way * acceleration) * friction;
      else if (way !== 0) {
        if (approach !== undefined) vx += (way * speed - vx) * approach;
        else if (acceleration !== undefined) vx += way * (vx * way < 0 ? turning! : acceleration);
        else vx = way * speed;
      } else if (friction !== undefined) vx *= friction;
      else if (deceleration !== undefined) vx -= Math.sign(vx) * Math.min(deceleration, Math.abs(vx));
      else vx = 0;
      vx = Math.max(-speed, Math.min(speed, vx));
    }
    if (!ground) vy = Math.max(vy - (vy > 0 ? f.gravity : (f.fallGravity ?? f.gravity)), -(f.fallSpeed ?? Infinity));
    x += f.order === 'velocity-first' ? vx : oldX;
    y += f.order === 'velocity-first' ? vy : oldY;
    if (!ground && y <= 0 && vy <= 0) [y, vy, ground, lands] = [0, 0, true, Number.isNaN(lands) ? n + 1 : lands];
    xs.push(x);
    ys.push(y);
  }
  return { x: xs, y: ys, lands };
}

const LOOPS: Readonly<Record<string, FrameNumbers>> = {
  'tiles, 60, speed first': { rate: 60, order: 'velocity-first', launch: 0.3, gravity: 0.0137, fallGravity: 0.02, fallSpeed: 0.4, speed: 0.125, acceleration: 0.0174, deceleration: 0.0231, cut: 0.5 },
  'tiles, 60, place first': { rate: 60, order: 'position-first', launch: 0.3, gravity: 0.0137, fallGravity: 0.02, fallSpeed: 0.4, speed: 0.125, acceleration: 0.0174, deceleration: 0.0231, cut: 0.5 },
  'tiles, 60, shares, no cap': { rate: 60, order: 'velocity-first', launch: 0.29, gravity: 0.014, speed: 0.13, approach: 0.2, friction: 0.85, cut: 0.4 },
  'tiles, 50, shares, no cut': { rate: 50, order: 'position-first', launch: 0.36, gravity: 0.0197, speed: 0.15, approach: 0.15, friction: 0.9 },
  'pixels, 60, added and multiplied': { rate: 60, order: 'velocity-first', tile: 16, body: { width: 12, height: 20 }, launch: 4.8, gravity: 0.22, fallSpeed: 6.4, acceleration: 0.3, friction: 0.87, cut: 0.5 },
  'pixels, 50, the same cut off at a speed': { rate: 50, order: 'velocity-first', tile: 16, launch: 5.76, gravity: 0.32, fallGravity: 0.4, speed: 2.4, acceleration: 0.5, friction: 0.9, cut: 0.45 },
  'pixels, 60, at once, slow in the air': { rate: 60, order: 'position-first', tile: 16, launch: 4.5, gravity: 0.25, fallSpeed: 7, speed: 2, air: { acceleration: 0.1, deceleration: 0.05 }, cut: 0.6 },
}; // prettier-ignore

/** Seven manoeuvres, by the frames of a second and of a full rise. */
function manoeuvres(rate: number, rise: number): Readonly<Record<string, Plan>> {
  const [half, top] = [Math.round(rise / 2), Math.round(rise)];
  return {
    'full jump': [[0, 0, true]],
    tap: [[0, 0, true], [4, 0, false]],
    'half jump': [[0, 0, true], [half, 0, false]],
    'run and stop': [[0, 1, false], [rate, 0, false]],
    turn: [[0, 1, false], [rate, -1, false]],
    'running jump': [[0, 1, false], [rate, 1, true], [rate + half, 1, false]],
    'turn and let go in the air': [[0, 1, false], [rate, 1, true], [rate + 6, -1, true], [rate + top, 0, true]],
  };
} // prettier-ignore

function inputOf(plan: Plan, rate: number): InputRow[] {
  return plan.flatMap(([frame, way, jump]) => [
    { time: frame / rate, action: 'right', value: way > 0 ? 1 : 0 },
    { time: frame / rate, action: 'left', value: way < 0 ? 1 : 0 },
    { time: frame / rate, action: 'jump', value: jump ? 1 : 0 },
  ]);
}

/** How far the two are apart: highest points in tiles, across in frames of speed, landing in frames. */
function apart(f: FrameNumbers, tuning: Parameters<typeof play>[0]['tuning'], plan: Plan, speed: number) {
  const frames = plan.at(-1)![0] + 3 * f.rate;
  const played = loop(f, plan, frames);
  const { rows, events } = play({ level: openGround(), tuning, input: inputOf(plan, f.rate), rate: f.rate, seconds: frames / f.rate }); // prettier-ignore
  const top = rows.reduce((most, { y }) => Math.max(most, rows[0]!.y - y), 0);
  const x = rows.map((row) => row.x - rows[0]!.x);
  return {
    height: Math.abs(top - Math.max(...played.y)) / (f.tile ?? 1),
    across: Math.max(...x.map((place, n) => Math.abs(place - played.x[n]!))) / speed,
    landing: Math.abs((events.find(({ event }) => event === 'touchdown')?.time ?? NaN) * f.rate - played.lands),
  };
}

describe('A tuning made of numbers by frames', () => {
  for (const [name, f] of Object.entries(LOOPS)) {
    const { tuning, manoeuvres: said } = fromFrames(f);
    const motion = compileTuning(tuning);
    const speed = motion.ground.speed / f.rate;
    const plans = Object.entries(manoeuvres(f.rate, motion.riseTime * f.rate));
    for (const [what, plan] of plans)
      it(`plays as the loop did (${name}): ${what}`, function () {
        const { height, across, landing } = apart(f, motion, plan, speed);
        expect(height).to.be.below(0.01);
        expect(across).to.be.below(2);
        if (plan.some(([, , jump]) => jump)) expect(landing).to.be.below(1.5);
        this.test!.title += ` (${height.toFixed(4)} tiles, ${across.toFixed(2)} frames)`;
      });
    it(`says so itself (${name})`, () => {
      expect(said).to.have.length(7);
      for (const { height, across } of said) {
        expect(height.apart).to.be.below(0.01);
        expect(across.apart).to.be.below(2);
      }
    });

    it(`goes back to a loop that plays as the tuning does (${name}), through the files too`, () => {
      const { frames: again } = readFrames(writeFrames(toFrames(tuning, f.rate, f.order).frames));
      for (const [what, plan] of plans) {
        const { height, across } = apart(again, motion, plan, speed);
        expect(height, what).to.be.below(0.01);
        expect(across, what).to.be.below(2);
      }
    });
  }

  it('leaves nothing on that the loop does not have', () => {
    const { tuning, notes } = fromFrames({
      rate: 60,
      order: 'velocity-first',
      launch: 0.3,
      gravity: 0.0137,
      speed: 0.12,
    });
    const motion = compileTuning(tuning);
    expect(motion.lowestHop).to.be.closeTo(motion.jumpHeight, 1e-9);
    expect(motion.cap).to.be.above(1000);
    expect([motion.ground.upIn, motion.ground.stopIn, motion.air.turnIn, motion.air.stopIn]).to.deep.equal([
      0, 0, 0, 0,
    ]);
    expect([motion.coyote, motion.buffer, motion.corner, motion.lip]).to.deep.equal([0, 0, 0, 0]);
    expect(notes.join('\n'))
      .to.match(/no terminal speed/)
      .and.match(/letting go does nothing/);
  });

  it('has the air of the ground unless something else is said', () => {
    const f: FrameNumbers = {
      rate: 60,
      order: 'velocity-first',
      launch: 0.3,
      gravity: 0.0137,
      speed: 0.12,
      acceleration: 0.01,
      deceleration: 0.02,
    };
    const same = compileTuning(fromFrames(f).tuning);
    expect([same.air.upIn, same.air.stopIn, same.air.turnIn]).to.deep.equal([
      same.ground.upIn,
      same.ground.stopIn,
      same.ground.turnIn,
    ]);
    expect(compileTuning(fromFrames({ ...f, air: 'none' }).tuning).airLocked).to.equal(true);
    const slow = compileTuning(fromFrames({ ...f, air: { speed: 0.06, acceleration: 0.005 } }).tuning);
    expect(slow.air.speed).to.be.closeTo(3.6, 1e-9);
    expect(slow.air.upIn).to.be.closeTo(same.air.upIn, 1e-9);
    expect(slow.air.stopIn).to.be.closeTo(0.05, 1e-9);
  });

  it('takes pixels for pixels: what the file leaves out is scaled, and a file that looks like pixels is told so', () => {
    const f: FrameNumbers = { rate: 60, order: 'velocity-first', launch: 4.8, gravity: 0.22 };
    const motion = compileTuning(fromFrames({ ...f, tile: 16 }).tuning);
    expect([motion.width, motion.height, motion.step]).to.deep.equal(
      [11.2, 20.8, 4.8].map((value) => expectClose(value)),
    );
    expect(fromFrames(f).notes.join('\n')).to.contain('if these are pixels, say how many make a tile');
    const sized = compileTuning(fromFrames({ ...f, tile: 16, body: { width: 12 } }).tuning);
    expect(sized.width).to.equal(12);
  });

  it('knows of acceleration beside friction which of the two comes first by the speed', () => {
    const f: FrameNumbers = {
      rate: 60,
      order: 'velocity-first',
      launch: 0.3,
      gravity: 0.0137,
      acceleration: 0.02,
      friction: 0.9,
    };
    const speedOf = (more: object): number => compileTuning(fromFrames({ ...f, ...more }).tuning).ground.speed / 60;
    expect(speedOf({})).to.be.closeTo(0.18, 1e-9);
    expect(speedOf({ speed: 0.2 })).to.be.closeTo(0.2, 1e-9);
    expect(speedOf({ speed: 0.5 })).to.be.closeTo(0.18, 1e-9);
    expect(speedOf({ speed: 0.1 })).to.be.closeTo(0.1, 1e-9);
  });

  it('refuses what is wrong in the file, with its place', () => {
    const text =
      'rate: 60\norder: velocity-first\nlaunch: 4\ngravity: 0.2\nair:\n  acceleraton: 2\nbody: 12\ntile: 0\n';
    for (const said of [
      '6:3: there is no key air.acceleraton; did you mean air.acceleration?',
      '7:7: body is 12; it must be a group of width and height',
      '8:7: tile is 0; it must be a number above 0',
    ])
      expect(() => readFrames(text)).to.throw(said);
  });
});

/** Sizes of bodies lie on a grid of 2⁻²⁵ units. */
function expectClose(value: number): number {
  return value === 4.8 ? value : Math.floor(value * 33554432 + 0.5) / 33554432;
}

describe('Numbers by frames of any tuning', () => {
  const TUNINGS = {
    'the defaults': '',
    eased: 'run: { feel: eased }\n',
    pixels: 'tile: 16\n',
    'a fall ramp': 'gravity: { fallRamp: { to: 3, over: 0.3 } }\n',
    'a cut': 'gravity: { cutTo: 0.5 }\n',
    'no steering in the air': 'run: { air: locked }\n',
  };
  for (const [name, text] of Object.entries(TUNINGS))
    it(`are near to it, and say how near: ${name}`, () => {
      for (const rate of [50, 60])
        for (const order of ['velocity-first', 'position-first'] as const) {
          const motion = compileTuning(readTuning(editTuning(text, [])).tuning);
          const { frames, manoeuvres: said, notes } = toFrames(motion, rate, order);
          expect(notes.join('\n')).to.contain('the apex band');
          for (const [what, plan] of Object.entries(manoeuvres(rate, motion.riseTime * rate))) {
            const { height, across } = apart(frames, motion, plan, motion.ground.speed / rate);
            // Early releases in an arc without an apex band: a few hundredths.
            expect(height, what).to.be.below(
              plan.some(([, , jump]) => !jump) && plan.some(([, , jump]) => jump) ? 0.05 : 0.01,
            );
            expect(across, `${what} ${rate} ${order}`).to.be.below(2);
          }
          expect(Math.max(...said.map((one) => one.height.apart))).to.be.below(0.05);
        }
    });
});
