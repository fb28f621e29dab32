import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { arcsFigure, pngOf, timeFigure } from 'apperin-tools/figures';
import { arcs, timeCurves } from 'apperin/lab';
import { expect } from 'chai';
import { openBrowser } from '../support/browser.js';
import { bundle } from '../support/bundle.js';
import { fully } from '../support/share.js';

const require = createRequire(import.meta.url);

describe('Figures in a browser', () => {
  fully('are the same text and the same pixels as in Node', async () => {
    const wasm = readFileSync(require.resolve('@resvg/resvg-wasm/index_bg.wasm'));
    const font = readFileSync(require.resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf'));
    const browser = await openBrowser();
    try {
      const page = await browser.newPage();
      await page.addScriptTag({ content: await bundle('figures-page.ts') });
      const made = (await page.evaluate(
        ([wasmText, fontText]) =>
          (
            window as unknown as {
              figures(wasm: string, font: string): Promise<{ arcs: string; time: string; png: string }>;
            }
          ).figures(wasmText!, fontText!),
        [wasm.toString('base64'), font.toString('base64')],
      )) as { arcs: string; time: string; png: string };
      const svg = arcsFigure([arcs('brindle', {})]);
      expect(made.arcs).to.equal(svg);
      expect(made.time).to.equal(timeFigure([timeCurves('brindle', {})]));
      expect(made.png).to.equal(Buffer.from(await pngOf(svg, { wasm, fonts: [font] }, 400)).toString('base64'));
    } finally {
      await browser.close();
    }
  });
});
