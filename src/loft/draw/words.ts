import type { Camera } from './camera.js';

const widths = new Map<string, number>();

/** How wide words are, pixels. */
function widthOf(pen: CanvasRenderingContext2D, words: string): number {
  const known = widths.get(words);
  if (known !== undefined) return known;
  // Words with numbers in them come and go.
  if (widths.size > 500) widths.clear();
  const { width } = pen.measureText(words);
  widths.set(words, width);
  return width;
}

/** Words at a place of the picture, on a halo; nothing is cut off at the right. */
export function write(
  pen: CanvasRenderingContext2D,
  camera: Camera,
  words: string,
  x: number,
  y: number,
  colour: string,
  halo: string,
): void {
  pen.font = '12px system-ui, sans-serif';
  x = Math.min(x, camera.width - widthOf(pen, words) - 10);
  pen.lineWidth = 4;
  pen.strokeStyle = halo;
  pen.strokeText(words, x + 4, y);
  pen.fillStyle = colour;
  pen.fillText(words, x + 4, y);
}
