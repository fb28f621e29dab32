import type { InputRow } from '../../core/index.js';
import type { Move } from './moves.js';

/** Somewhere to get to: a point that the hitbox covers, or a zone that is entered. */
export interface Wanted {
  name: string;
  kind: 'spawn' | 'point' | 'zone';
  /** Of a point, y up; of a zone the feet positions from which it is touched: left, right, and how high. */
  left: number;
  right: number;
  y: number;
  /** Of a zone, up to where; as y of a point. */
  top: number;
}

/** A situation to go on from, as threads hand it on: the place by its number, −1 for none. */
export interface Situation {
  state: Float64Array;
  time: number;
  x: number;
  y: number;
  vx: number;
  place: number;
}

/** What came of a move: where it led, what it was held up by on the way, and by which rows since the situation that it was played from. */
export interface Outcome {
  end: Situation;
  rows: InputRow[];
  /** Numbers of places and the moments at which they were come to. */
  landed: { place: number; time: number }[];
  how: string;
  move: Move | undefined;
  /** The moment at which it begins, and from then to when it is held up by where it ends, s. */
  began: number;
  took: number;
  /** How fast it is across where it begins, and where that is. */
  start: { x: number; vx: number };
}

/** A link of an earlier survey, said by place: the keys of where it begins and ends, and what is done between. Plain data; it is played again with other numbers. */
export interface KeptLink {
  from: string;
  to: string;
  move: Move;
}

/** What to look for, from where: the same answer in every thread. */
export interface Task {
  from: Situation;
  /** Places to aim at, by their numbers, in this order; and what else is wanted. */
  goals: readonly number[];
  wanted: readonly number[];
  /** One is enough. */
  any: boolean;
  /** After so many events nothing new is begun. */
  spend: number;
  /** Only to walk to this x, on the place where it stands. */
  walk?: number;
  /** Only what has led to these places before. */
  again?: readonly { goal: number; move: Move }[];
  /** By chance, with this seed. */
  chance?: { seed: number };
}

/** Presses of which it is asked how tight they are: plain data, the same answer in every thread. */
export interface PressTask {
  /** Those of an input from the beginning on; or rows from a situation, of which none is needed that can be left out. */
  rows: readonly InputRow[];
  /** From where they are played; the place that they lead to; the moment at which what is asked for begins, and so much later it is played, s. */
  link?: { from: Situation; to: number; began: number; late: number };
}

/** What came of a task. */
export interface Answered {
  outcomes: Outcome[];
  found: { wanted: number; end: Situation; rows: InputRow[]; time: number }[];
  /** How often each goal was tried. */
  tried: [number, number][];
  spent: number;
}
