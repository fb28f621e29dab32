import type { CompiledMover } from '../movers/mover.js';
import { compileRoute } from '../movers/route.js';
import { EdgeList, mergeStraight } from './edges.js';
import { LevelError, type Mover, POLICIES } from './level.js';
import { addOutline } from './outline.js';
import type { Registry } from './registry.js';

/** The most movers of one level. */
export const MOST_MOVERS = 1000;

/**
 * @param sign −1 where the level's y axis points down
 * @returns the movers, and the edges of each
 * @throws LevelError where a name is missing or there twice, a shape or a route is wrong
 */
export function compileMovers(
  movers: readonly Mover[],
  sign: number,
  registry: Registry,
  wheres: (i: number) => string = (i) => `movers.${i}`,
): { movers: CompiledMover[]; edges: EdgeList[] } {
  if (movers.length > MOST_MOVERS)
    throw new LevelError('movers', `there are ${movers.length} movers; a level has at most ${MOST_MOVERS}`);
  const edges: EdgeList[] = [];
  const names = new Set<string>();
  const compiled = movers.map((mover, i): CompiledMover => {
    const where = wheres(i);
    const { name, shapes, route, policy = 'stop' } = mover;
    if (name === '') throw new LevelError(`${where}.name`, 'a mover needs a name');
    if (names.has(name)) throw new LevelError(`${where}.name`, `there are two movers named ${name}`);
    names.add(name);
    if (!POLICIES.includes(policy))
      throw new LevelError(`${where}.policy`, `policy is ${String(policy)}; it must be ${POLICIES.join(', ')}`);
    if (shapes.length === 0) throw new LevelError(`${where}.shapes`, `the mover ${name} has no shapes`);
    const list = new EdgeList();
    const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
    shapes.forEach((shape, k) =>
      addOutline(shape, `${where}.shapes.${k}`, `shape ${k} of the mover ${name}`, sign, registry, list, box),
    );
    edges.push(mergeStraight(list, registry.styles));
    return { name, policy, route: route && compileRoute(route, sign, where), box };
  });
  return { movers: compiled, edges };
}
