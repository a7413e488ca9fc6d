/** The facts of media files, and a sentence for each that cannot be used. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { lookAtFiles } from '../src/examine.js';
import { MediaError } from '../src/ffmpeg.js';
import { probe } from '../src/probe.js';
import {
  joinedSize,
  openRecording,
  pictureInput,
  readRecording,
  saidSource,
  soundInput,
  soundOf,
} from '../src/recording.js';
import { markSpherical } from '../src/spherical.js';

const folder = mkdtempSync(join(tmpdir(), 'glimbo-probe-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const clips = resolve('packages/demo/clips');
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
/** A second of a test picture with the given options. */
function make(name: string, size: string, ...more: string[]) {
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=${size}:r=30:d=1`,
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    ...more,
    at(name),
  );
  return at(name);
}

describe('a file that can be used', () => {
  test('has its facts', async () => {
    const file = at('whole.mp4');
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=640x320:r=30000/1001:d=2',
      '-f',
      'lavfi',
      '-i',
      'sine=440:d=2:r=44100',
      '-ac',
      '1',
      '-c:v',
      'libx264',
      '-c:a',
      'aac',
      file,
    );
    const { facts, doubts } = await probe(file);
    expect(facts).toMatchObject({
      container: 'mov',
      codec: 'h264',
      width: 640,
      height: 320,
      videoStreams: 1,
      spherical: null,
      stereo: null,
      part: null,
      sound: { codec: 'aac', channels: 1, sampleRate: 44100 },
    });
    expect(facts.rate).toBeCloseTo(30000 / 1001, 9);
    expect(facts.frames).toBe(60);
    expect(facts.begins).toBeCloseTo(0, 2);
    expect(doubts).toEqual([]);
  });

  test('that says it shows a sphere is believed', async () => {
    const file = make('sphere.mp4', '640x320');
    expect(saidSource((await probe(file)).facts)).toBeNull();
    await markSpherical(file);
    const { facts } = await probe(file);
    expect(facts.spherical).toBe('equirectangular');
    expect((await openRecording(file)).source).toEqual({ kind: 'sphere' });
  });

  test('with a cover picture has one picture, its own', async () => {
    make('cover.png', '64x64', '-frames:v', '1', '-c:v', 'png', '-update', '1');
    const plain = make('plain.mp4', '640x320');
    ffmpeg(
      '-i',
      plain,
      '-i',
      at('cover.png'),
      '-map',
      '0',
      '-map',
      '1',
      '-c',
      'copy',
      '-disposition:v:1',
      'attached_pic',
      at('covered.mp4'),
    );
    const { facts } = await probe(at('covered.mp4'));
    expect(facts).toMatchObject({ width: 640, videoStreams: 1 });
  });

  test('with two pictures says so, and both make one', async () => {
    const one = make('square.mp4', '320x320');
    ffmpeg('-i', one, '-i', one, '-map', '0:v', '-map', '1:v', '-c', 'copy', at('both.mp4'));
    const { facts } = await probe(at('both.mp4'));
    expect(facts.videoStreams).toBe(2);
    const joined = await readRecording({ files: [at('both.mp4')], source: { kind: 'sphere', join: 'streams' } });
    expect(joined.facts).toMatchObject({ width: 640, height: 320 });
    expect(joined.doubts).toEqual([]);
  });

  test.each([
    ['over-under', 'vstack', '320x160', 'one eye over the other'],
    ['side-by-side', 'hstack', '320x160', 'its eyes side by side'],
  ] as const)(
    'whose halves look alike, %s, is proposed as stereo; with other halves it is not',
    async (layout, stack, size, words) => {
      const sphere = async () => ({ kind: 'sphere' as const });
      const moved = `split[a][b];[b]scroll=hpos=0.01[c];[a][c]${stack}`;
      const both = make(`${layout}.mp4`, size, '-vf', moved);
      const { source, doubts, facts } = await lookAtFiles([both], ['garden.mp4'], sphere);
      expect(source).toEqual({ kind: 'sphere', stereo: { layout, eye: 'first' } });
      expect(doubts).toEqual([
        { kind: 'stereo', sentence: expect.stringContaining(`garden.mp4 looks like a stereo recording, ${words}`) },
      ]);
      expect([facts.width, facts.height]).toEqual([320, 160]);

      const mirrored = make(`${layout}-other.mp4`, size, '-vf', `split[a][b];[b]negate,hflip[c];[a][c]${stack}`);
      const other = await lookAtFiles([mirrored], ['garden.mp4'], sphere);
      expect(other.source).toEqual({ kind: 'sphere' });
      expect(other.doubts).toEqual([{ kind: 'not-2:1', sentence: expect.stringContaining('can stretch it to 2:1') }]);
    },
  );

  test('that says it is stereo is asked about as what it is', async () => {
    const file = make('eyes.mp4', '320x240');
    const source = { kind: 'sphere' as const, stereo: { layout: 'over-under' as const, eye: 'first' as const } };
    const [doubt] = (await readRecording({ files: [file], source })).doubts;
    expect(doubt!.sentence).toMatch(/is stereo, one eye over the other: each eye is 320 × 120, not twice as wide/);
  });

  test('of odd shape or pace is doubted in words', async () => {
    const { doubts } = await probe(make('tall.mp4', '320x640'));
    expect(doubts).toEqual([{ kind: 'not-2:1', sentence: expect.stringContaining('320 × 640, not twice as wide') }]);
    const uneven = make(
      'uneven.mp4',
      '640x320',
      '-vf',
      "setpts='if(lt(N,10),N/30,10/30+(N-10)/12)/TB'",
      '-fps_mode',
      'vfr',
    );
    expect((await probe(uneven)).doubts.map((d) => d.kind)).toEqual(['variable-rate']);
  });
});

describe('a file that cannot', () => {
  test.each([
    ['is not there', () => at('none.mp4'), /was not found/],
    ['is a folder', () => folder, /was not found/],
    ['is empty', () => (writeFileSync(at('empty.mp4'), ''), at('empty.mp4')), /empty \(0 bytes\)/],
    [
      'is text',
      () => (writeFileSync(at('letter.mp4'), 'Dear Sirs'), at('letter.mp4')),
      /not a video that Glimbo can read/,
    ],
    [
      'only sounds',
      () => (ffmpeg('-f', 'lavfi', '-i', 'sine=440:d=1', at('tune.m4a')), at('tune.m4a')),
      /sound but no picture/,
    ],
    ['is a picture', () => make('one.png', '64x64', '-frames:v', '1', '-c:v', 'png', '-update', '1'), /not a video/],
    ['is too small', () => make('tiny.mp4', '32x16'), /at least 64 × 32/],
    [
      'lists other files',
      () => (writeFileSync(at('list.m3u8'), '#EXTM3U\n#EXTINF:1,\nwhole.mp4\n'), at('list.m3u8')),
      /not a video that Glimbo can read/,
    ],
  ])('because it %s gets a sentence', async (_, file, words) => {
    await expect(probe(file())).rejects.toThrow(MediaError);
    await expect(probe(file())).rejects.toThrow(words);
  });

  test('two that do not belong together are told apart', async () => {
    const [a, b] = [make('a.mp4', '320x320'), make('b.mp4', '640x640')];
    const both = { files: [a, b], source: { kind: 'sphere' as const, join: 'files' as const } };
    await expect(readRecording(both)).rejects.toThrow(/differ in size/);
    ffmpeg('-stream_loop', '2', '-i', a, '-c', 'copy', at('longer.mp4'));
    await expect(readRecording({ ...both, files: [a, at('longer.mp4')] })).rejects.toThrow(/cut short/);
  });
});

describe('how a recording is read', () => {
  const facts = { rate: 30, container: 'mov', begins: 0.5 };
  const recording = { files: ['a.mp4'], source: { kind: 'sphere' as const } };

  test('a frame is sought a little before its time, counted from where the picture begins', () => {
    expect(pictureInput(recording, facts).inputs).not.toContain('-ss');
    const { inputs } = pictureInput(recording, facts, 30);
    expect(Number(inputs[inputs.indexOf('-ss') + 1])).toBeCloseTo(0.5 + 29.6 / 30, 6);
    expect(
      pictureInput(
        { ...recording, files: ['a', 'b'], source: { kind: 'sphere', join: 'files' } },
        facts,
        30,
      ).inputs.filter((i) => i === '-ss'),
    ).toHaveLength(2);
  });

  test('where nothing can be sought exactly it is read from some seconds before', () => {
    const { inputs, chain } = pictureInput(recording, { ...facts, container: 'mpegts' }, 900);
    expect(Number(inputs[inputs.indexOf('-ss') + 1])).toBeCloseTo(0.5 + 899.6 / 30 - 12, 6);
    expect(chain).toContain('trim=start=12.000000');
    expect(soundInput('a.ts', { ...facts, container: 'mpegts' }, 30, 2).filter).toContain('atrim=start=12');
  });

  test('sound before the picture is cut off, sound after it begins with silence', () => {
    expect(soundOf(facts)).toMatch(/^atrim=start=0.5.*first_pts=0$/);
    expect(soundOf({ ...facts, begins: 0 })).not.toContain('atrim');
    expect(soundInput('a.mp4', facts, 2, 3).input).toEqual(
      expect.arrayContaining(['-ss', '2.500000', '-t', '3.000000']),
    );
  });

  test('an eye of a stereo picture is half of it', () => {
    const stereo = (layout: 'over-under' | 'side-by-side', eye: 'first' | 'second') =>
      pictureInput({ ...recording, source: { kind: 'sphere', stereo: { layout, eye } } }, facts).chain;
    expect(stereo('over-under', 'second')).toContain('crop=iw:trunc(ih/4)*2:0:ih/2');
    expect(stereo('side-by-side', 'first')).toContain('crop=trunc(iw/4)*2:ih:0:0');
    expect(joinedSize({ kind: 'sphere', stereo: { layout: 'over-under', eye: 'first' } }, 640, 640)).toEqual({
      width: 640,
      height: 320,
    });
  });
});

test('looking at files calls them by the names that somebody knows them by', async () => {
  copyFileSync(make('garden_a.mp4', '320x320'), at('4f2a'));
  const look = await lookAtFiles([at('4f2a')], ['garden_a.mp4'], async ({ width, height }) => ({
    kind: 'one-lens',
    lens: { centreX: width / 2, centreY: height / 2, radius: 160, fov: 200, k1: 0, k2: 0, pan: 0, tilt: 0, roll: 0 },
  }));
  expect(look.doubts.map((d) => d.sentence).join()).toContain('garden_a.mp4 comes from one lens of two');
  await expect(lookAtFiles([at('4f2b')], ['pond.mp4'], async () => ({ kind: 'sphere' }))).rejects.toThrow(/not found/);
  expect((await probe(join(clips, 'turntable.mp4'))).facts.frames).toBe(450);
});
