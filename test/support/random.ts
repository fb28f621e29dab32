/** Seeded random numbers (a 32-bit mixing generator), so that a failing case can be played again. */
export function randomizer(seed: number) {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x9e3779b9) >>> 0;
    let z = state;
    z = Math.imul(z ^ (z >>> 16), 0x21f0aaad);
    z = Math.imul(z ^ (z >>> 15), 0x735a2d97);
    return ((z ^ (z >>> 15)) >>> 0) / 4294967296;
  };
  return {
    next,
    between: (low: number, high: number): number => low + (high - low) * next(),
    whole: (low: number, high: number): number => low + Math.floor((high - low + 1) * next()),
    chance: (share: number): boolean => next() < share,
    pick: <V>(list: readonly V[]): V => list[Math.floor(next() * list.length)]!,
  };
}
export type Random = ReturnType<typeof randomizer>;
