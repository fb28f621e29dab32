import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { arcsFigure, pngOf, timeFigure } from 'apperin/figures';
import { arcs, timeCurves } from 'apperin/lab';
import { expect } from 'chai';
import { build, type Rolldown } from 'vite';
import { openBrowser } from '../support/browser.js';

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const require = createRequire(import.meta.url);

describe('Figures in a browser', () => {
  it('are the same text and the same pixels as in Node', async () => {
    const built = (await build({
      configFile: false,
      logLevel: 'silent',
      resolve: {
        alias: [
          { find: 'apperin/figures', replacement: here('../../dist/figures/index.js') },
          { find: 'apperin/lab', replacement: here('../../dist/lab/index.js') },
        ],
      },
      build: {
        write: false,
        minify: false,
        target: 'es2022',
        lib: { entry: here('../support/figures-page.ts'), formats: ['iife'], name: 'figuresPage' },
      },
    })) as Rolldown.RolldownOutput[];
    const wasm = readFileSync(require.resolve('@resvg/resvg-wasm/index_bg.wasm'));
    const font = readFileSync(require.resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf'));
    const browser = await openBrowser();
    try {
      const page = await browser.newPage();
      await page.addScriptTag({ content: built[0]!.output[0].code });
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
