/**
 * A frame plan written down in shared memory, so that every thread can look up what it has to do: shots one behind the
 * other, and of each source the list of its pictures that are shown, in order and each once.
 */
import { IDENTITY, matrix3 } from '@glimbo/core/geometry/rotation';
import type { Detail } from '@glimbo/core/look/detail';
import type { Patch } from '@glimbo/core/look/patch';
import type { Sector } from '@glimbo/core/look/sector';
import type { Treatment } from '@glimbo/core/look/treatment';
import type { FramePlan, Pane, PlannedShot } from '@glimbo/core/plan/plan';
import { latitudesSeen, union, WHOLE, type Band } from '@glimbo/core/plan/rows';
import type { Shot, ShotParted, ShotTwin } from '@glimbo/core/plan/shot';
import { sphereWidth, type Source } from '@glimbo/core/stitch/source';
import { needsMips } from '@glimbo/kernel/mips';

/**
 * Doubles of a shot: pane, source, picture, time, weight, kind, four of the camera, the rotation's nine, twice nine of a patch, nine
 * of a sector; of a twin its source, picture, time, gain and the rotation's nine.
 */
const FIELDS = 59;
/** Weights are kept in parts of this, so that they can be summed up exactly. */
export const WEIGHTS = 256;

export interface PlanTable {
  sources: Source[];
  panes: Pane[];
  frames: number;
  /** Where each frame's shots begin, and after the last where they end. */
  begins: Uint32Array;
  shots: Float64Array;
  pictures: SourcePictures[];
  /** Most shots that a pane of any frame has. */
  most: number;
  treatments: Treatments;
  overlays: Overlays;
  /** What the shots' patches are; null without any. */
  patch: Patch | null;
  /** What parts the shots; null where they are whole. */
  sector: Sector | null;
  /** Clarity and sharpening of all frames; null where there is none. */
  detail: Detail | null;
}

/** What lies over frames: each SVG once, and which of them each frame has; NONE where nothing does. */
export interface Overlays {
  list: string[];
  of: Uint32Array;
}

/** What is done to colours, in order of time, each as often as it changes. */
export interface Treatments {
  list: Treatment[];
  /** Which of them each frame has; NONE where nothing is done. */
  of: Uint32Array;
}

/** The pictures of one source that are shown, in order. */
export interface SourcePictures {
  /** Frame of the footage, by picture. */
  frames: Uint32Array;
  /** For each frame of the clip the first picture that it or a later one shows. */
  needed: Uint32Array;
  /** Frame of the clip that shows it first, by picture. */
  firstShown: Uint32Array;
  /** How many pictures have to be held at once for one frame of the clip. */
  held: number;
  /** The latitudes that are drawn from anything; where mip levels are needed, all. */
  band: Band;
  /** Whether anything draws the picture smaller than it is. */
  mips: Uint8Array;
}

/** Which source, and which of its pictures. */
export interface PictureUse {
  from: number;
  number: number;
}

export interface TableShot extends Shot, PictureUse {
  pane: number;
  parted?: Pick<ShotParted, 'toWorld'> & { twin: (ShotTwin & PictureUse) | null };
  /** In 1/WEIGHTS. */
  weight: number;
}

/** Stands for no number. */
export const NONE = 0xffffffff;

const shared = (bytes: number) => new SharedArrayBuffer(Math.max(8, bytes));

/** Writes a plan down. `widths` are those of the sources' decoded pictures. Throws RangeError for a plan that goes back in time. */
export function tableOf(plan: FramePlan, widths: number[]): PlanTable {
  const { frames, sources, panes } = plan;
  const begins = new Uint32Array(shared(4 * (frames + 1)));
  const rows: number[] = [];
  // A fill looks at all that lies round about it, from afar.
  const fills = plan.patch?.kind === 'fill';
  const writers = sources.map((source, s) => new PictureWriter(frames, sphereWidth(source, widths[s]!), fills));
  let most = 1;
  for (let n = 0; n < frames; n++) {
    begins[n] = rows.length / FIELDS;
    for (const [pane, shots] of plan.shotsAt(n).entries()) {
      most = Math.max(most, shots.length);
      const weights = partsOf(shots.map((s) => s.weight));
      for (const [i, shot] of shots.entries()) {
        rows.push(pane, shot.source, writers[shot.source]!.add(n, shot), shot.time, weights[i]!, ...pictureOf(shot));
        const twin = shot.parted?.twin;
        const { toWorld = IDENTITY } = shot.parted ?? {};
        if (twin) {
          const number = writers[twin.source]!.add(n, { ...twin, picture: shot.picture });
          rows.push(...toWorld, twin.source, number, twin.time, twin.gain, ...twin.toSource);
        } else rows.push(...toWorld, NONE, 0, 0, 1, ...IDENTITY);
      }
    }
  }
  begins[frames] = rows.length / FIELDS;
  const shots = new Float64Array(shared(rows.length * 8));
  shots.set(rows);
  const pictures = writers.map((w) => w.finish());
  return {
    sources,
    panes,
    frames,
    begins,
    shots,
    pictures,
    most,
    treatments: treatmentsOf(plan),
    overlays: overlaysOf(plan),
    patch: plan.patch ?? null,
    sector: plan.sector ?? null,
    detail: plan.detail ?? null,
  };
}

function overlaysOf({ frames, overlayAt }: FramePlan): Overlays {
  const known = new Map<string, number>();
  const of = new Uint32Array(shared(4 * frames)).fill(NONE);
  for (let n = 0; n < frames; n++) {
    const svg = overlayAt?.(n);
    if (!svg) continue;
    if (!known.has(svg)) known.set(svg, known.size);
    of[n] = known.get(svg)!;
  }
  return { list: [...known.keys()], of };
}

function treatmentsOf({ frames, treatmentAt }: FramePlan): Treatments {
  const list: Treatment[] = [];
  const of = new Uint32Array(shared(4 * frames)).fill(NONE);
  let last = '';
  for (let n = 0; n < frames; n++) {
    const treatment = treatmentAt?.(n);
    if (!treatment) continue;
    const said = JSON.stringify(treatment);
    if (said !== last) list.push(treatment);
    last = said;
    of[n] = list.length - 1;
  }
  return { list, of };
}

const NO_PATCH = new Array<number>(18).fill(0);

function pictureOf({ picture, toSource, patch }: PlannedShot): number[] {
  const camera =
    'sphere' in picture ? [1, 0, 0, 0, 0] : [0, picture.bend, picture.scale, picture.centreX, picture.centreY];
  return [...camera, ...toSource, ...(patch ? [...patch.fromDrawn, ...patch.toSource] : NO_PATCH)];
}

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

class PictureWriter {
  private readonly frames: number[] = [];
  private readonly mips: number[] = [];
  private readonly firstShown: number[] = [];
  private held = 1;
  private band: Band = { south: Infinity, north: -Infinity };
  private readonly needed: Uint32Array;

  constructor(
    clipFrames: number,
    private readonly sphereWidth: number,
    /** Whether all of the sphere is needed, with its mip levels, whatever is seen of it. */
    private readonly all: boolean,
  ) {
    this.needed = new Uint32Array(shared(4 * clipFrames)).fill(NONE);
  }

  /** The number of the picture that a shot of frame n shows. */
  add(n: number, shot: Pick<PlannedShot, 'frame' | 'picture' | 'toSource'>): number {
    let number = this.frames.length - 1;
    while (number >= 0 && this.frames[number]! > shot.frame) number--;
    if (number < 0 || this.frames[number] !== shot.frame) {
      if (number < this.frames.length - 1) throw new RangeError('A plan cannot go back in its footage.');
      number = this.frames.push(shot.frame) - 1;
      this.mips.push(0);
      this.firstShown.push(n);
    }
    this.needed[n] = Math.min(this.needed[n]!, number);
    this.held = Math.max(this.held, this.frames.length - this.needed[n]!);
    if (this.all || needsMips(shot.picture, this.sphereWidth)) {
      this.mips[number] = 1;
      this.band = WHOLE;
    } else if (this.band !== WHOLE) this.band = union(this.band, latitudesSeen(shot));
    return number;
  }

  finish(): SourcePictures {
    let next = this.frames.length;
    for (let n = this.needed.length - 1; n >= 0; n--) {
      next = Math.min(next, this.needed[n]!);
      this.needed[n] = next;
    }
    return {
      frames: sharedInts(this.frames),
      needed: this.needed,
      firstShown: sharedInts(this.firstShown),
      held: this.held,
      band: this.band,
      mips: Uint8Array.from(this.mips),
    };
  }
}

function sharedInts(values: number[]): Uint32Array {
  const out = new Uint32Array(shared(4 * values.length), 0, values.length);
  out.set(values);
  return out;
}

/** The shots of a frame of the clip, as they were written down. */
export function shotsOf(
  { begins, shots, sources, panes, patch: withPatch, sector }: PlanTable,
  n: number,
): TableShot[] {
  const found: TableShot[] = [];
  for (let i = begins[n]!; i < begins[n + 1]!; i++) {
    const row = shots.subarray(i * FIELDS, (i + 1) * FIELDS);
    const [pane, from, number, time, weight, sphere, bend, scale, centreX, centreY] = row;
    const { width, height } = panes[pane!]!;
    const toSource = matrix3(row.subarray(10));
    const patch = withPatch ? { fromDrawn: matrix3(row.subarray(19)), toSource: matrix3(row.subarray(28)) } : undefined;
    found.push({
      pane: pane!,
      from: from!,
      number: number!,
      weight: weight!,
      time: time!,
      toSource,
      ...(patch ? { patch } : {}),
      ...(sector ? { parted: partedOf(row.subarray(37), sources) } : {}),
      source: sources[from!]!,
      picture: sphere
        ? { sphere: true, width, height }
        : { width, height, bend: bend!, scale: scale!, centreX: centreX!, centreY: centreY!, rotation: IDENTITY },
    });
  }
  return found;
}

function partedOf(row: Float64Array, sources: Source[]): TableShot['parted'] {
  const [from, number, time, gain] = [row[9]!, row[10]!, row[11]!, row[12]!];
  const twin =
    from === NONE ? null : { from, number, time, gain, source: sources[from]!, toSource: matrix3(row.subarray(13)) };
  return { toWorld: matrix3(row), twin };
}

/** The pictures that a shot is drawn from: its own, and its twin's. */
export const usesOf = (shot: TableShot) => (shot.parted?.twin ? [shot, shot.parted.twin] : [shot]);
