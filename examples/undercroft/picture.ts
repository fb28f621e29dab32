import type { Character, StageEvent, View } from 'apperin';
import { drawStage } from 'apperin/browser';
import type { Game, Room } from './game.js';

const BRASS = '#c7923f';
const CLAW = '#c0553a';
/** The air of each room, from above to below. */
const AIR: Record<Room, readonly [string, string]> = { cellar: ['#18211f', '#3c4a42'], cistern: ['#0f2027', '#2b4c55'], belfry: ['#1d1c2b', '#4b4660'] }; // prettier-ignore

/** The picture of the game: a camera, light, and a little dust, which is nobody's state. */
export class Picture {
  /** Draws what the controller knows over it. */
  bones = false;
  private x = NaN;
  private y = NaN;
  private shake = 0;
  private room: Room | '' = '';
  private readonly specks: { x: number; y: number; vx: number; vy: number; left: number; size: number; colour: string }[] = [];
  private readonly stone: CanvasPattern;

  constructor(private readonly pen: CanvasRenderingContext2D) {
    const tile = Object.assign(document.createElement('canvas'), { width: 64, height: 64 });
    const on = tile.getContext('2d')!;
    on.fillStyle = '#26312f';
    on.fillRect(0, 0, 64, 64);
    for (const [x, y, width, shade] of [[1, 1, 62, '#2d3937'], [1, 33, 30, '#2a3533'], [33, 33, 30, '#303d3a']] as const) {
      on.fillStyle = shade;
      on.fillRect(x, y, width, 30);
    }
    this.stone = pen.createPattern(tile, 'repeat')!;
    this.stone.setTransform(new DOMMatrix().scale(1 / 32));
  }

  /** What is seen of what happens. */
  sees({ event, x, y, speed, side }: Readonly<StageEvent>, who: Character, other: Character | undefined): void {
    if (event === 'meet') this.shake = 0.25;
    if (event === 'meet' && other?.groups.includes('crabs') && (side === 'bottom' || who.groups.includes('pebbles'))) this.puff(other.x, other.y - 0.3, 14, CLAW);
    if (!who.groups.includes('brindle')) return;
    if (event === 'touchdown' && speed > 6) this.puff(x, y, speed / 2.5, '#b8b09a');
    if (event === 'takeoff') this.puff(x, y, 4, '#9a9684');
    if (event === 'dashOn') this.puff(x - 0.3 * who.facing, y - 0.6, 9, BRASS);
    if (event === 'stroke') this.puff(x, y - 0.4, 5, '#9fd0d6');
    if (event === 'bump' && side === 'head') this.puff(x, y - 1.4, 8, '#8f7a53');
  }

  private puff(x: number, y: number, count: number, colour: string): void {
    for (let i = 0; i < count; i++) {
      const [angle, speed] = [Math.random() * Math.PI * 2, 0.5 + 2.5 * Math.random()];
      this.specks.push({ x, y, vx: Math.cos(angle) * speed, vy: -Math.abs(Math.sin(angle)) * speed, left: 0.3 + 0.4 * Math.random(), size: 0.05 + 0.1 * Math.random(), colour });
    }
  }

  draw(game: Game, between: number, seconds: number, time: number): void {
    const { pen } = this;
    const { stage, hero, here } = game;
    const { width, height } = pen.canvas;
    const view = hero.view(between);
    const scale = width / 24;
    const [x, y] = this.follow(game, view, width / scale, height / scale, seconds, time);
    const air = pen.createLinearGradient(0, 0, 0, height);
    AIR[here].forEach((colour, i) => air.addColorStop(i, colour));
    pen.setTransform(1, 0, 0, 1, 0, 0);
    pen.fillStyle = air;
    pen.fillRect(0, 0, width, height);
    pen.setTransform(scale, 0, 0, scale, width / 2 - x * scale, height / 2 - y * scale);
    // Arches far behind go half as fast.
    pen.strokeStyle = AIR[here][0];
    pen.lineWidth = 0.9;
    for (let at = x * 0.5 - 28; at < x * 0.5 + 40; at += 7) pen.stroke(new Path2D(`M${at} 40 V${y} a3.5 3.5 0 0 1 7 0 V40`));
    for (const { tags, pieces, on } of stage.zones) if (on || tags.includes('bell')) this.zone(tags[0]!, boxOf(pieces.flat()), time);
    this.solids(game, between);
    for (const one of stage.characters) if (one !== hero) this.other(one, between, time);
    this.brindle(view, time);
    // How soon the next dash is there.
    const wait = hero.ability('dash').wait! / (0.14 + hero.motion.full.own.dash!.rest!);
    for (const [colour, share] of [['#0008', 1], [BRASS, 1 - wait]] as const) {
      pen.fillStyle = colour;
      if (wait > 0) pen.fillRect(view.x - 0.4, view.y - view.height - 0.35, 0.8 * share, 0.1);
    }
    this.dust(seconds);
    this.light(view.x, view.y - 0.9, 7, 0.16);
    if (this.bones) drawStage(pen, stage, { between });
  }

  /** Where the camera is: it follows, looks ahead, and is there at once in another room. */
  private follow({ here, stage }: Game, view: View, wide: number, high: number, seconds: number, time: number): readonly [number, number] {
    const { extent } = stage.level;
    const within = (at: number, from: number, size: number, seen: number): number => (size < seen ? from + size / 2 : Math.min(Math.max(at, from + seen / 2), from + size - seen / 2));
    const [x, y] = [view.x + 2 * view.facing, view.y - 1.5];
    const share = here === this.room ? 1 - Math.exp(-5 * seconds) : 1;
    this.x = share === 1 ? x : this.x + (x - this.x) * share;
    this.y = share === 1 ? y : this.y + (y - this.y) * share;
    this.room = here;
    this.shake *= Math.exp(-9 * seconds);
    return [within(this.x, extent.x, extent.width, wide) + this.shake * Math.sin(time * 90), within(this.y, extent.y, extent.height, high) + this.shake * Math.cos(time * 70)];
  }

  private solids({ stage }: Game, between: number): void {
    const { pen } = this;
    pen.lineJoin = 'round';
    for (const { form, points, x, y, on } of stage.shapes(between)) {
      if (!on) continue;
      const outline = new Path2D(`M${points.map(([px, py]) => `${px + x} ${py + y + (form === 'solid' ? 0 : 0.1)}`).join('L')}${form === 'solid' ? 'Z' : ''}`);
      pen.fillStyle = points.length === 4 ? '#7a6338' : this.stone;
      pen.strokeStyle = form === 'solid' ? '#5d6f69' : BRASS;
      pen.lineWidth = form === 'solid' ? 0.08 : 0.2;
      if (form === 'solid') pen.fill(outline);
      pen.stroke(outline);
    }
  }

  private zone(tag: string, [x, y, width, height]: readonly [number, number, number, number], time: number): void {
    const { pen } = this;
    const fill = (colour: string, path: string): void => {
      pen.fillStyle = colour;
      pen.fill(new Path2D(path));
    };
    const box = (colour: string, bx: number, by: number, bw: number, bh: number): void => fill(colour, `M${bx} ${by}h${bw}v${bh}h${-bw}Z`);
    const middle = x + width / 2;
    if (tag === 'penny') {
      pen.fillStyle = BRASS;
      pen.beginPath();
      pen.ellipse(middle, y + height / 2 + 0.06 * Math.sin(time * 3 + x), 0.05 + 0.19 * Math.abs(Math.cos(time * 2 + x)), 0.24, 0, 0, 7);
      pen.fill();
    } else if (tag === 'water') {
      const waves = Array.from({ length: 2 * width + 1 }, (_, i) => `L${x + i / 2} ${y + 0.08 * Math.sin(i + time * 2)}`).join('');
      fill('rgba(70, 150, 165, 0.45)', `M${x} ${y + height}${waves}V${y + height}Z`);
    } else if (tag === 'ladder') {
      for (const side of [0, width - 0.1]) box('#8a6f3c', x + side, y, 0.1, height);
      for (let rung = y + 0.3; rung < y + height; rung += 0.5) box('#8a6f3c', x, rung, width, 0.1);
    } else if (tag === 'door') fill('#0a0e0e', `M${x} ${y + height}v${-height}a${width / 2} ${width / 2} 0 0 1 ${width} 0v${height}Z`);
    else if (tag === 'bell') fill('#e0b44a', `M${x} ${y + 1.5}q0.4 -0.3 0.4 -0.8a0.4 0.5 0 0 1 0.8 0q0 0.5 0.4 0.8Z M${middle - 0.12} ${y + 1.5}h0.24v0.2h-0.24Z`);
    else if (tag === 'lantern') {
      box('#4d3f24', middle - 0.04, y + 0.6, 0.08, height - 0.6);
      box('#ffe0a0', middle - 0.15, y + 0.25, 0.3, 0.42);
      this.light(middle, y + 0.5, 4 + 0.15 * Math.sin(time * 7), 0.4);
    }
  }

  private brindle({ x, y, width, height, facing, pose, strides, landing, posePhase, stepLag }: View, time: number): void {
    const { pen } = this;
    const squash = pose === 'land' ? 1 - 0.35 * landing * (1 - posePhase) : pose === 'rise' ? 1.08 : 1;
    const swing = pose === 'run' ? Math.sin(strides * 2 * Math.PI) : pose === 'swim' || pose === 'ladder' ? Math.sin(time * 8) : 0.3;
    const box = (colour: string, bx: number, by: number, bw: number, bh: number, round = 0): void => {
      pen.fillStyle = colour;
      pen.beginPath();
      pen.roundRect(bx, by, bw, bh, round);
      pen.fill();
    };
    pen.save();
    pen.translate(x, y + stepLag);
    pen.scale(facing / Math.sqrt(squash), squash);
    pen.rotate(pose === 'dash' || pose === 'swim' ? 0.5 : pose === 'run' ? 0.1 : 0);
    pen.strokeStyle = '#4b3415';
    pen.lineWidth = 0.14;
    pen.lineCap = 'round';
    const lift = pose === 'fall' || pose === 'apex' ? 0.17 : 0.05;
    pen.stroke(new Path2D(`M0.1 -0.45L${0.1 + 0.28 * swing} ${-lift}M-0.1 -0.45L${-0.1 - 0.28 * swing} ${-lift}`));
    box(BRASS, -width * 0.45, -height * 0.78, width * 0.9, height * 0.5, 0.16);
    box(BRASS, -0.24, -height - 0.01, 0.54, 0.54, 0.27);
    box('#a8473a', -width * 0.42, -height * 0.8, width * 0.84, 0.13);
    box('#a8473a', -width * 0.8 - 0.06 * swing, -height * 0.8, 0.35, 0.1);
    box('#221a10', 0.12, -height + 0.17, 0.08, 0.12);
    pen.restore();
  }

  private other(one: Character, between: number, time: number): void {
    const { pen } = this;
    const { x, y, width, height } = one.view(between);
    const isCrab = one.groups.includes('crabs');
    pen.fillStyle = isCrab ? CLAW : '#d8d2c0';
    pen.strokeStyle = '#8d3a27';
    pen.lineWidth = 0.08;
    pen.beginPath();
    pen.ellipse(x, y - height / 2, width / 2, height / 2, 0, 0, 7);
    pen.fill();
    if (!isCrab) return;
    for (const k of [-1, -0.4, 0.4, 1]) pen.stroke(new Path2D(`M${x + k * 0.3} ${y - 0.25}L${x + k * 0.55} ${y - 0.06 * Math.abs(Math.sin(time * 14 + k * 3))}`));
    pen.fillStyle = '#f3ead2';
    for (const k of [-0.15, 0.15]) pen.fillRect(x + k - 0.05, y - height - 0.1, 0.1, 0.16);
  }

  private dust(seconds: number): void {
    const { pen, specks } = this;
    for (let i = specks.length; i-- > 0;) {
      const one = specks[i]!;
      if ((one.left -= seconds) <= 0) specks.splice(i, 1);
      one.vy += 5 * seconds;
      one.x += one.vx * seconds;
      one.y += one.vy * seconds;
      pen.globalAlpha = Math.max(0, Math.min(1, one.left * 3));
      pen.fillStyle = one.colour;
      pen.fillRect(one.x - one.size / 2, one.y - one.size / 2, one.size, one.size);
    }
    pen.globalAlpha = 1;
  }

  private light(x: number, y: number, reach: number, strength: number): void {
    const { pen } = this;
    const glow = pen.createRadialGradient(x, y, 0.1, x, y, reach);
    glow.addColorStop(0, `rgba(255, 205, 120, ${strength})`);
    glow.addColorStop(1, 'rgba(255, 205, 120, 0)');
    pen.globalCompositeOperation = 'lighter';
    pen.fillStyle = glow;
    pen.fillRect(x - reach, y - reach, 2 * reach, 2 * reach);
    pen.globalCompositeOperation = 'source-over';
  }
} // prettier-ignore

/** The box around points: left, top, width, height. */
function boxOf(points: readonly (readonly [number, number])[]): [number, number, number, number] {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
}
