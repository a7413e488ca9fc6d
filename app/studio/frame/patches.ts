/** Keeps the Frame's patch as the take has it, and as the present picture shows its surroundings. */
import type { Matrix3 } from '@glimbo/core/geometry/rotation';
import { patchImagePixels, patchPixels } from '~/preview/patch-picture';
import type { LayerDrawing } from '~/preview/layer-drawing';
import type { StudioStore } from '../state/store';
import type { Picture } from '../picture/picture';

/** Gives what brings the patch up to date; asked whenever something may have changed, it does nothing where nothing did. */
export function patchesFor(store: StudioStore, picture: Picture, layer: LayerDrawing): () => void {
  let made: { said: string; correction: Matrix3 | null; time: number | null } | null = null;
  let image: { file: string; pixels: Uint8ClampedArray | null } | null = null;
  const bring = () => {
    const { take, time, correction, lookRound } = store.getState();
    const patch = lookRound ? undefined : take().look?.patch;
    if (!patch) {
      made = null;
      return layer.setPatch(null);
    }
    if (patch.kind === 'image' && patch.file && image?.file !== patch.file) {
      const { file } = patch;
      image = { file, pixels: null };
      void patchImagePixels(`/media/materials/${encodeURIComponent(file)}`).then((pixels) => {
        if (image?.file !== file) return;
        image = { file, pixels };
        made = null;
        bring();
      });
    }
    const turned = correction().at(time);
    const fill = patch.kind === 'fill';
    const said = JSON.stringify(patch);
    const moved = fill && (made?.time !== picture.time || (patch.to === 'world' && made?.correction !== turned));
    if (made?.said === said && !moved) return;
    const pixels = patchPixels(patch, picture.present, turned, image?.pixels ?? null);
    if (!pixels) return;
    made = { said, correction: turned, time: picture.time };
    layer.setPatch({ patch, ...pixels });
  };
  return bring;
}
