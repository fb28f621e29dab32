import { Resvg, initWasm } from '@resvg/resvg-wasm';

/** What turning pictures into pixels needs: the rasteriser's module and a font, as bytes. */
export interface PngParts {
  wasm: BufferSource | WebAssembly.Module | Promise<Response> | Response;
  fonts: readonly Uint8Array[];
}

let ready: Promise<void> | undefined;

/**
 * A figure as PNG: the same pixels in Node and in a browser.
 * @param svg as made by this package
 * @param parts read from the package `@resvg/resvg-wasm` and this package's `fonts/`, or fetched in a browser
 * @param width pixels, 16 to 8192
 * @example
 * ```ts
 * const parts = { wasm: await (await fetch('resvg.wasm')).arrayBuffer(), fonts: [] };
 * await pngOf(arcsFigure([arcs('brindle', brindle)]), parts);
 * ```
 */
export async function pngOf(svg: string, parts: PngParts, width = 1280): Promise<Uint8Array> {
  if (!(width >= 16 && width <= 8192)) throw new RangeError(`width is ${width}; it must be 16 to 8192 pixels`);
  ready ??= initWasm(parts.wasm);
  await ready;
  const picture = new Resvg(svg, {
    fitTo: { mode: 'width', value: width },
    font: { fontBuffers: [...parts.fonts], defaultFontFamily: 'DejaVu Sans', sansSerifFamily: 'DejaVu Sans' },
  });
  const rendered = picture.render();
  const png = rendered.asPng();
  rendered.free();
  picture.free();
  return png;
}
