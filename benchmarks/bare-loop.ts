/**
 * The yardstick for a tick: a loop that integrates gravity and tests the body's box against the boxes of the edges
 * nearby, and does nothing else. It finds no touch, knows no phase, and would fall through anything; no real
 * tick can be as cheap.
 */
export function bareLoop(ticks: number, dt: number, edges: Float64Array): number {
  const count = edges.length / 4;
  let x = 0;
  let y = 0;
  let vy = 0;
  let met = 0;
  for (let i = 0; i < ticks; i++) {
    vy -= 49 * dt;
    if (vy < -24) vy = -24;
    x += 7.5 * dt;
    y += vy * dt;
    if (x > 8) x = -8;
    if (y < -8) {
      y = 8;
      vy = 0;
    }
    const left = x - 0.35;
    const right = x + 0.35;
    const top = y + 1.3;
    for (let e = 0; e < count; e++) {
      const at = 4 * e;
      if (edges[at]! <= right && edges[at + 2]! >= left && edges[at + 1]! <= top && edges[at + 3]! >= y) met++;
    }
  }
  return met + x + y;
}

/** Boxes (left, bottom, right, top) of a ring of edges around the origin. */
export function ring(count: number): Float64Array {
  const edges = new Float64Array(4 * count);
  for (let e = 0; e < count; e++) {
    const x = (e % 8) * 2 - 8;
    const y = Math.floor(e / 8) * 4 - 4;
    edges.set([x, y, x + 1, y], 4 * e);
  }
  return edges;
}
