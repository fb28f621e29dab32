import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { pngOf } from '../figures/index.js';
import { CallError } from './exit.js';
import type { Shared } from './options.js';
import { refuseOutput, writeNamedOr } from './write.js';

/** Writes a figure as SVG or PNG. @returns the file */
export async function writeFigure(kind: string, svg: string, options: Shared & { width?: number }): Promise<string> {
  const file = figureFile(kind, options);
  const { format = file.endsWith('.png') ? 'png' : 'svg' } = options;
  return writeNamedOr(options.out, file, 'figure', format === 'svg' ? svg : await toPng(svg, options.width));
}

/** Where a figure goes; what is wrong with that is said before the work. */
export function figureFile(kind: string, options: Shared): string {
  const format = options.format ?? (options.out?.endsWith('.png') ? 'png' : 'svg');
  if (format !== 'svg' && format !== 'png') throw new CallError(`--format ${format}: it must be svg or png`);
  const out = options.out ?? `${kind}.${format}`;
  if (out !== '-' && !/\.(svg|png)$/.test(out)) throw new CallError(`--out ${out}: its name must end in .svg or .png`);
  if (out !== '-' && !out.endsWith(format)) throw new CallError(`--out ${out} and --format ${format} disagree`);
  if (options.out !== undefined) refuseOutput(out, 'figure');
  return out;
}

/** A figure as PNG, with the font and the rasteriser that come with the package. */
export async function toPng(svg: string, width?: number): Promise<Uint8Array> {
  const require = createRequire(import.meta.url);
  const wasm = readFileSync(require.resolve('@resvg/resvg-wasm/index_bg.wasm'));
  const fonts = ['DejaVuSans.ttf', 'DejaVuSans-Bold.ttf'].map((name) =>
    readFileSync(new URL(`../fonts/${name}`, import.meta.url)),
  );
  return pngOf(svg, { wasm, fonts }, width);
}
