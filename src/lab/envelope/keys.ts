import {
  acrossAt,
  openStage,
  script,
  type AcrossPiece,
  type Character,
  type InputRow,
  type Level,
  type Motion,
  type Stage,
} from '../../core/index.js';
import { flownUntil, heightAt, until, type Span } from './course.js';
import { fallOf, heldFor, highest, isSlow, type Family } from './families.js';
import type { Region } from './region.js';
import { edgeOf } from '../own-flights.js';

/** What is pressed on a flight; moments since the takeoff, s. */
interface Plan {
  /** The jump at the edge or late, and for how long it is held. */
  jump?: { at: number; hold: number };
  /** Charged so high, units. */
  charge?: number;
  airs: readonly { at: number; hold: number }[];
  /** Glide is held until then; down from then on. */
  glide?: number;
  dive?: number;
  /** To the right until then, to the left after it. */
  turns: number;
}

/** Part of a way from the highest plan to the lowest: by shares from 0 to 1. */
type Leg = (share: number) => Plan;

/** Ticks a second, since how many there are changes nothing; and how near to a place it must come, as a share of a tile. */
const RATE = 64;
const NEAR = 1e-4;
/** Moments of each span of time that are tried, and how often halves are taken. */
const MOMENTS = 5;
const HALVES = 44;
/** A press on the last moment on the floor, s before it. */
const BEFORE = 1e-6;
/** Somebody who stands there does so this much before the edge, as a share of the body's width. */
const STANDS = 2 ** -16;

/** Keys that bring the feet to places of an envelope: found on the core itself, as what is pressed is moved on from the highest flight to the lowest. */
export class Keys {
  readonly level: Level;
  private played: { stage: Stage; hero: Character; begin: Float64Array } | undefined;
  /** When the floor is left on the run, s. */
  private leaves = NaN;

  constructor(
    private readonly motion: Motion,
    private readonly families: readonly Family[],
    private readonly region: Region,
    below: number,
  ) {
    const edge = edgeOf(motion, below);
    const stands = region.start - STANDS * motion.width;
    this.level = { ...edge, spawns: { ...edge.spawns, stand: { at: [stands, 0] } } };
  }

  inputFor(x: number, y: number): { rows: InputRow[]; time: number } | undefined {
    const tried = this.region.times(y).flatMap((spans, i) => {
      const family = this.families[i]!;
      const { start } = this.region;
      const room = (time: number): number => Math.min(start + acrossAt(family.across.right, time).x - x, x - start - acrossAt(family.across.left, time).x);
      // And those at which it gets there at the most: without steering there is no other.
      const first = (pieces: readonly AcrossPiece[], { from, to }: Span): number => {
        let [low, high] = [from, to];
        for (let i = 0; i < HALVES; i++) {
          const middle = (low + high) / 2;
          if (start + acrossAt(pieces, middle).x < x) low = middle;
          else high = middle;
        }
        return high;
      };
      const moments = spans.flatMap((span) => [...Array.from({ length: MOMENTS }, (_, k) => span.from + ((span.to - span.from) * k) / (MOMENTS - 1)), first(family.across.right, span), first(family.across.left, span)]);
      return [...new Set(moments)].map((time) => ({ family, time, room: room(time) })).filter(({ room }) => room >= -NEAR * this.motion.full.tile);
    });
    tried.sort((one, other) => other.room - one.room);
    for (const { family, time } of tried) {
      const rows = this.through(family, time, x, y);
      if (rows === undefined) continue;
      // All of it a little later, so that a tick ends when it is there.
      const there = this.takeoff(family) + time;
      const late = Math.ceil(there * RATE) / RATE - there;
      return { rows: rows.map((row) => (row.action === 'host' ? row : { ...row, time: Math.floor((row.time + late) * 1e6 + 0.5) / 1e6 })), time: there + late };
    }
    return undefined;
  } // prettier-ignore

  /** Keys that bring the feet to a place at a moment. */
  private through(family: Family, time: number, x: number, y: number): InputRow[] | undefined {
    for (const leg of this.legs(family, time)) {
      const plan = this.between(family, leg, time, y);
      if (plan === undefined) continue;
      let [low, high] = [0, time];
      for (let i = 0; i < HALVES; i++) {
        const middle = (low + high) / 2;
        if (this.play(family, { ...plan, turns: middle }, time).x < x) low = middle;
        else high = middle;
      }
      const found = { ...plan, turns: high };
      const at = this.play(family, found, time);
      const near = NEAR * this.motion.full.tile;
      if (!at.landed && Math.abs(at.x - x) <= near && Math.abs(at.y - y) <= near) return this.rowsOf(family, found);
    }
    return undefined;
  }

  /** Where on a leg the feet are at a height at a moment. */
  private between(family: Family, leg: Leg, time: number, y: number): Plan | undefined {
    const over = (share: number): number => this.play(family, leg(share), time).y - y;
    const near = NEAR * this.motion.full.tile;
    const [first, last] = [over(0), over(1)];
    if (Math.abs(first) <= near / 2) return leg(0);
    if (Math.abs(last) <= near / 2) return leg(1);
    if (first > 0 === last > 0) return undefined;
    let [low, high] = [0, 1];
    for (let i = 0; i < HALVES; i++) {
      const middle = (low + high) / 2;
      if (over(middle) > 0 === first > 0) low = middle;
      else high = middle;
    }
    return leg(high);
  }

  /** From the highest that it can be at a moment to the lowest, step by step. */
  private legs({ top, parts: { late, launch, airs, charged } }: Family, time: number): Leg[] {
    const { motion } = this;
    const { glide, dive } = motion.full;
    // What comes first is flown until all have one speed.
    const speed = glide ? Math.max(0, heightAt(top, time).v) : heightAt(top, time).v;
    const waits = launch === undefined || late === undefined ? 0 : Math.min(flownUntil(until(fallOf(motion), late), speed), late, time);
    let at = launch === undefined ? flownUntil(fallOf(motion), speed) : waits + flownUntil(highest(motion, launch), speed);
    const presses: { at: number; hold: number }[] = [];
    for (const air of airs) {
      if (air <= speed || at >= time) continue;
      presses.push({ at, hold: heldFor(motion, air) });
      at += flownUntil(highest(motion, air), speed);
    }
    const first: Plan = { airs: presses, turns: time, ...(launch === undefined ? {} : { jump: { at: waits, hold: heldFor(motion, launch) } }), ...(charged ? { charge: charged[1] } : {}) };
    const slow = dive !== undefined && isSlow(motion);
    const legs: Leg[] = [() => first];
    let plan = first;
    /** Moves on by a leg, and goes on from its end. */
    const go = (leg: Leg): void => {
      legs.push(leg);
      plan = leg(1);
    };
    if (slow) go((share) => (share === 1 ? first : { ...first, dive: time * share }));
    if (glide) {
      const glides = plan;
      go((share) => ({ ...glides, glide: time * (1 - share) }));
      plan = first;
    }
    for (let k = presses.length - 1; k >= 0; k--) {
      const [before, from] = [plan.airs.slice(0, k), plan.airs[k]!] as const;
      const held = plan;
      go((share) => ({ ...held, airs: share === 1 ? before : [...before, { ...from, at: from.at + (time - from.at) * share }] }));
    }
    if (launch !== undefined) {
      const held = plan;
      if (charged) go((share) => ({ ...held, charge: charged[1] + (charged[0] - charged[1]) * share }));
      else {
        const longest = Math.min(held.jump!.hold, time - waits);
        go((share) => ({ ...held, jump: { at: waits, hold: longest * (1 - share) } }));
      }
      const tap = plan;
      const later = (end: number): Leg => (share) => ({ ...tap, jump: { ...tap.jump!, at: waits + (end - waits) * share } });
      if (late !== undefined) legs.push(later(Math.min(late, time)));
      go(later(0));
    }
    if (dive && !slow) {
      const falls = plan;
      go((share) => ({ ...falls, dive: time * (1 - share) }));
    }
    return legs;
  } // prettier-ignore

  private takeoff({ parts: { stands, charged } }: Family): number {
    this.stage();
    const wound = charged ? this.motion.full.charge!.fullIn : 0;
    return stands ? Math.ceil(wound) + 1 : this.leaves;
  }

  private rowsOf(family: Family, { jump, charge, airs, glide, dive, turns }: Plan): InputRow[] {
    const { stands } = family.parts;
    const takeoff = this.takeoff(family);
    const { letGo } = family.across;
    const rows: InputRow[] = [{ time: 0, action: 'host', value: 0, call: { rate: RATE, spawn: stands ? 'stand' : 'edge', facing: 1, opposed: 'still' } }];
    const add = (time: number, action: string, value: number): void => void rows.push({ time: Math.floor(time * 1e6) / 1e6, action, value });
    add(stands ? takeoff : 0, 'right', 1);
    const presses = [...airs];
    if (jump && charge !== undefined && jump.at === 0) {
      const { lowest, highest: most, fullIn } = this.motion.full.charge!;
      add(takeoff - BEFORE - (most > lowest ? (fullIn * (charge - lowest)) / (most - lowest) : 0), 'jump', 1);
      add(takeoff - BEFORE, 'jump', 0);
    } else if (jump) presses.unshift({ at: jump.at > 0 ? jump.at : -BEFORE, hold: jump.hold });
    presses.forEach(({ at, hold }, i) => {
      add(takeoff + at, 'jump', 1);
      const off = Math.min(at + hold, presses[i + 1]?.at ?? Infinity);
      if (off < Infinity) add(takeoff + off, 'jump', 0);
    });
    if (glide !== undefined) {
      add(takeoff, 'glide', 1);
      add(takeoff + glide, 'glide', 0);
    }
    // Down is for a dive only once it is in the air.
    if (dive !== undefined) add(takeoff + Math.max(dive, 2 * BEFORE), 'down', 1);
    add(takeoff + turns, 'right', 0);
    add(takeoff + turns + letGo, 'left', 1);
    return rows.sort((one, other) => one.time - other.time);
  } // prettier-ignore

  private stage(): { stage: Stage; hero: Character; begin: Float64Array } {
    if (this.played) return this.played;
    const stage = openStage(this.level);
    const hero = stage.add(this.motion, { at: 'edge' });
    const begin = stage.snapshot();
    this.played = { stage, hero, begin };
    // Where nobody runs nobody leaves.
    let left = NaN;
    const stop = hero.on('leave', ({ time }) => void (left = time));
    hero.drive(script([{ time: 0, action: 'right', value: 1 }]));
    for (let i = 0; Number.isNaN(left) && i < 100 * RATE && (hero.vx > 0 || i < 10); i++) stage.tick(1 / RATE);
    stop();
    this.leaves = left;
    return this.played;
  }

  /** Where a plan has led to at a moment. */
  private play(family: Family, plan: Plan, time: number): { x: number; y: number; landed: boolean } {
    const { stage, hero, begin } = this.stage();
    const end = this.takeoff(family) + time;
    stage.restore(begin);
    if (family.parts.stands) hero.place('stand');
    hero.drive(script(this.rowsOf(family, plan).slice(1)));
    let landed = false;
    const stop = hero.on('touchdown', () => (landed = true));
    while (stage.time + 1 / RATE <= end) stage.tick(1 / RATE);
    if (end > stage.time) stage.tick(end - stage.time);
    stop();
    return { x: hero.x, y: hero.y, landed };
  }
}
