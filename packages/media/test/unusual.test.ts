/** Recordings of unusual but intact make: every one is read frame-exactly, with its sound in sync and in its own colours. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { newTake, type Take } from '@glimbo/core/take/take';
import { gather } from '../src/gather.js';
import { probe } from '../src/probe.js';
import { openRecording, readRecording, wholeSphere } from '../src/recording.js';
import { exportClip } from '../src/render/clip.js';
import { renderStill } from '../src/render/still.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-unusual-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1 << 28 });
const at = (name: string) => join(folder, name);

/** Two seconds; frame n is grey with luma 40 + 2n; the tone sets in with frame 30, one second after the first picture. */
const PICTURE = ['-f', 'lavfi', '-i', 'color=gray:s=512x256:r=30:d=2,format=yuv420p,geq=lum=40+2*N:cb=128:cr=128'];
const tone = (from: number, seconds: number) => [
  '-f',
  'lavfi',
  '-i',
  `aevalsrc='if(gte(t,${from}),sin(2*PI*1000*t),0)':d=${seconds}:s=48000`,
];
const H264 = [
  '-c:v',
  'libx264',
  '-qp',
  '4',
  '-bf',
  '2',
  '-g',
  '12',
  '-colorspace',
  'bt709',
  '-c:a',
  'aac',
  '-b:a',
  '192k',
];

/** Makes a file whose picture begins `late` seconds after its sound. */
function make(name: string, late: number, ...more: string[]): string {
  ffmpeg(
    ...tone(1 + late, 2 + late),
    '-itsoffset',
    String(late),
    ...PICTURE,
    '-map',
    '1:v',
    '-map',
    '0:a',
    '-fps_mode',
    'passthrough',
    ...H264,
    ...more,
    at(name),
  );
  return at(name);
}

/** Luma of the middle of every frame of a clip. */
function lumas(file: string): number[] {
  const raw = ffmpeg('-i', file, '-vf', 'extractplanes=y,crop=2:2', '-f', 'rawvideo', '-');
  return Array.from({ length: raw.length / 4 }, (_, n) => raw[n * 4]!);
}

/** Time in seconds at which the sound first gets loud. */
function onset(file: string): number {
  const raw = ffmpeg('-i', file, '-ac', '1', '-ar', '48000', '-f', 's16le', '-');
  for (let i = 0; i < raw.length; i += 2) if (Math.abs(raw.readInt16LE(i)) > 3000) return i / 2 / 48000;
  return NaN;
}

const takeOf = (file: string, from: number, to: number): Take => ({
  ...newTake(file, 2),
  range: { in: from, out: to },
});
const size = { width: 320, height: 180, codec: 'h264' as const, quality: 4 };

const LATE: [string, string, number, string[]][] = [
  ['an MP4 whose picture comes half a second after the sound', 'late.mp4', 0.5, []],
  ['an MP4 in fragments, with frames out of order', 'pieces.mp4', 0, ['-movflags', 'frag_keyframe+empty_moov']],
  ['a Matroska file whose picture begins at 21 ms', 'late.mkv', 0.021, []],
  ['an MPEG transport stream', 'stream.ts', 0.3, []],
  ['an AVI file', 'plain.avi', 0, ['-bf', '0', '-c:a', 'pcm_s16le']],
];

describe.each(LATE)('%s', (_, name, late, more) => {
  let file: string;
  beforeAll(() => void (file = make(name, late, ...more)));

  test('has as many frames as it has pictures', async () => {
    const { facts } = await probe(file);
    expect(facts.frames).toBe(60);
    expect(facts.duration).toBeCloseTo(2, 6);
    expect(facts.rate).toBe(30);
  });

  test('is exported from the in frame on, with its sound in sync', async () => {
    const out = at(`${name}.mp4`);
    await exportClip(takeOf(file, 0.5, 1.5), await openRecording(file), out, size);
    const values = lumas(out);
    expect(values).toHaveLength(30);
    values.forEach((v, n) => expect(Math.abs(v - (70 + 2 * n))).toBeLessThan(1));
    expect(Math.abs(onset(out) - 0.5)).toBeLessThan(1 / 30);
  });
});

// The lanes of a proxy are slow to make under Jest: those with most to get wrong stand for all.
test.each(LATE.filter(([, , late]) => late >= 0.3))(
  '%s has a proxy and a still that show the same frames',
  async (_, name, late, more) => {
    const file = make(`proxied-${name}`, late, ...more);
    const recording = await openRecording(file);
    const { facts } = await readRecording(recording);
    await gather(recording, facts, at(`${name}-made`));
    const proxy = join(at(`${name}-made`), 'proxy.mp4');
    const values = lumas(proxy);
    expect(values).toHaveLength(60);
    for (const n of [0, 1, 29, 58, 59]) expect(Math.abs(values[n]! - (40 + 2 * n))).toBeLessThanOrEqual(1);
    expect(Math.abs(onset(proxy) - 1)).toBeLessThan(1 / 30);
    await renderStill(takeOf(file, 0, 2), recording, 1.25, { width: 320, height: 180 }, at(`${name}.png`));
    const grey = ffmpeg(
      '-i',
      at(`${name}.png`),
      '-vf',
      'scale=out_range=full,format=gray,crop=2:2',
      '-f',
      'rawvideo',
      '-',
    );
    expect(Math.abs(grey[0]! - ((40 + 74 - 16) * 255) / 219)).toBeLessThanOrEqual(3);
  },
);

test('sound that begins after the picture stays where it was', async () => {
  const file = at('late-sound.mp4');
  ffmpeg(...PICTURE, '-itsoffset', '0.9', ...tone(0, 1), '-map', '0:v', '-map', '1:a', ...H264, file);
  const out = at('late-sound-out.mp4');
  await exportClip(takeOf(file, 0.5, 2), wholeSphere(file), out, size);
  expect(Math.abs(onset(out) - 0.4)).toBeLessThan(1 / 30);
});

test('a picture that was stored on its side is seen upright, everywhere', async () => {
  const flat = at('flat.mp4');
  // Left half dark, right half light; stored turned by a quarter.
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'color=black:s=512x256:r=30:d=1,format=yuv420p,geq=lum=if(lt(X\\,256)\\,60\\,180):cb=128:cr=128,transpose=clock',
    ...H264,
    flat,
  );
  const file = at('turned.mp4');
  ffmpeg('-i', flat, '-c', 'copy', '-metadata:s:v', 'rotate=90', file);
  const recording = await openRecording(file);
  const { facts, doubts } = await readRecording(recording);
  expect(facts).toMatchObject({ width: 512, height: 256 });
  expect(doubts).toEqual([]);
  const out = at('turned-out.mp4');
  // Looking left from ahead there is only the dark half, looking right only the light one.
  for (const [pan, luma] of [
    [-90, 60],
    [90, 180],
  ] as const) {
    const take = takeOf(file, 0, 1);
    take.path.pan = pan;
    await exportClip(take, recording, out, size);
    expect(Math.abs(lumas(out)[0]! - luma)).toBeLessThanOrEqual(3);
  }
}, 60_000);

describe('what is whole and what is cut short', () => {
  test.each(['mp4', 'mkv', 'ts'])('a %s longer than the first look is whole, to its last frame', async (container) => {
    const file = at(`long.${container}`);
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=128x64:r=30:d=47', '-c:v', 'libx264', '-preset', 'ultrafast', file);
    const { facts } = await probe(file);
    expect({ frames: facts.frames, duration: facts.duration.toFixed(3) }).toEqual({ frames: 1410, duration: '47.000' });
  });

  test.each([
    ['one frame a second', ['-f', 'lavfi', '-i', 'testsrc2=s=512x256:r=1:d=6'], 'slow1.mp4', 6],
    ['two frames a second', ['-f', 'lavfi', '-i', 'testsrc2=s=512x256:r=2:d=6'], 'slow2.mkv', 12],
    ['sound that goes on for ten seconds after the picture', [...PICTURE, ...tone(0, 14)], 'outlasts.mkv', 60],
    [
      'a first picture after three seconds of sound',
      [...tone(0, 8), '-itsoffset', '3', ...PICTURE, '-map', '1:v', '-map', '0:a', '-fps_mode', 'passthrough'],
      'waits.mkv',
      60,
    ],
    [
      'times that count from the camera being switched on, a day ago',
      [...PICTURE, '-output_ts_offset', '90000'],
      'day.ts',
      60,
    ],
  ])('%s is whole', async (_, input, name, frames) => {
    ffmpeg(...input, ...H264, at(name));
    const { facts } = await probe(at(name));
    expect(facts.frames).toBe(frames);
  });

  test.each([
    ['index at the front, two kilobytes of picture', '+faststart', 2048],
    ['half of it', '+faststart', 0.5],
  ])('%s is cut short', async (_, movflags, keep) => {
    const whole = make('whole.mp4', 0, '-movflags', movflags);
    const bytes = readFileSync(whole);
    const head = bytes.indexOf('mdat') + 4;
    const file = at('cut.mp4');
    writeFileSync(file, bytes.subarray(0, keep < 1 ? Math.round(bytes.length * keep) : head + keep));
    await expect(probe(file)).rejects.toThrow(/cut short/);
  });

  test('a very short file of which only the header arrived is cut short too', async () => {
    const whole = at('short.mp4');
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=1920x960:r=30:d=0.3', ...H264, '-movflags', '+faststart', whole);
    const bytes = readFileSync(whole);
    writeFileSync(at('short-cut.mp4'), bytes.subarray(0, bytes.indexOf('mdat') + 2052));
    await expect(probe(at('short-cut.mp4'))).rejects.toThrow(/cut short|not a video/);
    expect((await probe(whole)).facts.frames).toBe(9);
  });
});

/** Says that a picture is BT.709 in video range. */
const SAID_709 = 'setparams=colorspace=bt709:color_primaries=bt709:color_trc=bt709:range=tv';

describe('colour', () => {
  const COLOUR = [200, 40, 32];
  /** A picture of one colour, written with the given tags by zscale, which knows them all. */
  const coded = (name: string, filter: string, ...tags: string[]) => {
    const rgb = COLOUR.map((v) => v.toString(16).padStart(2, '0')).join('');
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      `color=c=0x${rgb}:s=512x256:r=10:d=0.3,format=gbrp,scale=out_color_matrix=bt709:out_range=tv,format=yuv444p,${SAID_709},${filter}`,
      '-c:v',
      'libx265',
      '-x265-params',
      'log-level=error:lossless=1',
      ...tags,
      at(name),
    );
    return at(name);
  };
  const tagged = (matrix: string, primaries: string, transfer: string, range = 'tv') => [
    '-colorspace',
    matrix,
    '-color_primaries',
    primaries,
    '-color_trc',
    transfer,
    '-color_range',
    range,
  ];
  const hdr = (transfer: string) =>
    `zscale=transfer=linear:npl=203,format=gbrpf32le,zscale=primaries=bt2020,zscale=transfer=${transfer}:matrix=bt2020nc:range=limited:npl=203,format=yuv420p10le`;
  const colourOf = (file: string, ...more: string[]) => [
    ...ffmpeg(
      '-i',
      file,
      '-vf',
      'scale=in_color_matrix=bt709:in_range=tv,format=rgb24,crop=2:2',
      '-frames:v',
      '1',
      ...more,
      '-f',
      'rawvideo',
      '-',
    ).subarray(0, 3),
  ];

  test.each([
    ['BT.709', 'format=yuv420p', tagged('bt709', 'bt709', 'bt709')],
    ['no tags', 'format=yuv420p', []],
    ['BT.709 in full range', 'zscale=range=full,format=yuv420p', tagged('bt709', 'bt709', 'bt709', 'pc')],
    [
      'BT.601 of 525 lines',
      'zscale=matrix=smpte170m:primaries=smpte170m:transfer=smpte170m,format=yuv420p',
      tagged('smpte170m', 'smpte170m', 'smpte170m'),
    ],
    ['BT.601 matrix alone', 'zscale=matrix=smpte170m,format=yuv420p', tagged('smpte170m', 'bt709', 'bt709')],
    [
      'BT.601 of 625 lines',
      'zscale=matrix=bt470bg:primaries=bt470bg,format=yuv420p',
      tagged('bt470bg', 'bt470bg', 'bt709'),
    ],
    [
      'BT.2020',
      'zscale=matrix=bt2020nc:primaries=bt2020:transfer=bt2020-10,format=yuv420p10le',
      tagged('bt2020nc', 'bt2020', 'bt2020-10'),
    ],
    ['BT.2020 HLG', hdr('arib-std-b67'), tagged('bt2020nc', 'bt2020', 'arib-std-b67')],
    ['BT.2020 PQ', hdr('smpte2084'), tagged('bt2020nc', 'bt2020', 'smpte2084')],
  ] as const)('%s comes out as it was seen: proxy, thumbnail, still and export', async (name, filter, tags) => {
    const file = coded(`${name}.mp4`, filter, ...tags);
    const recording = await openRecording(file);
    const { facts } = await readRecording(recording);
    await gather(recording, facts, at(`${name}-made`));
    const take = { ...newTake(file, 0.3) };
    await exportClip(take, recording, at(`${name}-out.mp4`), { ...size, quality: 1 });
    await renderStill(take, recording, 0.1, { width: 320, height: 180 }, at(`${name}.png`));
    const proxy = join(at(`${name}-made`), 'proxy.mp4');
    const still = [
      ...ffmpeg('-i', at(`${name}.png`), '-vf', 'format=rgb24,crop=2:2', '-f', 'rawvideo', '-').subarray(0, 3),
    ];
    const thumb = [
      ...ffmpeg(
        '-i',
        join(at(`${name}-made`), 'thumb-0001.jpg'),
        '-vf',
        'format=rgb24,crop=2:2',
        '-f',
        'rawvideo',
        '-',
      ).subarray(0, 3),
    ];
    const seen = { proxy: colourOf(proxy), export: colourOf(at(`${name}-out.mp4`)), still, thumb };
    for (const colour of Object.values(seen))
      colour.forEach((v, i) => expect({ seen, right: Math.abs(v - COLOUR[i]!) <= 4 }).toEqual({ seen, right: true }));
  });

  test('highlights of high dynamic range stay apart', async () => {
    const file = at('bright.mp4');
    // Left at reference white (203 cd/m²), right at four times as much.
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      `color=white:s=512x256:r=10:d=0.3,format=yuv444p,geq=lum=if(lt(X\\,256)\\,126\\,235):cb=128:cr=128,${SAID_709},zscale=transfer=linear:npl=1000,format=gbrpf32le,zscale=primaries=bt2020,zscale=transfer=smpte2084:matrix=bt2020nc:range=limited:npl=1000,format=yuv420p10le`,
      '-c:v',
      'libx265',
      '-x265-params',
      'log-level=error:lossless=1',
      ...tagged('bt2020nc', 'bt2020', 'smpte2084'),
      file,
    );
    const bytes: number[] = [];
    for (const pan of [-90, 90]) {
      const take = { ...newTake(file, 0.3) };
      take.path.pan = pan;
      await renderStill(take, await openRecording(file), 0, { width: 64, height: 64 }, at('bright.png'));
      bytes.push(ffmpeg('-i', at('bright.png'), '-vf', 'format=gray,crop=2:2', '-f', 'rawvideo', '-')[0]!);
    }
    expect(bytes[0]!).toBeGreaterThan(180);
    expect(bytes[1]!).toBeGreaterThan(bytes[0]! + 15);
  });
});

test('a stereo tag of the file is respected without a source document: one eye is one sphere', async () => {
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'color=black:s=512x512:r=10:d=0.5,format=yuv420p,geq=lum=if(lt(Y\\,256)\\,60\\,180):cb=128:cr=128',
    ...H264,
    '-metadata:s:v',
    'stereo_mode=top_bottom',
    at('eyes.mkv'),
  );
  const recording = await openRecording(at('eyes.mkv'));
  expect(recording.source).toEqual({ kind: 'sphere', stereo: { layout: 'over-under', eye: 'first' } });
  const take = newTake('eyes.mkv', 0.5);
  take.path.tilt = -60;
  await exportClip(take, recording, at('eyes-out.mp4'), size);
  // The lower half of both eyes stacked would be the other eye.
  expect(Math.abs(lumas(at('eyes-out.mp4'))[0]! - 60)).toBeLessThanOrEqual(3);
});
