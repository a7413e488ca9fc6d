/** What moves before a rig that travels: looks held against the frames a moment before and after. */
import type { Level } from '@glimbo/core/frame/sphere-frame';
import { apply, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { CONFIDENT, type Motion } from '@glimbo/core/motion/motion';
import type { ParallaxWork } from '@glimbo/core/moving/parallax';
import { regionsOf, standsOut, type Region } from '@glimbo/core/moving/regions';
import { createParallaxWork } from '@glimbo/kernel/parallax';

/** Seconds from a look to the frames before and after. */
const APART = 0.1;
/** Where more of the sphere than this fits no depth, the motion is not what it is said to be. */
const UNSETTLED = 0.15;

export class Travelling {
  /** Frames from a look to those it is held against. */
  readonly apart: number;
  /** The frames that are still needed, by number. */
  private readonly near = new Map<number, Level>();
  private readonly found = new Map<number, Region[]>();

  private constructor(
    private readonly work: ParallaxWork,
    private readonly motion: Motion,
    private readonly toWorld: (frame: number) => Matrix3,
    private readonly width: number,
  ) {
    this.apart = Math.max(1, Math.round(APART * motion.rate));
  }

  /** For pictures of a width, where it is known how the rig travels; null where it never is. `module`: the motion analysis's. */
  static async along(
    motion: Motion | null | undefined,
    toWorld: (frame: number) => Matrix3,
    { module, width }: { module: WebAssembly.Module; width: number },
  ) {
    if (!motion?.frames.some(({ travelConfidence }) => travelConfidence >= CONFIDENT)) return null;
    return new Travelling(await createParallaxWork(module, width), motion, toWorld, width);
  }

  /** The next picture, which is kept: of a look, or of a frame `apart` before or after one; `isLook` says which frames are looks. */
  add(frame: number, picture: Level, isLook: (frame: number) => boolean): void {
    const look = frame - this.apart;
    for (const n of this.near.keys()) if (n < look - this.apart) this.near.delete(n);
    this.near.set(frame, picture);
    if (isLook(look) && this.isKnown(look)) this.judge(look);
  }

  /** What fits no depth at a look, once; null where it is not known. */
  take(look: number): Region[] | null {
    const regions = this.found.get(look) ?? null;
    this.found.delete(look);
    return regions;
  }

  /** Whether the travel is known, with no cut on the way. */
  private isKnown(look: number): boolean {
    const { frames, cuts, rate } = this.motion;
    const isNear = (cut: number) => Math.abs(cut * rate - look) <= this.apart + 1;
    return (frames[look]?.travelConfidence ?? 0) >= CONFIDENT && !cuts.some(isNear);
  }

  private judge(look: number): void {
    const at = (frame: number) => {
      const picture = this.near.get(frame);
      return picture && { picture, toWorld: this.toWorld(frame) };
    };
    const [now, before, after] = [at(look), at(look - this.apart), at(look + this.apart)];
    if (!now || !before || !after) return;
    const travel = apply(now.toWorld, this.motion.frames[look]!.travel);
    const others = [
      { ...before, later: false },
      { ...after, later: true },
    ];
    const excess = this.work.excess(now, others, travel);
    const across = this.width / 2;
    if (standsOut(excess, across) < UNSETTLED) this.found.set(look, regionsOf(excess, across));
  }
}
