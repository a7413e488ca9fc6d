/** What overlays are drawn with here: fonts and the sizes of pictures, fetched once they are needed. */
import { useEffect, useState } from 'react';
import type { Font } from 'opentype.js';
import { toast } from 'sonner';
import type { FontId, Overlay } from '@glimbo/core/overlay/overlays';
import type { Materials, ShownPicture } from '@glimbo/core/overlay/svg';

const fonts = new Map<FontId, Promise<Font>>();
const pictures = new Map<string, Promise<ShownPicture | null>>();

function fontHere(id: FontId): Promise<Font> {
  let font = fonts.get(id);
  if (!font) {
    font = (async () => {
      const [{ parse }, file] = await Promise.all([import('opentype.js'), fetch(`/media/fonts/${id}`)]);
      return parse(await file.arrayBuffer());
    })();
    fonts.set(id, font);
    font.catch(() => fonts.delete(id));
  }
  return font;
}

function pictureHere(file: string): Promise<ShownPicture | null> {
  let picture = pictures.get(file);
  if (!picture) {
    picture = new Promise((resolve) => {
      const image = new Image();
      const href = `/media/materials/${encodeURIComponent(file)}`;
      image.onload = () => resolve({ href, width: image.naturalWidth || 1, height: image.naturalHeight || 1 });
      image.onerror = () => {
        // The next take that shows it asks again.
        pictures.delete(file);
        resolve(null);
      };
      image.src = href;
    });
    pictures.set(file, picture);
  }
  return picture;
}

/** What a take's overlays need, as far as it has come. */
export function useOverlayMaterials(overlays: readonly Overlay[]): Materials {
  const [materials, setMaterials] = useState<Materials>({ fonts: {}, pictures: new Map() });
  const ids = [...new Set(overlays.flatMap((o) => (o.kind === 'title' ? [o.font] : [])))].sort().join();
  const files = [...new Set(overlays.flatMap((o) => (o.kind === 'picture' ? [o.file] : [])))].sort().join('\n');
  useEffect(() => {
    let gone = false;
    void (async () => {
      try {
        const wanted = ids.split(',').filter(Boolean) as FontId[];
        const found = await Promise.all(wanted.map(async (id) => [id, await fontHere(id)] as const));
        const shown = await Promise.all(
          files
            .split('\n')
            .filter(Boolean)
            .map(async (file) => [file, await pictureHere(file)] as const),
        );
        if (gone) return;
        setMaterials({
          fonts: Object.fromEntries(found),
          pictures: new Map(shown.flatMap(([file, picture]) => (picture ? [[file, picture] as const] : []))),
        });
      } catch {
        if (!gone)
          toast.error('The fonts of the titles could not be had. Reload the page to see them; your take is kept.', {
            id: 'fonts',
          });
      }
    })();
    return () => void (gone = true);
  }, [ids, files]);
  return materials;
}
