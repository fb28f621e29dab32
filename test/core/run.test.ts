import { POSES, acrossAt, acrossPieces, compileTuning } from 'apperin';
import { expect } from 'chai';
import { PLAIN } from '../support/make.js';
import { names, presses, simulate, the } from '../support/simulate.js';

/** Speed across at a moment of a run. */
const speedAt = (run: ReturnType<typeof simulate>, time: number): number =>
  run.rows.find((row) => row.time >= time - 1e-9)!.vx;

describe('Running', () => {
  it('takes the times it was given: up, stop and turn', () => {
    const run = simulate(PLAIN, {}, presses('right@0-1 left@2'), 1000, 3);
    expect(speedAt(run, 0.06)).to.be.closeTo(3.75, 1e-9);
    expect(speedAt(run, 0.12)).to.be.closeTo(7.5, 1e-9);
    expect(speedAt(run, 1.09)).to.be.closeTo(0, 1e-9);
    const turn = simulate(PLAIN, {}, presses('right@0-1 left@1'), 1000, 2);
    expect(speedAt(turn, 1.08)).to.be.closeTo(0, 1e-9);
    expect(speedAt(turn, 1.2)).to.be.closeTo(-7.5, 1e-9);
  });

  it('eased, leaves a tenth of the difference after its time and nothing after three', () => {
    const tuning = { run: { feel: 'eased' as const, upIn: 0.2 } };
    const run = simulate(PLAIN, tuning, presses('right@0'), 1000, 1);
    expect(speedAt(run, 0.2)).to.be.closeTo(6.75, 1e-9);
    expect(speedAt(run, 0.4)).to.be.closeTo(7.425, 1e-9);
    expect(speedAt(run, 0.601)).to.equal(7.5);
    expect(speedAt(run, 0.599)).to.be.below(7.5);
    for (const rate of [15, 37, 144])
      expect(simulate(PLAIN, tuning, presses('right@0'), rate, 0.5).rows.at(-1)!.x).to.be.closeTo(
        acrossAt(acrossPieces(compileTuning(tuning).ground, 0, 7.5), Math.ceil(0.5 * rate) / rate).x + 0.5,
        1e-9,
      );
  });

  it('at once, where a time is 0', () => {
    const run = simulate(PLAIN, { run: { upIn: 0, stopIn: 0, turnIn: 0 } }, presses('right@0.5-1 left@1-1.5'), 60, 2);
    expect(speedAt(run, 0.5 + 1 / 60)).to.equal(7.5);
    expect(speedAt(run, 1 + 1 / 60)).to.equal(-7.5);
    expect(speedAt(run, 1.5 + 1 / 60)).to.equal(0);
  });

  it('at a share of the speed while walking, and with a stick pushed part of the way', () => {
    const walk = simulate(PLAIN, {}, presses('right@0 walk@0.5-1.5'), 60, 2);
    expect(speedAt(walk, 1)).to.be.closeTo(7.5 * 0.45, 1e-9);
    expect(speedAt(walk, 2)).to.be.closeTo(7.5, 1e-9);
    const stick = simulate(PLAIN, {}, [{ time: 0, action: 'move', value: -0.5 }], 60, 1);
    expect(stick.rows.at(-1)!.vx).to.be.closeTo(-3.75, 1e-9);
    expect(stick.rows.at(-1)!.facing).to.equal(-1);
    const both = simulate(PLAIN, {}, [...presses('right@0'), { time: 0, action: 'move', value: 1 }], 60, 1);
    expect(both.rows.at(-1)!.vx).to.equal(7.5);
  });

  it('in the air by the air’s own times, or not at all where it is locked', () => {
    const run = simulate(PLAIN, {}, presses('jump@0.1 right@0.1'), 1000, 0.5);
    expect(speedAt(run, 0.2)).to.be.closeTo(3.75, 1e-6);
    const locked = simulate(PLAIN, { run: { air: 'locked' } }, presses('right@0-0.3 jump@0.25 left@0.3'), 60, 0.9);
    expect(speedAt(locked, 0.9)).to.equal(7.5);
    expect(locked.rows.at(-1)!.facing).to.equal(-1);
  });

  it('faster than top speed brakes to it or holds it', () => {
    // The air is faster than the ground here; landing with the key held shows the ground's rule.
    const base = { speed: 5, air: { speed: 10, upIn: 0.1 } };
    const bleed = simulate(PLAIN, { run: base }, presses('right@0 jump@0.2'), 240, 1.6);
    const keep = simulate(PLAIN, { run: { ...base, overspeed: 'keep' } }, presses('right@0-1.4 jump@0.2'), 240, 1.6);
    const land = the(keep, 'touchdown').time;
    expect(speedAt(bleed, land)).to.be.closeTo(10, 0.5);
    expect(speedAt(bleed, land + 0.2)).to.be.closeTo(5, 1e-9);
    expect(speedAt(keep, land + 0.2)).to.be.closeTo(10, 1e-9);
    // Letting go brakes all the same.
    expect(speedAt(keep, 1.6)).to.be.closeTo(0, 1e-9);
  });

  it('against a wall stays there, without a second bump, and leaves at once the other way', () => {
    for (const upIn of [0, 0.12]) {
      const run = simulate({ rows: ['.@..#', '#####'] }, { run: { upIn } }, presses('right@0-2 left@2'), 60, 2.5);
      expect(names(run)).to.deep.equal(['bump', 'turned']);
      expect(speedAt(run, 1.5)).to.equal(0);
      expect(run.rows.at(-1)!.x).to.be.below(3);
    }
  });

  it('against walls with holes between them bumps once at most, however far it falls', () => {
    const rows = ['#@..', '....', '#...', '....', '#...', '....', '#...', '....', '#...', '####'];
    for (const upIn of [0, 0.12]) {
      const tuning = { body: { width: 1, height: 1.5 }, run: { upIn, air: { upIn } } };
      const run = simulate({ rows }, tuning, presses('left@0'), 60, 0.6, { at: [1.5, 2] });
      // With speed at once there is a first bump; with none yet, the body only leans against the wall.
      expect(names(run)).to.deep.equal(upIn === 0 ? ['turned', 'bump', 'touchdown'] : ['turned', 'touchdown']);
      expect(run.rows.at(-1)).to.include({ x: 1.5, y: 9 });
    }
  });

  it('passes a wall’s top as soon as the feet are above it', () => {
    const rows = ['......', '......', '......', '......', '..####', '..####', '@.####', '######'];
    const run = simulate({ rows }, { jump: { height: 4 } }, presses('right@0 jump@0.5'), 240, 1.2);
    const over = run.rows.find(({ x }) => x > 2 - run.who.motion.half + 1e-3)!;
    expect(over.y).to.be.at.most(4);
    expect(run.rows.at(-1)).to.include({ y: 4, support: 'ground' });
  });
});

describe('Events', () => {
  it('carry moment, place, and the velocity just before', () => {
    const run = simulate(PLAIN, {}, presses('right@0 jump@0.5'), 60, 2);
    const takeoff = the(run, 'takeoff');
    expect(takeoff).to.include({ tick: 30, who: 'hero', by: 'ground', buffered: false, vx: 7.5, vy: 0, y: 1 });
    const landing = the(run, 'touchdown');
    expect(landing.vy).to.equal(landing.speed);
    expect(landing.fallen).to.be.closeTo(3.25, 1e-9);
    expect(landing.tick).to.equal(Math.floor(landing.time * 60));
    expect(Object.keys(the(run, 'apex'))).to.deep.equal(['time', 'tick', 'event', 'who', 'x', 'y', 'vx', 'vy']);
  });

  it('tell the turn at its moment', () => {
    const run = simulate(PLAIN, {}, presses('left@0.25-0.5 right@0.75'), 15, 1);
    const turns = run.events.filter(({ event }) => event === 'turned');
    expect(turns.map(({ event, time, facing }) => [event, time, facing])).to.deep.equal([
      ['turned', 0.25, -1],
      ['turned', 0.75, 1],
    ]);
  });
});

describe('Poses', () => {
  const poses = (run: ReturnType<typeof simulate>): string[] =>
    run.rows.map(({ pose }) => pose).filter((pose, i, all) => pose !== all[i - 1]);

  it('follow what the character does', () => {
    expect(poses(simulate(PLAIN, {}, presses('jump@0.1'), 240, 1.2))).to.deep.equal([
      'idle',
      'rise',
      'apex',
      'fall',
      'land',
      'idle',
    ]);
    expect(poses(simulate(PLAIN, {}, presses('right@0-0.5'), 240, 1))).to.deep.equal(['idle', 'run', 'brake', 'idle']);
    expect(poses(simulate(PLAIN, {}, presses('right@0-0.5 left@0.5'), 240, 0.8))).to.deep.equal([
      'idle',
      'run',
      'turn',
      'run',
    ]);
    expect(poses(simulate(PLAIN, {}, presses('right@0 jump@0.2'), 240, 1.2))).to.deep.equal([
      'idle',
      'run',
      'rise',
      'apex',
      'fall',
      'run',
    ]);
    for (const pose of poses(simulate(PLAIN, {}, presses('right@0'), 60, 1))) expect(POSES).to.include(pose);
  });

  it('hold the landing for its time, unless a jump starts', () => {
    const run = simulate(PLAIN, { pose: { land: 0.2 } }, presses('jump@0.1'), 1000, 1.5);
    const shown = run.rows.filter(({ pose }) => pose === 'land');
    expect(shown.at(-1)!.time - the(run, 'touchdown').time).to.be.closeTo(0.2, 2e-3);
    const again = simulate(PLAIN, { pose: { land: 0.2 } }, presses('jump@0.1-0.5 jump@0.8'), 240, 1);
    expect(poses(again).slice(-2)).to.not.include('idle');
  });

  it('do not show flickers, at any rate', () => {
    // Down a step of a twentieth of a unit the body is in the air for a moment only.
    const rows = ['.'.repeat(160), '#'.repeat(40) + '.'.repeat(120), '#'.repeat(160)];
    const level = { rows, tile: 0.05, spawns: { start: { at: [0.5, 0.05] as const } } };
    for (const rate of [30, 240]) {
      const run = simulate(level, { slope: { step: 0 } }, presses('right@0'), rate, 0.8);
      expect(names(run)).to.include('leave');
      expect(poses(run)).to.deep.equal(['idle', 'run']);
    }
  });

  it('say how long they have been shown', () => {
    const run = simulate(PLAIN, {}, presses('jump@0.1'), 60, 0.3);
    expect(run.who.pose).to.equal('rise');
    expect(run.who.poseTime).to.be.closeTo(0.2, 1e-9);
    expect(run.who.view().poseTime).to.be.closeTo(0.2, 1e-9);
  });
});
