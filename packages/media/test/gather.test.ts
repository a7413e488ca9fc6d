/** Gathering that can be looked at while it goes on, and that is gone on with after a kill. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import {
  copyFileSync,
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { companionOf } from '../src/companion.js';
import { gather, type Gathered } from '../src/gather.js';
import { FragmentCounter, GROWING, joinPieces } from '../src/growing.js';
import { probe, type MediaFacts } from '../src/probe.js';
import { openRecording, readRecording, wholeSphere, type Recording } from '../src/recording.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-gather-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1 << 28 });

/** Mean luma of every frame of a file. */
const greys = (file: string) => [
  ...ffmpeg('-i', file, '-vf', 'scale=1:1:flags=area', '-pix_fmt', 'gray', '-f', 'rawvideo', '-'),
];
const times = (file: string, stream: string) =>
  execFileSync(
    'ffprobe',
    ['-v', 'error', '-select_streams', stream, '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', file],
    { encoding: 'utf8' },
  )
    .trim()
    .split('\n')
    .map(Number);

const SECONDS = 8;
const FRAMES = SECONDS * 30;
/** Frame n is grey with luma 30 + n mod 200; a tone that swells. */
const MAKE = [
  ...[
    '-f',
    'lavfi',
    '-i',
    `color=gray:s=64x32:r=30:d=${SECONDS},format=yuv420p,geq=lum='30+mod(N,200)':cb=128:cr=128,scale=3840:1920`,
  ],
  ...['-f', 'lavfi', '-i', `aevalsrc='sin(2*PI*440*t)*t/${SECONDS}':d=${SECONDS}:s=48000`],
  ...['-c:v', 'libx264', '-preset', 'ultrafast', '-qp', '4', '-colorspace', 'bt709', '-c:a', 'aac', '-ac', '2'],
];

let recording: Recording;
let facts: MediaFacts;
beforeAll(async () => {
  ffmpeg(...MAKE, at('grey.mp4'));
  recording = wholeSphere(at('grey.mp4'));
  facts = (await probe(at('grey.mp4'))).facts;
});

describe('a growing file', () => {
  test('is counted by its whole fragments, and cut anywhere it can be read as far', async () => {
    ffmpeg(
      '-i',
      at('grey.mp4'),
      '-t',
      '3',
      '-vf',
      'scale=256:128',
      '-bf',
      '0',
      '-g',
      '10',
      ...GROWING,
      at('grows.mp4'),
    );
    const { length } = readFileSync(at('grows.mp4'));
    const counter = new FragmentCounter(at('cut.mp4'));
    expect(await counter.count()).toBe(0);
    let before = 0;
    for (const share of [0.1, 0.35, 0.6, 0.85]) {
      copyFileSync(at('grows.mp4'), at('cut.mp4'));
      truncateSync(at('cut.mp4'), Math.floor(share * length));
      const frames = await counter.count();
      expect(frames).toBeGreaterThanOrEqual(before);
      expect(Math.abs(frames - share * 90)).toBeLessThan(15);
      before = frames;
      if (!frames) continue;
      await joinPieces(folder, [{ file: 'cut.mp4', from: 0 }], frames, 30, at('shown.mp4'));
      expect(times(at('shown.mp4'), 'v')).toHaveLength(frames);
    }
    copyFileSync(at('grows.mp4'), at('cut.mp4'));
    expect(await counter.count()).toBe(90);
  });
});

/** Gathers, and keeps a copy of what a kill at the last snapshot would have left. */
async function gathered(of: Recording, its: MediaFacts, name: string, proxyWidth: number) {
  const grown: Gathered[] = [];
  const seen: { played: number; first: number; greys: number[] }[] = [];
  const made = await gather(of, its, at(name), {
    proxyWidth,
    grown(part) {
      grown.push(part);
      const proxy = join(at(`${name}.part`), `proxy-${part.ready}.mp4`);
      const shown = times(proxy, 'v');
      seen.push({ played: shown.length, first: shown[0]!, greys: greys(proxy) });
      rmSync(at(`${name}-killed.part`), { recursive: true, force: true });
      cpSync(at(`${name}.part`), at(`${name}-killed.part`), { recursive: true });
    },
  });
  return { made, grown, seen };
}

describe('a sphere laid flat', () => {
  let first: Awaited<ReturnType<typeof gathered>>;
  beforeAll(async () => void (first = await gathered(recording, facts, 'flat', 3840)));

  test('can be played from its first seconds, further each time', () => {
    const { grown, seen } = first;
    expect(grown.length).toBeGreaterThanOrEqual(1);
    for (const [i, { ready, thumbnails, sweep, proxy }] of grown.entries()) {
      expect(ready!).toBeGreaterThan(i ? grown[i - 1]!.ready! : 29);
      expect(seen[i]).toMatchObject({ played: ready, first: 0 });
      expect(thumbnails.count).toBe(Math.ceil(ready! / (thumbnails.interval * 30)));
      expect([sweep.rows, proxy.frames]).toEqual([ready, FRAMES]);
    }
    expect(grown[0]!.ready).toBeLessThan(FRAMES);
  });

  test('is whole in the end, and nothing that served on the way is left', () => {
    expect(times(at('flat/proxy.mp4'), 'v')).toHaveLength(FRAMES);
    expect(times(at('flat/proxy.mp4'), 'v')[0]).toBe(0);
    expect(greys(at('flat/proxy.mp4'))).toHaveLength(FRAMES);
    expect(readdirSync(at('flat')).filter((f) => /piece|state|proxy-|part/.test(f))).toEqual([]);
    expect(existsSync(at('flat.part'))).toBe(false);
    const [whole, last] = [greys(at('flat/proxy.mp4')), first.seen.at(-1)!.greys];
    expect(whole.slice(0, last.length)).toEqual(last);
  });

  test('is gone on with where a kill broke it off, with the same frames, lanes and thumbnails', async () => {
    const progress: number[] = [];
    const { ready } = first.grown.at(-1)!;
    const again = await gather(recording, facts, at('flat-killed'), {
      proxyWidth: 3840,
      progress: (share) => progress.push(share),
    });
    expect(Math.min(...progress)).toBeGreaterThanOrEqual(ready! / FRAMES);
    expect(again).toEqual(first.made);
    expect(readdirSync(at('flat-killed')).sort()).toEqual(readdirSync(at('flat')).sort());
    const pictures = readdirSync(at('flat')).filter((f) => /png|jpg/.test(f));
    const differ = pictures.filter((f) => !readFileSync(at(`flat/${f}`)).equals(readFileSync(at(`flat-killed/${f}`))));
    expect(differ).toEqual([]);
    const [a, b] = [greys(at('flat/proxy.mp4')), greys(at('flat-killed/proxy.mp4'))];
    expect(b).toHaveLength(FRAMES);
    expect(Math.max(...a.map((grey, i) => Math.abs(grey - b[i]!)))).toBeLessThanOrEqual(1);
    const [loud, again2] = [readFileSync(at('flat/sound.u8')), readFileSync(at('flat-killed/sound.u8'))];
    expect(Math.max(...loud.map((v, i) => Math.abs(v - again2[i]!)))).toBeLessThan(12);
    expect(JSON.parse(readFileSync(at('flat-killed/beats.json'), 'utf8'))).toMatchObject({ format: 'glimbo-beats' });
  });

  test('is begun anew where it was asked otherwise', async () => {
    cpSync(at('flat-killed'), at('other.part'), { recursive: true });
    const made = await gather(recording, facts, at('other'), { proxyWidth: 512 });
    expect(made.proxy).toEqual({ width: 512, height: 256, frames: FRAMES });
    expect(readdirSync(at('other')).filter((f) => f === 'proxy.mp4')).toEqual(['proxy.mp4']);
  });
});

describe('a companion of low resolution beside the original', () => {
  let small: MediaFacts;
  beforeAll(async () => {
    ffmpeg(...MAKE.map((a) => a.replace('3840:1920', '1024:512')), at('small.mp4'));
    small = (await probe(at('small.mp4'))).facts;
  });
  const make = (name: string, ...more: string[]) =>
    ffmpeg('-i', at('small.mp4'), '-vf', 'scale=256:128', ...more, '-an', '-c:v', 'libx264', at(name));

  test('can be played before anything is made, and goes when all is', async () => {
    copyFileSync(at('small.mp4'), at('WITH.MP4'));
    make('WITH.LOW.MP4');
    const grown: [Gathered, boolean][] = [];
    await gather(wholeSphere(at('WITH.MP4')), small, at('with'), {
      proxyWidth: 512,
      grown: (part) => grown.push([part, existsSync(at('with.part/companion.mp4'))]),
    });
    expect(grown[0]).toEqual([expect.objectContaining({ ready: 0, companion: true, sound: false }), true]);
    expect(grown.every(([{ companion }, there]) => companion && there)).toBe(true);
    expect(existsSync(at('with/companion.mp4'))).toBe(false);
  });

  test.each<[string, string[]]>([
    ['shorter', ['-t', '5']],
    ['of another rate', ['-r', '15']],
    ['of another shape', ['-vf', 'scale=256:160']],
    ['in full range', ['-vf', 'scale=256:128,format=yuvj420p']],
  ])('is left alone where it is %s', async (name, how) => {
    const own = `NOT-${name.replaceAll(' ', '')}`;
    copyFileSync(at('small.mp4'), at(`${own}.MP4`));
    make(`${own}.LOW.MP4`, ...how);
    expect(await companionOf(wholeSphere(at(`${own}.MP4`)), small)).toBeNull();
  });

  test('is none for two lenses', async () => {
    const files = [at('WITH.MP4'), at('small.mp4')];
    expect(await companionOf({ files, source: { kind: 'sphere', join: 'files' } }, small)).toBeNull();
  });
});

test('what is stitched on the way grows and is gone on with too', async () => {
  ffmpeg(...MAKE.map((a) => a.replace('3840:1920', '480:480')), at('lens.mp4'));
  const lens = { pan: 0, tilt: 0, roll: 0, fov: 200, centreX: 240, centreY: 240, radius: 240, k1: 0, k2: 0 };
  const source = { kind: 'one-lens', lens };
  writeFileSync(at('lens.mp4.source.json'), JSON.stringify({ format: 'glimbo-source', version: 1, source }));
  const lensed = await openRecording(at('lens.mp4'));
  const own = (await readRecording(lensed)).facts;
  const first = await gathered(lensed, own, 'lens', 960);
  expect(first.grown.length).toBeGreaterThanOrEqual(1);
  const again = await gather(lensed, own, at('lens-killed'), { proxyWidth: 960 });
  expect(again).toEqual(first.made);
  const [a, b] = [greys(at('lens/proxy.mp4')), greys(at('lens-killed/proxy.mp4'))];
  expect([a.length, b.length]).toEqual([FRAMES, FRAMES]);
  expect(Math.max(...a.map((grey, i) => Math.abs(grey - b[i]!)))).toBeLessThanOrEqual(1);
});
