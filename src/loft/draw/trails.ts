import type { Ghost, Sample } from '../model/take.js';
import type { Camera } from './camera.js';
import { DASHES, phaseColour } from './colours.js';
import { within } from '../model/watched.js';
import { layPieces, strokeLaid, type Laid } from './laid.js';
import type { Picture } from './scene.js';
import { write } from './words.js';

/** Kinds of phase can be told without colour: thick and thin. */
const PHASE_WIDTH: Readonly<Record<string, number>> = { ground: 2, rise: 4, apex: 4, released: 3, fall: 2, ramp: 2, cap: 2, hang: 5, slide: 5, glide: 5, dive: 3, slip: 3 }; // prettier-ignore

/** The way that a body went, and the ways of ghosts with where they are. */
export function drawTrails(pen: CanvasRenderingContext2D, picture: Picture, now: number): void {
  const { session, camera, colours, calm } = picture;
  drawPast(pen, picture);
  const { take } = session;
  if (!take) return;
  const time = calm && session.looking === undefined ? take.to : session.ghostTime(now);
  const all = [...session.ghosts, ...(session.live ? [session.live] : [])];
  if (picture.asPressed) {
    pen.strokeStyle = colours.before;
    strokeLaid(pen, camera, wayOf(picture.asPressed), 2, [6, 4]);
    pen.setLineDash([]);
  }
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

/** What was played last is seen for so long, s. */
const LATELY = 3;

/** What was played last, each phase in its own way where that is asked for. */
function drawPast(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const { past, stage, overlays } = session;
  const lately = within(past.pieces, stage.time - LATELY, stage.time);
  const phases = overlays.has('phases');
  for (let from = 0, to = 0; from < lately.length; from = to) {
    const { phase } = lately[from]!;
    while (to < lately.length && (!phases || lately[to]!.phase === phase)) to++;
    pen.strokeStyle = phases ? phaseColour(phase, colours) : colours.faint;
    strokeLaid(pen, camera, layPieces(lately.slice(from, to)), phases ? (PHASE_WIDTH[phase] ?? 3) : 1.5);
  }
}

const ways = new WeakMap<Ghost, Pick<Laid, 'path' | 'x' | 'y'>>();

/** The way of a ghost: one that changes is another ghost. */
function wayOf(ghost: Ghost): Pick<Laid, 'path' | 'x' | 'y'> {
  let way = ways.get(ghost);
  if (!way) ways.set(ghost, (way = layPieces(ghost.pieces)));
  return way;
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
