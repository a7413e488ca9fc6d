/** Small pictures of the frames that are being written, so that whoever waits sees what is made. */
import type { PixelFormat } from '@glimbo/core/colour/pixels';
import { output, TO_JPEG } from '../ffmpeg.js';

/** Milliseconds from one picture to the next: rarely enough to cost next to nothing. */
const EVERY = 2500;
const WIDEST = 480;

export class FramePictures {
  private last = -Infinity;
  private busy = false;

  /** `size` is that of the frames in pixels; `tell` gets JPEG pictures. */
  constructor(
    private readonly size: { width: number; height: number },
    private readonly format: PixelFormat,
    private readonly tell: (jpeg: Uint8Array) => void,
  ) {}

  /** Offers a frame (BT.709, video range), which is read only if a picture is due. */
  offer(read: () => Uint8Array) {
    const now = performance.now();
    if (this.busy || now - this.last < EVERY) return;
    this.last = now;
    this.busy = true;
    void this.make(read()).finally(() => (this.busy = false));
  }

  private async make(frame: Uint8Array) {
    const { width, height } = this.size;
    const scale = `scale='min(${WIDEST},iw)':-2:flags=area:${TO_JPEG}`;
    try {
      this.tell(
        await output(
          'ffmpeg',
          [
            '-v',
            'error',
            '-f',
            'rawvideo',
            '-pix_fmt',
            this.format.name,
            '-s',
            `${width}x${height}`,
            '-i',
            '-',
            '-vf',
            `${scale},format=yuvj420p`,
            '-frames:v',
            '1',
            '-q:v',
            '5',
            '-f',
            'mjpeg',
            '-',
          ],
          frame,
        ),
      );
    } catch {
      // The work goes on without a picture of it.
    }
  }
}
