/** The layout of the engine's memory: nothing lies over anything else; and when a view needs mip levels. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { frameBytes, planeSizes, YUV420, YUV444 } from '@glimbo/core/colour/pixels';
import { cameraOf, DEFAULT_VIEW } from '@glimbo/core/lens/view';
import { planMemory, type MemoryPlan } from '../src/memory.js';
import { needsMips } from '../src/mips.js';

/** Every block of a plan as from where to where. */
function blocks(plan: MemoryPlan, columns: number): [number, number, string][] {
  const found: [number, number, string][] = [[plan.weights, plan.weights + 8192, 'weights']];
  plan.scratch.forEach((s, worker) => {
    s.layers.forEach(({ camera, grid }, layer) => {
      found.push([camera, camera + 48 * 8, `camera ${worker}.${layer}`]);
      found.push([grid, grid + (columns + 3) * 19 * 24, `grid ${worker}.${layer}`]);
    });
    found.push([s.kernel, s.kernel + 448, `kernel ${worker}`]);
    if (!s.mixing) return;
    const { drawn, sums } = s.mixing;
    found.push([drawn.pointer, drawn.pointer + drawn.bytes, `drawn ${worker}`]);
    found.push([sums, sums + 2 * drawn.bytes, `sums ${worker}`]);
  });
  plan.sources.flat().forEach((slot, n) => {
    found.push([slot.pointer, slot.pointer + slot.bytes, `source ${n}`]);
    for (const levels of slot.planes)
      for (const level of levels.slice(1))
        found.push([level.pointer, level.pointer + level.width * level.height, `level of ${n}`]);
  });
  plan.targets.forEach((slot, n) => found.push([slot.pointer, slot.pointer + slot.bytes, `target ${n}`]));
  return found.sort((a, b) => a[0] - b[0]);
}

const even = (least: number, most: number) => fc.integer({ min: least / 2, max: most / 2 }).map((n) => n * 2);

describe('memory', () => {
  test('has room for everything, and nothing lies over anything else', () => {
    fc.assert(
      fc.property(
        even(64, 1200),
        even(32, 600),
        even(16, 700),
        even(16, 700),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 4 }),
        fc.boolean(),
        fc.boolean(),
        (width, height, across, down, workers, ring, full, mixing) => {
          const target = { width: across, height: down };
          const format = full ? YUV444 : YUV420;
          const sources = [
            { width, height, format: YUV420 },
            { width: 640, height: 320, format: YUV420 },
          ];
          const plan = planMemory({ sources, target, format, workers, ring, mixing });
          const all = blocks(plan, Math.ceil(across / 8));
          expect(all[0]![0]).toBeGreaterThanOrEqual(16384);
          for (const [i, [from, , name]] of all.entries())
            if (i) expect([name, from >= all[i - 1]![1]]).toEqual([name, true]);
          expect(plan.size).toBeGreaterThanOrEqual(all.at(-1)![1]);
          expect(plan.targets[0]!.bytes).toBe(full ? across * down * 3 : frameBytes(YUV420, across, down));
        },
      ),
      { numRuns: 60 },
    );
  });

  test('counts 4:2:0 planes as ffmpeg does, odd sides too', () => {
    expect(frameBytes(YUV420, 1920, 960)).toBe(1920 * 960 * 1.5);
    expect(planeSizes(YUV420, 5, 3)).toEqual([
      { width: 5, height: 3 },
      { width: 3, height: 2 },
      { width: 3, height: 2 },
    ]);
  });

  test('mip levels halve until they are too small to be of use', () => {
    const { sources } = planMemory({
      sources: [{ width: 256, height: 128, format: YUV420 }],
      target: { width: 64, height: 64 },
      format: YUV420,
      workers: 1,
      ring: 1,
    });
    const [luma, chroma] = sources[0]![0]!.planes;
    expect(luma!.map((l) => l.width)).toEqual([256, 128, 64, 32, 16]);
    expect(luma!.at(-1)!.height).toBe(8);
    expect(chroma!.map((l) => l.width)).toEqual([128, 64, 32, 16]);
  });
});

describe('mip levels', () => {
  const view = (change: object) => cameraOf({ ...DEFAULT_VIEW, ...change }, 1920, 1080);
  test('are needed where a pixel covers more than one of the source, and only there', () => {
    expect(needsMips(view({ fov: 40 }), 3840)).toBe(false);
    expect(needsMips(view({ fov: 40 }), 7680 * 2)).toBe(true);
    expect(needsMips(view({ fov: 270, bend: 1 }), 3840)).toBe(true);
    expect(needsMips(view({ fov: 290, bend: 2.4 }), 3840)).toBe(true);
    expect(needsMips({ sphere: true, width: 1920, height: 960 }, 3840)).toBe(true);
    expect(needsMips({ sphere: true, width: 3840, height: 1920 }, 3840)).toBe(false);
  });

  test('once needed stay needed as the view widens', () => {
    let before = false;
    for (let fov = 10; fov <= 140; fov += 2) {
      const now = needsMips(view({ fov }), 3840);
      expect([fov, before && !now]).toEqual([fov, false]);
      before = now;
    }
    expect(before).toBe(true);
  });
});
