import type { Body } from '../state/body.js';
import type { StageEvent } from '../trace/events.js';

/** Says in an event which shape, surface and mover an edge belongs to. */
export function say({ terrain, level }: Body, told: StageEvent, e: number): StageEvent {
  if (e < 0) return told;
  const { shape, surface } = terrain.styles[terrain.style[e]!]!;
  const set = terrain.set[e]!;
  told.shape = shape < 0 ? '' : level.shapes[shape]!;
  told.surface = level.surfaces[surface]!.name;
  told.mover = set > 0 ? level.movers[set - 1]!.name : '';
  return told;
}
