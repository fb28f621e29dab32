import type { Ghost, Sample } from '../model/take.js';
import type { Camera } from './camera.js';
import { DASHES, type Colours } from './colours.js';
import { layOut, strokeLaid, type Laid } from './laid.js';
import type { Picture } from './scene.js';
import { write } from './words.js';

/** Kinds of phase can be told without colour: thick and thin. */
const PHASE_WIDTH: Readonly<Record<string, number>> = {
  ground: 2,
  jump: 4,
  airJump: 4,
  fall: 2,
  glide: 5,
  wall: 5,
  hang: 5,
  dive: 3,
};

/** Of a body's height: a trail is drawn this closely. */
const FINE = 1 / 400;

/** The way that a body went, and the ways of ghosts with where they are. */
export function drawTrails(pen: CanvasRenderingContext2D, picture: Picture, now: number): void {
  const { session, camera, colours, calm } = picture;
  drawPast(pen, picture);
  const { take } = session;
  if (!take) return;
  const time = calm && session.looking === undefined ? take.to : session.ghostTime(now);
  const all = [...session.ghosts, ...(session.live ? [session.live] : [])];
  const ends: { x: number; y: number }[] = [];
  all.forEach((ghost, i) => {
    const isLive = ghost === session.live;
    const colour = isLive ? colours.after : colours.ghosts[i % 4]!;
    const dash = isLive ? [] : DASHES[i % 4]!;
    pen.strokeStyle = colour;
    strokeLaid(pen, camera, wayOf(ghost), isLive ? 2.5 : 2, dash);
    const at = session.at(time, ghost.trail);
    if (!at) return;
    pen.globalAlpha = 0.3;
    pen.fillStyle = colour;
    const [x, y] = camera.at(at.x - at.width / 2, at.y);
    pen.fillRect(x, y - at.height * camera.scale, at.width * camera.scale, at.height * camera.scale);
    pen.globalAlpha = 1;
    drawBox(pen, camera, at, colour, dash);
    const end = ghost.trail[ghost.trail.length - 1]!;
    const [ex, ey] = camera.at(end.x, end.y);
    let ty = ey + 16;
    while (ends.some((other) => Math.abs(other.y - ty) < 15 && Math.abs(other.x - ex) < 140)) ty += 15;
    ends.push({ x: ex, y: ty });
    write(pen, camera, isLive ? `${ghost.name}, now` : ghost.name, ex, ty, colour, colours.sky);
  });
}

/** What was played in the last three seconds, each phase in its own way where that is asked for. */
function drawPast(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const { samples, rate, overlays } = session;
  const first = Math.max(0, samples.length - Math.round(3 * rate));
  const phases = overlays.has('phases');
  pen.strokeStyle = colours.faint;
  pen.lineWidth = 1.5;
  for (let from = first; from + 1 < samples.length;) {
    let to = from + 1;
    const { phase } = samples[to]!;
    while (to + 1 < samples.length && (!phases || samples[to + 1]!.phase === phase)) to++;
    if (phases) {
      pen.lineWidth = PHASE_WIDTH[phase] ?? 3;
      pen.strokeStyle = phaseColour(phase, colours);
    }
    pen.beginPath();
    for (let i = from; i <= to; i++) {
      const at = samples[i]!;
      const [px, py] = camera.at(at.x, at.y);
      if (i === from || isJumpedTo(samples[i - 1]!, at)) pen.moveTo(px, py);
      else pen.lineTo(px, py);
    }
    pen.stroke();
    from = to;
  }
}

const ways = new WeakMap<Ghost, Laid>();

/** The way of a ghost: one that changes is another ghost. */
function wayOf(ghost: Ghost): Laid {
  let way = ways.get(ghost);
  if (!way) {
    const { trail } = ghost;
    const lines: Sample[][] = [];
    trail.forEach((at, i) => {
      if (i === 0 || isJumpedTo(trail[i - 1]!, at)) lines.push([at]);
      else lines.at(-1)!.push(at);
    });
    way = layOut(lines, false, (trail[0]?.height ?? 1) * FINE);
    ways.set(ghost, way);
  }
  return way;
}

/** A place that was jumped to is no way. */
function isJumpedTo(from: Sample, to: Sample): boolean {
  return Math.abs(from.x - to.x) + Math.abs(from.y - to.y) > 4 * from.height;
}

function phaseColour(phase: string, colours: Colours): string {
  if (phase === 'ground') return colours.faint;
  if (phase === 'fall') return colours.before;
  if (phase === 'jump' || phase === 'airJump') return colours.after;
  return colours.mark;
}

export function drawBox(
  pen: CanvasRenderingContext2D,
  camera: Camera,
  at: Sample,
  colour: string,
  dash: readonly number[],
): void {
  const [x, y] = camera.at(at.x - at.width / 2, at.y);
  pen.strokeStyle = colour;
  pen.lineWidth = 2;
  pen.setLineDash(dash as number[]);
  pen.strokeRect(x, y - at.height * camera.scale, at.width * camera.scale, at.height * camera.scale);
  pen.setLineDash([]);
}
