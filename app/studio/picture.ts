/** Hands the video's present picture to everything that draws it: the Frame and the Map. */
import { createContext, useContext } from 'react';

type Listener = (video: HTMLVideoElement) => void;

export class Picture {
  private readonly listeners = new Set<Listener>();
  private video: HTMLVideoElement | null = null;

  /** Calls the listener with every new picture, and at once if there is one. Gives back what ends that. */
  listen(listener: Listener) {
    this.listeners.add(listener);
    if (this.video) listener(this.video);
    return () => void this.listeners.delete(listener);
  }

  show(video: HTMLVideoElement) {
    this.video = video;
    for (const listener of this.listeners) listener(video);
  }
}

export const PictureContext = createContext<Picture>(new Picture());
export const usePicture = () => useContext(PictureContext);
