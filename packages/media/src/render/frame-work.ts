/** What has to be done for a frame, in steps that threads share among themselves. */
import { stripesOf } from '@glimbo/kernel';
import type { TargetPlane, TargetSlot } from '@glimbo/kernel/memory';
import { READY_PARTS } from './counters.js';
import { type PictureUse, type PlanTable, type TableLayer, type TablePart, type TableShot } from './plan-table.js';
import { isJoined, meets } from './table-writer.js';
import { layersOf, usesOf } from './table-reader.js';
import { beginningAt, NONE } from './schedule.js';

interface Stripe {
  /** The first of its tile rows, and how many. */
  row: number;
  rows: number;
}

/** A stripe of a part of a layer; it may be begun when `after` stripes of its frame are drawn. */
export interface DrawnStripe extends Stripe {
  layer: number;
  part: TablePart;
  after: number;
}

/** A picture to be made ready, and what it is drawn for. */
export type FreshPicture = PictureUse & Pick<TableShot, 'source' | 'time'>;

export interface FrameWork {
  n: number;
  layers: TableLayer[];
  /** Whether its layers are drawn apart and then joined; else its only layer is drawn where the frame lies. */
  joins: boolean;
  /** What it needs first: numbers of tables, of overlays, and of pictures of patches that are still or filled anew. */
  treatments: number[];
  overlays: number[];
  stillPatches: number[];
  fills: number[];
  drawing: DrawnStripe[];
  finishing: (Stripe & { layer: number })[];
  joining: Stripe[];
}

export function workOf(table: PlanTable, n: number): FrameWork {
  const layers = layersOf(table, n);
  const patches = beginningAt(table.patchPictures, n);
  const isFill = (number: number) => table.patchPictures.list[number]!.fill !== null;
  const joins = isJoined(layers, table);
  return {
    n,
    layers,
    joins,
    treatments: beginningAt(table.treatments, n),
    overlays: beginningAt(table.overlays, n),
    stillPatches: patches.filter((number) => !isFill(number)),
    fills: patches.filter(isFill),
    drawing: stripesDrawn(layers),
    finishing: layers.flatMap((layer, l) =>
      layer.detail || layer.overlay !== NONE
        ? stripesOf(layer.pane.height).map((stripe) => ({ ...stripe, layer: l }))
        : [],
    ),
    joining: joins ? stripesOf(table.height) : [],
  };
}

/** Where the finished luma of a frame lies: apart from what its detail is made of. */
export const lumaOf = ({ joins, layers }: FrameWork, { planes, detailed }: TargetSlot): TargetPlane =>
  (!joins && layers[0]!.detail && detailed) || planes[0]!;

/** The pictures that a frame shows first, each once. */
export const freshIn = ({ layers, n }: FrameWork, { pictures }: PlanTable): FreshPicture[] =>
  layers
    .flatMap((layer) => layer.parts.flatMap((part) => part.shots.flatMap(usesOf)))
    .filter(
      (s, i, uses) =>
        pictures[s.from]!.firstShown[s.number] === n &&
        uses.findIndex((o) => o.from === s.from && o.number === s.number) === i,
    );

function stripesDrawn(layers: TableLayer[]): DrawnStripe[] {
  const drawn: DrawnStripe[] = [];
  // Once one part has to wait, all later ones do: what is counted by then is all that comes before it.
  let after = 0;
  for (const [layer, { parts }] of layers.entries())
    for (const [p, part] of parts.entries()) {
      if (parts.slice(0, p).some((before) => meets(part.pane, before.pane))) after = drawn.length;
      const first = after;
      for (const stripe of stripesOf(part.pane.height)) drawn.push({ ...stripe, layer, part, after: first });
    }
  return drawn;
}

/** A step of a frame, by its kind and number; finishing and joining are those of the frame before, which is drawn by then. */
export type Step =
  | { kind: 'ready'; part: number }
  | { kind: 'fill'; number: number }
  | { kind: 'draw'; stripe: DrawnStripe }
  | { kind: 'finish'; stripe: FrameWork['finishing'][number] }
  | { kind: 'join'; stripe: Stripe };

/** The steps of a frame in their order; null for that after the last frame, or before the first. */
export const stepsOf = (work: FrameWork | null, before: FrameWork | null): Step[] => [
  ...(work
    ? [
        ...Array.from({ length: READY_PARTS }, (_, part): Step => ({ kind: 'ready', part })),
        ...work.fills.map((number): Step => ({ kind: 'fill', number })),
        ...work.drawing.map((stripe): Step => ({ kind: 'draw', stripe })),
      ]
    : []),
  ...(before
    ? [
        ...before.finishing.map((stripe): Step => ({ kind: 'finish', stripe })),
        ...before.joining.map((stripe): Step => ({ kind: 'join', stripe })),
      ]
    : []),
];
