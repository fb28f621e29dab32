import type { DrawnLevel, Mark, Outline, WrittenLevel } from '../../core/index.js';

/** A level as it is written: what named shapes are made of can be told. */
export type Written = WrittenLevel | DrawnLevel;

/**
 * A level without some of its named shapes, as it is where they are switched off.
 * @throws RangeError where there is none of a name, or where it is only some edges of an outline
 * @example
 * ```ts
 * withoutShapes({ rows: ['@.n.', '####'], marks: { n: { solid: 'full', name: 'gate' } } }, ['gate'])
 * ```
 */
export function withoutShapes<L extends Written>(level: L, names: readonly string[]): L {
  if (names.length === 0) return level;
  const off = new Set(names);
  const known = new Set<string>();
  const isOn = ({ carry }: Outline): boolean => {
    const list = Array.isArray(carry) ? (carry as readonly { name?: string }[]) : [carry as { name?: string } | undefined];
    const all = list.map((one) => one?.name);
    for (const name of all) if (name !== undefined) known.add(name);
    const gone = all.filter((name) => name !== undefined && off.has(name));
    if (gone.length > 0 && gone.length < all.length) throw new RangeError(`${gone[0]} is only some edges of an outline: a survey cannot do without them`);
    return gone.length === 0;
  };
  const movers = level.movers?.map((mover) => ({ ...mover, shapes: mover.shapes.filter(isOn) })).filter(({ shapes }) => shapes.length > 0);
  const made = { ...level, ...(movers ? { movers } : {}) };
  if ('outlines' in made) made.outlines = made.outlines.filter(isOn);
  else made.rows = rowsWithout(made, off, known);
  for (const name of names) if (!known.has(name)) throw new RangeError(`there is no shape ${name}; the level has ${[...known].join(', ') || 'none with a name'}`);
  return made;
} // prettier-ignore

/** Cells of marks whose shapes are off are empty. */
function rowsWithout({ rows, marks = {} }: WrittenLevel, off: ReadonlySet<string>, known: Set<string>): string[] {
  const lines = typeof rows === 'string' ? rows.replace(/\n$/, '').split('\n') : rows;
  const isOff = (mark: Mark | undefined, x: number, y: number): boolean => {
    if (mark?.name === undefined || mark.zone !== undefined) return false;
    const name = mark.each === true ? `${mark.name} ${x},${y}` : mark.name;
    known.add(name);
    return off.has(name);
  };
  return lines.map((line, y) => [...line].map((cell, x) => (isOff(Object.hasOwn(marks, cell) ? marks[cell] : undefined, x, y) ? '.' : cell)).join(''));
} // prettier-ignore
