/** A texture that can be drawn into, finer than the canvas. */
export class FloatTarget {
  private made: { frame: WebGLFramebuffer; picture: WebGLTexture; width: number; height: number } | null = null;

  constructor(
    private readonly gl: WebGL2RenderingContext,
    /** Texture unit at which it is read. */
    readonly unit: number,
    private readonly format: 'half' | 'single',
  ) {}

  /** After the context was lost. */
  forget() {
    this.made = null;
  }

  /** Makes it of a size. False where the browser cannot draw so finely. */
  begin(width: number, height: number): boolean {
    const { gl } = this;
    if (!gl.getExtension('EXT_color_buffer_float')) return false;
    if (this.made?.width === width && this.made.height === height) return true;
    if (this.made) {
      gl.deleteFramebuffer(this.made.frame);
      gl.deleteTexture(this.made.picture);
    }
    const [frame, picture] = [gl.createFramebuffer(), gl.createTexture()];
    gl.activeTexture(gl.TEXTURE0 + this.unit);
    gl.bindTexture(gl.TEXTURE_2D, picture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, this.format === 'half' ? gl.RGBA16F : gl.RGBA32F, width, height);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, picture, 0);
    const whole = gl.checkFramebufferStatus(gl.FRAMEBUFFER) === gl.FRAMEBUFFER_COMPLETE;
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    this.made = whole ? { frame, picture, width, height } : null;
    return whole;
  }

  /** Draws into all of it. */
  fill(draw: () => void) {
    const { gl } = this;
    const { frame, width, height } = this.made!;
    gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
    gl.viewport(0, 0, width, height);
    gl.disable(gl.SCISSOR_TEST);
    draw();
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
  }

  /** Adds one of `count` drawings to their mean; the first one clears it. */
  add(first: boolean, count: number, draw: () => void) {
    const { gl } = this;
    this.fill(() => {
      if (first) {
        gl.clearColor(0, 0, 0, 0);
        gl.clear(gl.COLOR_BUFFER_BIT);
      }
      gl.enable(gl.BLEND);
      gl.blendColor(0, 0, 0, 1 / count);
      gl.blendFunc(gl.CONSTANT_ALPHA, gl.ONE);
      draw();
      gl.disable(gl.BLEND);
    });
  }
}
