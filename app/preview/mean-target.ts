/** A place in which several drawings are added up to their mean, finer than the canvas can hold it. */
export class MeanTarget {
  private target: { frame: WebGLFramebuffer; picture: WebGLTexture; width: number; height: number } | null = null;

  constructor(private readonly gl: WebGL2RenderingContext) {}

  /** After the context was lost. */
  forget() {
    this.target = null;
  }

  /** Makes the place as large as the canvas. False where the browser cannot add so finely. */
  begin(width: number, height: number): boolean {
    const { gl } = this;
    if (!gl.getExtension('EXT_color_buffer_float') && !gl.getExtension('EXT_color_buffer_half_float')) return false;
    if (this.target?.width === width && this.target.height === height) return true;
    if (this.target) {
      gl.deleteFramebuffer(this.target.frame);
      gl.deleteTexture(this.target.picture);
    }
    const [frame, picture] = [gl.createFramebuffer(), gl.createTexture()];
    // A unit of its own: the others hold the sphere.
    gl.activeTexture(gl.TEXTURE7);
    gl.bindTexture(gl.TEXTURE_2D, picture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA16F, width, height);
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, picture, 0);
    const whole = gl.checkFramebufferStatus(gl.FRAMEBUFFER) === gl.FRAMEBUFFER_COMPLETE;
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    this.target = whole ? { frame, picture, width, height } : null;
    return whole;
  }

  /** Adds one of `count` drawings, within the scissor's box; the first one clears it. */
  add(first: boolean, count: number, draw: () => void) {
    const { gl } = this;
    gl.bindFramebuffer(gl.FRAMEBUFFER, this.target!.frame);
    if (first) {
      gl.clearColor(0, 0, 0, 0);
      gl.clear(gl.COLOR_BUFFER_BIT);
    }
    gl.enable(gl.BLEND);
    gl.blendColor(0, 0, 0, 1 / count);
    gl.blendFunc(gl.CONSTANT_ALPHA, gl.ONE);
    draw();
    gl.disable(gl.BLEND);
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
  }

  /** Brings a box of the mean onto the canvas, pixels from the lower left. */
  show({ x, y, width, height }: { x: number; y: number; width: number; height: number }) {
    const { gl } = this;
    const box = [x, y, x + width, y + height] as const;
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, this.target!.frame);
    gl.blitFramebuffer(...box, ...box, gl.COLOR_BUFFER_BIT, gl.NEAREST);
    gl.bindFramebuffer(gl.READ_FRAMEBUFFER, null);
  }
}
