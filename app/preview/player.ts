/**
 * The media clock: plays the proxy with its sound, reaches every frame, loops between in and out. The video element plays
 * forwards, in step with the sound; frame by frame, while scrubbing and backwards each frame is decoded by itself, exactly.
 * Where the browser has no decoder to hand out, the video element does all of it.
 */
import type { ExactFrames } from './exact-frames';
import { framePlanes, type Planes } from './planes';

export interface PlayerEvents {
  /** A new picture is there, at this time in seconds. */
  picture: (picture: HTMLVideoElement | Planes, time: number, seeking: boolean) => void;
  playing: (speed: number) => void;
  problem: (sentence: string) => void;
}

/** Rates that a browser plays at. */
const playable = (rate: number) => Math.max(0.0625, Math.min(16, rate));

export class Player {
  readonly video = document.createElement('video');
  /** Playback speed; negative runs backwards, 0 stands still. */
  speed = 0;
  loop = true;
  range = { in: 0, out: Infinity };
  private target: number | null = null;
  /** What is on its way to the target. */
  private going: 'video' | 'decoder' | null = null;
  /** Where it was sent last while it plays forwards: nothing before that is shown. */
  private since = 0;
  private reverse: { began: number; from: number } | null = null;
  private disposed = false;
  /** Decodes single frames; null as long as that is not possible. */
  private exact: ExactFrames | null = null;
  private readonly planesOf = framePlanes();
  /** Time in seconds of the picture that was told last. */
  private shown: number;
  /** Speed at which a second of the footage goes by when it plays once: 0.8 for 30 read as 24. */
  private reading = 1;

  constructor(
    source: string,
    private readonly rate: number,
    private readonly duration: number,
    private readonly events: PlayerEvents,
    start: number,
  ) {
    const { video } = this;
    this.shown = start;
    video.preload = 'auto';
    video.playsInline = true;
    video.src = source;
    video.addEventListener('seeked', () => this.arrived());
    video.addEventListener('loadeddata', () => this.loaded(), { once: true });
    video.addEventListener('error', () =>
      events.problem(
        'The proxy could not be played. Reload the page; if that does not help, gather the footage again.',
      ),
    );
    video.addEventListener('ended', () => this.atEnd());
    this.onFrame();
    void this.openExact(source);
  }

  private async openExact(source: string) {
    // What reads the container is only fetched for the Studio, and after what shows the first picture.
    const { ExactFrames } = await import('./exact-frames');
    const exact = await ExactFrames.open(source, this.rate);
    if (this.disposed) return exact?.dispose();
    this.exact = exact;
    if (exact && this.speed === 0) this.seek(this.target ?? this.shown);
  }

  /** The video can be seen, maybe long after single frames were: it goes where those are, unless playing has sent it on. */
  private loaded() {
    if (this.speed > 0 && !this.going) return;
    this.target ??= this.shown;
    if (this.going !== 'decoder') this.go();
  }

  private tell(picture: HTMLVideoElement | Planes, time: number, seeking: boolean) {
    this.shown = time;
    this.events.picture(picture, time, seeking);
  }

  private onFrame() {
    this.video.requestVideoFrameCallback(async (_, { mediaTime }) => {
      if (this.disposed) return;
      // What is seen before it has come to where it was sent is of another moment.
      if (this.speed > 0 && this.going !== 'video') {
        const time = Math.round(mediaTime * this.rate) / this.rate;
        // A frame from before it was sent on may be told of only after it has arrived.
        const { since } = this;
        if (time < since - 1.5 / this.rate) return this.onFrame();
        const picture = (await this.planesOf(this.video)) ?? this.video;
        // Meanwhile somebody may have stopped, or gone elsewhere.
        if (this.speed > 0 && this.since === since && !this.going && !this.disposed) {
          this.tell(picture, time, false);
          if (time >= Math.min(this.range.out, this.duration) - 0.5 / this.rate) this.atEnd();
        }
      }
      this.onFrame();
    });
  }

  private atEnd() {
    if (this.speed <= 0) return;
    if (this.loop) {
      this.seek(this.range.in);
      void this.video.play();
    } else this.pause();
  }

  /** Goes to the frame at a time. Calls that come faster than they can be followed are joined. */
  seek(time: number) {
    const frame = Math.max(0, Math.min(Math.round(this.duration * this.rate) - 1, Math.round(time * this.rate)));
    this.target = frame / this.rate;
    if (!this.going) this.go();
  }

  private go() {
    if (this.exact && this.speed <= 0) void this.decode(this.exact, this.target!);
    else {
      this.going = 'video';
      // The middle of the frame, so that rounding never shows its neighbour.
      this.video.currentTime = this.target! + 0.5 / this.rate;
    }
  }

  private async decode(exact: ExactFrames, target: number) {
    this.going = 'decoder';
    const picture = await exact.at(Math.round(target * this.rate));
    // Playing may have begun meanwhile; what was decoded for before is past then.
    if (this.disposed || this.going !== 'decoder') return;
    if (!picture) this.exact = null;
    if (!picture || this.target !== target) return this.go();
    this.reached(picture, target);
  }

  /** The video has come to where it was sent. */
  private arrived() {
    if (this.going !== 'video' || this.target === null) return;
    const at = Math.floor(this.video.currentTime * this.rate + 1e-3) / this.rate;
    if ((this.exact && this.speed <= 0) || Math.abs(at - this.target) > 0.5 / this.rate) return this.go();
    this.since = this.target;
    if (!this.exact) return this.reached(this.video, this.target);
    this.going = this.target = null;
  }

  private reached(picture: HTMLVideoElement | Planes, time: number) {
    this.going = this.target = null;
    this.tell(picture, time, true);
    if (this.speed < 0) this.stepBack();
  }

  /**
   * Sets how many seconds of the footage go by in a second. Frames read at another rate have their sound deeper or higher; under
   * a pace it keeps its pitch.
   */
  setReading(reading: number, keepsPitch = Math.abs(reading - 1) < 1e-6) {
    this.video.preservesPitch = keepsPitch;
    if (reading === this.reading) return;
    this.reading = reading;
    if (this.speed > 0) this.video.playbackRate = playable(this.speed * reading);
  }

  /** Lets the picture stand for some seconds while it plays. */
  stand(seconds: number) {
    if (this.speed <= 0) return;
    this.video.pause();
    setTimeout(() => this.speed > 0 && !this.disposed && void this.video.play(), (seconds / this.speed) * 1000);
  }

  /** Starts at a speed such as 1, 2 or −1. */
  play(speed: number, from: number) {
    if (this.range.out - from < 1.5 / this.rate && speed > 0) from = this.range.in;
    this.speed = speed;
    this.events.playing(speed);
    if (speed < 0) {
      this.video.pause();
      this.reverse = { began: performance.now(), from };
      this.stepBack();
      return;
    }
    this.reverse = null;
    this.going = null;
    this.seek(from);
    this.video.playbackRate = playable(speed * this.reading);
    this.video.play().catch(() => this.pause());
  }

  private stepBack() {
    requestAnimationFrame(() => {
      if (this.speed >= 0 || !this.reverse || this.disposed) return;
      const time = this.reverse.from + ((performance.now() - this.reverse.began) / 1000) * this.speed * this.reading;
      if (time <= this.range.in) {
        if (!this.loop) return void (this.seek(this.range.in), this.pause());
        this.reverse = { began: performance.now(), from: Math.min(this.range.out, this.duration) };
      }
      this.seek(Math.max(this.range.in, time));
    });
  }

  pause() {
    const backwards = this.reverse !== null;
    this.speed = 0;
    this.reverse = null;
    this.video.pause();
    this.events.playing(0);
    // What is under way backwards would show a frame that nobody was told of.
    if (backwards) this.seek(this.shown);
  }

  dispose() {
    this.disposed = true;
    this.exact?.dispose();
    this.video.pause();
    this.video.removeAttribute('src');
    this.video.load();
  }
}
