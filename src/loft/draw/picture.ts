import type { Motion } from 'apperin';
import type { Camera } from './camera.js';
import type { Predicted } from '../model/prediction.js';
import type { ShownWay } from '../model/shown.js';
import type { Picture, Reach } from './scene.js';
import { inLevel } from './laid.js';
import { drawBody } from './body.js';
import { drawGround } from './ground.js';
import { drawFitting } from './fitting.js';
import { drawPieces } from './pieces.js';
import { drawSurvey } from './survey.js';
import { drawBox, drawTrails } from './trails.js';
import { write } from './words.js';

/** Draws the level and everything over it. @param now s */
export function drawPicture(pen: CanvasRenderingContext2D, picture: Picture, now: number): void {
  const { session, camera, colours } = picture;
  const { hero, steps, looking } = session;
  const seen = hero.view(steps.between);
  const past = looking !== undefined && !session.take ? session.at(looking) : undefined;
  const at =
    past ?? (looking !== undefined && session.live ? session.at(looking, session.live.trail) : undefined) ?? seen;
  camera.keep(at.x, at.y);
  pen.lineJoin = 'round';
  pen.setLineDash([]);
  pen.fillStyle = colours.sky;
  pen.fillRect(0, 0, camera.width, camera.height);
  drawGround(pen, picture);
  if (session.overlays.has('edges')) drawEdges(pen, picture);
  if (session.overlays.has('envelope') && picture.reach) drawReach(pen, picture, seen.x, seen.y, seen.facing);
  if (picture.asking) drawSurvey(pen, picture, picture.asking);
  if (picture.moving.isOn) drawPieces(pen, picture, picture.moving);
  drawFitting(pen, picture, picture.fitting, now);
  drawTrails(pen, picture, now);
  if (picture.predicted) drawPredicted(pen, picture);
  if (picture.shown) drawShown(pen, picture, seen.x, seen.y, seen.facing);
  drawBody(pen, picture, seen, now);
  if (past) drawBox(pen, camera, past, colours.mark, [4, 3]);
  if (session.overlays.has('hitbox')) {
    pen.strokeStyle = colours.ink;
    pen.lineWidth = 1.5;
    drawHull(pen, camera, hero.motion, hero.x, hero.y, hero.height);
    pen.stroke();
  }
  if (session.overlays.has('support')) drawSupport(pen, picture);
  if (session.overlays.has('grace')) drawGrace(pen, picture);
  if (session.overlays.has('velocity')) {
    const [x, y] = camera.at(seen.x, seen.y - (seen.height / 2) * camera.down);
    arrow(pen, x, y, x + hero.vx * 0.1 * camera.scale, y + hero.vy * 0.1 * camera.scale * camera.down, colours.mark);
  }
}

function drawEdges(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const { terrain } = session.level;
  const up = session.level.yPoints === 'up' ? 1 : -1;
  const [left, top] = camera.under(0, 0);
  const [right, bottom] = camera.under(camera.width, camera.height);
  const [low, high] = [Math.min(top, bottom), Math.max(top, bottom)];
  pen.strokeStyle = colours.mark;
  pen.lineWidth = 1.2;
  pen.beginPath();
  for (let e = 0; e < terrain.setUntil[0]!; e++) {
    const [x1, y1, x2, y2] = [terrain.x1[e]!, terrain.y1[e]! * up, terrain.x2[e]!, terrain.y2[e]! * up];
    if (Math.max(x1, x2) < left || Math.min(x1, x2) > right || Math.max(y1, y2) < low || Math.min(y1, y2) > high) continue; // prettier-ignore
    pen.moveTo(...camera.at(x1, y1));
    pen.lineTo(...camera.at(x2, y2));
    const [mx, my] = camera.at((x1 + x2) / 2, (y1 + y2) / 2);
    pen.moveTo(mx, my);
    pen.lineTo(mx + terrain.nx[e]! * 9, my - terrain.ny[e]! * 9);
  }
  pen.stroke();
}

function drawHull(pen: CanvasRenderingContext2D, camera: Camera, motion: Motion, x: number, y: number, height: number): void {
  const { half } = motion;
  const bevel = motion.full.body.bevel;
  const up = -camera.down;
  const corners = [[-half + bevel, 0], [half - bevel, 0], [half, bevel], [half, height], [-half, height], [-half, bevel]]; // prettier-ignore
  pen.beginPath();
  corners.forEach(([dx, dy], i) => {
    const [px, py] = camera.at(x + dx!, y + dy! * up);
    if (i === 0) pen.moveTo(px, py);
    else pen.lineTo(px, py);
  });
  pen.closePath();
} // prettier-ignore

const predictedPaths = new WeakMap<Predicted, Path2D>();

/** What will happen from here: as it was before the number was touched, dashed, and as it is. */
function drawPredicted(pen: CanvasRenderingContext2D, { camera, colours, predicted }: Picture): void {
  const { before, after } = predicted!;
  const draw = (way: Predicted | undefined, colour: string, width: number, dash: readonly number[]): void => {
    if (!way) return;
    let path = predictedPaths.get(way);
    if (!path) predictedPaths.set(way, (path = new Path2D(way.path)));
    const [px, py] = camera.at(way.from.x, way.from.y);
    pen.strokeStyle = colour;
    pen.save();
    pen.translate(px, py);
    pen.scale(camera.scale, camera.scale * camera.down);
    pen.lineWidth = width / camera.scale;
    pen.setLineDash(dash.map((length) => length / camera.scale));
    pen.stroke(path);
    pen.restore();
  };
  draw(before?.full, colours.before, 2.5, [6, 4]);
  draw(before?.tap, colours.before, 1.5, [6, 4]);
  draw(after.full, colours.after, 2.5, []);
  draw(after.tap, colours.after, 1.5, [2, 3]);
  draw(after.stop, colours.after, 1, [1, 3]);
  draw(before?.glide, colours.before, 1.5, [8, 3]);
  draw(after.glide, colours.after, 1.5, [8, 3]);
} // prettier-ignore

const shownPaths = new WeakMap<ShownWay, Path2D>();

function drawShown(pen: CanvasRenderingContext2D, { session, camera, colours, shown, predicted }: Picture, x: number, y: number, facing: number): void {
  const { ways, solids, marks, bodies } = shown!;
  pen.strokeStyle = colours.faint;
  pen.lineWidth = 1;
  for (const [x1, y1, x2, y2] of predicted ? [] : solids) {
    const [px, py] = camera.at(x + (facing > 0 ? x1 : -x2), y - y2 * camera.down);
    pen.strokeRect(px, py, (x2 - x1) * camera.scale, (y2 - y1) * camera.scale);
  }
  (predicted ? [] : ways).forEach((way, i) => {
    const { motion } = way;
    const last = i === ways.length - 1;
    let path = shownPaths.get(way);
    if (!path) shownPaths.set(way, (path = new Path2D(way.path)));
    pen.strokeStyle = last ? colours.after : colours.before;
    inLevel(pen, camera, x, y, (pixel) => {
      pen.scale(1, -camera.down);
      pen.lineWidth = 2.5 * pixel;
      pen.setLineDash(last ? [] : [6 * pixel, 4 * pixel]);
      pen.stroke(path);
    }, facing);
    if (!bodies) return;
    pen.strokeStyle = last ? colours.after : colours.before;
    drawHull(pen, camera, motion, x, y, motion.height);
    pen.stroke();
  });
  if (bodies && ways.length === 0) {
    pen.strokeStyle = colours.after;
    pen.lineWidth = 2.5;
    drawHull(pen, camera, session.document.motion, x, y, session.document.motion.height);
    pen.stroke();
  }
  for (const { x1, y1, x2, y2, text: words, before } of marks) {
    const from = camera.at(x + x1 * facing, y - y1 * camera.down);
    const to = camera.at(x + x2 * facing, y - y2 * camera.down);
    pen.strokeStyle = before ? colours.before : colours.mark;
    pen.globalAlpha = before ? 0.6 : 1;
    pen.lineWidth = before ? 10 : 5;
    pen.beginPath();
    pen.moveTo(...from);
    pen.lineTo(...to);
    pen.stroke();
    pen.globalAlpha = 1;
    if (!before) write(pen, camera, words, Math.max(from[0], to[0]), Math.min(from[1], to[1]) - 6, colours.ink, colours.sky);
  }
} // prettier-ignore

/** What can be reached, y up. */
const reached = new WeakMap<Reach, { area: Path2D; outline: Path2D }>();

function drawReach(pen: CanvasRenderingContext2D, { camera, colours, reach }: Picture, x: number, y: number, facing: number): void {
  const paths = reached.get(reach!) ?? { area: new Path2D(reach!.area), outline: new Path2D(reach!.outline) };
  reached.set(reach!, paths);
  pen.fillStyle = colours.zone;
  pen.strokeStyle = colours.mark;
  const up = (): void => {
    pen.scale(1, -camera.down);
    pen.fill(paths.area);
    pen.lineWidth = 1.5 / camera.scale;
    pen.stroke(paths.outline);
  };
  inLevel(pen, camera, x, y, up, facing);
} // prettier-ignore

function drawSupport(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const { hero } = session;
  if (hero.support !== 'ground') return;
  const [x, y] = camera.at(hero.x, hero.y);
  const half = hero.motion.half * camera.scale;
  const tilt = hero.slope * camera.down;
  pen.strokeStyle = colours.mark;
  pen.lineWidth = 4;
  pen.beginPath();
  pen.moveTo(x - half, y + half * tilt);
  pen.lineTo(x + half, y - half * tilt);
  pen.stroke();
  const length = Math.hypot(1, hero.slope);
  arrow(pen, x, y, x + (-hero.slope * 26) / length, y - 26 / length, colours.mark);
}

function drawGrace(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const { hero } = session;
  const { half, height } = hero.motion;
  const { grace } = hero.motion.full;
  const facing = hero.view(session.steps.between).facing;
  const bar = (x1: number, y1: number, x2: number, y2: number): void => {
    pen.moveTo(...camera.at(hero.x + x1, hero.y - y1 * camera.down));
    pen.lineTo(...camera.at(hero.x + x2, hero.y - y2 * camera.down));
  };
  pen.strokeStyle = colours.mark;
  pen.lineWidth = 3;
  pen.beginPath();
  bar(half, height, half + grace.corner, height);
  bar(-half, height, -half - grace.corner, height);
  bar(half * facing, 0, half * facing, grace.lip);
  bar(half * facing, 0, (half + hero.motion.ground.speed * grace.coyote) * facing, 0);
  pen.stroke();
}

function arrow(pen: CanvasRenderingContext2D, x1: number, y1: number, x2: number, y2: number, colour: string): void {
  const angle = Math.atan2(y2 - y1, x2 - x1);
  pen.strokeStyle = colour;
  pen.lineWidth = 2;
  pen.beginPath();
  pen.moveTo(x1, y1);
  pen.lineTo(x2, y2);
  for (const turn of [2.7, -2.7]) {
    pen.moveTo(x2, y2);
    pen.lineTo(x2 + 8 * Math.cos(angle + turn), y2 + 8 * Math.sin(angle + turn));
  }
  pen.stroke();
}
