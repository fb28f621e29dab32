import { FARTHEST } from '../tuning/keys.js';
import { isGroup } from '../tuning/words.js';
import { checkNumber } from './checks.js';
import { PLAIN_STYLE, type Style } from './edges.js';
import { type Carry, LevelError, type Surface } from './level.js';

/** A surface with nothing left out. */
export interface FullSurface {
  name: string;
  grip: number;
  pace: number;
  flow: number;
  bounce: number;
  bounceFrom: number;
  jump: number;
}

/** What a level has names for. */
interface Named {
  readonly surfaces: readonly FullSurface[];
  readonly layers: readonly string[];
  readonly shapes: readonly string[];
  readonly terrain: { readonly styles: readonly Style[] };
}

const PLAIN: FullSurface = { name: '', grip: 1, pace: 1, flow: 0, bounce: 0, bounceFrom: 0, jump: 1 };

/** The largest of what a surface or a zone may scale by. */
const MOST_SCALE = 1000;

/** Names that edges refer to by number. */
export class Registry {
  readonly surfaces: FullSurface[] = [PLAIN];
  readonly layers: string[] = [''];
  readonly shapes: string[] = [];
  readonly styles: Style[] = [PLAIN_STYLE];
  private readonly known = new Map<string, number>();

  /** One that may go on by itself, with all that a level has. */
  static over({ surfaces, layers, shapes, terrain }: Named, before?: Registry): Registry {
    const other = new Registry();
    other.surfaces.splice(0, 1, ...surfaces);
    other.layers.splice(0, 1, ...layers);
    for (const shape of shapes) other.shapes.push(shape);
    for (let i = 1; i < terrain.styles.length; i++) other.styles.push(terrain.styles[i]!);
    if (before) for (const [key, number] of before.known) other.known.set(key, number);
    return other;
  }

  constructor(surfaces: Readonly<Record<string, Surface>> = {}) {
    for (const [name, surface] of Object.entries(surfaces)) this.surfaces.push(fullSurface(name, surface));
  }

  /**
   * The number of a style.
   * @param where dotted path of what carries it, for the error
   */
  style(carry: Carry, where: string, source = -1): number {
    const key = JSON.stringify([carry.surface, carry.layer, carry.name, carry['no-wall'], carry['no-ledge'], source]);
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const surface = carry.surface === undefined ? 0 : this.surfaces.findIndex(({ name }) => name === carry.surface);
    if (surface < 0 || carry.surface === '')
      throw new LevelError(
        `${where}.surface`,
        `there is no surface ${carry.surface}; the level has ${
          this.surfaces
            .slice(1)
            .map(({ name }) => name)
            .join(', ') || 'none'
        }`,
      );
    const numberOf = (list: string[], name: string): number => {
      if (!list.includes(name)) list.push(name);
      return list.indexOf(name);
    };
    const style = {
      surface,
      layer: carry.layer === undefined ? 0 : numberOf(this.layers, carry.layer),
      shape: carry.name === undefined ? -1 : numberOf(this.shapes, carry.name),
      noWall: carry['no-wall'] ?? false,
      noLedge: carry['no-ledge'] ?? false,
      source,
    };
    if (this.layers.length > 32) throw new LevelError(`${where}.layer`, 'a level has at most 31 named layers');
    const number = this.styles.push(style) - 1;
    this.known.set(key, number);
    return number;
  }
}

function fullSurface(name: string, surface: Surface): FullSurface {
  const check = (key: string, value: number, least: number, most: number): number =>
    checkNumber(value, `surfaces.${name}.${key}`, key, least, most);
  const { bounce = 0 } = surface;
  const [share, from] = isGroup(bounce) ? [bounce.share, bounce.from] : [bounce, 0];
  return {
    name,
    grip: check('grip', surface.grip ?? 1, 0.001, MOST_SCALE),
    pace: check('pace', surface.pace ?? 1, 0, MOST_SCALE),
    flow: check('flow', surface.flow ?? 0, -FARTHEST, FARTHEST),
    bounce: check('bounce', share, 0, 1),
    bounceFrom: check('bounce.from', from, 0, FARTHEST),
    jump: check('jump', surface.jump ?? 1, 0.001, MOST_SCALE),
  };
}
