/** Hands the present picture, of the video or a still, to everything that draws it: the Frame and the Map. */
import { createContext, useContext } from 'react';

/** Anything that shows the whole sphere laid flat. */
export type SpherePicture = HTMLVideoElement | HTMLImageElement;
type Listener = (picture: SpherePicture) => void;

export class Picture {
  private readonly listeners = new Set<Listener>();
  private shown: SpherePicture | null = null;
  private video: HTMLVideoElement | null = null;

  /** Calls the listener with every new picture, and at once if there is one. Gives back what ends that. */
  listen(listener: Listener) {
    this.listeners.add(listener);
    if (this.shown) listener(this.shown);
    return () => void this.listeners.delete(listener);
  }

  show(picture: SpherePicture) {
    this.shown = picture;
    if (picture instanceof HTMLVideoElement) this.video = picture;
    for (const listener of this.listeners) listener(picture);
  }

  /** Shows what the video shows, in place of a still. */
  backToVideo() {
    if (this.video) this.show(this.video);
  }
}

export const PictureContext = createContext<Picture>(new Picture());
export const usePicture = () => useContext(PictureContext);
