/** The preview's scenes by themselves: layers over each other by their weight, each with what is done to it alone. */
import { build } from 'esbuild';
import { resolve } from 'node:path';
import type { PreviewRenderer } from '../app/preview/renderer';
import type { SceneLayer } from '../app/preview/scene';
import { expect, test } from './test';

declare const preview: { PreviewRenderer: typeof PreviewRenderer };

/** The renderer as a script for a page of its own. */
async function script(): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: ['app/preview/renderer.ts'],
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'preview',
    alias: { '~': resolve('app') },
  });
  return outputFiles[0]!.text;
}

test('layers are drawn one over the other, in their parts and by their weight', async ({ page }) => {
  await page.goto('about:blank');
  await page.setContent('<canvas></canvas>');
  await page.addScriptTag({ content: await script() });
  const seen = await page.evaluate(async () => {
    const canvas = document.querySelector('canvas')!;
    const renderer = new preview.PreviewRenderer(canvas, { width: 200, height: 100 });
    const flat = (level: number) => {
      const picture = new ImageData(64, 32);
      picture.data.fill(level).forEach((_, i) => i % 4 === 3 && (picture.data[i] = 255));
      return picture;
    };
    renderer.layer('dark').setPicture(flat(40));
    renderer.layer('bright').setPicture(flat(200));
    const view = { pan: 0, tilt: 0, roll: 0, fov: 75, bend: 0, shiftX: 0, shiftY: 0 };
    const correction = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;
    const layer = (id: string, weight: number, part = {}, looks = 1): SceneLayer => ({
      ...{ id, weight, before: null, detail: null },
      panes: [
        {
          ...{ view, correction, left: 0, top: 0, width: 1, height: 1 },
          ...part,
          looks: () => new Array<typeof view>(looks).fill(view),
        },
      ],
    });
    const levels = async (layers: SceneLayer[]) => {
      renderer.show({ layers, clipped: false });
      while (canvas.dataset.still !== 'yes') await new Promise(requestAnimationFrame);
      const gl = canvas.getContext('webgl2')!;
      return [20, 150].map((x) => {
        const pixel = new Uint8Array(4);
        gl.readPixels(x, 50, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel);
        return pixel[0]!;
      });
    };
    const right = { left: 0.5, width: 0.5 };
    const drawn = [
      await levels([layer('dark', 1)]),
      await levels([layer('dark', 1), layer('bright', 0.5)]),
      // With several looks it goes by way of codes, and is laid over as well.
      await levels([layer('dark', 1), layer('bright', 0.25, {}, 3)]),
      await levels([layer('dark', 1), layer('bright', 1, right)]),
      await levels([layer('bright', 0.5, right)]),
    ];
    // What was given back is not drawn, and can be had anew.
    renderer.giveBack('bright');
    drawn.push(await levels([layer('dark', 1), layer('bright', 1)]));
    renderer.layer('bright').setPicture(flat(120));
    drawn.push(await levels([layer('dark', 1), layer('bright', 1)]));
    return drawn;
  });
  const near = (levels: number[], wanted: number[]) =>
    levels.forEach((level, i) => expect(Math.abs(level - wanted[i]!)).toBeLessThanOrEqual(2));
  near(seen[0]!, [40, 40]);
  near(seen[1]!, [120, 120]);
  near(seen[2]!, [80, 80]);
  near(seen[3]!, [40, 200]);
  near(seen[4]!, [0, 100]);
  near(seen[5]!, [40, 40]);
  near(seen[6]!, [120, 120]);
});
