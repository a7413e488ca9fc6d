/** Following in real footage, against where its subjects truly are. */
import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { USUAL_RULE } from '@glimbo/core/follow/rule';
import { foundOf, isSeen, sizeOf, type SubjectLook, type SubjectTrack } from '@glimbo/core/follow/subject';
import { angleBetween, vec3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { newTake, type Take } from '@glimbo/core/take/take';
import { followSubject } from '../src/follow.js';
import { writePortrait } from '../src/portrait.js';
import { wholeSphere } from '../src/recording.js';
import { renderStill } from '../src/render/still.js';
import { tracksFor } from '../src/subjects.js';

// It waits for ffmpeg, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE ??= resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-follow-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Seconds of the clip that are followed, and the frame within in which the subject is pointed out. */
const [FROM, SECONDS, POINTED] = [3.5, 2, 20];
const file = join(folder, 'part.mp4');
interface Truth {
  subjects: { name: string; looks: [frame: number, x: number, y: number, z: number, size: number, seen: number][] }[];
}
const truth = JSON.parse(readFileSync(resolve('packages/demo/clips/turntable.truth.json'), 'utf8')) as Truth;

/** Where a subject truly is by frame of the part, for every third, and its degrees across. */
function looksOf(name: string): Map<number, { direction: Vec3; size: number }> {
  const { looks } = truth.subjects.find((s) => s.name === name)!;
  return new Map(looks.map(([n, x, y, z, size]) => [n - FROM * 30, { direction: vec3([x, y, z]), size }]));
}

beforeAll(() => {
  const cut = ['-ss', String(FROM - 0.01), '-i', resolve('packages/demo/clips/turntable.mp4'), '-t', String(SECONDS)];
  const small = ['-vf', 'scale=1440:720', '-an', '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '18', file];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...cut, ...small]);
});

describe('a visitor who walks close by, across the seam', () => {
  const facts = { rate: 30, frames: SECONDS * 30 };
  const truly = looksOf('blue visitor');

  test('is followed both ways from one press, and kept in the middle of the frame', async () => {
    const shares: number[] = [];
    const grown: number[] = [];
    const portraits: Uint8Array[] = [];
    const subject = await followSubject(
      file,
      facts,
      { frame: POINTED + 1, direction: truly.get(POINTED + 1)!.direction },
      {
        progress: (share) => shares.push(share),
        seen: (portrait) => portraits.push(portrait),
        grown: ({ looks }) => grown.push(looks.filter((look) => look && isSeen(look)).length),
      },
    );
    expect(subject.looks).toHaveLength(facts.frames);
    expect(subject.looks.every(isSeen)).toBe(true);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(grown).toEqual([15, 30, 45]);
    // The blue coat is in the middle of its picture.
    await writePortrait(portraits[0]!, join(folder, 'blue.jpg'));
    const face = ['-v', 'error', '-i', join(folder, 'blue.jpg'), '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-'];
    const pixels = execFileSync('ffmpeg', face);
    expect(pixels).toHaveLength(96 * 96 * 3);
    const [red, , blue] = pixels.subarray(3 * (40 * 96 + 48));
    expect(blue).toBeGreaterThan(1.4 * red!);
    // The box that was found has a middle of its own: on the visitor it stays where it was.
    const off = [...truly].flatMap(([n, { direction, size }]) => {
      const look = subject.looks[n];
      return look ? [angleBetween(vec3(look), direction) / size] : [];
    });
    expect(off.length).toBeGreaterThan(15);
    expect(Math.max(...off)).toBeLessThan(0.25);
    expect(Math.max(...off) - Math.min(...off)).toBeLessThan(0.15);

    writeFileSync(join(folder, 'blue.json'), JSON.stringify(subject));
    const rule = { ...USUAL_RULE, subject: 'blue.json', in: 0, out: SECONDS, blend: 0 };
    const take: Take = { ...newTake(file, SECONDS), follows: [rule] };
    const out = join(folder, 'still.png');
    await renderStill(take, { ...wholeSphere(file), subjects: folder }, 1.5, { width: 160, height: 90 }, out);
    const rgb = execFileSync('ffmpeg', ['-v', 'error', '-i', out, '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-']);
    const at = (x: number, y: number) => [...rgb.subarray(3 * (y * 160 + x), 3 * (y * 160 + x) + 3)];
    // The blue coat is in the middle, and not aside.
    const [r, g, b] = at(80, 45) as [number, number, number];
    expect(b).toBeGreaterThan(1.4 * r);
    expect(b).toBeGreaterThan(g);
  }, 120_000);

  test('put right in a frame it goes through there; only the stretch up to the keys beside it is followed anew', async () => {
    const first = { frame: POINTED + 1, direction: truly.get(POINTED + 1)!.direction, size: 40 };
    const known = await followSubject(file, facts, first);
    const [at, beyond] = [36, 48];
    const keys = [at, beyond].map((frame) => ({ frame, direction: truly.get(frame)!.direction, size: 40 }));
    const right = await followSubject(file, facts, { ...first, keys }, { again: { known, frame: at } });
    expect(angleBetween(foundOf(right.looks[at]!).direction, keys[0]!.direction)).toBeLessThan(0.1);
    expect(right.looks.slice(0, POINTED)).toEqual(known.looks.slice(0, POINTED));
    expect(right.looks.slice(beyond + 1)).toEqual(known.looks.slice(beyond + 1));
    for (const n of [27, 33, 39, 45]) {
      const { direction, size } = truly.get(n)!;
      expect(angleBetween(foundOf(right.looks[n]!).direction, direction) / size).toBeLessThan(0.15);
    }
  }, 120_000);

  test('put right by a press it is about as large as it was nearby, whatever stands out there', async () => {
    const { direction } = truly.get(POINTED + 1)!;
    const looks = Array.from({ length: facts.frames }, (): SubjectLook => [...direction, 30, 30, 1]);
    const known: SubjectTrack = { format: 'glimbo-subject', version: 2, rate: 30, looks };
    const at = POINTED + 1;
    const order = {
      frame: at - 2,
      direction,
      keys: [
        { frame: at, direction },
        { frame: at + 2, direction },
      ],
    };
    const right = await followSubject(file, facts, order, { again: { known, frame: at } });
    // What stands out there by itself is another size.
    const [found] = (await followSubject(file, facts, { frame: at, direction })).looks.slice(at);
    expect(sizeOf(found!) < 30 / 1.6 || sizeOf(found!) > 30 * 1.6).toBe(true);
    expect(sizeOf(right.looks[at]!)).toBe(30);
    expect(right.looks[at + 10]).toEqual(known.looks[at + 10]);
  }, 120_000);

  test('in the sky and on bare ground nothing stands out: that is told, and nothing is followed', async () => {
    for (const [lon, lat] of [
      [0, 50],
      [-60, -60],
    ] as const)
      await expect(followSubject(file, facts, { frame: 15, direction: directionOf(lon, lat) })).rejects.toThrow(
        /Nothing stands out there/,
      );
  });

  test('can be cancelled; what is missing or broken is told', async () => {
    const stop = new AbortController();
    stop.abort();
    const order = { frame: 0, direction: [0, 0, 1] as Vec3 };
    await expect(followSubject(file, facts, order, { signal: stop.signal })).rejects.toThrow();
    await expect(followSubject(file, facts, { ...order, frame: 99 })).rejects.toThrow(/outside the footage/);
    const rule = { ...USUAL_RULE, subject: 'gone.json', in: 0, out: 1 };
    await expect(tracksFor({ follows: [rule] }, { subjects: folder })).rejects.toThrow(/gone\.json.*missing/);
    writeFileSync(join(folder, 'broken.json'), '{}');
    await expect(tracksFor({ follows: [{ ...rule, subject: 'broken.json' }] }, { subjects: folder })).rejects.toThrow(
      /glimbo-subject/,
    );
  });

  test('names nothing outside the folder of subjects, and waits for no pipe', async () => {
    const named = (subject: string) =>
      tracksFor({ follows: [{ ...USUAL_RULE, subject, in: 0, out: 1 }] }, { subjects: folder });
    for (const subject of ['/etc/passwd', '../secret.json', 'x/../../secret.json'])
      await expect(named(subject)).rejects.toThrow(/outside the folder/);
    execFileSync('mkfifo', [join(folder, 'pipe.json')]);
    await expect(named('pipe.json')).rejects.toThrow(/pipe\.json.*missing/);
  });
});
