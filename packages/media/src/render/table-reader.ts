/** Reads what a frame of a plan needs from shared memory. */
import { IDENTITY, matrix3 } from '@glimbo/core/geometry/rotation';
import type { Pane } from '@glimbo/core/plan/plan';
import type { Picture, PlanSource, Shot, ShotTwin } from '@glimbo/core/plan/shot';
import {
  FLAT,
  LAYER,
  PART,
  SHOT,
  SPHERE,
  WEIGHTS,
  type PictureUse,
  type PlanTable,
  type TableLayer,
  type TablePart,
  type TableShot,
} from './plan-table.js';
import { rowAt } from './records.js';
import { NONE } from './schedule.js';

/** The layers of a frame of the clip, as they were written down. */
export function layersOf(table: PlanTable, n: number): TableLayer[] {
  const { begins, patches, sectors, details } = table;
  return numbersFrom(begins[n]!, begins[n + 1]!, (l) => {
    const row = rowAt(table.layers, LAYER, l);
    return {
      pane: paneIn(row, LAYER),
      weight: row[LAYER.weight]! / WEIGHTS,
      treatment: row[LAYER.treatment]!,
      overlay: row[LAYER.overlay]!,
      patchPicture: row[LAYER.patchPicture]!,
      patch: patches[row[LAYER.patch]!] ?? null,
      sector: sectors[row[LAYER.sector]!] ?? null,
      detail: details[row[LAYER.detail]!] ?? null,
      parts: numbersFrom(row[LAYER.firstPart]!, row[LAYER.endPart]!, (p) => partOf(table, p)),
    };
  });
}

const numbersFrom = <T>(from: number, end: number, of: (n: number) => T): T[] =>
  Array.from({ length: end - from }, (_, i) => of(from + i));

const paneIn = (row: Float64Array, at: Record<keyof Pane, number>): Pane => ({
  left: row[at.left]!,
  top: row[at.top]!,
  width: row[at.width]!,
  height: row[at.height]!,
});

function partOf(table: PlanTable, p: number): TablePart {
  const row = rowAt(table.parts, PART, p);
  const pane = paneIn(row, PART);
  let shots: TableShot[] | null = null;
  return {
    pane,
    // With motion blur there are many, and whoever counts steps needs none of them.
    get shots() {
      return (shots ??= numbersFrom(row[PART.firstShot]!, row[PART.endShot]!, (s) =>
        shotOf(table.sources, rowAt(table.shots, SHOT, s), pane),
      ));
    },
  };
}

function shotOf(sources: PlanSource[], row: Float64Array, size: { width: number; height: number }): TableShot {
  const from = row[SHOT.source]!;
  const matrixAt = (at: number) => matrix3(row.subarray(at));
  return {
    from,
    number: row[SHOT.number]!,
    weight: row[SHOT.weight]!,
    time: row[SHOT.time]!,
    source: sources[from]!,
    toSource: matrixAt(SHOT.toSource),
    picture: pictureIn(row, size),
    ...(row[SHOT.smeared] ? { smeared: true } : {}),
    ...(row[SHOT.patched]
      ? { patch: { fromDrawn: matrixAt(SHOT.fromDrawn), toSource: matrixAt(SHOT.patchToSource) } }
      : {}),
    ...(row[SHOT.parted] ? { parted: { toWorld: matrixAt(SHOT.toWorld), twin: twinIn(sources, row) } } : {}),
  };
}

function pictureIn(row: Float64Array, { width, height }: { width: number; height: number }): Picture {
  const [a, b, c, d] = [0, 1, 2, 3].map((i) => row[SHOT.picture + i]!) as [number, number, number, number];
  if (row[SHOT.kind] === SPHERE) return { sphere: true, width, height };
  if (row[SHOT.kind] === FLAT) return { flat: true, width, height, left: a, top: b, right: c, bottom: d };
  return { width, height, bend: a, scale: b, centreX: c, centreY: d, rotation: IDENTITY };
}

function twinIn(sources: PlanSource[], row: Float64Array): (ShotTwin & PictureUse) | null {
  const from = row[SHOT.twinSource]!;
  if (from === NONE) return null;
  return {
    from,
    number: row[SHOT.twinNumber]!,
    time: row[SHOT.twinTime]!,
    gain: row[SHOT.twinGain]!,
    source: sources[from]!,
    toSource: matrix3(row.subarray(SHOT.twinToSource)),
  };
}

/** The pictures that a shot is drawn from: its own, and its twin's. */
export const usesOf = (shot: TableShot): (Pick<Shot, 'source' | 'time'> & PictureUse)[] =>
  shot.parted?.twin ? [shot, shot.parted.twin] : [shot];
