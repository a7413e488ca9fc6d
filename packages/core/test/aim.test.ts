/** Aiming by hand, and the lens presets. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dragAim, dragAlong, nudgeTilt, type Pixel } from '../src/lens/aim.js';
import { applyPreset, isPlanet, isPreset, LENS_PRESETS, presetInWords } from '../src/lens/presets.js';
import { cameraOf, DEFAULT_VIEW, directionAt, type View } from '../src/lens/view.js';
import { angleBetween } from '../src/geometry/rotation.js';

const [W, H] = [1600, 900];
const flat: View = { ...DEFAULT_VIEW, fov: 75 };

/** Drags from a pixel along a way, in small steps as a pointer does; gives every view on the way. */
function drag(start: View, from: Pixel, to: Pixel, steps = 40): View[] {
  const grabbed = directionAt(cameraOf(start, W, H), from.x, from.y)!;
  const views = [start];
  let last = from;
  for (let i = 1; i <= steps; i++) {
    const p = { x: from.x + ((to.x - from.x) * i) / steps, y: from.y + ((to.y - from.y) * i) / steps };
    const view = views.at(-1)!;
    views.push({ ...view, ...dragAim(view, W, H, last, p, grabbed) });
    last = p;
  }
  return views;
}
const steps = (views: View[], name: 'pan' | 'tilt') =>
  views.slice(1).map((v, i) => Math.abs(v[name] - views[i]![name]));

describe('dragging the picture', () => {
  test('keeps the grabbed point under the pointer, away from the poles', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -20, max: 20, noNaN: true }),
        fc.double({ min: 40, max: 110, noNaN: true }),
        fc.double({ min: -200, max: 200, noNaN: true }),
        fc.double({ min: -120, max: 120, noNaN: true }),
        fc.constantFrom(0, 0.4, 1),
        (pan, tilt, fov, dx, dy, bend) => {
          const start = { ...flat, pan, tilt, fov, bend };
          const from = { x: 800, y: 450 };
          const to = { x: from.x + dx, y: from.y + dy };
          const grabbed = directionAt(cameraOf(start, W, H), from.x, from.y)!;
          const end = drag(start, from, to).at(-1)!;
          expect(angleBetween(directionAt(cameraOf(end, W, H), to.x, to.y)!, grabbed)).toBeLessThan(0.05);
        },
      ),
    );
  });

  test('stops at straight up and straight down, however far the pointer goes', () => {
    for (const up of [1, -1]) {
      let view = { ...flat, tilt: 10 * up };
      for (let pull = 0; pull < 8; pull++) {
        const way = drag(view, { x: 820, y: 450 - 300 * up }, { x: 840, y: 450 + 400 * up });
        for (const v of way) expect(Math.abs(v.tilt)).toBeLessThanOrEqual(90 + 1e-9);
        view = way.at(-1)!;
      }
      expect(view.tilt).toBeCloseTo(90 * up, 6);
    }
  });

  test('over a pole it turns calmly: never many degrees of pan at once, and none for a way straight across', () => {
    const start = { ...flat, tilt: 60 };
    const across = drag(start, { x: 800, y: 100 }, { x: 800, y: 880 });
    expect(Math.abs(across.at(-1)!.pan)).toBeLessThan(1);
    const beside = drag(start, { x: 800, y: 100 }, { x: 870, y: 880 }, 60);
    expect(Math.max(...steps(beside, 'pan'))).toBeLessThan(8);
    expect(Math.max(...steps(beside, 'tilt'))).toBeLessThan(4);
  });

  test('comes back from where typing has gone beyond a pole', () => {
    const beyond = { ...flat, tilt: 130 };
    const way = drag(beyond, { x: 800, y: 300 }, { x: 800, y: 700 });
    for (const v of way) expect(v.tilt).toBeLessThanOrEqual(130 + 1e-9);
  });

  test('is finite for any view and any pixels', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(
        number(-400, 400),
        number(-90, 90),
        number(-180, 180),
        number(5, 340),
        number(0, 4),
        number(0, W),
        number(0, H),
        number(0, W),
        number(0, H),
        (pan, tilt, roll, fov, bend, ax, ay, bx, by) => {
          const view = { ...flat, pan, tilt, roll, fov, bend };
          const grabbed = directionAt(cameraOf(view, W, H), ax, ay) ?? [0, 0, 1];
          const end = dragAim(view, W, H, { x: ax, y: ay }, { x: bx, y: by }, grabbed);
          expect(Number.isFinite(end.pan) && Number.isFinite(end.tilt)).toBe(true);
          expect(Math.abs(end.tilt)).toBeLessThanOrEqual(90 + 1e-9);
        },
      ),
    );
  });

  test('is held to pan or to tilt alone', () => {
    const start = { ...flat, pan: 30, tilt: -35 };
    const from = { x: 700, y: 400 };
    const to = { x: 1000, y: 460 };
    const across = dragAlong('pan', start, W, H, from, to);
    expect(across.tilt).toBe(-35);
    expect(across.pan).toBeLessThan(20);
    const up = dragAlong('tilt', start, W, H, from, to);
    expect(up.pan).toBe(30);
    expect(up.tilt).toBeGreaterThan(-35);
    expect(dragAlong('tilt', { ...start, tilt: 80 }, W, H, { x: 800, y: 100 }, { x: 800, y: 800 }).tilt).toBe(90);
  });

  test('keys stop at the poles too, and come back from beyond', () => {
    expect(nudgeTilt(89.5, 1)).toBe(90);
    expect(nudgeTilt(-90, -1)).toBe(-90);
    expect(nudgeTilt(120, -1)).toBe(119);
    expect(nudgeTilt(120, 1)).toBe(120);
  });
});

describe('lens presets', () => {
  const named = (id: string) => LENS_PRESETS.find((p) => p.id === id)!;
  const after = (id: string, view: View, before: number | null = null): View => ({
    ...view,
    ...applyPreset(named(id), view, before),
  });

  test('the way back from a planet leads to the tilt from before it, or to the horizon', () => {
    const planet = after('tiny-planet', { ...flat, tilt: -12 });
    expect(planet).toMatchObject({ tilt: -90, fov: 270, bend: 1 });
    expect(isPlanet(planet)).toBe(true);
    for (const id of ['straight', 'wide', 'bowed', 'fisheye']) {
      expect(after(id, planet, -12).tilt).toBe(-12);
      expect(after(id, planet).tilt).toBe(0);
    }
    expect(after('wide', after('tunnel', planet, -12), -12).tilt).toBe(-12);
  });

  test('a view that is no planet keeps where it looks', () => {
    expect(after('wide', { ...flat, tilt: -80 }).tilt).toBe(-80);
    expect(after('marble', { ...flat, tilt: -20 }).tilt).toBe(-20);
  });

  test('what one will do is said before it is done', () => {
    const planet = after('tiny-planet', flat);
    expect(presetInWords(named('tiny-planet'), flat, null)).toMatch(/270°.*straight down/);
    expect(presetInWords(named('wide'), planet, -12)).toMatch(/90°.*tilt of −12°/);
    expect(presetInWords(named('wide'), planet, null)).toMatch(/horizon/);
    expect(presetInWords(named('wide'), flat, null)).not.toMatch(/looks/);
    for (const preset of LENS_PRESETS)
      expect(isPreset(preset, { ...flat, ...applyPreset(preset, flat, null) })).toBe(true);
  });
});
