/** Progress over time: both from 0 to 1. */
export interface Progress {
  /** Whether it is of second degree at most. */
  exact: boolean;
  at(u: number): number;
  speed(u: number): number;
  /** When so much is done. */
  when(share: number): number;
}

/** The progress of one leg, by its curve from (0, 0) to (1, 1), time across. */
export function progressOf([x1, y1, x2, y2]: readonly [number, number, number, number]): Progress {
  const across = [3 * x1, 3 * (x2 - 2 * x1), 3 * (x1 - x2) + 1] as const;
  const up = [3 * y1, 3 * (y2 - 2 * y1), 3 * (y1 - y2) + 1] as const;
  const value = ([a, b, c]: readonly [number, number, number], q: number): number => q * (a + q * (b + q * c));
  const slope = ([a, b, c]: readonly [number, number, number], q: number): number => a + q * (2 * b + q * 3 * c);
  const search = (of: readonly [number, number, number], wanted: number): number => {
    let [low, high] = [0, 1];
    for (let round = 0; round < 60; round++) {
      const middle = (low + high) / 2;
      if (value(of, middle) < wanted) low = middle;
      else high = middle;
    }
    return (low + high) / 2;
  };
  // Time goes evenly along the curve where its control points are at thirds: then progress is a polynomial of time.
  const even = Math.abs(x1 - 1 / 3) < 1e-5 && Math.abs(x2 - 2 / 3) < 1e-5;
  const exact = even && Math.abs(up[2]) < 1e-5;
  if (exact) {
    // Evenly changing speed: from a to a + 2b, so that 1 is done at 1.
    const a = Math.abs(up[1]) < 1e-5 ? 1 : up[0];
    const b = 1 - a;
    const at = (u: number): number => u * (a + u * b);
    const when = (share: number): number => (2 * share) / (a + Math.sqrt(Math.max(0, a * a + 4 * b * share)));
    return { exact, at, speed: (u) => a + 2 * u * b, when };
  }
  const onCurve = (u: number): number => (even ? u : search(across, u));
  return {
    exact,
    at: (u) => value(up, onCurve(u)),
    speed: (u) => {
      const q = onCurve(u);
      const run = slope(across, q);
      return run > 1e-6
        ? slope(up, q) / run
        : slope(up, Math.min(1, q + 1e-3)) / Math.max(1e-6, slope(across, Math.min(1, q + 1e-3)));
    },
    when: (share) => value(across, search(up, share)),
  };
}
