/** Single frames of a proxy, decoded exactly: for stepping, scrubbing and playing backwards. */
import { Input, MP4, UrlSource, VideoSampleSink, type InputVideoTrack, type VideoSample } from 'mediabunny';
import { planesOf, type Planes } from './planes';

/** Bytes of decoded frames that are kept: two groups of the proxy's at 1920 × 960. */
const KEPT = 66e6;
/** How far ahead of where decoding stands it is worth going on instead of starting at a key frame. */
const AHEAD = 10;

/** In memory, where planes can be had; what a graphics card decoded would stay there, in its few places. */
const sinkOf = (track: InputVideoTrack) => new VideoSampleSink(track, { hardwareAcceleration: 'prefer-software' });

export class ExactFrames {
  private readonly kept = new Map<number, Planes>();
  private run: { next: number; samples: AsyncGenerator<VideoSample, void, unknown> } | null = null;
  private turn: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly input: Input,
    private readonly sink: VideoSampleSink,
    private readonly rate: number,
  ) {}

  /** Opens a proxy by its address; null where the browser hands out no decoder, or none for this. `rate` in frames a second. */
  static async open(address: string, rate: number): Promise<ExactFrames | null> {
    if (!('VideoDecoder' in globalThis)) return null;
    const input = new Input({
      source: new UrlSource(new URL(address, location.href), { getRetryDelay: (tries) => (tries < 3 ? 0.5 : null) }),
      formats: [MP4],
    });
    try {
      const track = await input.getPrimaryVideoTrack();
      if (track && (await track.canDecode())) return new ExactFrames(input, sinkOf(track), rate);
    } catch {
      // The video element says what is wrong with it.
    }
    input.dispose();
    return null;
  }

  /** The frame of that number, from 0; null if it cannot be decoded. */
  at(frame: number): Promise<Planes | null> {
    const found = this.turn.then(() => this.find(frame)).catch(() => null);
    this.turn = found;
    return found;
  }

  private async find(frame: number): Promise<Planes | null> {
    const kept = this.kept.get(frame);
    if (kept) return kept;
    if (!this.run || frame < this.run.next || frame > this.run.next + AHEAD) await this.begin(frame);
    const run = this.run!;
    for (;;) {
      const { value: sample, done } = await run.samples.next();
      if (done || !sample) return null;
      const number = Math.round(sample.timestamp * this.rate);
      run.next = number + 1;
      const planes = await this.take(sample);
      if (!planes) return null;
      this.keep(number, planes);
      if (number >= frame) return planes;
    }
  }

  /** Starts some frames before the one that is wanted: backwards, they are wanted next. */
  private async begin(frame: number) {
    await this.run?.samples.return();
    const first = Math.max(0, frame - (frame % AHEAD));
    this.run = { next: first, samples: this.sink.samples(first / this.rate) };
  }

  private async take(sample: VideoSample): Promise<Planes | null> {
    const picture = sample.toVideoFrame();
    sample.close();
    try {
      return await planesOf(picture, null);
    } finally {
      picture.close();
    }
  }

  private keep(frame: number, planes: Planes) {
    this.kept.set(frame, planes);
    const most = Math.max(2, Math.floor(KEPT / (1.5 * planes.y.length)));
    while (this.kept.size > most) this.kept.delete(this.kept.keys().next().value!);
  }

  dispose() {
    void this.turn.then(() => this.run?.samples.return()).finally(() => this.input.dispose());
  }
}
