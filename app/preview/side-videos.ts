/**
 * Videos beside the one that plays, which go along with it: a twin, or other items of a Cut. Each shows the moment that it is
 * wanted at, and is closed once nobody wants it.
 */
import type { SphereImage } from './sphere-texture';
import { Player } from './player';

/** A video, by a name of its own, and the time in seconds of it that is wanted. */
export interface Wanted {
  id: string;
  address: string;
  /** Frames a second, and how many. */
  rate: number;
  frames: number;
  time: number;
}

type Shown = (picture: SphereImage, time: number) => void;
export type OpenVideo = (wanted: Wanted, shown: Shown) => Pick<Player, 'seek' | 'dispose'>;

/** Whoever watches hears the one that plays. */
const openMuted: OpenVideo = ({ address, rate, frames, time }, shown) => {
  const player = new Player(address, rate, frames / rate, { picture: shown, playing() {}, problem() {} }, time);
  player.video.muted = true;
  return player;
};

interface Open {
  wanted: Wanted;
  video: ReturnType<OpenVideo>;
  /** Time of the picture that came last; null before the first. */
  shown: number | null;
}

export class SideVideos {
  private readonly all = new Map<string, Open>();

  constructor(
    /** Called with every picture that comes. */
    private readonly came: (id: string, picture: SphereImage) => void,
    private readonly openVideo: OpenVideo = openMuted,
  ) {}

  /** Says what is wanted from now on: nothing else stays open. */
  want(videos: readonly Wanted[]) {
    const ids = new Set(videos.map((v) => v.id));
    for (const id of this.all.keys()) if (!ids.has(id)) this.close(id);
    for (const wanted of videos) {
      const open = this.all.get(wanted.id);
      if (open?.wanted.address !== wanted.address) this.open(wanted);
      else if (open.wanted.time !== wanted.time) {
        open.wanted = wanted;
        open.video.seek(wanted.time);
      }
    }
  }

  /** Whether each shows the moment that it is wanted at. */
  get settled(): boolean {
    return [...this.all.values()].every(
      ({ wanted, shown }) => Math.abs((shown ?? Infinity) - wanted.time) < 0.75 / wanted.rate,
    );
  }

  private open(wanted: Wanted) {
    this.close(wanted.id);
    const video = this.openVideo(wanted, (picture, time) => {
      // One that was closed may still have had a picture under way.
      if (this.all.get(wanted.id) !== open) return;
      open.shown = time;
      this.came(wanted.id, picture);
    });
    const open: Open = { wanted, video, shown: null };
    this.all.set(wanted.id, open);
    video.seek(wanted.time);
  }

  private close(id: string) {
    this.all.get(id)?.video.dispose();
    this.all.delete(id);
  }

  dispose() {
    this.want([]);
  }
}
