/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * The media clock where the browser hands out no decoder: the video element, here a plain one, does all of it.
 */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { Player } from '../preview/player';

const RATE = 30;
const calls = { picture: jest.fn(), playing: jest.fn(), problem: jest.fn() };
let player: Player;
let frames: ((now: number, facts: { mediaTime: number }) => void)[];
/** What the video element was told, in order. */
let told: string[];

beforeEach(() => {
  frames = [];
  told = [];
  for (const f of Object.values(calls)) f.mockClear();
  const { prototype } = HTMLVideoElement;
  prototype.play = async () => void told.push('play');
  prototype.pause = () => void told.push('pause');
  prototype.load = () => {};
  prototype.requestVideoFrameCallback = (callback) => frames.push(callback as (typeof frames)[0]);
  player = new Player('proxy.mp4', RATE, 10, calls, 0);
  // The element itself never gets anywhere: where it is sent is kept, and that it arrived is said by the test.
  let at = 0;
  Object.defineProperty(player.video, 'currentTime', { get: () => at, set: (to: number) => void (at = to) });
});
afterEach(() => player.dispose());

const arrive = () => player.video.dispatchEvent(new Event('seeked'));
const shown = () => calls.picture.mock.calls.at(-1) as [unknown, number, boolean] | undefined;
/** A frame is presented by the element. */
const present = async (mediaTime: number) => {
  for (const callback of frames.splice(0)) callback(0, { mediaTime });
  await new Promise((resolve) => setTimeout(resolve));
};

test('goes to the middle of a frame, and tells its beginning', () => {
  player.seek(1.01);
  expect(player.video.currentTime).toBeCloseTo(30.5 / RATE, 6);
  arrive();
  expect(shown()!.slice(1)).toEqual([1, true]);
});

test('calls that come faster than they can be followed are joined: only the last one is gone to', () => {
  player.seek(1);
  player.seek(2);
  player.seek(3);
  expect(player.video.currentTime).toBeCloseTo(30.5 / RATE, 6);
  arrive();
  expect(calls.picture).not.toHaveBeenCalled();
  expect(player.video.currentTime).toBeCloseTo(90.5 / RATE, 6);
  arrive();
  expect(calls.picture).toHaveBeenCalledTimes(1);
  expect(shown()![1]).toBe(3);
});

test('never goes beyond its first or last frame', () => {
  player.seek(-5);
  arrive();
  expect(shown()![1]).toBe(0);
  player.seek(99);
  arrive();
  expect(shown()![1]).toBeCloseTo(299 / RATE, 6);
});

test('plays from where it was sent: what was on its way from before is not shown', async () => {
  player.play(1, 4);
  expect(calls.playing).toHaveBeenCalledWith(1);
  arrive();
  await present(1);
  expect(shown()?.[1]).not.toBe(1);
  await present(4 + 1 / RATE);
  expect(shown()!.slice(1)).toEqual([4 + 1 / RATE, false]);
});

test('from the out point it begins at the in point; at the out point it loops or stops', async () => {
  player.range = { in: 2, out: 5 };
  player.play(1, 5);
  expect(player.video.currentTime).toBeCloseTo(2 + 0.5 / RATE, 6);
  arrive();
  await present(5 - 1 / RATE);
  expect(player.speed).toBe(1);
  await present(5);
  expect(player.video.currentTime).toBeCloseTo(2 + 0.5 / RATE, 6);
  arrive();
  player.loop = false;
  await present(5);
  expect(player.speed).toBe(0);
  expect(calls.playing).toHaveBeenLastCalledWith(0);
});

test('footage that is read at another rate plays slower, and its sound is deeper', () => {
  player.setReading(0.8);
  player.play(1, 0);
  expect(player.video.playbackRate).toBeCloseTo(0.8, 6);
  expect(player.video.preservesPitch).toBe(false);
  player.setReading(0.5, true);
  expect(player.video.playbackRate).toBeCloseTo(0.5, 6);
  expect(player.video.preservesPitch).toBe(true);
});

test('a proxy that cannot be played is told in words', () => {
  player.video.dispatchEvent(new Event('error'));
  expect(String(calls.problem.mock.calls[0])).toMatch(/could not be played/);
});
