import {
  LevelError,
  POLICIES,
  SIDES,
  compileOutlines,
  type Carry,
  type CompiledLevel,
  type DrawnLevel,
  type Mover,
  type Outline,
  type Source,
  type Spawn,
  type Surface,
  type Zone,
} from '../../core/index.js';
import { Problems, type Problem } from '../problem.js';
import { isTaken } from '../yaml.js';
import { nearest } from '../../lab/nearest.js';
import { DATA, carryOf, checkData, surfaceOf, zoneOf, type Data, type Report } from './data.js';
import { IDENTITY, apply, multiply, readLength, readNumbers, readTransform, type Matrix } from './matrix.js';
import { routeOf } from './motion.js';
import { OutlineError, outlineOf, type Point, type Stroke } from './outline.js';
import { parseSvg, type SvgElement } from './tree.js';
import { UniteError } from './clip.js';
import { simplify, type Area } from './simplify.js';
import { outlinesOf } from './unite.js';

/** What a class can say of a shape. */
export const KINDS = ['solid', 'one-way', 'zone', 'spawn', 'surface', 'mover'] as const;
type Kind = Exclude<(typeof KINDS)[number], 'mover'>;
const SHAPES: readonly string[] = ['rect', 'polygon', 'polyline', 'line', 'path', 'circle', 'ellipse'];
/** Elements whose children are drawn where they stand; what is in others is drawn only where it is used. */
const GROUPS: readonly string[] = ['svg', 'g', 'a', 'switch'];
/** What `data-` attributes of the outermost element say of the level. */
export const ROOT_DATA = ['units', 'tolerance', 'y-points', 'left', 'right', 'top', 'bottom'] as const;

/** How often `use` may be followed in one drawing, and how deep. */
const MOST_USES = 100_000;
const DEEPEST_USE = 16;
/** Curves are followed to within this part of a unit, unless the drawing says otherwise. */
export const TOLERANCE = 1 / 256;

/** What an element passes on to what is in it. */
interface Inherited {
  matrix: Matrix;
  kind: Kind | undefined;
  data: Readonly<Record<string, string>>;
  rule: 'nonzero' | 'evenodd';
}

/**
 * Reads a drawn level.
 * @throws FileError with the place of every element that is wrong
 */
export function readDrawing(
  text: string,
  file: string,
): { level: DrawnLevel; compiled: CompiledLevel; warnings: Problem[] } {
  const problems = new Problems(file, text);
  const root = parseSvg(text, problems);
  return new Drawing(root, problems).read();
}

/** A shape as it stands in a drawing. */
export interface DrawnShape {
  element: SvgElement;
  /** From its own coordinates to the drawing's. */
  matrix: Matrix;
  kind: 'solid' | 'one-way' | 'zone' | 'spawn';
  /** The mover that it is a part of; empty where it stands still. */
  mover: string;
  /** Its lines, in the level's own axes. */
  strokes: Stroke[];
}

/**
 * The shapes of a drawing that stand in it once, in its order; of a spawn, its place.
 * @returns with drawing units a unit, and the sign of y
 * @throws FileError
 */
export function shapesOf(text: string, problems: Problems): { shapes: DrawnShape[]; units: number; sign: number } {
  const drawing = new Drawing(parseSvg(text, problems), problems);
  drawing.scan();
  problems.refuse();
  return drawing.shapes;
}

class Drawing {
  private readonly ids = new Map<string, SvgElement>();
  private areas: { area: Area; group: string }[] = [];
  private open: Outline[] = [];
  private readonly movers: Mover[] = [];
  private readonly moverElements: SvgElement[] = [];
  /** Whether a mover is being read. */
  private moving = false;
  private readonly zones: Zone[] = [];
  private readonly spawns: Record<string, Spawn> = {};
  private readonly surfaces: Record<string, Surface> = {};
  /** What each shape carries, by its number, and where it was drawn. */
  private readonly carries: Carry[] = [];
  private readonly sources: (Source & { element: SvgElement })[] = [];
  private readonly using: SvgElement[] = [];
  private uses = 0;
  private classes = 0;
  private readonly drawn: DrawnShape[] = [];
  /** The mover that is being read. */
  private moverName = '';
  private strays: { element: SvgElement; token: string; meant: string }[] = [];
  /** Drawing units a unit, the sign of y, and how closely curves are followed. */
  private units = 1;
  private sign = 1;
  private tolerance = TOLERANCE;

  constructor(
    private readonly root: SvgElement,
    private readonly problems: Problems,
  ) {}

  get shapes(): { shapes: DrawnShape[]; units: number; sign: number } {
    const { drawn, units, sign } = this;
    return { shapes: drawn, units, sign };
  }

  /** Goes through all that is drawn. @returns what is seen of it, where the drawing says that */
  scan(): readonly number[] | undefined {
    const { root } = this;
    this.collect(root);
    this.units = this.positive('units', 1);
    this.tolerance = this.positive('tolerance', TOLERANCE) * this.units;
    const points = root.attributes['data-y-points'] ?? 'down';
    if (points !== 'down' && points !== 'up')
      this.report(root, `data-y-points is ${JSON.stringify(points)}; it must be down or up`);
    this.sign = points === 'up' ? -1 : 1;
    checkData(root, [...ROOT_DATA, ...DATA], this.report);
    const view = root.attributes.viewBox === undefined ? undefined : readNumbers(root.attributes.viewBox);
    if (root.attributes.viewBox !== undefined && (view?.length !== 4 || !(view[2]! > 0 && view[3]! > 0)))
      this.report(
        root,
        `viewBox is ${JSON.stringify(root.attributes.viewBox)}; it must be four numbers, the last two above 0`,
      );
    this.walk(root, { matrix: IDENTITY, kind: undefined, data: {}, rule: 'nonzero' });
    return view;
  }

  read(): { level: DrawnLevel; compiled: CompiledLevel; warnings: Problem[] } {
    const { root, problems } = this;
    const view = this.scan();
    for (const { element, token, meant } of this.strays.slice(0, 5))
      this.report(element, `the class ${token} means nothing here; did you mean ${meant}?`, 'warning');
    problems.refuse();
    if (this.classes === 0)
      this.report(root, `no shape has a class that says what it is; the classes are ${KINDS.join(', ')}`);
    problems.refuse();
    const bounds: NonNullable<DrawnLevel['bounds']> = {};
    for (const side of SIDES) {
      const bound = root.attributes[`data-${side}`];
      if (bound === undefined) continue;
      if (bound === 'open' || bound === 'wall' || bound === 'wrap' || bound === 'out') bounds[side] = bound;
      else this.report(root, `data-${side} is ${JSON.stringify(bound)}; it must be open, wall, wrap or out`);
    }
    const title = root.children.find(({ name }) => name === 'title')?.text.trim();
    const level: DrawnLevel = {
      ...(title ? { title } : {}),
      yPoints: this.sign < 0 ? 'up' : 'down',
      outlines: this.outlines(),
      surfaces: this.surfaces,
      zones: this.zones,
      movers: this.movers,
      spawns: this.spawns,
      bounds,
      sources: this.sources.map(({ name, line, column }) => ({ name, line, column })),
      ...(view?.length === 4 ? { extent: this.extent(view) } : {}),
    };
    problems.refuse();
    try {
      const compiled = compileOutlines(level);
      if (compiled.spawns.size === 0)
        this.report(root, 'no spawn: draw a shape of class spawn where the feet shall be', 'warning');
      return { level, compiled, warnings: problems.warnings };
    } catch (error) {
      if (!(error instanceof LevelError)) throw error;
      this.report(this.placeOf(level, error.key), error.message);
      problems.refuse();
      throw error;
    }
  }

  /** The element that an error in the level's data is about. */
  private placeOf({ outlines }: DrawnLevel, key: string): SvgElement {
    const [group, index] = key.split('.');
    if (group === 'movers') return this.moverElements[Number(index)] ?? this.root;
    const source = group === 'outlines' ? outlines[Number(index)]?.source : undefined;
    const number = typeof source === 'number' ? source : source?.[0];
    return number === undefined ? this.root : (this.sources[number]?.element ?? this.root);
  }

  private readonly report: Report = (element, message, severity = 'error') => {
    this.problems.at(element, message, severity);
  };

  private collect(element: SvgElement): void {
    const { id } = element.attributes;
    for (const name of [id, element.attributes['data-name']])
      if (name !== undefined && isTaken(name))
        this.report(element, `nothing can be called ${name}: that name is taken in every program`);
    if (id !== undefined && !this.ids.has(id)) this.ids.set(id, element);
    for (const child of element.children) this.collect(child);
  }

  private positive(name: string, usual: number): number {
    const text = this.root.attributes[`data-${name}`];
    if (text === undefined) return usual;
    const value = Number(text);
    if (text.trim() !== '' && value > 0 && value < Infinity) return value;
    this.report(this.root, `data-${name} is ${JSON.stringify(text)}; it must be a number above 0`);
    return usual;
  }

  private extent([x, y, width, height]: readonly number[]): NonNullable<DrawnLevel['extent']> {
    const top = this.sign > 0 ? y! : -(y! + height!);
    return {
      x: x! / this.units + 0,
      y: top / this.units + 0,
      width: width! / this.units,
      height: height! / this.units,
    };
  }

  /** From the drawing's coordinates to the level's. */
  private place([x, y]: Point): Point {
    return [x / this.units + 0, (this.sign * y) / this.units + 0];
  }

  private walk(element: SvgElement, from: Inherited): void {
    if (isHidden(element)) return;
    const inherited = this.inherit(element, from);
    if (!inherited) return;
    if (!this.moving && classesOf(element).includes('mover')) this.mover(element, from.matrix, inherited);
    else if (element.name === 'use') this.follow(element, inherited);
    else if (SHAPES.includes(element.name)) this.shape(element, inherited);
    else if (element.name === 'g' && this.ownKind(element) === 'surface') this.surface(element, inherited.data);
    else if (GROUPS.includes(element.name)) for (const child of element.children) this.walk(child, inherited);
  }

  /** The kind that an element's own class names. */
  private ownKind(element: SvgElement): Kind | undefined {
    const tokens = classesOf(element);
    const kinds = KINDS.filter((kind): kind is Kind => tokens.includes(kind) && kind !== 'mover');
    if (kinds.length > 1) this.report(element, `it cannot be both ${kinds.join(' and ')}`);
    if (kinds.length === 0)
      for (const token of tokens) {
        if (token === 'mover') continue;
        const meant = token.length > 3 ? nearest(token, KINDS) : undefined;
        if (meant) this.strays.push({ element, token, meant });
      }
    return kinds[0];
  }

  private inherit(element: SvgElement, from: Inherited): Inherited | undefined {
    let { matrix } = from;
    const { transform } = element.attributes;
    if (transform !== undefined) {
      const own = readTransform(transform);
      if (!own) {
        this.report(element, `the transform ${JSON.stringify(transform.slice(0, 60))} cannot be read`);
        return undefined;
      }
      matrix = multiply(matrix, own);
    }
    const data: Record<string, string> = { ...from.data };
    for (const [name, value] of Object.entries(element.attributes))
      if (name.startsWith('data-')) data[name.slice(5)] = value;
    const rule = styled(element, 'fill-rule') ?? from.rule;
    return { matrix, kind: this.ownKind(element) ?? from.kind, data, rule: rule === 'evenodd' ? 'evenodd' : 'nonzero' };
  }

  private follow(element: SvgElement, inherited: Inherited): void {
    const href = element.attributes.href ?? '';
    const target = href.startsWith('#') ? this.ids.get(href.slice(1)) : undefined;
    if (!target) return this.report(element, `use points to ${JSON.stringify(href)}, which is not in this drawing`);
    if (this.using.includes(target) || isWithin(element, target))
      return this.report(element, `use points to ${href}, which it is itself a part of`);
    if (++this.uses > MOST_USES) {
      if (this.uses === MOST_USES + 1) this.report(element, `the drawing follows use more than ${MOST_USES} times`);
      return;
    }
    if (this.using.length >= DEEPEST_USE) return this.report(element, `use is nested more than ${DEEPEST_USE} deep`);
    const [x, y] = [readLength(element.attributes.x ?? '0'), readLength(element.attributes.y ?? '0')];
    if (!Number.isFinite(x + y)) return this.report(element, 'x and y of a use must be lengths');
    this.using.push(target);
    const moved = { ...inherited, matrix: multiply(inherited.matrix, [1, 0, 0, 1, x, y]) };
    if (target.name === 'symbol') for (const child of target.children) this.walk(child, moved);
    else this.walk(target, moved);
    this.using.pop();
  }

  private shape(element: SvgElement, { matrix, kind, data, rule }: Inherited): void {
    if (kind === undefined) return;
    this.classes++;
    if (this.moving && kind !== 'solid' && kind !== 'one-way')
      return this.report(element, `a mover holds solid and one-way shapes, and no ${kind}`);
    checkData(element, DATA, this.report);
    if (kind === 'surface') return this.surface(element, data);
    if (kind === 'spawn') return this.spawn(element, matrix, data);
    let strokes: Stroke[];
    try {
      strokes = outlineOf(element, matrix, this.tolerance);
    } catch (error) {
      if (!(error instanceof OutlineError)) throw error;
      return this.report(element, error.message);
    }
    const rings = strokes.filter(({ closed }) => closed).map(({ points }) => points.map((point) => this.place(point)));
    const lines = strokes.filter(({ closed }) => !closed).map(({ points }) => points.map((point) => this.place(point)));
    const far = [...rings, ...lines].some((points) =>
      points.some(([x, y]) => !(Math.abs(x) <= 67108864 && Math.abs(y) <= 67108864)),
    );
    if (far) return this.report(element, 'it reaches beyond ±67108864 units');
    this.note(element, matrix, kind, strokes.map(({ points, closed }) => ({ points: points.map((point) => this.place(point)), closed }))); // prettier-ignore
    const carry = carryOf(element, data);
    const id = this.carries.push(carry) - 1;
    this.sources.push({
      name: element.attributes.id ?? element.name,
      line: element.line,
      column: element.column,
      element,
    });
    for (const points of lines) {
      if (kind === 'zone') this.report(element, 'a zone must be an area', 'warning');
      else if (points.length >= 2)
        this.open.push({
          form: kind === 'one-way' ? 'one-way' : element.name === 'line' ? 'line' : 'ground',
          points,
          carry,
          source: id,
        });
    }
    if (rings.length === 0) {
      if (lines.length === 0) this.report(element, 'it has no points; left out', 'warning');
      return;
    }
    const area: Area = { rings, rule, id };
    const made = this.tried(() => simplify(area));
    if (!made) return;
    const { rings: simple, crossed } = made;
    if (simple.length === 0) return this.report(element, 'it has no area; left out', 'warning');
    if (crossed) this.report(element, 'its outline crosses itself; it is taken as its fill shows it', 'warning');
    if (kind === 'solid') this.areas.push({ area, group: JSON.stringify([carry.name, carry.layer]) });
    else if (kind === 'one-way')
      this.upperSides(
        simple.map((ring) => ring.map(({ X, Y }) => [X / 67108864, Y / 67108864] as const)),
        carry,
        id,
      );
    else
      this.zones.push(
        zoneOf(
          element,
          data,
          simple.map((ring) => ring.map(({ X, Y }) => [X / 67108864, Y / 67108864] as const)),
          `zone ${this.zones.length + 1}`,
          this.report,
        ),
      );
  }

  /** Remembers where a shape stands; what is drawn by `use` stands in many places. */
  private note(element: SvgElement, matrix: Matrix, kind: DrawnShape['kind'], strokes: Stroke[]): void {
    if (this.using.length === 0) this.drawn.push({ element, matrix, kind, mover: this.moverName, strokes });
  }

  /** Shapes that move together, and their way. */
  private mover(element: SvgElement, around: Matrix, inherited: Inherited): void {
    this.classes++;
    checkData(element, [...DATA, 'policy'], this.report);
    const name = element.attributes.id;
    if (name === undefined) return this.report(element, 'a mover needs an id: its name');
    const policy = element.attributes['data-policy'] as Mover['policy'];
    if (policy !== undefined && !POLICIES.includes(policy))
      return this.report(element, `data-policy is ${JSON.stringify(policy)}; it must be ${POLICIES.join(', ')}`);
    const motions = element.children.filter((child) => child.name === 'animateMotion');
    if (motions.length > 1) return this.report(motions[1]!, 'a mover has one animateMotion');
    const { areas, open } = this;
    [this.areas, this.open, this.moving, this.moverName] = [[], [], true, name];
    // What says nothing of itself in a mover is solid.
    const within = { ...inherited, kind: inherited.kind ?? ('solid' as const) };
    if (SHAPES.includes(element.name)) this.shape(element, within);
    else for (const child of element.children) this.walk(child, within);
    const shapes = this.outlines();
    [this.areas, this.open, this.moving, this.moverName] = [areas, open, false, ''];
    if (shapes.length === 0) return this.report(element, `the mover ${name} has no shapes`);
    const [motion] = motions;
    const route = motion && routeOf(motion, around, (point) => this.place(point), this.report);
    this.movers.push({ name, shapes, ...(route ? { route } : {}), ...(policy ? { policy } : {}) });
    this.moverElements.push(motion ?? element);
  }

  /** Of an area that blocks from above only, what looks up. */
  private upperSides(rings: readonly (readonly Point[])[], carry: Carry, source: number): void {
    for (const ring of rings) {
      let area = 0;
      ring.forEach(([x, y], i) => {
        const [nx, ny] = ring[(i + 1) % ring.length]!;
        area += (x * ny - nx * y) * -this.sign;
      });
      // Going round with the inside on the right, what looks up goes towards +x.
      const points = area > 0 ? [...ring].reverse() : [...ring];
      const isUp = (i: number): boolean => points[(i + 1) % points.length]![0] > points[i]![0];
      const first = points.findIndex((_, i) => isUp(i) && !isUp((i + points.length - 1) % points.length));
      if (first < 0) continue;
      let run: Point[] = [];
      for (let k = 0; k <= points.length; k++) {
        const i = (first + k) % points.length;
        if (k < points.length && isUp(i)) {
          if (run.length === 0) run.push(points[i]!);
          run.push(points[(i + 1) % points.length]!);
        } else if (run.length > 0) {
          this.open.push({ form: 'one-way', points: run, carry, source });
          run = [];
        }
      }
    }
  }

  private spawn(element: SvgElement, matrix: Matrix, data: Readonly<Record<string, string>>): void {
    const at = (name: string): number => readLength(element.attributes[name] ?? '0');
    const round = element.name === 'circle' || element.name === 'ellipse';
    if (!round && element.name !== 'rect')
      return this.report(
        element,
        `a spawn must be a circle (its middle is where the feet are) or a rect (its lower middle), not a ${element.name}`,
      );
    const [x, y] = round ? [at('cx'), at('cy')] : [at('x') + at('width') / 2, at('y') + at('height')];
    const place = this.place(apply(matrix, x, y));
    const facing = data.facing === undefined ? 1 : Number(data.facing);
    if (!place.every(Number.isFinite)) return this.report(element, 'the place of this spawn cannot be read');
    if (facing !== 1 && facing !== -1)
      return this.report(element, `data-facing is ${JSON.stringify(data.facing)}; it must be 1 or -1`);
    const name = element.attributes.id ?? 'start';
    if (Object.hasOwn(this.spawns, name)) return this.report(element, `there are two spawns named ${name}`);
    this.spawns[name] = { at: place, facing };
    this.note(element, matrix, 'spawn', [{ points: [place], closed: false }]);
  }

  /** What a surface does stands on an element of that class; its id is the name. */
  private surface(element: SvgElement, data: Data): void {
    this.classes++;
    const read = surfaceOf(element, data, this.report);
    if (read) this.surfaces[element.attributes.id!] = read;
  }

  /** Areas are united, those of each named shape and layer apart; lines are not. */
  private outlines(): Outline[] {
    const groups = new Map<string, Area[]>();
    for (const { area, group } of this.areas) {
      const list = groups.get(group);
      if (list) list.push(area);
      else groups.set(group, [area]);
    }
    const outlines: Outline[] = [];
    for (const areas of groups.values()) {
      const united = this.tried(() =>
        outlinesOf(
          areas,
          (id) => this.carries[id]!,
          (id) => id,
        ),
      );
      for (const outline of united ?? []) outlines.push(outline);
    }
    return [...outlines, ...this.open];
  }

  /** What cannot be united is said of the element that it is about. */
  private tried<T>(make: () => T): T | undefined {
    try {
      return make();
    } catch (error) {
      if (!(error instanceof UniteError)) throw error;
      this.report(this.sources[error.id]?.element ?? this.root, error.message);
      return undefined;
    }
  }
}

function classesOf(element: SvgElement): string[] {
  return (element.attributes.class ?? '').split(/\s+/).filter(Boolean);
}

function isWithin(element: SvgElement, around: SvgElement): boolean {
  for (let at = element.parent; at; at = at.parent) if (at === around) return true;
  return false;
}

/** A property that may stand as an attribute or in the style. */
function styled(element: SvgElement, property: string): string | undefined {
  for (const part of (element.attributes.style ?? '').split(';')) {
    const colon = part.indexOf(':');
    if (colon >= 0 && part.slice(0, colon).trim() === property) return part.slice(colon + 1).trim();
  }
  return element.attributes[property]?.trim();
}

function isHidden(element: SvgElement): boolean {
  return styled(element, 'display') === 'none';
}
