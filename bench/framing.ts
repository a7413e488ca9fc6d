/** Following as a whole: how long it takes from the reduced copy, and how the camera that it leads keeps a subject in its place. */
import { join } from 'node:path';
import { followingOf } from '@glimbo/core/follow/following';
import { USUAL_RULE, type Follow } from '@glimbo/core/follow/rule';
import type { Motion } from '@glimbo/core/motion/motion';
import { isSeen, type SubjectTrack } from '@glimbo/core/follow/subject';
import { apply, matrixOf, vec3, type Vec3 } from '@glimbo/core/geometry/rotation';
import { cameraOf, DEFAULT_VIEW, directionAt, pixelOf } from '@glimbo/core/lens/view';
import { followBeside } from '@glimbo/media/follow-beside';
import { gather } from '@glimbo/media/gather';
import { keptMoving } from '@glimbo/media/kept-moving';
import { readRecording, wholeSphere } from '@glimbo/media/recording';
import { clipOf, pointedOut, truthOf, VISIBLE, type Truth } from './demo-truth.js';
import { folder } from './measure.js';

const CLIP = 'turntable';
const FOLLOWED = ['yellow visitor', 'pink visitor', 'rust visitor', 'orange child', 'violet child', 'own engine'];
/** A frame of an export, in pixels. */
const [WIDTH, HEIGHT] = [1920, 1080];
/** Share of its width by which a subject may be off its place. */
const NEAR = 0.08;

export async function reportFraming() {
  const truth = truthOf(CLIP);
  const recording = wholeSphere(clipOf(CLIP));
  const { facts } = await readRecording(recording);
  const place = join(folder, 'framing');
  await gather(recording, facts, place, { variableRate: false });
  const [proxy, moving] = [join(place, 'proxy.mp4'), join(place, 'moving')];
  const motion = { frames: truth.frames as Motion['frames'] } as Motion;
  await keptMoving(proxy, facts, { motion, folder: moving });
  for (const name of FOLLOWED) {
    const { start, box } = pointedOut(truth, name);
    const { direction, width, height } = box;
    const began = performance.now();
    const order = { frame: start, direction, size: { width, height } };
    const track = await followBeside(proxy, facts, order, { motion, folder: moving });
    const took = (performance.now() - began) / 1000;
    const { kept, jerk } = framing(truth, name, track, facts.duration);
    console.log(
      `${CLIP}, ${name}: followed ${(facts.duration / took).toFixed(1)} times as fast as it plays;`,
      `within 8 % of the frame of its place in ${(100 * kept).toFixed(0)} % of frames, jerk ${(100 * jerk).toFixed(1)} % of the track's`,
    );
  }
}

/** Where the camera of a take that follows a subject throughout has it, and how evenly it goes there. */
function framing(truth: Truth, name: string, track: SubjectTrack, duration: number) {
  const toWorld = { at: (t: number) => matrixOf(truth.frames[Math.round(t * truth.rate)]!.orientation) };
  const rule: Follow = { subject: name, in: 0, out: duration, ...USUAL_RULE, blend: 0 };
  const following = followingOf([rule], () => track, toWorld)!;
  const cameras = track.looks.map((_, n) =>
    cameraOf(following(DEFAULT_VIEW, n / track.rate, WIDTH / HEIGHT), WIDTH, HEIGHT),
  );
  const { looks } = truth.subjects.find((s) => s.name === name)!;
  const visible = looks.filter(([n, , , , , seen]) => seen >= VISIBLE && isSeen(track.looks[n]!));
  const near = visible.filter(([n, x, y, z]) => {
    const at = pixelOf(cameras[n]!, apply(toWorld.at(n / truth.rate), vec3([x, y, z])));
    return at && Math.hypot(at.x - WIDTH / 2, at.y - HEIGHT / 2) <= NEAR * WIDTH;
  });
  const raw = track.looks.map((look, n) => apply(toWorld.at(n / track.rate), vec3(look ?? [0, 0, 1])));
  const led = cameras.map((camera) => directionAt(camera, WIDTH / 2, HEIGHT / 2)!);
  // Only where the track goes on: a leap after a loss is no jerk of the subject's.
  const steady = (n: number) => [0, 1, 2, 3].every((k) => isSeen(track.looks[n + k]!));
  return { kept: near.length / visible.length, jerk: jerkOf(led, steady) / jerkOf(raw, steady) };
}

/** Root mean square of the third difference of a direction from frame to frame. */
function jerkOf(directions: readonly Vec3[], counts: (n: number) => boolean): number {
  let [sum, count] = [0, 0];
  for (let n = 0; n + 3 < directions.length; n++) {
    if (!counts(n)) continue;
    const [a, b, c, d] = directions.slice(n, n + 4) as [Vec3, Vec3, Vec3, Vec3];
    for (let k = 0; k < 3; k++) sum += (d[k]! - 3 * c[k]! + 3 * b[k]! - a[k]!) ** 2;
    count++;
  }
  return Math.sqrt(sum / count);
}
