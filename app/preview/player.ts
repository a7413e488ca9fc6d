/** The media clock: plays the proxy with its sound, reaches every frame, loops between in and out. */
export interface PlayerEvents {
  /** A new picture is there, at this time in seconds. */
  picture: (video: HTMLVideoElement, time: number, seeking: boolean) => void;
  playing: (speed: number) => void;
  problem: (sentence: string) => void;
}

export class Player {
  readonly video = document.createElement('video');
  /** Playback speed; negative runs backwards, 0 stands still. */
  speed = 0;
  loop = true;
  range = { in: 0, out: Infinity };
  private target: number | null = null;
  private reverse: { began: number; from: number } | null = null;
  private disposed = false;
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
    video.preload = 'auto';
    video.playsInline = true;
    video.src = source;
    video.addEventListener('seeked', () => this.arrived());
    video.addEventListener('loadeddata', () => this.seek(start), { once: true });
    video.addEventListener('error', () =>
      events.problem(
        'The proxy could not be played. Reload the page; if that does not help, gather the footage again.',
      ),
    );
    video.addEventListener('ended', () => this.atEnd());
    this.onFrame();
  }

  private onFrame() {
    this.video.requestVideoFrameCallback((_, { mediaTime }) => {
      if (this.disposed) return;
      if (this.speed > 0) {
        const time = Math.round(mediaTime * this.rate) / this.rate;
        this.events.picture(this.video, time, false);
        if (time >= Math.min(this.range.out, this.duration) - 0.5 / this.rate) this.atEnd();
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

  /** Goes to the frame at a time. Calls that come faster than the video can follow are joined. */
  seek(time: number) {
    const frame = Math.max(0, Math.min(Math.round(this.duration * this.rate) - 1, Math.round(time * this.rate)));
    const busy = this.target !== null;
    this.target = frame / this.rate;
    if (!busy) this.go();
  }

  private go() {
    // The middle of the frame, so that rounding never shows its neighbour.
    this.video.currentTime = this.target! + 0.5 / this.rate;
  }

  private arrived() {
    const reached = Math.floor(this.video.currentTime * this.rate + 1e-3) / this.rate;
    if (this.target !== null && Math.abs(reached - this.target) > 0.5 / this.rate) return this.go();
    const time = this.target ?? reached;
    this.target = null;
    this.events.picture(this.video, time, true);
    if (this.speed < 0) this.stepBack();
  }

  /** Sets how fast the footage's frames are read; the sound follows, deeper or higher. */
  setReading(reading: number) {
    if (reading === this.reading) return;
    this.reading = reading;
    this.video.preservesPitch = Math.abs(reading - 1) < 1e-6;
    if (this.speed > 0) this.video.playbackRate = this.speed * reading;
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
    this.seek(from);
    this.video.playbackRate = speed * this.reading;
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
    this.speed = 0;
    this.reverse = null;
    this.video.pause();
    this.events.playing(0);
  }

  dispose() {
    this.disposed = true;
    this.video.pause();
    this.video.removeAttribute('src');
    this.video.load();
  }
}
