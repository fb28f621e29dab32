import { SLACK } from '../tolerance.js';
import { actionNumber } from '../input/actions.js';
import type { Body, BodyAbility, Installed } from '../state/body.js';
import { NOW } from '../state/clock.js';
import type { Motion } from '../tuning/motion.js';
import { atTempo } from '../tuning/tempo.js';
import { showValue } from '../tuning/words.js';
import type { Contact, Control } from './control.js';

/** A number of an ability: its default, and the range within which a tuning may set it. */
export interface OwnNumber {
  value: number;
  /** 0 unless given. */
  least?: number;
  /** Without end unless given. */
  most?: number;
  /** What it measures, where a character's own time has to do with it: at another tempo it is scaled, as the tuning's own numbers are. */
  unit?: Timed;
}

/** Units in which time is: what goes with a character's own tempo. */
export type Timed = 'time' | 'speed' | 'acceleration';

/**
 * The numbers of an ability: a table of defaults, set by a tuning under `own` (each at least 0 unless it says otherwise), or
 * a function of the compiled tuning; where that gives undefined, the ability is off.
 */
export type OwnSource = Readonly<Record<string, number | OwnNumber>> | ((motion: Motion) => object | undefined);

export type OwnOf<O> = O extends (motion: Motion) => infer R
  ? Exclude<R, undefined>
  : { readonly [K in keyof O]: number };

/** What an ability is. Lengths in units with y up, seconds, units/s. */
export interface AbilitySpec<O = object, T extends string = string, S extends string = string> {
  own?: O;
  /** Each holds a moment: assigning seconds starts it, reading gives what is left; at the moment at which one runs out the ability is asked. */
  timers?: readonly T[];
  /** Numbers that are kept, and are part of snapshots; 0 at first, and after `place`. */
  slots?: readonly S[];
  /** Those of the slots that hold a moment, s of stage time (`c.now`): in another room, which has its own time, they go on. */
  moments?: readonly S[];
  /** Those of the slots that hold something of the level, as a place: in another room they are 0 again. */
  places?: readonly S[];
  /** Those of the slots that hold 1 + the number of a corner or a wall (`c.corner`, `c.wallId`), 0 for none: in another room they are 0 again. */
  edges?: readonly S[];
  /** What those of the slots measure that have to do with the character's own time, but are no moments: at another tempo they are scaled, as its numbers are. */
  measures?: Readonly<Partial<Record<S, Timed>>>;
  /** Further actions that drivers may push. */
  actions?: readonly string[];
  /** Poses that it can show; the first is shown while it claims. The ability's own name unless given. */
  pose?: string | readonly string[];
  /** The name of the phase in which it sets the motion up and down; its pose's name unless given. */
  phase?: string;
  /** Further events that it can tell. */
  events?: readonly string[];
  /** The ability that it comes right after; after all others unless given. */
  after?: string;
  /** A built-in ability whose place it takes. */
  instead?: string;
  /**
   * When it is asked: where a piece of motion begins, unless given. With `tick` at the start of every tick as well: for what no timer, watched position or
   * `c.lookAgain` can say; its motion then depends on the tick rate.
   */
  every?: 'tick';
  /**
   * Runs where a piece of motion begins, in the order of the abilities. What it asks for holds until the piece ends: at a press or a release, a timer, a contact, a
   * zone's border, a position that is watched, a moment that an ability has named (`c.lookAgain`), or where an acceleration changes.
   */
  act(c: Control, own: O, s: Record<T | S, number>): void;
  /** Runs instead of `act` where the claim of an earlier ability stops this one. */
  stopped?(c: Control, own: O, s: Record<T | S, number>): void;
  /** Runs before a takeoff is told, whoever asked for it: what ends with it is told first. */
  takesOff?(c: Control, own: O, s: Record<T | S, number>): void;
  /** Runs when the path of a piece is known: names positions at which it is to end (`c.cutAtX`, `c.cutAtY`). */
  watch?(c: Control, own: O, s: Record<T | S, number>): void;
  /** Asked at a contact, before the body is stopped by it; true where the ability has dealt with it. */
  met?(c: Control, own: O, s: Record<T | S, number>, contact: Readonly<Contact>): boolean;
}

/** An ability, ready to be added to characters. */
export interface Ability extends BodyAbility {
  readonly spec: AbilitySpec;
}

/** What an installed ability does: a body keeps of it only what it has to know. */
export function specOf({ ability: one }: Installed): AbilitySpec {
  return (one as Ability).spec;
}

const NAME = /^[a-z][A-Za-z0-9]*$/;

/**
 * Defines an ability. The built-in ones are defined by this very call.
 * @param name in camelCase: what `after`, `claim` and a tuning's `own` call it
 * @throws RangeError where a name is not in camelCase or used twice, or a number lies outside its own range
 * @example
 * ```ts
 * const hover = ability('hover', { own: { lift: 2 }, actions: ['hover'], act: (c, own) => void (c.held('hover') && (c.vy = own.lift)) });
 * ```
 */
export function ability<const O extends OwnSource, const T extends string = never, const S extends string = never>(
  name: string,
  spec: Omit<AbilitySpec<OwnOf<O>, T, S>, 'own'> & { own?: O },
): Ability {
  if (typeof (spec as Partial<AbilitySpec> | undefined)?.act !== 'function')
    throw new RangeError(`ability ${name}: act must be a function`);
  if (spec.every !== undefined && spec.every !== 'tick')
    throw new RangeError(`ability ${name}: every is ${String(spec.every)}; it must be tick, or left out`);
  const timers = spec.timers ?? [];
  const slots = spec.slots ?? [];
  const names = [...timers, ...slots];
  for (const one of [name, ...names, ...(spec.actions ?? []), ...(spec.events ?? [])])
    if (!NAME.test(one)) throw new RangeError(`ability ${name}: ${one} is not a name in camelCase`);
  for (const [i, one] of names.entries())
    if (names.indexOf(one) !== i) throw new RangeError(`ability ${name}: ${one} is listed twice`);
  for (const one of [
    ...(spec.moments ?? []),
    ...(spec.places ?? []),
    ...(spec.edges ?? []),
    ...Object.keys(spec.measures ?? {}),
  ] as S[])
    if (!slots.includes(one))
      throw new RangeError(`ability ${name}: ${one} is no slot; there are ${slots.join(', ') || 'none'}`);
  // Known from now on to drivers and scripts.
  for (const action of spec.actions ?? []) actionNumber(action);
  const poses = spec.pose === undefined ? [name] : typeof spec.pose === 'string' ? [spec.pose] : spec.pose;
  if (typeof spec.own === 'object')
    for (const [key, given] of Object.entries(spec.own)) {
      const { value } = rangeOfOwn(given);
      checkOwn(`ability ${name}: ${key}`, value, given);
    }
  return {
    name,
    spec: spec as unknown as AbilitySpec,
    poses,
    phase: spec.phase ?? poses[0] ?? name,
    size: names.length,
    timerCount: timers.length,
    moments: (spec.moments ?? []).map((one) => timers.length + slots.indexOf(one)),
    edges: (spec.edges ?? []).map((one) => timers.length + slots.indexOf(one)),
    measures: slots.flatMap((slot, i) => {
      const unit = spec.measures?.[slot];
      return unit === undefined ? [] : [[timers.length + i, unit] as const];
    }),
    view: viewOf(name, timers, slots),
    move: moveView,
  };
}

function rangeOfOwn(given: number | OwnNumber): Required<Omit<OwnNumber, 'unit'>> {
  const { value, least = 0, most = Infinity } = typeof given === 'number' ? { value: given } : given;
  return { value, least, most };
}

function checkOwn(what: string, value: unknown, given: number | OwnNumber): asserts value is number {
  const { least, most } = rangeOfOwn(given);
  if (typeof value !== 'number' || !(value >= least && value <= most && Math.abs(value) < Infinity))
    throw new RangeError(
      `${what} is ${String(value)}; it must be at least ${least}${most < Infinity ? ` and at most ${most}` : ''}`,
    );
}

/**
 * The numbers of an ability for one character.
 * @returns undefined where the tuning leaves the ability out
 * @throws RangeError naming a number under `own` that is unknown or out of range
 */
export function ownNumbers({ name, spec }: Ability, motion: Motion): object | undefined {
  const source = spec.own as OwnSource | undefined;
  if (typeof source === 'function') return source(motion);
  const table = source ?? {};
  const given = motion.full.own[name] ?? {};
  for (const key of Object.keys(given))
    if (!(key in table))
      throw new RangeError(
        `own.${name}.${key}: the ability ${name} has no such number; it has ${Object.keys(table).join(', ') || 'none'}`,
      );
  const numbers: Record<string, number> = {};
  for (const [key, usual] of Object.entries(table)) {
    const value = given[key] ?? rangeOfOwn(usual).value;
    checkOwn(`own.${name}.${key}`, value, usual);
    const unit = typeof usual === 'number' ? undefined : usual.unit;
    numbers[key] = unit === undefined ? value : atTempo(value, unit, motion.tempo);
  }
  return numbers;
}

/** @throws RangeError where what an ability assigns is no number */
function checkNumber(ability: string, name: string, value: number): void {
  if (typeof value !== 'number' || Number.isNaN(value))
    throw new RangeError(`ability ${ability}: ${name} is ${value}; it must be a number`);
}

/** What a view keeps, under names that no ability can have. */
const NUMBERS = Symbol('numbers');
const CLOCK = Symbol('clock');
const BASE = Symbol('base');

function moveView(view: Record<string, number>, s: Float64Array, clock: Float64Array): void {
  Object.assign(view, { [NUMBERS]: s, [CLOCK]: clock });
}

/** A class whose properties are the timers and slots of one ability, kept in the character's flat state. */
function viewOf(ability: string, timers: readonly string[], slots: readonly string[]): Ability['view'] {
  class View {
    [NUMBERS]: Float64Array;
    [CLOCK]: Float64Array;
    readonly [BASE]: number;
    constructor(numbers: Float64Array, clock: Float64Array, base: number) {
      this[NUMBERS] = numbers;
      this[CLOCK] = clock;
      this[BASE] = base;
    }
  }
  timers.forEach((name, i) => {
    Object.defineProperty(View.prototype, name, {
      get(this: View): number {
        const left = this[NUMBERS][this[BASE] + i]! - this[CLOCK][NOW]!;
        return left > SLACK ? left : 0;
      },
      set(this: View, seconds: number) {
        checkNumber(ability, name, seconds);
        this[NUMBERS][this[BASE] + i] = seconds > 0 ? this[CLOCK][NOW]! + seconds : 0;
      },
    });
  });
  slots.forEach((name, k) => {
    const i = timers.length + k;
    Object.defineProperty(View.prototype, name, {
      get(this: View): number {
        return this[NUMBERS][this[BASE] + i]!;
      },
      set(this: View, value: number) {
        checkNumber(ability, name, value);
        this[NUMBERS][this[BASE] + i] = value;
      },
    });
  });
  return View as unknown as Ability['view'];
}

/**
 * The abilities of a character in their order: the built-in ones, and those of the game in the places that they ask for.
 * @throws RangeError where a name is taken, or a place does not exist
 */
export function arrange(builtIn: readonly Ability[], added: readonly Ability[]): Ability[] {
  const order = [...builtIn];
  for (const one of added) {
    if ((one as Partial<Ability> | undefined)?.spec === undefined)
      throw new RangeError(`abilities is a list with ${showValue(one)} in it; it must hold what \`ability\` gives`);
    const find = (name: string, what: string): number => {
      const at = order.findIndex((other) => other.name === name);
      if (at < 0)
        throw new RangeError(
          `ability ${one.name}: ${what} ${name}, but there is none; there are ${order.map((other) => other.name).join(', ')}`,
        );
      return at;
    };
    const { instead, after } = one.spec;
    if (order.some((other) => other.name === one.name && other.name !== instead))
      throw new RangeError(`there are two abilities named ${one.name}`);
    if (instead !== undefined) order[find(instead, 'it is to stand instead of')] = one;
    else if (after !== undefined) order.splice(find(after, 'it is to come after') + 1, 0, one);
    else order.push(one);
  }
  return order;
}

/**
 * @throws RangeError where a tuning has numbers, under `own`, that no ability of the body has, or that are out of range
 */
export function checkOwnNumbers({ installed }: Body, motion: Motion): void {
  for (const name of Object.keys(motion.full.own))
    if (!installed.some(({ ability: one }) => one.name === name && typeof (one as Ability).spec.own !== 'function'))
      throw new RangeError(`own.${name}: the character has no ability of that name with numbers of its own`);
  for (const { ability: one } of installed) ownNumbers(one as Ability, motion);
}

/**
 * Gives a body its abilities anew, after its tuning has changed.
 * @throws RangeError where the tuning has numbers, under `own`, that no ability has
 */
export function installAbilities(body: Body): void {
  checkOwnNumbers(body, body.motion);
  body.active.length = 0;
  body.isEager = false;
  body.watching.length = 0;
  body.meeting.length = 0;
  const timers: number[] = [];
  for (const one of body.installed) {
    const own = ownNumbers(one.ability as Ability, body.motion);
    if (own === undefined) continue;
    one.own = own;
    body.active.push(one);
    const spec = specOf(one);
    if (spec.every === 'tick') body.isEager = true;
    if (spec.watch) body.watching.push(one);
    if (spec.met) body.meeting.push(one);
    (spec.timers ?? []).forEach((_, i) => timers.push(one.base + i));
  }
  body.timers = Int32Array.from(timers);
}
