/**
 * The motion analysis by patches, slower and meant for poor footage: in every frame larger patches are taken all over
 * the sphere, whatever they show, and each new frame is compared with several earlier ones. What the comparisons say
 * is put together by least squares, so that a noisy, dark or smeared frame is not the only witness.
 */
import {
  apply,
  IDENTITY,
  matrixOf,
  multiply,
  quaternionOf,
  transpose,
  type Matrix3,
  type Vec3,
} from '../geometry/rotation.js';
import { clearTravel, fitMotion, refineMotion } from './fit.js';
import type { Pairs } from './pairs.js';
import { POINT_GRID, stepFit, type Span, type Step } from './points.js';
import { RigParts } from './rig-parts.js';
import { expectPatch, foundAt, frameAt, type PatchFrame, type PatchTracker } from './tracker.js';

/** How many frames back each new one is compared. */
const BACK = [1, 2, 4, 8];
const KEPT = Math.max(...BACK);
/** Patches of every frame; every cell of the grid may give one. */
const PATCHES = POINT_GRID.cells;
export const PATCH_CAPACITY = (KEPT + 1) * PATCHES;
/** How alike a patch must be to what it was. */
const ALIKE = 0.55;
/** Smallest corner score: next to nothing. */
const CORNER = 2;
/** Patches are compared on these levels: the finest detail of poor footage is noise. */
const COARSEST = 3;
const FINEST = 1;
/** A comparison with an earlier frame counts if so large a share of its patches agree. */
const SPAN_SHARE = 0.3;

interface Kept {
  orientation: Matrix3;
  patches: { slot: number; frame: PatchFrame }[];
}

export class PatchAnalysis {
  private readonly kept: Kept[] = [];
  private readonly free = Array.from({ length: PATCH_CAPACITY }, (_, i) => i);
  private readonly steps: Step[] = [];
  private readonly spans: Span[] = [];
  private orientation: Matrix3 = IDENTITY;
  private turn: Matrix3 = IDENTITY;
  /** Direction of travel in the last frame's axes, where it is clear. */
  private travel: Vec3 | undefined;
  private readonly rig = new RigParts(POINT_GRID);

  constructor(private readonly tracker: PatchTracker) {}

  /** Takes the next frame: grey bytes of the tracker's size. */
  next(grey: Uint8Array): Step {
    this.tracker.setPicture(grey);
    const step = this.steps.length ? this.compare() : { turn: IDENTITY, fit: null, followed: 0, points: 0 };
    this.turn = step.turn;
    // Transposing stands in for inverting here, so what is not quite a rotation would grow threefold with every frame.
    this.orientation = matrixOf(quaternionOf(multiply(this.orientation, step.turn)));
    this.steps.push(step);
    this.keep();
    return step;
  }

  /** All that was found, once every frame was taken. */
  result(): { steps: Step[]; spans: Span[] } {
    return { steps: this.steps, spans: this.spans };
  }

  private compare(): Step {
    const to = this.steps.length;
    let expected = multiply(this.orientation, this.turn);
    let step: Step = { turn: IDENTITY, fit: null, followed: 0, points: 0 };
    for (const back of BACK) {
      const earlier = this.kept[this.kept.length - back];
      if (!earlier) continue;
      const guess = multiply(transpose(earlier.orientation), expected);
      const { pairs, found } = this.match(earlier, guess);
      const fit =
        back === 1
          ? fitMotion(pairs, { rotation: guess, travel: this.travel, share: this.steps.at(-1)?.fit?.share })
          : refineMotion(pairs, { rotation: guess });
      if (back === 1) {
        step = {
          turn: fit?.rotation ?? IDENTITY,
          fit: fit && stepFit(fit),
          followed: found.length,
          points: earlier.patches.length,
        };
        this.travel = fit ? clearTravel(fit) : undefined;
        // The last frame leads the others.
        if (fit) expected = multiply(this.orientation, fit.rotation);
      } else if (fit && fit.share > SPAN_SHARE) this.spans.push({ from: to - back, to, turn: fit.rotation, weight: 1 });
      // The earliest tells best what turns with the rig.
      if (fit && back === KEPT)
        for (const { was, now } of found) this.rig.tell(was, apply(transpose(fit.rotation), was), now);
    }
    return step;
  }

  /** Where an earlier frame's patches are now, and those of the world as pairs. */
  private match(earlier: Kept, guess: Matrix3): { pairs: Pairs; found: { was: Vec3; now: Vec3 }[] } {
    const back = transpose(guess);
    const found: { was: Vec3; now: Vec3 }[] = [];
    const { search } = this.tracker;
    earlier.patches.forEach(({ slot, frame }, i) =>
      expectPatch(search, i, slot, back, frame, apply(back, frame.direction)),
    );
    this.tracker.find(earlier.patches.length, COARSEST, FINEST);
    earlier.patches.forEach(({ frame }, i) => {
      if (search.alike[i]! >= ALIKE) found.push({ was: frame.direction, now: foundAt(search, i) });
    });
    const ofWorld = found.filter(({ now }) => !this.rig.has(now));
    const pairs = {
      before: Float64Array.from(ofWorld.flatMap(({ was }) => was)),
      after: Float64Array.from(ofWorld.flatMap(({ now }) => now)),
      variance: new Float64Array(ofWorld.length).fill(1),
      count: ofWorld.length,
    };
    return { pairs, found };
  }

  private keep() {
    if (this.kept.length > KEPT - 1) for (const p of this.kept.shift()!.patches) this.free.push(p.slot);
    const patches: Kept['patches'] = [];
    for (const { direction, score } of this.tracker.corners(new Uint8Array(POINT_GRID.cells).fill(1))) {
      const slot = score >= CORNER ? this.free.pop() : undefined;
      if (slot === undefined) continue;
      const frame = frameAt(direction);
      if (this.tracker.take(slot, frame)) patches.push({ slot, frame });
      else this.free.push(slot);
    }
    this.kept.push({ orientation: this.orientation, patches });
  }
}
