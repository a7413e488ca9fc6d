/** The demo's footage as it were filmed by a rig lying on its side: turned so that a subject goes right over the pole. */
import { SphereFrame } from '@glimbo/core/frame/sphere-frame';
import {
  apply,
  matrixOf,
  multiply,
  quaternionOf,
  transpose,
  turnTo,
  vec3,
  type Matrix3,
} from '@glimbo/core/geometry/rotation';
import { directionOf, lonLatOf } from '@glimbo/core/geometry/sphere';
import { pictures } from '@glimbo/media/sphere-pictures';
import { clipOf, VISIBLE, type Truth } from './demo-truth.js';

/** Pixels across of what is turned. */
const FINE = 1920;

/** What turns a subject's direction in the middle of the time in which it is seen to straight up. */
function upright(truth: Truth, name: string): Matrix3 {
  const seen = truth.subjects.find((s) => s.name === name)!.looks.filter((l) => l[5] >= VISIBLE);
  const [, x, y, z] = seen[seen.length >> 1]!;
  return turnTo(vec3([x, y, z]), [0, 1, 0]);
}

/** The truth of a clip whose picture is turned. */
const turnedTruth = (truth: Truth, turn: Matrix3): Truth => ({
  ...truth,
  frames: truth.frames.map(({ orientation }) => ({
    orientation: quaternionOf(multiply(matrixOf(orientation), transpose(turn))),
  })),
  subjects: truth.subjects.map((subject) => ({
    ...subject,
    looks: subject.looks.map(([n, x, y, z, size, seen]) => [n, ...apply(turn, vec3([x, y, z])), size, seen]),
  })),
});

/** For each pixel of a turned picture of a width, the pixel of the fine one that it shows. */
function sources(width: number, turn: Matrix3, fine: number): Int32Array {
  const back = transpose(turn);
  return Int32Array.from({ length: (width * width) / 2 }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    const there = directionOf(((x + 0.5) / width - 0.5) * 360, (0.5 - ((y + 0.5) / width) * 2) * 180);
    const { longitude, latitude } = lonLatOf(apply(back, there));
    const column = Math.min(fine - 1, Math.floor((longitude / 360 + 0.5) * fine));
    const row = Math.min(fine / 2 - 1, Math.floor((0.5 - latitude / 180) * (fine / 2)));
    return row * fine + column;
  });
}

/** A clip's frames, `width` pixels across, and its truth, both turned so that a subject goes over the pole. */
export async function overPole(clip: string, truth: Truth, name: string, width: number) {
  const turn = upright(truth, name);
  const [luma, chroma] = [sources(width, turn, FINE), sources(width / 2, turn, FINE / 2)];
  const frames: SphereFrame[] = [];
  const all = { rate: truth.rate, from: 0, count: truth.frames.length, width: FINE, passing: true };
  for await (const picture of pictures(clipOf(clip), all)) {
    const [y, u, v] = picture.levelFor(0).planes;
    const seen = (plane: Uint8Array, list: Int32Array) => Uint8Array.from(list, (i) => plane[i]!);
    const planes = [seen(y, luma), seen(u, chroma), seen(v, chroma)] as const;
    frames.push(new SphereFrame({ width, height: width / 2, planes }));
  }
  return { frames, truth: turnedTruth(truth, turn) };
}
