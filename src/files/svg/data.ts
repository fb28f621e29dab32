import type { Carry, Surface, Zone } from '../../core/index.js';
import { surfaceSchema, zoneNumbers } from '../level-schema.js';
import { convexPieces } from '../pieces.js';
import type { Problem } from '../problem.js';
import { nearest } from '../../lab/nearest.js';
import { readNumbers } from './matrix.js';
import type { Point } from './outline.js';
import type { SvgElement } from './tree.js';

/** What `data-` attributes can say of a shape, a zone, a spawn or a surface. */
export const DATA = ['surface', 'layer', 'name', 'no-wall', 'no-ledge', 'tags', 'gravity', 'pace', 'current', 'facing', 'grip', 'flow', 'bounce', 'bounce-from', 'jump'] as const; // prettier-ignore

/** The data that an element has or was given by those around it, without `data-`. */
export type Data = Readonly<Record<string, string>>;
/** Tells what is wrong with an element. */
export type Report = (element: SvgElement, message: string, severity?: Problem['severity']) => void;

/** What a shape carries. */
export function carryOf(element: SvgElement, data: Data): Carry {
  const flag = (name: 'no-wall' | 'no-ledge'): boolean => data[name] !== undefined && data[name] !== 'false';
  const name = element.attributes['data-name'] ?? data.name;
  return {
    ...(data.surface !== undefined ? { surface: data.surface } : {}),
    ...(data.layer !== undefined ? { layer: data.layer } : {}),
    ...(name !== undefined ? { name } : {}),
    ...(flag('no-wall') ? { 'no-wall': true } : {}),
    ...(flag('no-ledge') ? { 'no-ledge': true } : {}),
  };
}

/** A zone: an area as convex pieces, its tags and numbers. */
export function zoneOf(
  element: SvgElement,
  data: Data,
  rings: readonly (readonly Point[])[],
  usual: string,
  report: Report,
): Zone {
  const read: Record<string, unknown> = {};
  for (const key of ['gravity', 'pace', 'current'] as const) {
    const text = data[key];
    if (text === undefined) continue;
    const numbers = readNumbers(text);
    const value = key === 'current' ? numbers : numbers?.length === 1 ? numbers[0] : undefined;
    if (zoneNumbers[key].safeParse(value).success && value !== undefined) read[key] = value;
    else
      report(
        element,
        `data-${key} is ${JSON.stringify(text)}; it must be ${key === 'current' ? 'two numbers' : 'a number of 0.001 to 1000'}`,
      );
  }
  const area = (ring: readonly Point[]): number =>
    ring.reduce((sum, [x, y], i) => sum + x * ring[(i + 1) % ring.length]![1] - ring[(i + 1) % ring.length]![0] * y, 0);
  // Holes go round the other way than outlines.
  const first = area(rings[0]!) > 0;
  const outer = rings.filter((ring) => area(ring) > 0 === first);
  const holes = rings.filter((ring) => area(ring) > 0 !== first);
  const pieces = outer.flatMap((ring) => convexPieces(outer.length === 1 ? [ring, ...holes] : [ring]));
  return {
    name: element.attributes.id ?? data.name ?? usual,
    tags: (data.tags ?? '').split(/[\s,]+/).filter(Boolean),
    ...read,
    pieces,
  };
}

/** What a surface does stands on an element of that class; its id is the name. */
export function surfaceOf(element: SvgElement, data: Data, report: Report): Surface | undefined {
  const name = element.attributes.id;
  if (name === undefined) {
    report(element, 'a surface needs an id: its name');
    return undefined;
  }
  const numbers: Record<string, unknown> = {};
  for (const key of ['grip', 'pace', 'flow', 'bounce', 'jump', 'bounce-from'] as const)
    if (data[key] !== undefined) numbers[key] = Number(data[key].trim() === '' ? NaN : data[key]);
  const { 'bounce-from': from, ...rest } = numbers;
  const surface = from === undefined ? rest : { ...rest, bounce: { share: rest.bounce, from } };
  const read = surfaceSchema.safeParse(surface);
  if (read.success) return surface as Surface;
  const [key] = read.error.issues[0]!.path;
  report(element, `data-${String(key)} is ${JSON.stringify(data[String(key)])}; ${read.error.issues[0]!.message}`);
  return undefined;
}

/** Says which `data-` attributes look like misspelt ones. */
export function checkData(element: SvgElement, known: readonly string[], report: Report): void {
  for (const name of Object.keys(element.attributes)) {
    if (!name.startsWith('data-') || known.includes(name.slice(5))) continue;
    const meant = nearest(name.slice(5), known);
    if (meant) report(element, `${name} means nothing; did you mean data-${meant}?`, 'warning');
  }
}
