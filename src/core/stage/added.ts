import { listOf } from '../nearest.js';
import { EdgeList } from '../terrain/edges.js';
import { type Carry, LevelError, type Outline } from '../terrain/level.js';
import { addOutline } from '../terrain/outline.js';
import { type Cut, type Recut, hash } from '../terrain/recut.js';
import type { Registry } from '../terrain/registry.js';
import { type CompiledLevel, repeated } from '../terrain/world.js';
import { isGroup, showValue } from '../tuning/words.js';

/** A shape that was added while the level ran. */
export interface AddedShape {
  readonly name: string;
  readonly outline: Outline;
}

/** Does a change of the ground, told to those near the boxes that it is in; and what undoes it. */
export type Change = (cuts: readonly Cut[], act: () => void, undo: () => void) => void;

/** The shapes that have been added to a stage. */
export class AddedShapes {
  /** Every shape that was ever added here, by a number for what it is; those that are there, with their edges; and these in order. */
  private readonly shapes = new Map<number, AddedShape>();
  private readonly there = new Map<number, { edges: number[]; cuts: Cut[] }>();
  private readonly list: number[] = [];
  /** Names that the level was opened with. */
  private readonly taken: ReadonlySet<string>;

  /** @param level the stage's own */
  constructor(
    private readonly level: CompiledLevel,
    private readonly registry: Registry,
    private readonly recut: Recut,
    private readonly change: Change,
  ) {
    this.taken = new Set(level.shapes);
  }

  /** How many numbers a snapshot has of them. */
  get size(): number {
    return 1 + this.list.length;
  }

  /**
   * Adds a shape, from this moment on.
   * @returns what does that, once it has been found right
   * @throws LevelError where the outline is wrong; RangeError where its name is taken, or it has none, or a layer that the level does not have
   */
  adding(outline: Outline, name: string): () => void {
    if (typeof name !== 'string' || name === '') throw new RangeError(`name is ${showValue(name)}; a shape that is added needs one`); // prettier-ignore
    if (!isGroup(outline)) throw new LevelError('shape', `the shape is ${showValue(outline)}; it must be a group of keys with form and points`); // prettier-ignore
    if (this.taken.has(name) || this.level.movers.some((mover) => mover.name === name))
      throw new RangeError(`there is something named ${name} in the level already`);
    const shape = JSON.parse(JSON.stringify({ name, outline })) as AddedShape;
    const print = this.printOf(shape);
    const cuts = [boxOf(this.edgesOf(shape))];
    return () => {
      if (this.list.some((one) => this.shapes.get(one)!.name === name))
        throw new RangeError(`there is a shape named ${name} already`);
      this.know(shape);
      const [put, away] = [() => this.putThere(print), () => this.putAway(print)];
      this.change(cuts, put, away);
    };
  }

  /**
   * Takes a shape away again.
   * @throws RangeError where there is none of that name that was added
   */
  removing(name: string): () => void {
    if (!this.has(name)) {
      const names = this.list.map((one) => this.shapes.get(one)!.name);
      throw new RangeError(`no shape named ${name} was added; there are ${listOf(names, name, 'none')}`);
    }
    return () => {
      const print = this.list.find((one) => this.shapes.get(one)!.name === name);
      if (print === undefined) return;
      const [put, away] = [() => this.putThere(print), () => this.putAway(print)];
      this.change(this.there.get(print)!.cuts, away, put);
    };
  }

  /** Whether a shape of a name was added, and is there. */
  has(name: string): boolean {
    return this.list.some((print) => this.shapes.get(print)!.name === name);
  }

  /** The shapes that were added and are there. */
  get present(): AddedShape[] {
    return this.list.map((print) => this.shapes.get(print)!);
  }

  /** Takes note of shapes that a snapshot may have. */
  know(...shapes: readonly AddedShape[]): void {
    for (const shape of shapes) this.shapes.set(this.printOf(shape), shape);
  }

  /**
   * The same of those of a save.
   * @throws LevelError or RangeError where one is wrong
   */
  knowSaved(shapes: readonly AddedShape[]): void {
    for (const { name, outline } of shapes) {
      this.adding(outline, name);
      this.know({ name, outline });
    }
  }

  /** All shapes that it knows. */
  get known(): AddedShape[] {
    return [...this.shapes.values()];
  }

  /** Whether a snapshot may have a shape of a number. */
  knows(print: number): boolean {
    return this.shapes.has(print);
  }

  /** Lets those be there that numbers say. */
  goTo(numbers: Float64Array, at: number): void {
    const wanted = new Set(numbers.subarray(at + 1, at + 1 + numbers[at]!));
    for (const print of this.list.slice()) if (!wanted.has(print)) this.putAway(print);
    for (const print of wanted) if (!this.there.has(print)) this.putThere(print);
  }

  /** Whether those are there. */
  isAt(numbers: Float64Array, at: number): boolean {
    return numbers[at] === this.list.length && this.list.every((print, i) => numbers[at + 1 + i] === print);
  }

  save(into: Float64Array, at: number): void {
    into[at++] = this.list.length;
    for (let i = 0; i < this.list.length; i++) into[at++] = this.list[i]!;
  }

  private putThere(print: number): void {
    const list = this.edgesOf(this.shapes.get(print)!);
    this.there.set(print, { edges: this.recut.add(list), cuts: [boxOf(list)] });
    this.list.splice(placeIn(this.list, print), 0, print);
  }

  private putAway(print: number): void {
    this.recut.remove(this.there.get(print)!.edges);
    this.there.delete(print);
    this.list.splice(placeIn(this.list, print), 1);
  }

  private printOf({ name, outline }: AddedShape): number {
    return hash(JSON.stringify([name, outline.form, outline.points, outline.carry ?? {}]));
  }

  private edgesOf({ name, outline }: AddedShape): EdgeList {
    const { yPoints } = this.level;
    const { carry } = outline;
    checkLayers(outline, 'shape', this.level);
    const named = Array.isArray(carry)
      ? (carry as readonly Carry[]).map((one) => ({ ...one, name }))
      : { ...(carry as Carry | undefined), name };
    const list = new EdgeList();
    const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
    addOutline({ ...outline, carry: named, source: -1 }, 'shape', 'the shape', yPoints === 'up' ? 1 : -1, this.registry, list, box); // prettier-ignore
    const { bounds, sides } = this.level;
    const across = bounds.left === 'wrap' ? sides.right - sides.left : 0;
    const up = bounds.top === 'wrap' ? sides.top - sides.bottom : 0;
    return repeated(list, across, up);
  }
}

/** @throws LevelError where a shape that comes later is of a layer that the level does not have */
export function checkLayers({ carry }: Outline, where: string, { layers }: CompiledLevel): void {
  for (const one of Array.isArray(carry) ? (carry as readonly Carry[]) : [(carry ?? {}) as Carry])
    if (one.layer !== undefined && !layers.includes(one.layer))
      throw new LevelError(`${where}.carry`, `there is no layer ${one.layer}; the level has ${listOf(layers.slice(1), one.layer)}`); // prettier-ignore
}

/** The box around edges. */
function boxOf({ ends }: EdgeList): Cut {
  const [xs, ys] = [ends.filter((_, i) => i % 2 === 0), ends.filter((_, i) => i % 2 === 1)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

/** Where a number is in a list in order, or belongs. */
export function placeIn(list: readonly number[], value: number): number {
  let low = 0;
  let high = list.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (list[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
