/**
 * What comes next on a stage: of each entry the moment at which it is due, the earliest first, and of those due together the one that came first. A binary
 * heap over flat arrays, so that nothing is allocated.
 */
export class Agenda {
  private due = new Float64Array(16);
  private heap = new Int32Array(16);
  /** Where each entry is in the heap. */
  private at = new Int32Array(16);
  /** Which of those due together comes first: the lower. */
  private order = new Float64Array(16);
  private count = 0;
  /** Numbers of entries that are given up. */
  private readonly free: number[] = [];

  /**
   * Adds an entry, due never.
   * @param order which of those due together comes first: the lower
   * @returns its number; one that was given up is used again
   */
  add(order: number): number {
    const again = this.free.pop();
    if (again !== undefined) {
      this.order[again] = order;
      return again;
    }
    const id = this.count++;
    if (id === this.due.length) {
      const longer = <A extends Float64Array | Int32Array>(from: A, to: A): A => (to.set(from as never), to);
      this.due = longer(this.due, new Float64Array(2 * id));
      this.order = longer(this.order, new Float64Array(2 * id));
      this.heap = longer(this.heap, new Int32Array(2 * id));
      this.at = longer(this.at, new Int32Array(2 * id));
    }
    this.due[id] = Infinity;
    this.order[id] = order;
    this.heap[id] = id;
    this.at[id] = id;
    return id;
  }

  /** Gives an entry up. */
  drop(id: number): void {
    this.never(id);
    this.free.push(id);
  }

  /** The entry that comes first; there has to be one. */
  get first(): number {
    return this.heap[0]!;
  }

  /** Whether anything is due by a moment. */
  isDue(by: number): boolean {
    return this.count > 0 && this.due[this.heap[0]!]! <= by;
  }

  /** Stores the earliest moment where it comes before what is there. */
  soonest(into: Float64Array): void {
    if (this.count > 0 && this.due[this.heap[0]!]! < into[0]!) into[0] = this.due[this.heap[0]!]!;
  }

  /**
   * Changes when an entry is due.
   * @param from, at where its moment stands: handed over in an array, it is not boxed
   */
  set(id: number, from: Float64Array, at: number): void {
    const { due } = this;
    const before = due[id]!;
    due[id] = from[at]!;
    if (due[id]! < before) this.rise(id);
    else if (due[id]! > before) this.sink(id);
  }

  /** Lets an entry be due never. */
  never(id: number): void {
    if (this.due[id] === Infinity) return;
    this.due[id] = Infinity;
    this.sink(id);
  }

  private comesBefore(a: number, b: number): boolean {
    const { due, order } = this;
    return due[a]! < due[b]! || (due[a] === due[b] && order[a]! < order[b]!);
  }

  private rise(id: number): void {
    const { heap, at } = this;
    let i = at[id]!;
    while (i > 0) {
      const above = (i - 1) >> 1;
      const other = heap[above]!;
      if (!this.comesBefore(id, other)) break;
      heap[i] = other;
      at[other] = i;
      i = above;
    }
    heap[i] = id;
    at[id] = i;
  }

  private sink(id: number): void {
    const { heap, at, count } = this;
    let i = at[id]!;
    for (;;) {
      let below = 2 * i + 1;
      if (below >= count) break;
      if (below + 1 < count && this.comesBefore(heap[below + 1]!, heap[below]!)) below++;
      const other = heap[below]!;
      if (!this.comesBefore(other, id)) break;
      heap[i] = other;
      at[other] = i;
      i = below;
    }
    heap[i] = id;
    at[id] = i;
  }
}
