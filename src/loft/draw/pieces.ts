import type { DrawnPiece } from 'apperin/files';
import type { Moving, Part } from '../model/moving.js';
import type { Camera } from './camera.js';
import type { Picture } from './scene.js';

/** What of the level can be moved: every piece outlined, the touched one with its corners, and what is under the pointer. */
export function drawPieces(pen: CanvasRenderingContext2D, { camera, colours }: Pick<Picture, 'camera' | 'colours'>, moving: Moving): void {
  const { pieces, part, over } = moving;
  pieces.forEach((piece, i) => {
    const isTouched = part?.piece === i;
    pen.strokeStyle = isTouched || over?.piece === i ? colours.mark : colours.ink;
    pen.lineWidth = isTouched ? 2.5 : over?.piece === i ? 2 : 0.8;
    pen.setLineDash(piece.kind === 'zone' ? [2, 3] : piece.mover === '' ? [] : [8, 3]);
    outline(pen, camera, piece);
  });
  pen.setLineDash([]);
  for (const one of [part, over]) if (one && pieces[one.piece]) drawPart(pen, camera, pieces[one.piece]!, one, colours.mark);
  const touched = part && pieces[part.piece];
  if (!touched) return;
  pen.fillStyle = colours.sky;
  pen.strokeStyle = colours.mark;
  pen.lineWidth = 1.5;
  for (const corner of touched.corners) {
    const [x, y] = camera.at(...corner);
    pen.fillRect(x - 4, y - 4, 8, 8);
    pen.strokeRect(x - 4, y - 4, 8, 8);
  }
} // prettier-ignore

function outline(pen: CanvasRenderingContext2D, camera: Camera, { outlines, kind }: DrawnPiece): void {
  pen.beginPath();
  for (const { points, closed } of outlines) {
    points.forEach((point, i) => {
      const [x, y] = camera.at(...point);
      if (kind === 'spawn') pen.arc(x, y, 6, 0, 2 * Math.PI);
      else if (i === 0) pen.moveTo(x, y);
      else pen.lineTo(x, y);
    });
    if (closed) pen.closePath();
  }
  pen.stroke();
}

/** An edge or a corner that is taken hold of. */
function drawPart(pen: CanvasRenderingContext2D, camera: Camera, { corners }: DrawnPiece, { edge, corner }: Part, colour: string): void {
  pen.strokeStyle = pen.fillStyle = colour;
  if (edge !== undefined && corners[edge]) {
    pen.lineWidth = 5;
    pen.beginPath();
    pen.moveTo(...camera.at(...corners[edge]));
    pen.lineTo(...camera.at(...corners[(edge + 1) % corners.length]!));
    pen.stroke();
  }
  if (corner === undefined || !corners[corner]) return;
  const [x, y] = camera.at(...corners[corner]);
  pen.fillRect(x - 6, y - 6, 12, 12);
} // prettier-ignore
