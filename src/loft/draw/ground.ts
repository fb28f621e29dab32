import { routePath } from '../../figures/route.js';
import type { Camera } from './camera.js';
import type { Colours } from './colours.js';
import { isSeen, inLevel, layOut, strokeLaid, type Laid } from './laid.js';
import type { Picture } from './scene.js';
import { write } from './words.js';

type Level = Picture['session']['level'];

const laid = new WeakMap<object, Laid>();

/** The level by kind: zones, what is solid or one-way, surfaces, what moves with its route; and ramps, where a number is about them. */
export function drawGround(pen: CanvasRenderingContext2D, picture: Picture): void {
  const { session, camera, colours, shown } = picture;
  const { level } = session;
  drawZones(pen, picture);
  drawRoutes(pen, level, camera, colours);
  for (const shape of session.stage.shapes(session.steps.between)) {
    if (!shape.on) continue;
    const isSolid = shape.form === 'solid';
    let outline = laid.get(shape.points);
    if (!outline) laid.set(shape.points, (outline = layOut([shape.points.map(([x, y]) => ({ x, y }))], isSolid)));
    if (!isSeen(outline, camera, shape.x, shape.y)) continue;
    if (isSolid) {
      const { path, x, y } = outline;
      pen.fillStyle = shape.mover ? colours.mover : colours.solid;
      inLevel(pen, camera, x + shape.x, y + shape.y, () => pen.fill(path));
    } else {
      pen.strokeStyle = shape.mover ? colours.mover : colours.edge;
      strokeLaid(pen, camera, outline, 3, shape.form === 'one-way' ? [6, 4] : [], shape.x, shape.y);
    }
  }
  pen.setLineDash([]);
  drawSurfaces(pen, level, camera, colours);
  nameZones(pen, picture);
  if (shown?.ramps) drawRamps(pen, picture);
}

const zonePaths = new WeakMap<object, Path2D>();

/** So far from the middle of the picture stripes are drawn, pixels. */
const STRIPED = 4000;

/** Zones are shaded; what is tagged as a hazard has the colour of danger, and stripes. */
function drawZones(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const { level, stage } = session;
  const up = level.yPoints === 'up' ? 1 : -1;
  level.zones.forEach((zone, i) => {
    if (!stage.zones[i]?.on) return;
    let path = zonePaths.get(zone);
    if (!path) {
      path = new Path2D();
      for (const { corners } of zone.pieces) {
        for (let k = 0; k < corners.length; k += 2) path[k === 0 ? 'moveTo' : 'lineTo'](corners[k]!, corners[k + 1]! * up);
        path.closePath();
      }
      zonePaths.set(zone, path);
    }
    const isDanger = zone.tags.includes('hazard');
    inLevel(pen, camera, 0, 0, (pixel) => {
      pen.fillStyle = isDanger ? colours.danger : colours.zone;
      pen.globalAlpha = isDanger ? 0.14 : 1;
      pen.fill(path);
      if (!isDanger) return;
      // Stripes, that it can be told without colour.
      pen.clip(path);
      const [x1, x2] = [Math.min(...zone.pieces.map((piece) => piece.left)), Math.max(...zone.pieces.map((piece) => piece.right))];
      const [y1, y2] = [Math.min(...zone.pieces.map((piece) => piece.bottom)), Math.max(...zone.pieces.map((piece) => piece.top))].map((y) => y * up).sort((a, b) => a - b) as [number, number];
      pen.globalAlpha = 0.5;
      pen.strokeStyle = colours.danger;
      pen.lineWidth = pixel;
      pen.beginPath();
      for (let x = Math.max(x1 - (y2 - y1), camera.x - STRIPED * pixel); x < Math.min(x2, camera.x + STRIPED * pixel); x += 12 * pixel) {
        pen.moveTo(x, y1);
        pen.lineTo(x + (y2 - y1), y2);
      }
      pen.stroke();
    });
    pen.globalAlpha = 1;
  });
} // prettier-ignore

/** What zones are called, over the ground that may lie on them. */
function nameZones(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const up = session.level.yPoints === 'up' ? 1 : -1;
  session.level.zones.forEach((zone, i) => {
    if (!session.stage.zones[i]?.on) return;
    const left = Math.min(...zone.pieces.map((piece) => piece.left));
    const top = Math.max(...zone.pieces.map((piece) => piece.top)) * up;
    const words = [zone.name, ...zone.tags].filter((word, k, all) => word !== '' && all.indexOf(word) === k).join(', ');
    const [x, y] = camera.at(left, top);
    if (words !== '' && x > -200 && x < camera.width && y > -20 && y < camera.height) write(pen, camera, words, x, y + 14, zone.tags.includes('hazard') ? colours.danger : colours.ink, colours.sky);
  });
} // prettier-ignore

/** Where what moves goes, dotted. */
function drawRoutes(pen: CanvasRenderingContext2D, level: Level, camera: Camera, colours: Colours): void {
  level.movers.forEach((mover, i) => {
    const { box } = mover;
    const up = level.yPoints === 'up' ? 1 : -1;
    let path = zonePaths.get(mover);
    if (!path) zonePaths.set(mover, (path = new Path2D(routePath(level, i, (x, y) => `${x},${y}`))));
    inLevel(pen, camera, (box[0] + box[2]) / 2, ((box[1] + box[3]) / 2) * up, (pixel) => {
      pen.strokeStyle = colours.mover;
      pen.lineWidth = 1.5 * pixel;
      pen.setLineDash([2 * pixel, 5 * pixel]);
      pen.stroke(path);
      pen.setLineDash([]);
    });
  });
}

/** How thick a surface is drawn, and how far apart its marks are, pixels. */
const THICK = 5;
const APART = 16;

/** What the ground does, along its edge: slick as bare line, sticky as dots, moving as arrowheads, bouncing as waves; with its name where there is room. */
function drawSurfaces(pen: CanvasRenderingContext2D, level: Level, camera: Camera, colours: Colours): void {
  const { terrain, surfaces } = level;
  const up = level.yPoints === 'up' ? 1 : -1;
  const named = new Set<string>();
  for (let e = 0; e < terrain.boundsFrom; e++) {
    const surface = surfaces[terrain.styles[terrain.style[e]!]!.surface]!;
    if (terrain.styles[terrain.style[e]!]!.surface === 0 || terrain.ny[e]! <= 0) continue;
    const [ax, ay] = camera.at(terrain.x1[e]!, terrain.y1[e]! * up);
    const [bx, by] = camera.at(terrain.x2[e]!, terrain.y2[e]! * up);
    if (Math.max(ax, bx) < 0 || Math.min(ax, bx) > camera.width) continue;
    pen.save();
    pen.translate(ax, ay);
    pen.rotate(Math.atan2(by - ay, bx - ax));
    const length = Math.hypot(bx - ax, by - ay);
    const flows = (surface.flow ?? 0) * (bx >= ax ? 1 : -1);
    pen.strokeStyle = pen.fillStyle = colours.mark;
    pen.lineWidth = 2;
    pen.beginPath();
    pen.moveTo(0, 0);
    pen.lineTo(length, 0);
    pen.stroke();
    for (let at = APART / 2; at < length; at += APART) {
      pen.beginPath();
      if (flows !== 0) {
        pen.moveTo(at - 4 * Math.sign(flows), THICK - 3);
        pen.lineTo(at, THICK);
        pen.lineTo(at - 4 * Math.sign(flows), THICK + 3);
      } else if (surface.bounce !== 0) pen.arc(at, THICK + 1, 4, Math.PI, 0);
      else if (surface.grip < 1) {
        pen.moveTo(at - 4, THICK);
        pen.lineTo(at + 4, THICK);
      } else pen.arc(at, THICK, 1.5, 0, 2 * Math.PI);
      pen.stroke();
    }
    pen.restore();
    if (named.has(surface.name) || length < 50) continue;
    named.add(surface.name);
    write(pen, camera, surface.name, (ax + bx) / 2, (ay + by) / 2 + 22, colours.mark, colours.solid);
  }
} // prettier-ignore

/** Ramps that can be stood on, and those that cannot, with the limit that a number says. */
function drawRamps(pen: CanvasRenderingContext2D, { session, camera, colours }: Picture): void {
  const { terrain } = session.level;
  const limit = Math.tan((session.document.motion.full.slope.steepest * Math.PI) / 180);
  const up = session.level.yPoints === 'up' ? 1 : -1;
  for (let e = 0; e < terrain.setUntil[0]!; e++) {
    const [nx, ny] = [terrain.nx[e]!, terrain.ny[e]!];
    if (ny <= 1e-6 || Math.abs(nx) < 1e-6) continue;
    const holds = Math.abs(nx / ny) <= limit + 1e-9;
    pen.strokeStyle = holds ? colours.after : colours.before;
    pen.setLineDash(holds ? [] : [5, 4]);
    pen.lineWidth = 4;
    pen.beginPath();
    pen.moveTo(...camera.at(terrain.x1[e]!, terrain.y1[e]! * up));
    pen.lineTo(...camera.at(terrain.x2[e]!, terrain.y2[e]! * up));
    pen.stroke();
  }
  pen.setLineDash([]);
}
