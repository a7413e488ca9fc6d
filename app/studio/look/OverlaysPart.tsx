/** Overlays: bars, titles and pictures over the frame. */
import { ImagePlus, RectangleHorizontal, Trash2, Type } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { addOverlay, overlaysOf, removeOverlay } from '@glimbo/core/edit/overlays';
import { usualPicture, usualTitle, type Overlay } from '@glimbo/core/overlay/overlays';
import { nameOfMaterial } from '~/model/material';
import { chooseFiles } from '~/ui/files';
import { IconButton } from '~/ui/IconButton';
import { useStudioStore, useTake } from '../state/store';
import { keepMaterial } from './materials';
import { OverlayFields } from './OverlayFields';

const nameOf = (o: Overlay) =>
  o.kind === 'bars'
    ? `Bars ${o.ratio}`
    : o.kind === 'title'
      ? o.text.split('\n')[0] || 'Title'
      : nameOfMaterial(o.file);

export function OverlaysPart() {
  const store = useStudioStore();
  const overlays = overlaysOf(useTake());
  const [chosen, setChosen] = useState(0);
  const index = Math.min(chosen, overlays.length - 1);
  const add = (overlay: Overlay) => {
    store.getState().edit((t) => addOverlay(t, overlay));
    setChosen(overlay.kind === 'bars' ? 0 : overlays.length);
  };
  const addTitle = () => {
    const { take, time } = store.getState();
    add(usualTitle('Title', time, take().range.out));
  };
  const addPicture = async (file: File) => {
    try {
      add(usualPicture(await keepMaterial(file.name, file)));
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1.6fr)] divide-x divide-rule">
      <div className="flex flex-col gap-1 overflow-auto px-3 py-1.5">
        <div className="flex flex-wrap gap-1">
          <button className="button h-6! px-1.5!" onClick={addTitle}>
            <Type size={13} /> Title
          </button>
          <button className="button h-6! px-1.5!" onClick={() => chooseFiles('.png,.svg', addPicture)}>
            <ImagePlus size={13} /> Picture
          </button>
          <button
            className="button h-6! px-1.5!"
            disabled={overlays.some((o) => o.kind === 'bars')}
            onClick={() => add({ kind: 'bars', ratio: 2.39 })}
          >
            <RectangleHorizontal size={13} /> Bars
          </button>
        </div>
        {overlays.length === 0 && (
          <p className="text-muted">
            Nothing lies over the picture yet. Add a title, a picture as a logo, or cinema bars.
          </p>
        )}
        <ul>
          {overlays.map((o, i) => (
            <li key={i} className="flex items-center border-b border-rule">
              <button
                className={`min-w-0 flex-1 truncate px-1 py-0.5 text-left ${i === index ? 'font-semibold' : ''}`}
                aria-pressed={i === index}
                onClick={() => setChosen(i)}
              >
                {nameOf(o)}
              </button>
              <IconButton
                label={`Remove ${nameOf(o)}`}
                className="size-6!"
                onClick={() => store.getState().edit((t) => removeOverlay(t, i))}
              >
                <Trash2 size={13} />
              </IconButton>
            </li>
          ))}
        </ul>
      </div>
      <div className="overflow-auto px-3 py-1.5">
        {overlays[index] && <OverlayFields key={index} overlay={overlays[index]} index={index} />}
      </div>
    </div>
  );
}
