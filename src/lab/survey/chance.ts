import type { Ability } from '../../core/index.js';
import type { Game, Node } from './game.js';
import { comeToRest, type Move, type Played, type Spoils } from './moves.js';
import type { Places } from './places.js';
import type { Task } from './task.js';

/** Numbers from 0 to 1 that follow from a seed. */
export function numbersFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** So long is a way by chance at most, s; and a key stays as it is, s. */
const LONG = 4;
const HELD = [0.03, 0.4] as const;

/** Keys pressed by chance from a situation, over and over, toward the goals more often than away. Between two tries something else may be done. */
export function* chanceFrom(
  { game, places, spoils, scene }: { game: Game; places: Places; spoils: Spoils; scene: { abilities?: readonly Ability[] } },
  from: Node,
  { goals, spend }: Task,
  { seed }: NonNullable<Task['chance']>,
  take: (played: Played, at: Node, move: Move | undefined) => unknown,
  reached: ReadonlySet<number>,
): Generator<void, void> {
  const number = numbersFrom(seed);
  const { motion } = game;
  const own = (scene.abilities ?? []).flatMap(({ spec }) => spec.actions ?? []);
  const others = [...own, ...(motion.full.glide ? ['glide'] : []), ...(motion.full.dive || motion.full.crouch || motion.full.drop ? ['down'] : []), ...(motion.full.ledge ? ['up'] : []), 'walk'];
  const until = game.spent + spend;
  while (game.spent < until) {
    yield;
    const goal = places.list[goals[Math.floor(number() * goals.length)] ?? -1];
    const toward = goal ? Math.sign((goal.xs[0]! + goal.xs.at(-1)!) / 2 + game.offset(goal.set)[0] - from.x) || 1 : 1;
    const played: Played = { landed: [], end: undefined, by: [], miss: Infinity, covered: undefined, entered: [], began: from.time };
    game.from(from);
    for (const action of ['left', 'right', 'down', 'up', 'jump', 'glide']) game.want(action, 0);
    const next = new Map<string, number>();
    const lasts = (): number => game.stage.time + HELD[0] + (HELD[1] - HELD[0]) * number() * number();
    let spoilt = false;
    let leftIt = false;
    for (const end = game.stage.time + LONG; game.stage.time < end && !spoilt; ) {
      const { time } = game.stage;
      const due = (key: string): boolean => (next.get(key) ?? -1) <= time;
      if (due('way')) {
        const way = number() < 0.6 ? toward : number() < 0.6 ? -toward : 0;
        game.want('left', way < 0 ? 1 : 0);
        game.want('right', way > 0 ? 1 : 0);
        next.set('way', lasts());
      }
      if (due('jump')) {
        game.want('jump', number() < 0.55 ? 1 : 0);
        next.set('jump', lasts());
      }
      for (const action of others)
        if (due(action)) {
          game.want(action, number() < (action === 'walk' ? 0.1 : 0.25) ? 1 : 0);
          next.set(action, lasts());
        }
      game.tick();
      for (const told of game.told) {
        if (spoils(told)) spoilt = true;
        if (spoilt) break;
        if (told.event === 'takeoff') played.by.push(told.by);
        if (told.event === 'enter') played.entered.push({ zone: told.zone, time: told.time, node: game.node(from) });
        if (told.place && told.place !== from.place) played.landed.push({ place: told.place, time: told.time });
      }
      const here = game.places.under(game.hero, from.place);
      if (here === undefined) leftIt = true;
      else if (here !== from.place && !played.landed.some(({ place }) => place === here)) played.landed.push({ place: here, time: game.stage.time });
      if (played.landed.length > 0 || (leftIt && here !== undefined)) break;
    }
    if (spoilt || (played.landed.length === 0 && played.entered.length === 0)) continue;
    if (played.landed.length > 0) {
      // What is new is worth coming to rest on.
      const isNew = played.landed.some(({ place }) => !reached.has(place.id));
      played.end = isNew ? comeToRest(game, from, played.landed.at(-1)!.place, own, () => (game.tick(), game.told.some(spoils))) : game.node(from);
    }
    take(played, from, undefined);
  }
} // prettier-ignore
