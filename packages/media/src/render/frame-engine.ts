/**
 * Carrying out the frames of a plan: readying pictures, drawing layers, finishing and joining them. Any number of threads share
 * the steps of all frames among themselves; a single one can do them all by itself, once the pictures are there.
 */
import { fillPicture, PATCH_SIDE, pictureOfPatch } from '@glimbo/core/look/patch';
import { bake } from '@glimbo/core/look/table';
import { mapOf, type Cubes } from '@glimbo/core/look/treatment';
import type { Besides, Kernel } from '@glimbo/kernel';
import { overlayOf, paneOf, type MemoryPlan, type SourceSlot, type TargetSlot } from '@glimbo/kernel/memory';
import { svgToRgba } from '../svg.js';
import { NEXT, READY_PARTS, WRITTEN, type Counters, type Places } from './counters.js';
import {
  freshIn,
  stepsOf,
  workOf,
  type DrawnStripe,
  type FrameWork,
  type FreshPicture,
  type Step,
} from './frame-work.js';
import { readied } from './pictures.js';
import { WEIGHTS, type PictureUse, type PlanTable, type TableLayer, type TableShot } from './plan-table.js';
import { usesOf } from './table-reader.js';
import { NONE } from './schedule.js';

/** What the plan names that lies in files. */
export interface EngineMaterials {
  /** The LUTs of its treatments. */
  cubes: Cubes;
  /** The images of its patches by their files, straight RGBA of their side. */
  images: ReadonlyMap<string, Uint8Array>;
}

export const NO_MATERIALS: EngineMaterials = { cubes: new Map(), images: new Map() };

export interface EngineParts {
  table: PlanTable;
  plan: MemoryPlan;
  kernel: Kernel;
  counters: Counters;
  places: Places;
  materials: EngineMaterials;
}

export class FrameEngine {
  /** The number of the frame whose steps come next, their first ticket, and the work of it and of the one before. */
  private at = 0;
  private base = 0;
  private work: FrameWork | null;
  private before: FrameWork | null = null;
  private steps: Step[];
  private fresh: FreshPicture[] | null = null;

  /** `worker`: which of the memory plan's scratches is its own. */
  constructor(
    private readonly parts: EngineParts,
    private readonly worker: number,
  ) {
    this.work = workOf(parts.table, 0);
    this.steps = stepsOf(this.work, null);
  }

  /** Takes steps that nobody has taken until there are none left. Throws Aborted. */
  async run(): Promise<void> {
    const { counters, table } = this.parts;
    for (;;) {
      const ticket = counters.add(NEXT);
      while (ticket >= this.base + this.steps.length) {
        if (this.at >= table.frames) return;
        this.goOn();
      }
      await this.take(this.steps[ticket - this.base]!);
    }
  }

  private goOn() {
    const { table } = this.parts;
    this.base += this.steps.length;
    this.at++;
    this.before = this.work;
    this.work = this.at < table.frames ? workOf(table, this.at) : null;
    this.fresh = null;
    this.steps = stepsOf(this.work, this.before);
  }

  private async take(step: Step): Promise<void> {
    switch (step.kind) {
      case 'ready':
        return this.ready(this.work!, step.part);
      case 'fill':
        return this.fill(this.work!, step.number);
      case 'draw':
        return this.draw(this.work!, step.stripe);
      case 'finish':
        return this.finish(this.before!, step.stripe);
      case 'join':
        return this.join(this.before!, step.stripe);
    }
  }

  /** The place of a frame among those that are held at once. */
  private slot(n: number) {
    return n % this.parts.plan.targets.length;
  }

  /** Waits until what was in the places of a frame has been written. */
  private untilFree(n: number) {
    const { counters, plan } = this.parts;
    counters.until(WRITTEN, (written) => written > n - plan.targets.length);
  }

  private async ready(work: FrameWork, part: number) {
    const { table, counters, places, kernel } = this.parts;
    if (part === 0) this.bakeFor(work);
    if (part === 1) await this.layFor(work);
    if (part === 2) this.stillPatchesFor(work);
    for (const shot of (this.fresh ??= freshIn(work, table))) {
      counters.until(places.read(shot.from), (count) => count > shot.number);
      const slot = this.slotOf(shot);
      const made = readied(table.pictures[shot.from]!, shot.number, slot.planes[0]![0]!.height);
      kernel.ready(shot, slot, made, part, READY_PARTS, this.worker);
      counters.add(places.ready(shot.from, this.ringOf(shot)));
    }
  }

  /** Bakes the tables that a frame is the first to need. */
  private bakeFor({ n, treatments }: FrameWork) {
    const { table, plan, kernel, counters, places, materials } = this.parts;
    const { list, slots } = table.treatments;
    for (const number of treatments) {
      const slot = slots[number]!;
      this.untilFree(n);
      kernel.place(bake(mapOf(list[number]!, materials.cubes), list[number]!.steps), plan.tables[slot]!);
      counters.set(places.table(slot), number + 1);
    }
  }

  private async layFor({ n, overlays }: FrameWork) {
    const { table, plan, kernel, counters, places } = this.parts;
    const { list, slots } = table.overlays;
    for (const number of overlays) {
      const slot = slots[number]!;
      const { svg, width, height } = list[number]!;
      const rgba = await svgToRgba(svg, width, height);
      this.untilFree(n);
      kernel.placeOverlay(rgba, overlayOf(plan.overlays[slot]!, { width, height }));
      counters.set(places.overlay(slot), number + 1);
    }
  }

  private stillPatchesFor({ n, stillPatches }: FrameWork) {
    const { list } = this.parts.table.patchPictures;
    for (const number of stillPatches) {
      const { patch } = list[number]!;
      this.untilFree(n);
      this.placePatch(number, pictureOfPatch(patch, this.parts.materials.images.get(patch.file ?? '')));
    }
  }

  /** Fills a patch from what its layer's first shot of it shows round about. */
  private fill({ n, layers }: FrameWork, number: number) {
    const { table, kernel } = this.parts;
    const { patch, fill } = table.patchPictures.list[number]!;
    const shots = layers[fill!.layer]!.parts.flatMap((p) => p.shots);
    const shot = shots.find((s) => s.patch)!;
    this.untilReady(shot);
    this.untilFree(n);
    const rim = kernel.rimOf(shot, patch, this.slotOf(shot), this.worker);
    this.placePatch(number, fillPicture(patch, rim, fill!.grain, PATCH_SIDE, 2));
  }

  private placePatch(number: number, picture: ReturnType<typeof pictureOfPatch>) {
    const { table, plan, kernel, counters, places } = this.parts;
    const slot = table.patchPictures.slots[number]!;
    kernel.placePatch(picture, plan.patches!.slots[slot]!);
    counters.set(places.patch(slot), number + 1);
  }

  private draw({ n, layers, joins }: FrameWork, { layer: l, part, row, rows, after }: DrawnStripe) {
    const { table, plan, kernel, counters, places } = this.parts;
    const layer = layers[l]!;
    if (layer.patchPicture !== NONE) this.untilThere(places.patch, table.patchPictures.slots, layer.patchPicture);
    this.untilFree(n);
    part.shots.flatMap(usesOf).forEach((use) => this.untilReady(use));
    const drawn = places.drawn(this.slot(n));
    if (after) counters.until(drawn, (count) => count >= after);
    const target = paneOf(this.targetOf(n, l, layer, joins), part.pane);
    const parts = part.shots.map((shot) => ({
      shot,
      slot: this.slotOf(shot),
      weight: shot.weight,
      besides: this.besidesOf(layer, shot),
    }));
    if (!parts.length) kernel.clear(target, row, rows);
    else if (parts.length > 1) kernel.mix(parts, target, row, rows, this.worker);
    else kernel.draw(parts[0]!.shot, parts[0]!.slot, target, row, rows, this.worker, parts[0]!.besides);
    if (layer.treatment !== NONE && parts.length) {
      this.untilThere(places.table, table.treatments.slots, layer.treatment);
      const slot = table.treatments.slots[layer.treatment]!;
      kernel.treat(target, row, rows, plan.tables[slot]!, table.treatments.list[layer.treatment]!.steps);
    }
    counters.add(drawn);
  }

  /** What a shot is drawn with besides its own picture. */
  private besidesOf({ patch, sector, patchPicture }: TableLayer, { parted }: TableShot): Besides {
    const { table, plan } = this.parts;
    return {
      ...(patch ? { patch: { patch, slot: plan.patches!.slots[table.patchPictures.slots[patchPicture]!]! } } : {}),
      ...(sector ? { sector: { sector, twin: parted?.twin ? this.slotOf(parted.twin) : null } } : {}),
    };
  }

  private finish({ n, layers, joins, drawing }: FrameWork, stripe: FrameWork['finishing'][number]) {
    const { table, plan, kernel, counters, places } = this.parts;
    const { row, rows, layer: l } = stripe;
    const layer = layers[l]!;
    counters.until(places.drawn(this.slot(n)), (count) => count === drawing.length);
    const target = this.targetOf(n, l, layer, joins);
    if (layer.detail) kernel.detail(target, row, rows, layer.detail, this.worker);
    if (layer.overlay !== NONE) {
      this.untilThere(places.overlay, table.overlays.slots, layer.overlay);
      const slot = plan.overlays[table.overlays.slots[layer.overlay]!]!;
      kernel.lay(target, row, rows, overlayOf(slot, layer.pane));
    }
    counters.add(places.finished(this.slot(n)));
  }

  private join(work: FrameWork, { row, rows }: { row: number; rows: number }) {
    const { plan, kernel, counters, places } = this.parts;
    const { n, layers, drawing, finishing } = work;
    counters.until(places.drawn(this.slot(n)), (count) => count === drawing.length);
    counters.until(places.finished(this.slot(n)), (count) => count === finishing.length);
    const frame = plan.targets[this.slot(n)]!;
    this.untilFree(n);
    kernel.clear(frame, row, rows);
    for (const [l, layer] of layers.entries()) {
      kernel.join(this.targetOf(n, l, layer, true), layer.pane, layer.weight * WEIGHTS, frame, row, rows);
    }
    counters.add(places.joined(this.slot(n)));
  }

  /** Where a layer of a frame is drawn; room for its detail only where it has any. */
  private targetOf(n: number, l: number, { pane, detail }: TableLayer, joins: boolean): TargetSlot {
    const { plan } = this.parts;
    const slot = this.slot(n);
    const whole = joins ? paneOf(plan.layers[slot]![l]!, { ...pane, left: 0, top: 0 }) : plan.targets[slot]!;
    return detail ? whole : { ...whole, detailed: null };
  }

  private ringOf({ from, number }: PictureUse) {
    return number % this.parts.plan.sources[from]!.length;
  }

  private slotOf(use: PictureUse): SourceSlot {
    return this.parts.plan.sources[use.from]![this.ringOf(use)]!;
  }

  /** Waits until a decoded picture is ready to be drawn from. */
  private untilReady(use: PictureUse) {
    const { counters, places } = this.parts;
    counters.until(places.read(use.from), (count) => count > use.number);
    counters.until(places.ready(use.from, this.ringOf(use)), (parts) => parts === READY_PARTS);
  }

  /** Waits until a table, an overlay or a patch's picture lies in its place. */
  private untilThere(placeOf: (slot: number) => number, slots: Uint32Array, number: number) {
    this.parts.counters.until(placeOf(slots[number]!), (there) => there === number + 1);
  }
}
