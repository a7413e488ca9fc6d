/** The demo: Brindle Halt's clips, used where they ship, and a project with takes of them. Done once for a data folder. */
import { existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { setViewKey } from '@glimbo/core/path/edit';
import type { Ease } from '@glimbo/core/curve/ease';
import { newTake, type Take } from '@glimbo/core/take/take';
import type { View } from '@glimbo/core/lens/view';
import { twoLenses, type Source } from '@glimbo/core/stitch/source';
import { makeCard } from '@glimbo/demo/card';
import { inOnePicture, LENS_SIDE, NOMINAL } from '@glimbo/demo/lenses';
import { fingerprint } from '@glimbo/media/copy';
import { readRecording } from '@glimbo/media/recording';
import { addFootage, findFootageByFile } from '~/db/footage';
import { addJob } from '~/db/jobs';
import { addTake, projectNamed } from '~/db/takes';
import { demoCard } from '~/gathering/card';
import { config } from '../base/config';
import type { SidecarUse } from '~/model/sidecar';

interface DemoTake {
  name: string;
  aspect: string;
  range: [number, number];
  orientation?: Take['orientation'];
  path: [time: number, view: Partial<View>, ease?: Ease][];
}

const DEMO: {
  clip: string;
  second?: string;
  source?: Source;
  name: string;
  analyse?: SidecarUse;
  takes: DemoTake[];
}[] = [
  {
    clip: 'turntable.mp4',
    name: 'Turntable',
    takes: [
      {
        name: 'All round the turntable, wide',
        aspect: '16:9',
        range: [1, 14],
        path: [
          [1, { pan: 25, tilt: -16, fov: 58 }],
          [5, { pan: 32, tilt: -14, fov: 46 }, 'hold'],
          [6, { pan: 32, tilt: -14, fov: 46 }, 'ease-in-out'],
          [9, { pan: 118, tilt: -4, fov: 62 }],
          [11, { pan: 150, tilt: 0, fov: 66 }, 'whip'],
          [13, { pan: -58, tilt: -6, fov: 54 }],
        ],
      },
      {
        name: 'Planet opening, tall',
        aspect: '9:16',
        range: [0, 9],
        path: [
          [0, { pan: -40, tilt: -90, fov: 255, bend: 1 }, 'ease-in-out'],
          [4, { pan: 28, tilt: -18, fov: 70, bend: 0 }],
          [8, { pan: 44, tilt: -12, fov: 52, bend: 0 }],
        ],
      },
    ],
  },
  {
    clip: 'ridge-loop.mp4',
    name: 'Ridge Loop',
    analyse: 'no',
    takes: [
      {
        name: 'The other train overtakes',
        aspect: '16:9',
        range: [2, 13],
        path: [
          [2, { pan: 8, tilt: -4, fov: 78 }],
          [4.5, { pan: 150, tilt: -8, fov: 70 }],
          [6.8, { pan: 75, tilt: -6, fov: 74 }],
          [11, { pan: 4, tilt: -2, fov: 84, bend: 0.2 }],
        ],
      },
    ],
  },
  {
    clip: 'footbridge-carry.mp4',
    name: 'Footbridge Carry',
    analyse: 'replace',
    takes: [
      {
        name: 'Over the footbridge',
        aspect: '16:9',
        range: [0, 9],
        orientation: { mount: { pan: 0, tilt: 0, roll: 180 } },
        path: [
          [0, { pan: 10, tilt: -8, fov: 76 }],
          [8, { pan: -30, tilt: -6, fov: 70 }],
        ],
      },
    ],
  },
  {
    clip: 'signal-corner-a.mp4',
    second: 'signal-corner-b.mp4',
    source: { ...twoLenses(2 * LENS_SIDE, LENS_SIDE, NOMINAL[0].fov, inOnePicture(NOMINAL)), join: 'files' },
    name: 'Signal Corner',
    takes: [
      {
        name: 'Past the seam',
        aspect: '16:9',
        range: [1, 7],
        path: [
          [1, { pan: -125, tilt: -4, fov: 60 }],
          [5.5, { pan: -75, tilt: -4, fov: 56 }],
        ],
      },
    ],
  },
];

export async function seedDemo() {
  if (!existsSync(demoCard.inserted) && !existsSync(demoCard.out)) {
    await mkdir(dirname(demoCard.out), { recursive: true });
    await makeCard(join(config.root, 'packages/demo/clips'), demoCard.out);
  }
  const analyses: { footageId: string; use: SidecarUse }[] = [];
  for (const { clip, second, source, name, analyse, takes } of DEMO) {
    const file = join(config.root, 'packages/demo/clips', clip);
    if (!existsSync(file) || (await findFootageByFile(file))) continue;
    const secondFile = second ? join(config.root, 'packages/demo/clips', second) : null;
    const { facts } = await readRecording({
      files: secondFile ? [file, secondFile] : [file],
      source: source ?? { kind: 'sphere' },
    });
    const footageId = await addFootage({
      name,
      file,
      secondFile,
      source,
      inPlace: true,
      variableRate: false,
      facts,
      fingerprint: await fingerprint(file),
    });
    await addJob({ kind: 'gather', params: {}, footageId, takeId: null });
    if (analyse) analyses.push({ footageId, use: analyse });
    const projectId = await projectNamed('Open day at Brindle Halt');
    for (const take of takes)
      await addTake({ projectId, footageId, name: take.name, document: documentOf(take, file, facts.duration) });
  }
  // When all proxies are there.
  for (const { footageId, use } of analyses)
    await addJob({ kind: 'motion', params: { method: 'quick', use }, footageId, takeId: null });
}

function documentOf(demo: DemoTake, file: string, duration: number): Take {
  const take = newTake(basename(file), duration);
  take.range = { in: demo.range[0], out: demo.range[1] };
  take.frame = { aspect: demo.aspect };
  if (demo.orientation) take.orientation = demo.orientation;
  for (const [time, view, ease] of demo.path) take.path = setViewKey(take.path, time, view, ease ?? 'smooth');
  return take;
}
