import type { Body } from '../state/body.js';
import { DROPPED } from '../state/layout.js';
import { type Cut, Recut } from '../terrain/recut.js';
import { Registry } from '../terrain/registry.js';
import type { Terrain } from '../terrain/terrain.js';
import type { CompiledLevel } from '../terrain/world.js';
import { AddedMovers, type Moved } from './added-movers.js';
import { AddedShapes } from './added.js';
import { ChangedCells } from './cells.js';
import { dropAnew, forgetGone, freeMovers, holdsAny, mayReach, reaches, slotsOf } from './felt.js';
import { changeGround } from './host.js';

/** A level that one stage has for itself. */
export type OwnLevel = { -readonly [K in keyof CompiledLevel]: CompiledLevel[K] };

/** A level of a stage's own: the same, as long as nothing of it is changed. */
export function ownLevel(level: CompiledLevel): OwnLevel {
  return { ...level, terrain: { ...level.terrain }, movers: level.movers.slice() };
}

/** What the ground of a stage needs of it. */
export interface Grounded extends Moved {
  /** 1 for each named shape that the level was opened with and that is switched off; for each zone. */
  readonly off: Uint8Array;
  readonly zonesOff: Uint8Array;
}

/**
 * The ground of a stage that has been changed: which cells of a level in rows, and what they hold; which shapes have been added. The edges around cells are cut anew, as those of a
 * level would be that is compiled with them; who is near is told. And its movers, of which some may have come, and some gone.
 */
export class ChangedGround {
  /** Of a level in rows. */
  readonly cells: ChangedCells | undefined;
  readonly added: AddedShapes;
  readonly movers: AddedMovers;
  private readonly recut: Recut;
  /** What undoes the changes of the present tick, where that fails. */
  private readonly journal: (() => void)[] = [];

  /** @param level the stage's own: made another one where the ground changes */
  constructor(
    private readonly level: OwnLevel,
    private readonly stage: Grounded,
  ) {
    const registry = Registry.over(level, level.rows?.registry);
    level.shapes = registry.shapes;
    level.layers = registry.layers;
    const terrain = level.terrain as { -readonly [K in keyof Terrain]: Terrain[K] };
    terrain.styles = registry.styles;
    level.zones = level.zones.map((zone) => ({ ...zone, pieces: zone.pieces.slice() }));
    const recut = (this.recut = new Recut(terrain, registry.shapes));
    if (level.rows) this.cells = new ChangedCells(level, { ...level.rows, registry }, recut, stage.off, stage.zonesOff);
    this.added = new AddedShapes(level, registry, recut, (cuts, act, undo) => this.change(cuts, act, undo));
    this.movers = new AddedMovers(level, registry, recut, stage, this.journal);
  }

  /** How many numbers a snapshot has of it. */
  get size(): number {
    return (this.cells?.size ?? 1) + this.added.size + this.movers.size;
  }

  /** Lets a cell hold something else, from this moment on. */
  setCell(cell: number, code: number): void {
    const cells = this.cells!;
    const was = cells.codeOf(cell);
    if (was === code) return;
    const [put, back] = [() => cells.put(cell, code), () => cells.put(cell, was)];
    this.change(cells.cutsOf(cell), put, back);
  }

  /** The state is to be that of another moment: the ground is what numbers say; bodies are seen to by others. */
  goTo(numbers: Float64Array, at: number): void {
    const shapesAt = at + 1 + 2 * numbers[at]!;
    this.movers.goTo(numbers, shapesAt + 1 + numbers[shapesAt]!);
    if (this.cells?.isAt(numbers, at) !== false && this.added.isAt(numbers, shapesAt)) return;
    this.cells?.goTo(numbers, at);
    this.added.goTo(numbers, shapesAt);
    this.stage.forget();
  }

  save(into: Float64Array, at: number): void {
    if (this.cells === undefined) into[at] = 0;
    else this.cells.save(into, at);
    const shapesAt = at + (this.cells?.size ?? 1);
    this.added.save(into, shapesAt);
    this.movers.save(into, shapesAt + this.added.size);
  }

  /** How movers go is what numbers say, once the others' numbers are those of that moment. */
  loadMovers(numbers: Float64Array, at: number): void {
    const shapesAt = at + 1 + 2 * numbers[at]!;
    this.movers.load(numbers, shapesAt + 1 + numbers[shapesAt]!);
  }

  /** A tick begins. */
  begin(): void {
    this.journal.length = 0;
  }

  /** The tick has not happened. */
  undo(): void {
    while (this.journal.length > 0) this.journal.pop()!();
    this.begin();
    this.stage.forget();
  }

  /** Lets a body's numbers for edges be those that do not depend on what came before, or back. */
  rename(body: Body, numbers: Float64Array, at: number, toPrints: boolean): void {
    const { recut } = this;
    const { base } = recut;
    for (const [slot, more] of slotsOf(body, numbers, at)) {
      const value = numbers[at + slot]! - more;
      if (value < base) continue;
      numbers[at + slot] = (toPrints ? recut.printOf(value) : recut.edgeOf(value)) + more;
    }
  }

  /** Changes what is within boxes: who is near is brought to this moment first, and then feels what there is. */
  private change(cuts: readonly Cut[], act: () => void, undo: () => void): void {
    this.journal.push(undo);
    const near = this.nearTo(cuts);
    for (const body of near) this.stage.bring(body);
    const drops = this.stage.bodies.filter(({ s }) => s[DROPPED] !== 0);
    act();
    const { changed } = this.recut;
    this.stage.forget();
    for (const body of this.stage.bodies) {
      for (const each of body.nears) each.forget();
      const isTouched = cuts.some((cut) => reaches(body, cut)) || holdsAny(body, (edge) => changed.has(edge));
      if (!isTouched) continue;
      if (!near.includes(body)) this.stage.bring(body);
      if (drops.includes(body)) dropAnew(body);
      freeMovers(body, changed);
      changeGround(body, changed);
    }
    for (const body of this.stage.bodies) forgetGone(body);
  }

  /** Those whose motion may have to do with what is in a box: they may come near it, or touch something that reaches it. */
  private nearTo(cuts: readonly Cut[]): Body[] {
    const { x1, y1, x2, y2, set } = this.level.terrain;
    const reachesCut = (e: number): boolean =>
      set[e] === 0 &&
      cuts.some(
        ([left, bottom, right, top]) =>
          Math.max(x1[e]!, x2[e]!) >= left &&
          Math.min(x1[e]!, x2[e]!) <= right &&
          Math.max(y1[e]!, y2[e]!) >= bottom &&
          Math.min(y1[e]!, y2[e]!) <= top,
      );
    return this.stage.bodies.filter((body) => cuts.some((cut) => mayReach(body, cut)) || holdsAny(body, reachesCut));
  }
}
