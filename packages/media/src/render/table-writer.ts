/** Writes a frame plan down in shared memory. */
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import type { Detail } from '@glimbo/core/look/detail';
import type { Patch } from '@glimbo/core/look/patch';
import type { Sector } from '@glimbo/core/look/sector';
import type {
  FramePlan,
  Layer,
  LayerPart,
  Pane,
  PlannedShot,
  PlannedTreatment,
  PlannedTwin,
} from '@glimbo/core/plan/plan';
import { latitudesAbout, WHOLE } from '@glimbo/core/plan/rows';
import type { Picture } from '@glimbo/core/plan/shot';
import { rimReach } from '@glimbo/kernel';
import { PictureWriter } from './pictures.js';
import {
  CAMERA,
  FLAT,
  LAYER,
  PART,
  SHOT,
  SPHERE,
  WEIGHTS,
  type PlannedOverlay,
  type PlannedPatch,
  type PlanTable,
} from './plan-table.js';
import { sharedDoubles, sharedInts } from './records.js';
import { NONE, Scheduler } from './schedule.js';

/** Writes a plan down. `widths` are those of the sources' decoded pictures. Throws RangeError for a plan that goes far back in time. */
export function tableOf(plan: FramePlan, widths: number[]): PlanTable {
  const writer = new TableWriter(plan, widths);
  for (let n = 0; n < plan.frames; n++) writer.add(n, plan.layersAt(n));
  return writer.finish();
}

/** Things that are the same over many frames, each once. */
class Distinct<T> {
  readonly list: T[] = [];
  private readonly known = new Map<string, number>();

  private last: { thing: T; number: number } | null = null;

  number(thing: T | null | undefined): number {
    if (!thing) return NONE;
    // Most often it is the very same as in the frame before.
    if (this.last?.thing !== thing) this.last = { thing, number: this.numberOf(thing) };
    return this.last.number;
  }

  private numberOf(thing: T): number {
    const said = JSON.stringify(thing);
    if (!this.known.has(said)) this.known.set(said, this.list.push(thing) - 1);
    return this.known.get(said)!;
  }
}

const covers = (pane: Pane, { width, height }: { width: number; height: number }) =>
  pane.left === 0 && pane.top === 0 && pane.width === width && pane.height === height;

/** Whether the layers of a frame are drawn apart and then joined; else its only layer is drawn where the frame lies. */
export const isJoined = (
  layers: readonly Pick<Layer, 'pane' | 'weight'>[],
  frame: { width: number; height: number },
): boolean => layers.length !== 1 || layers[0]!.weight < 1 || !covers(layers[0]!.pane, frame);

export const meets = (a: Pane, b: Pane): boolean =>
  a.left < b.left + b.width && b.left < a.left + a.width && a.top < b.top + b.height && b.top < a.top + a.height;

/** The parts of a layer; where they may not cover all of it, above a part that shows nothing, which is black. */
function withGround({ pane, parts }: Layer): LayerPart[] {
  if (parts.some((p) => covers(p.pane, pane))) return parts;
  const apart = !parts.some((p, i) => parts.slice(0, i).some((o) => meets(p.pane, o.pane)));
  const covered = parts.reduce((sum, p) => sum + p.pane.width * p.pane.height, 0);
  if (apart && covered === pane.width * pane.height) return parts;
  return [{ pane: { ...pane, left: 0, top: 0 }, shots: [] }, ...parts];
}

class TableWriter {
  private readonly writers: PictureWriter[];
  private readonly begins = [0];
  private readonly layers: number[] = [];
  private readonly parts: number[] = [];
  private readonly shots: number[] = [];
  private mostShots = 1;
  private mostJoined = 0;
  private readonly treatments = new Scheduler<PlannedTreatment>();
  private readonly overlays = new Scheduler<PlannedOverlay>();
  private readonly patchPictures = new Scheduler<PlannedPatch>();
  private readonly patches = new Distinct<Patch>();
  private readonly sectors = new Distinct<Sector>();
  private readonly details = new Distinct<Detail>();

  constructor(
    private readonly plan: FramePlan,
    widths: number[],
  ) {
    this.writers = plan.sources.map((source, s) => new PictureWriter(plan.frames, source, widths[s]!));
  }

  add(n: number, layers: Layer[]) {
    if (isJoined(layers, this.plan)) this.mostJoined = Math.max(this.mostJoined, layers.length);
    for (const [l, layer] of layers.entries()) {
      const { pane, weight, treatment, overlay, detail } = layer;
      const patch = layer.patch && layer.parts.some((p) => p.shots.some((s) => s.patch)) ? layer.patch : null;
      const { width, height } = pane;
      this.layers.push(
        ...[pane.left, pane.top, width, height, Math.round(weight * WEIGHTS)],
        treatment ? this.treatments.use(JSON.stringify(treatment), n, () => treatment) : NONE,
        // An SVG says its size itself.
        overlay ? this.overlays.use(overlay, n, () => ({ svg: overlay, width, height })) : NONE,
        patch ? this.patchPicture(patch, n, l, layer.grain ?? 0) : NONE,
        ...[this.patches.number(patch), this.sectors.number(layer.sector), this.details.number(detail)],
        this.parts.length / PART.length,
      );
      for (const part of withGround(layer)) this.addPart(n, part, patch?.kind === 'fill' ? patch : null);
      this.layers.push(this.parts.length / PART.length);
    }
    this.begins.push(this.layers.length / LAYER.length);
  }

  private patchPicture(patch: Patch, n: number, layer: number, grain: number): number {
    const fill = patch.kind === 'fill' ? { layer, grain } : null;
    return this.patchPictures.use(fill ? `${n} ${layer}` : JSON.stringify(patch), n, () => ({ patch, fill }));
  }

  private addPart(n: number, { pane, shots }: LayerPart, fill: Patch | null) {
    this.mostShots = Math.max(this.mostShots, shots.length);
    this.parts.push(pane.left, pane.top, pane.width, pane.height, this.shots.length / SHOT.length);
    const weights = partsOf(shots.map((s) => s.weight));
    shots.forEach((shot, i) => this.addShot(n, shot, weights[i]!, fill));
    this.parts.push(this.shots.length / SHOT.length);
  }

  private addShot(n: number, shot: PlannedShot, weight: number, fill: Patch | null) {
    const { patch, parted } = shot;
    const writer = this.writers[shot.source]!;
    // A fill looks at what lies round about it, from afar; in what is no sphere laid flat that may be anywhere.
    const afar = fill && patch ? (writer.flat ? latitudesAbout(patch.toSource, rimReach(fill)) : WHOLE) : null;
    writer.add(n, shot, afar);
    const twin = parted?.twin ?? null;
    if (twin) this.writers[twin.source]!.add(n, { ...twin, picture: shot.picture }, null);
    // Until all pictures are known, their frames stand for their numbers.
    this.shots.push(
      ...[
        shot.source,
        shot.frame,
        shot.time,
        weight,
        shot.smeared ? 1 : 0,
        ...numbersOf(shot.picture),
        ...shot.toSource,
      ],
      ...(patch ? [1, ...patch.fromDrawn, ...patch.toSource] : [0, ...IDENTITY, ...IDENTITY]),
      ...(parted ? [1, ...parted.toWorld] : [0, ...IDENTITY]),
      ...twinNumbers(twin),
    );
  }

  /** Puts a picture's number in the place of its frame. */
  private number(written: ReturnType<PictureWriter['finish']>[], source: number, place: number) {
    const from = this.shots[source]!;
    if (from !== NONE) this.shots[place] = written[from]!.numberOf.get(this.shots[place]!)!;
  }

  finish(): PlanTable {
    const { width, height, frames, sources } = this.plan;
    const written = this.writers.map((w) => w.finish());
    for (let row = 0; row < this.shots.length; row += SHOT.length) {
      this.number(written, row + SHOT.source, row + SHOT.number);
      this.number(written, row + SHOT.twinSource, row + SHOT.twinNumber);
    }
    return {
      ...{ width, height, frames, sources },
      pictures: written.map((w) => w.pictures),
      begins: sharedInts(this.begins),
      layers: sharedDoubles(this.layers),
      parts: sharedDoubles(this.parts),
      shots: sharedDoubles(this.shots),
      mostShots: this.mostShots,
      mostJoined: this.mostJoined,
      treatments: this.treatments.finish(frames),
      overlays: this.overlays.finish(frames),
      patchPictures: this.patchPictures.finish(frames),
      patches: this.patches.list,
      sectors: this.sectors.list,
      details: this.details.list,
    };
  }
}

function numbersOf(picture: Picture): number[] {
  if ('sphere' in picture) return [SPHERE, 0, 0, 0, 0];
  if ('flat' in picture) return [FLAT, picture.left, picture.top, picture.right, picture.bottom];
  return [CAMERA, picture.bend, picture.scale, picture.centreX, picture.centreY];
}

const twinNumbers = (twin: PlannedTwin | null): number[] =>
  twin ? [twin.source, twin.frame, twin.time, twin.gain, ...twin.toSource] : [NONE, 0, 0, 1, ...IDENTITY];

/** Shares as whole numbers that add up to WEIGHTS. */
export function partsOf(shares: number[]): number[] {
  let sum = 0;
  let given = 0;
  return shares.map((share, i) => {
    sum += share;
    const upTo = i === shares.length - 1 ? WEIGHTS : Math.round(sum * WEIGHTS);
    const part = upTo - given;
    given = upTo;
    return part;
  });
}
