/** A picture of the whole sphere on the graphics card: as it comes from the browser, or as planes of luma and chroma. */
import { isPlanes, type Planes } from './planes';

export type SphereImage = TexImageSource | Planes;

/** The names of the samplers in the shader, in the order of the units they are bound to. */
export const SAMPLERS = ['source', 'blueness', 'redness'] as const;

export class SphereTexture {
  private handles: WebGLTexture[] = [];
  private mips = false;
  /** What it was filled from, to fill it again after the browser took it away. */
  private image: SphereImage | null = null;

  constructor(private readonly gl: WebGL2RenderingContext) {
    this.restore();
  }

  get filled() {
    return this.image !== null;
  }

  get planar() {
    return this.image !== null && isPlanes(this.image);
  }

  /** Makes what the browser forgot with the context once more. */
  restore() {
    this.handles = SAMPLERS.map(() => this.make());
    if (this.image) this.fill(this.image);
  }

  /** Gives back what it holds on the card. */
  dispose() {
    for (const handle of this.handles) this.gl.deleteTexture(handle);
  }

  private make() {
    const { gl } = this;
    const handle = gl.createTexture();
    gl.bindTexture(gl.TEXTURE_2D, handle);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.REPEAT);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.LINEAR);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.LINEAR);
    return handle;
  }

  fill(image: SphereImage) {
    const { gl } = this;
    this.image = image;
    this.mips = false;
    if (gl.isContextLost()) return;
    gl.activeTexture(gl.TEXTURE0);
    if (!isPlanes(image)) {
      gl.bindTexture(gl.TEXTURE_2D, this.handles[0]!);
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, gl.RGBA, gl.UNSIGNED_BYTE, image);
      return;
    }
    const { width, height, y, u, v } = image;
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    [y, u, v].forEach((plane, i) => {
      gl.bindTexture(gl.TEXTURE_2D, this.handles[i]!);
      const [w, h] = i ? [width / 2, height / 2] : [width, height];
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.R8, w, h, 0, gl.RED, gl.UNSIGNED_BYTE, plane);
    });
  }

  /** Binds it for drawing, from a texture unit on; with mip levels if they are wanted. */
  bind(withMips: boolean, unit = 0) {
    const { gl } = this;
    this.handles.slice(0, this.planar ? 3 : 1).forEach((handle, i) => {
      gl.activeTexture(gl.TEXTURE0 + unit + i);
      gl.bindTexture(gl.TEXTURE_2D, handle);
      if (withMips && !this.mips) gl.generateMipmap(gl.TEXTURE_2D);
    });
    this.mips ||= withMips;
  }
}
