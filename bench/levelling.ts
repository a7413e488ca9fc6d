/** How far proposals of up are off on leaned photographs, and whether they are as sure as they say. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { angleBetween, IDENTITY, type Vec3 } from '@glimbo/core/geometry/rotation';
import type { Evidence } from '@glimbo/core/level/evidence/likelihood';
import type { Prepare } from '@glimbo/core/level/evidence/seen';
import { LevelLooks } from '@glimbo/core/level/looks';
import { proposeUp } from '@glimbo/core/level/proposal';
import { Stance } from '@glimbo/core/level/stance';
import { RIGHT, SURE } from '@glimbo/core/level/sure';
import { percentile } from '@glimbo/demo/truth';
import { createPrepare } from '@glimbo/kernel/slopes';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { folder } from './measure.js';
import { bareScenes } from './bare-scenes.js';
import { heldBackScenes } from './held-back.js';
import { BY_DAY, leanedPhotographs, leanedPictures, SCENES, WIDTH, type Leaned } from './photographs.js';

/** Pictures of each scene: 216 in all; and for each way a rig may hang. */
const EACH = 12;
const EACH_HANGING = 4;

interface Judged {
  scene: string;
  confidence: number;
  /** Degrees. */
  off: number;
}

const share = (part: readonly unknown[], whole: readonly unknown[]) => `${part.length} of ${whole.length}`;

const judged = (prepare: Prepare, cases: Leaned[], without?: keyof Evidence): Judged[] =>
  cases.map(({ scene, grey, up }) => {
    const found = proposeUp(prepare(grey), [0, 1, 0], without);
    return { scene, confidence: found.confidence, off: angleBetween(found.up, up) };
  });

function summary(name: string, all: Judged[]) {
  const sure = all.filter((j) => j.confidence >= SURE);
  const off = sure.map((j) => j.off);
  const day = all.filter((j) => BY_DAY.includes(j.scene));
  const sureByDay = day.filter((j) => j.confidence >= SURE);
  const [middle, most, worst] = [percentile(off, 0.5), percentile(off, 0.9), Math.max(...off)].map((v) => v.toFixed(1));
  console.log(
    `${name}: sure of ${share(sure, all)}, by day in the open ${share(sureByDay, day)} (goal 60 %); those off by`,
    `${middle}° (median, goal 1.5), ${most}° (90 %, goal 4), ${worst}° (worst, goal 10)`,
  );
}

function reportScenes(all: Judged[]) {
  for (const scene of new Set(all.map((j) => j.scene))) {
    const here = all.filter((j) => j.scene === scene);
    const sure = here.filter((j) => j.confidence >= SURE);
    const off = here.map((j) => j.off);
    const worst = sure.length ? `; ${Math.max(...sure.map((j) => j.off)).toFixed(1)}° (worst of those)` : '';
    console.log(
      `    ${scene}: sure of ${share(sure, here)}, off by ${percentile(off, 0.5).toFixed(1)}° (median)${worst}`,
    );
  }
}

/** How often it is known which of the picture's axes is up, and how often something else is taken for sure. */
function reportStance(prepare: Prepare) {
  const ways: [string, Vec3][] = [
    ['upright', [0, 1, 0]],
    ['head down', [0, -1, 0]],
    ['on a side', [1, 0, 0]],
  ];
  console.log('How the picture stands, from one look');
  for (const [name, up] of ways) {
    const cases = leanedPhotographs(SCENES, folder, { each: EACH_HANGING, up }).map(({ scene, grey }) => {
      const stance = new Stance();
      stance.look(prepare(grey));
      const { up: found, confidence } = stance.axis;
      return { scene, sure: confidence >= SURE, right: angleBetween(found, up) < 1 };
    });
    const day = cases.filter((c) => BY_DAY.includes(c.scene));
    const known = (of: typeof cases) => {
      const right = of.filter((c) => c.sure && c.right);
      return share(right, of);
    };
    const wrong = cases.filter((c) => c.sure && !c.right);
    console.log(
      `  ${name}: known of ${known(cases)}, by day in the open ${known(day)}; sure and wrong ${share(wrong, cases)}`,
    );
  }
}

/** Sure from here on means that nothing may be farther off than WRONG degrees. */
const PLAINLY = 0.7;
const WRONG = 5;
/** Pictures of each scene and stance that was held back. */
const EACH_HELD_BACK = 2;
const STANCES: Vec3[] = [
  [0, 1, 0],
  [0, -1, 0],
  [1, 0, 0],
  [-1, 0, 0],
  [0, 0, 1],
  [0, 0, -1],
];

/** Scenes that nothing was chosen on, however the rig hangs: from one look, as a footage is looked at first. */
function reportHeldBack(prepare: Prepare) {
  const scenes = heldBackScenes();
  const cases = STANCES.flatMap((up, seed) => leanedPictures(scenes, folder, { each: EACH_HELD_BACK, up, seed }));
  const all = cases.map(({ scene, grey, up }): Judged => {
    const looks = new LevelLooks(prepare);
    looks.take({ time: 0, grey, orientation: IDENTITY });
    const { up: found, confidence } = looks.levels[0]!;
    return { scene, confidence, off: angleBetween(found, up) };
  });
  console.log('On scenes held back, in six stances each, from one look');
  for (const scene of Object.keys(scenes)) {
    const here = all.filter((j) => j.scene === scene);
    const sure = here.filter((j) => j.confidence >= PLAINLY);
    console.log(`    ${scene}: sure of ${share(sure, here)}, of those off by ${offs(sure)}`);
  }
  const sure = all.filter((j) => j.confidence >= PLAINLY);
  const wrong = sure.filter((j) => j.off > WRONG);
  console.log(
    `  sure of ${share(sure, all)} (goal half); sure and off by more than ${WRONG}°: ${wrong.length} (goal 0)`,
  );
}

/** Degrees off, in the median and at worst. */
const offs = (judged: Judged[]) => {
  const off = judged.map((j) => j.off);
  return off.length
    ? `${percentile(off, 0.5).toFixed(1)}° (median), ${Math.max(...off).toFixed(1)}° (worst)`
    : 'nothing';
};

export async function reportLevelling() {
  const module = await WebAssembly.compile(readFileSync(join(engineFolder(), 'motion.wasm')));
  const prepare = await createPrepare(module, WIDTH);
  const cases = leanedPhotographs(SCENES, folder, { each: EACH });
  console.log('Up proposed on photographs leaned by up to 25°');
  const all = judged(prepare, cases);
  summary('  all cues', all);
  for (const cue of ['upright', 'along', 'skyline', 'layers'] as const)
    summary(`  without ${cue}`, judged(prepare, cases, cue));
  console.log('  called so sure, so many within 3°');
  for (let from = 0; from < 10; from++) {
    const here = all.filter((j) => Math.min(9, Math.floor(j.confidence * 10)) === from);
    const right = here.filter((j) => j.off <= RIGHT);
    if (here.length)
      console.log(
        `    ${from * 10} to ${from * 10 + 10} %: ${Math.round((100 * right.length) / here.length)} % of ${here.length}`,
      );
  }
  reportScenes(all);
  console.log('On drawn scenes with hardly anything upright');
  reportScenes(judged(prepare, leanedPictures(bareScenes(), folder, { each: EACH })));
  reportStance(prepare);
  reportHeldBack(prepare);
}
