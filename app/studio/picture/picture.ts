/** Hands the present picture, the proxy's or a still, to everything that draws it: the Frame and the Map. */
import { createContext, useContext } from 'react';

import type { Planes } from '~/preview/planes';

/** Anything that shows the whole sphere laid flat: what the proxy shows, or a still. */
export type SpherePicture = HTMLVideoElement | Planes | HTMLImageElement;
type Listener = (picture: SpherePicture, time: number) => void;

export class Picture {
  private readonly listeners = new Set<Listener>();
  private shown: { picture: SpherePicture; time: number } | null = null;
  private proxy: { picture: SpherePicture; time: number } | null = null;

  /** Calls the listener with every new picture, and at once if there is one. Gives back what ends that. */
  listen(listener: Listener) {
    this.listeners.add(listener);
    if (this.shown) listener(this.shown.picture, this.shown.time);
    return () => void this.listeners.delete(listener);
  }

  /** Time of the footage, in seconds, that is to be seen; null without a picture. */
  get time() {
    return this.shown?.time ?? null;
  }

  /** What is to be seen; null without a picture. */
  get present() {
    return this.shown?.picture ?? null;
  }

  /** Shows the picture of a time. The proxy's that comes late to where a still is shown already does not cover it. */
  show(picture: SpherePicture, time: number) {
    if (!(picture instanceof HTMLImageElement)) {
      this.proxy = { picture, time };
      if (this.shown?.picture instanceof HTMLImageElement && this.shown.time === time) return;
    }
    this.tell(picture, time);
  }

  /** Shows what the proxy shows, in place of a still. */
  backToProxy() {
    if (this.proxy) this.tell(this.proxy.picture, this.proxy.time);
  }

  private tell(picture: SpherePicture, time: number) {
    this.shown = { picture, time };
    for (const listener of this.listeners) listener(picture, time);
  }
}

export const PictureContext = createContext<Picture>(new Picture());
export const usePicture = () => useContext(PictureContext);
