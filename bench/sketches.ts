/** Sketches, against what truly happens in the demo's clips. */
import { join } from 'node:path';
import type { SubjectLook } from '@glimbo/core/follow/subject';
import { vec3 } from '@glimbo/core/geometry/rotation';
import { aspectRatio } from '@glimbo/core/lens/format';
import { cameraOf, pixelOf } from '@glimbo/core/lens/view';
import { viewAt } from '@glimbo/core/path/path';
import type { Wanted } from '@glimbo/core/sketch/interest';
import { sketch, USUAL_SKETCH } from '@glimbo/core/sketch/sketch';
import { correctionOf } from '@glimbo/core/correction/correction';
import { shippedDetector } from '@glimbo/media/detector';
import { findSubjects } from '@glimbo/media/find-subjects';
import { gather } from '@glimbo/media/gather';
import { readRecording, wholeSphere } from '@glimbo/media/recording';
import { analyseMotion } from '@glimbo/media/motion';
import { readActivity } from '@glimbo/media/sketch';
import { clipOf, truthOf } from './demo-truth.js';
import { folder } from './measure.js';

/** Whether what happens is in the frame of a Sketch for half of its length or more: from activity by heading, from what was found, and with its subjects known. */
export async function reportSketches() {
  for (const clip of ['turntable', 'ridge-loop']) {
    const truth = truthOf(clip);
    const recording = wholeSphere(clipOf(clip));
    const { facts } = await readRecording(recording);
    const place = join(folder, `sketch-${clip}`);
    const { sweep } = await gather(recording, facts, place, { variableRate: false, proxyWidth: 960 });
    const activity = await readActivity(join(place, 'activity.png'), {
      rate: facts.rate,
      framesPerRow: sweep.framesPerRow,
    });
    const motion = await analyseMotion(clipOf(clip), facts, { method: 'quick' });
    const detector = await shippedDetector();
    const moving = await findSubjects(clipOf(clip), facts, { motion, folder: join(place, 'moving'), detector });
    const tracks = truth.subjects
      .filter((s) => truth.events.some((e) => e.subject === s.name))
      .map(({ name, looks }): Wanted => ({
        name,
        want: 'some',
        track: {
          format: 'glimbo-subject',
          version: 2,
          rate: facts.rate,
          looks: Array.from({ length: facts.frames }, (_, n): SubjectLook => {
            const [, x, y, z, size, seen] = looks[Math.min(looks.length - 1, Math.floor(n / 3))]!;
            return [x, y, z, size, size, seen > 0.4 ? 1 : 0];
          }),
        },
      }));
    for (const [how, subjects] of [
      ['activity by heading', []],
      ['what was found', []],
      ['with its subjects followed', tracks],
    ] as const)
      for (const aspect of ['16:9', '9:16']) {
        const ratio = aspectRatio(aspect);
        const began = performance.now();
        const { path } = sketch({
          from: 0,
          to: facts.duration,
          rate: facts.rate,
          ratio,
          toWorld: correctionOf({}),
          activity,
          moving: how === 'activity by heading' ? null : moving,
          subjects,
          marks: [],
          dials: USUAL_SKETCH,
        });
        const took = performance.now() - began;
        const inFrame = truth.events.filter((event) => {
          const looks = truth.subjects.find((s) => s.name === event.subject)!.looks;
          const during = looks.filter(([n]) => n / truth.rate >= event.in && n / truth.rate <= event.out);
          const seen = during.filter(([n, x, y, z]) => {
            const at = pixelOf(cameraOf(viewAt(path, n / truth.rate), ratio * 1000, 1000), vec3([x, y, z]));
            return at && at.x > 0 && at.x < ratio * 1000 && at.y > 0 && at.y < 1000;
          });
          return seen.length >= during.length / 2;
        });
        console.log(
          `Sketch of ${clip}, ${aspect}, ${how}: ${inFrame.length} of ${truth.events.length} events in frame, ${took.toFixed(0)} ms`,
        );
      }
  }
}
