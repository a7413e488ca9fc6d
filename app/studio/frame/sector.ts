/** Keeps the Frame's sector as the take has it, and the twin's picture as it is at the playhead. */
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import type { TwinFootage } from '@glimbo/core/plan/footage';
import { partingOf, twinFootageOf } from '@glimbo/core/plan/parted';
import type { Shot } from '@glimbo/core/plan/shot';
import type { Correction } from '@glimbo/core/correction/correction';
import type { Look } from '@glimbo/core/look/look';
import { isWhole, proxyFile, type FootageChoice } from '~/model/footage';
import { SideVideos } from '~/preview/side-videos';
import type { LayerDrawing } from '~/preview/layer-drawing';
import type { StudioState } from '../state/state';
import type { StudioStore } from '../state/store';

const SPHERE = { kind: 'sphere' } as const;
/** What asks how the world lies to the twin's picture. */
const WORLD: Omit<Shot, 'time'> = {
  picture: { sphere: true, width: 2, height: 1 },
  toSource: IDENTITY,
  source: SPHERE,
};

/** The footage that the take's twin shows, if it can be seen; null where there is no twin, or its footage is not in the Library. */
function twinShown(s: StudioState): { address: string; footage: TwinFootage } | null {
  const twin = s.take().look?.sector?.twin;
  if (!twin) return null;
  if (twin.footage !== undefined) {
    const found = s.others?.find((o) => o.file === twin.footage);
    return found ? { address: found.proxy, footage: otherFootage(found, s) } : null;
  }
  const { id, gathered, version, facts } = s.footage;
  if (!gathered || !isWhole(s.footage)) return null;
  return {
    address: `/media/footage/${id}/${proxyFile(gathered)}?v=${version}`,
    footage: { source: SPHERE, rate: facts.rate, frames: facts.frames, light: s.light },
  };
}

const otherFootage = ({ id, rate, frames }: FootageChoice, { otherLight }: StudioState): TwinFootage => ({
  source: SPHERE,
  rate,
  frames,
  light: otherLight?.id === id ? otherLight.light : null,
});

export class SectorInFrame {
  private readonly videos: SideVideos;
  private parted: { needs: unknown[]; part: (shot: Shot) => Shot } | null = null;

  constructor(
    private readonly store: StudioStore,
    private readonly layer: LayerDrawing,
    /** Called when the twin's picture has come. */
    arrived: () => void,
  ) {
    this.videos = new SideVideos((_, picture) => {
      layer.setTwin(picture);
      arrived();
    });
  }

  /** Whether the twin's picture is that of the playhead. */
  get settled() {
    return this.videos.settled;
  }

  /** Brings it up to date; asked whenever something may have changed. */
  bring() {
    const s = this.store.getState();
    const { look } = s.take();
    const sector = s.lookRound ? undefined : look?.sector;
    const shown = sector && twinShown(s);
    if (!shown) this.videos.want([]);
    if (!sector) return this.layer.setSector(null);
    if (!shown || !sector.twin) return this.layer.setSector({ sector, twin: null });
    const { rate, frames } = s.footage.facts;
    const own = { source: SPHERE, rate, frames, light: s.light };
    const other = twinFootageOf(sector.twin, own, shown.footage);
    const parted = this.parting(look, own, other, s.correction())({ ...WORLD, time: s.time }).parted!;
    const { toSource, gain, time } = parted.twin!;
    this.layer.setSector({ sector, twin: { fromWorld: toSource, gain } });
    const { address } = shown;
    this.videos.want([{ id: 'twin', address, rate: other.rate, frames: other.frames, time }]);
  }

  /** How shots are parted; what it compares of light is kept as long as nothing that it depends on changes. */
  private parting(look: Look | undefined, own: TwinFootage, other: TwinFootage, correction: Correction) {
    const needs = [look?.sector, own.light, other.light, correction];
    if (!this.parted || needs.some((need, i) => need !== this.parted!.needs[i]))
      this.parted = { needs, part: partingOf({ look }, own, other, correction) };
    return this.parted.part;
  }

  dispose() {
    this.videos.dispose();
  }
}
