import {
  BUILT_IN_MARKS,
  compileOutlines,
  outlineOf,
  rowsOf,
  spawnOf,
  type Carry,
  type CompiledLevel,
  type DrawnLevel,
  type Mark,
  type Mover,
  type Outline,
  type Route,
  type Surface,
  type WrittenLevel,
  type Zone,
} from '../../core/index.js';
import { ConvertError } from './rows.js';

type Point = readonly [number, number];

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (one) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[one]!);
const attribute = (name: string, value: unknown): string =>
  value === undefined || value === false ? '' : ` ${name}="${escaped(String(value))}"`;

/** The corners of a run of tiles, in tiles, y down: whole ones are as long as the run. */
function corners(mark: Mark, run: number): Point[] {
  return outlineOf(mark, 'marks').points.map(([x, y]) => [x === 1 ? run : x, 1 - y]);
}

function carried(carry: Carry): string {
  return (
    attribute('data-surface', carry.surface) +
    attribute('data-layer', carry.layer) +
    attribute('data-name', carry.name) +
    attribute('data-no-wall', carry['no-wall']) +
    attribute('data-no-ledge', carry['no-ledge'])
  );
}

/** Whole solid tiles of one mark, in tiles. */
interface Block {
  left: number;
  right: number;
  top: number;
  bottom: number;
  mark: Mark;
}

/**
 * A level as a drawing: in rows, one shape for each block of whole solid tiles and for each run of other marks; of free shapes, one for each area and line.
 * @param extent of free shapes
 * @throws ConvertError where free shapes carry what a drawing cannot say
 * @example
 * ```ts
 * drawingOf({ rows: ['@..', '###'] }) // an SVG
 * ```
 */
export function drawingOf(level: WrittenLevel | DrawnLevel, extent?: CompiledLevel['extent']): string {
  if (!('rows' in level)) return drawingOfShapes(level, extent ?? compileOutlines(level).extent);
  const { tile = 1, origin = [0, 0], yPoints = 'down' } = level;
  const rows = rowsOf(level.rows);
  const up = yPoints === 'up';
  const height = rows.length;
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  // In a drawing y points down; where the level's points up, its places are turned over.
  const top = up ? -(origin[1] + height * tile) : origin[1];
  const marks = { ...BUILT_IN_MARKS, ...level.marks };
  const px = (x: number): number => origin[0] + x * tile;
  const py = (y: number): number => (up ? -(origin[1] + (height - y) * tile) + 0 : origin[1] + y * tile);
  const sign = up ? -1 : 1;
  const shapes: (string | Block)[] = [];
  /** Blocks of whole solid tiles that go down to the row before, by where they begin and end. */
  let above = new Map<string, Block>();
  let start: string | undefined;
  rows.forEach((text, row) => {
    const here: typeof above = new Map();
    for (let column = 0; column < text.length;) {
      const character = text[column]!;
      const mark = marks[character];
      if (character === '@' && start === undefined)
        start = `  <circle class="spawn" id="start" cx="${px(column + 0.5)}" cy="${py(row + 1)}" r="${tile / 8}"/>`;
      if (!mark) {
        column++;
        continue;
      }
      if (mark.zone !== undefined || mark.each === true) {
        // Each cell by itself: in a drawing they are shapes and zones like any other.
        const name = mark.each === true ? `${mark.name} ${column},${row}` : mark.name;
        const points = corners(mark, 1).map(([x, y]) => `${px(column + x)},${py(row + y)}`);
        if (mark.zone !== undefined) {
          const y = up ? origin[1] + (height - row - 1) * tile : origin[1] + row * tile;
          shapes.push(...zoneShapes({ ...mark.zone, ...(name === undefined ? {} : { name }), box: [px(column), y, tile, tile] }, sign)); // prettier-ignore
        } else
          shapes.push(
            mark['one-way'] === undefined
              ? `  <polygon class="solid" points="${points.join(' ')}"${carried({ ...mark, ...(name === undefined ? {} : { name }) })}/>`
              : `  <polyline class="one-way" points="${points.join(' ')}"${carried({ ...mark, ...(name === undefined ? {} : { name }) })}/>`,
          );
        column++;
        continue;
      }
      // One-way ground under a whole solid tile is nothing to stand on.
      const isBuried = (at: number): boolean =>
        mark['one-way'] === 'full' && row > 0 && marks[rows[row - 1]![at] ?? '.']?.solid === 'full';
      if (isBuried(column)) {
        column++;
        continue;
      }
      let run = 1;
      const joins = mark.solid === 'full' || mark['one-way'] === 'full';
      while (joins && text[column + run] === character && !isBuried(column + run)) run++;
      if (mark.solid === 'full') {
        const across = `${character} ${column} ${run}`;
        let block = above.get(across);
        if (block) block.bottom = row + 1;
        else shapes.push((block = { left: column, right: column + run, top: row, bottom: row + 1, mark }));
        here.set(across, block);
        column += run;
        continue;
      }
      const points = corners(mark, run).map(([x, y]) => `${px(column + x)},${py(row + y)}`);
      shapes.push(
        mark['one-way'] === undefined
          ? `  <polygon class="solid" points="${points.join(' ')}"${carried(mark)}/>`
          : `  <polyline class="one-way" points="${points.join(' ')}"${carried(mark)}/>`,
      );
      column += run;
    }
    above = here;
  });
  const drawn = shapes.map((shape) => {
    if (typeof shape === 'string') return shape;
    const { left, right, top: upper, bottom, mark } = shape;
    const points = [[left, upper], [right, upper], [right, bottom], [left, bottom]].map(([x, y]) => `${px(x!)},${py(y!)}`); // prettier-ignore
    return `  <polygon class="solid" points="${points.join(' ')}"${carried(mark)}/>`;
  });
  if (start !== undefined && level.spawns?.start === undefined) drawn.push(start);
  const view = [origin[0], top, width * tile, height * tile];
  return framed(level, view, tile, drawn);
}

/** What rows and free shapes have alike, around the shapes; `view` is the extent as the drawing has it, with y down. */
function framed(level: WrittenLevel | DrawnLevel, view: readonly number[], tile: number, shapes: readonly string[]): string {
  const up = level.yPoints === 'up';
  const sign = up ? -1 : 1;
  const more: string[] = [];
  for (const [name, written] of Object.entries(level.spawns ?? {})) {
    const spawn = spawnOf(written);
    more.push(`  <circle class="spawn"${attribute('id', name)} cx="${spawn.at[0]}" cy="${spawn.at[1] * sign + 0}" r="${tile / 8}"${attribute('data-facing', spawn.facing)}/>`);
  }
  for (const [name, surface] of Object.entries(level.surfaces ?? {})) more.push(`  <g class="surface"${attribute('id', name)}${surfaceData(surface)}/>`);
  for (const zone of level.zones ?? []) more.push(...zoneShapes(zone, sign));
  for (const mover of level.movers ?? []) more.push(...moverShapes(mover, sign));
  const bounds = Object.entries(level.bounds ?? {}).map(([side, bound]) => attribute(`data-${side}`, bound));
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${view.join(' ')}"${up ? ' data-y-points="up"' : ''}${bounds.join('')}>`,
    ...(level.title ? [`  <title>${escaped(level.title)}</title>`] : []),
    '  <style>.solid { fill: #b9c0bd } .one-way { fill: none; stroke: #8a6f3c; stroke-width: 0.1 } .zone { fill: #3f6b2b; fill-opacity: 0.15 }</style>',
    ...shapes,
    ...more,
    '</svg>',
    '',
  ].join('\n');
} // prettier-ignore

/** How thick what is solid all around is in a drawing, units: nothing gets through it to see where it ends. */
const AROUND = 4;

/**
 * A level of free shapes as a drawing.
 * @throws ConvertError where an area carries different things on different sides, which no drawing can say of one shape
 */
function drawingOfShapes(level: DrawnLevel, { x, y, width, height }: CompiledLevel['extent']): string {
  const sign = level.yPoints === 'up' ? -1 : 1;
  const shown = (points: readonly Point[]): string => points.map(([px, py]) => `${px},${py * sign + 0}`).join(' ');
  const carryOf = ({ carry }: Outline): string => {
    const all = [carry ?? {}].flat().map((one) => carried(one as Carry));
    const other = all.find((one) => one !== all[0]);
    if (other !== undefined) throw new ConvertError('areas that touch carry different things (a surface, a name, a layer): they are one area by now, which a drawing can only give one of each'); // prettier-ignore
    return all[0] ?? '';
  };
  const shapes: string[] = [];
  const areas = new Map<string, string[]>();
  const solids = level.outlines.filter(({ form }) => form === 'solid');
  for (const outline of level.outlines) {
    const { form, points } = outline;
    const what = carryOf(outline);
    if (form === 'solid' || form === 'hole') {
      const rings = areas.get(what) ?? [];
      // What nothing is solid around but all the rest of the world is framed.
      if (form === 'hole' && !solids.some((solid) => isWithin(points[0]!, solid.points))) rings.push(shown(frameOf(points)));
      areas.set(what, [...rings, shown(points)]);
    } else if (form === 'line') for (let i = 1; i < points.length; i++) shapes.push(`  <line class="solid" x1="${points[i - 1]![0]}" y1="${points[i - 1]![1] * sign + 0}" x2="${points[i]![0]}" y2="${points[i]![1] * sign + 0}"${what}/>`);
    else shapes.push(`  <polyline class="${form === 'ground' ? 'solid' : 'one-way'}" points="${shown(points)}"${what}/>`);
  }
  for (const [what, rings] of areas) shapes.unshift(`  <path class="solid" fill-rule="evenodd" d="${rings.map((ring) => `M${ring}Z`).join(' ')}"${what}/>`);
  return framed(level, [x, sign < 0 ? -(y + height) : y, width, height], 1, shapes);
} // prettier-ignore

/** A box around points, some way off. */
function frameOf(points: readonly Point[]): Point[] {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, right, top, bottom] = [Math.min(...xs) - AROUND, Math.max(...xs) + AROUND, Math.min(...ys) - AROUND, Math.max(...ys) + AROUND]; // prettier-ignore
  return [[left, top], [right, top], [right, bottom], [left, bottom]]; // prettier-ignore
}

/** Whether a point is within an outline: sides to its right are counted. */
function isWithin([x, y]: Point, outline: readonly Point[]): boolean {
  let within = false;
  outline.forEach(([x1, y1], i) => {
    const [x2, y2] = outline[(i + 1) % outline.length]!;
    if (y1 > y !== y2 > y && x < x1 + ((y - y1) * (x2 - x1)) / (y2 - y1)) within = !within;
  });
  return within;
}

/** A mover as a group with its shapes and its `animateMotion`. */
function moverShapes({ name, shapes, route, policy }: Mover, sign: number): string[] {
  const at = ([x, y]: Point): string => `${x},${y * sign + 0}`;
  // Areas of one kind are one path, so that holes stay holes. (What a united area carries is said by its first edge.)
  const areas = new Map<string, string[]>();
  const list: string[] = [];
  for (const { form, points, carry } of shapes) {
    const what = carried((Array.isArray(carry) ? (carry as readonly Carry[])[0] : (carry as Carry)) ?? {});
    const d = `M${points.map(at).join(' L')}`;
    if (form === 'solid' || form === 'hole') areas.set(what, [...(areas.get(what) ?? []), `${d} Z`]);
    else list.push(`    <path class="${form === 'one-way' ? 'one-way' : 'solid'}" d="${d}"${what}/>`);
  }
  for (const [what, d] of areas)
    list.unshift(`    <path class="solid" fill-rule="evenodd" d="${d.join(' ')}"${what}/>`);
  return [
    `  <g class="mover"${attribute('id', name)}${attribute('data-policy', policy)}>`,
    ...list,
    ...(route ? [motionOf(route, sign)] : []),
    '  </g>',
  ];
}

function motionOf({ curve, lap, phase, laps, ...keys }: Route, sign: number): string {
  const [first] = curve;
  const place = (x: number, y: number): string => `${x},${y * sign + 0}`;
  const path = curve.map((n) =>
    n.length === 4
      ? `L${place(n[2]!, n[3]!)}`
      : `C${place(n[2]!, n[3]!)} ${place(n[4]!, n[5]!)} ${place(n[6]!, n[7]!)}`,
  );
  const { keyPoints, keyTimes, keySplines } = keys;
  return [
    `    <animateMotion path="M${place(first![0]!, first![1]!)} ${path.join(' ')}" dur="${lap}s"`,
    phase === undefined ? '' : ` begin="${-phase}s"`,
    keyPoints ? ` keyPoints="${keyPoints.join(';')}"` : '',
    keyTimes ? ` keyTimes="${keyTimes.join(';')}"` : '',
    keySplines ? ` keySplines="${keySplines.map((one) => one.join(' ')).join(';')}"` : '',
    keyPoints || keySplines ? ` calcMode="${keySplines ? 'spline' : 'linear'}"` : '',
    laps === undefined ? ' repeatCount="indefinite"/>' : ` repeatCount="${laps}" fill="freeze"/>`,
  ].join('');
}

function surfaceData({ bounce, ...surface }: Surface): string {
  const numbers = Object.entries(surface).map(([key, value]) => attribute(`data-${key}`, value));
  if (typeof bounce === 'number') numbers.push(attribute('data-bounce', bounce));
  else if (bounce) numbers.push(attribute('data-bounce', bounce.share), attribute('data-bounce-from', bounce.from));
  return numbers.join('');
}

function zoneShapes(zone: Zone, sign: number): string[] {
  const data =
    attribute('data-tags', zone.tags?.join(' ') || undefined) +
    attribute('data-gravity', zone.gravity) +
    attribute('data-pace', zone.pace) +
    attribute('data-current', zone.current?.join(' '));
  const outlines: readonly (readonly Point[])[] = zone.box
    ? [[[zone.box[0], zone.box[1]], [zone.box[0] + zone.box[2], zone.box[1]], [zone.box[0] + zone.box[2], zone.box[1] + zone.box[3]], [zone.box[0], zone.box[1] + zone.box[3]]]] // prettier-ignore
    : (zone.pieces ?? []);
  const d = outlines.map((points) => `M ${points.map(([x, y]) => `${x} ${y * sign + 0}`).join(' L ')} Z`).join(' ');
  return [`  <path class="zone"${attribute('id', zone.name)} d="${d}"${data}/>`];
}
