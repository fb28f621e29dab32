import { arcsFigure, pngOf, timeFigure } from 'apperin-tools/figures';
import { arcs, timeCurves } from 'apperin/lab';

const bytes = (text: string): Uint8Array<ArrayBuffer> =>
  Uint8Array.from(atob(text), (character) => character.charCodeAt(0));
const base64 = (data: Uint8Array): string => btoa(Array.from(data, (byte) => String.fromCharCode(byte)).join(''));

/** Makes the figures in the page; bytes go in and out as base64. */
Object.assign(window, {
  async figures(wasm: string, font: string) {
    const svg = arcsFigure([arcs('brindle', {})]);
    const png = await pngOf(svg, { wasm: bytes(wasm), fonts: [bytes(font)] }, 400);
    return { arcs: svg, time: timeFigure([timeCurves('brindle', {})]), png: base64(png) };
  },
});
