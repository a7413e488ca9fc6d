/** Where drawings are added up to their mean, as codes and finer than the canvas can hold them, before they are finished. */
export class CodesTarget {
  private target: { frame: WebGLFramebuffer; picture: WebGLTexture; width: number; height: number } | null = null;

  constructor(
    private readonly gl: WebGL2RenderingContext,
    /** Texture unit of its own: the others hold the sphere and the look. */
    private readonly unit: number,
  ) {}

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
    gl.activeTexture(gl.TEXTURE0 + this.unit);
    gl.bindTexture(gl.TEXTURE_2D, picture);
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA16F, width, height);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
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
}
