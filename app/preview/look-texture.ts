/** The look's table on the graphics card. */

/** A baked table in whole numbers, four a point (the last one unused), Y' running fastest; see core/look/table. */
export interface TableImage {
  steps: number;
  points: Uint16Array;
}

export class LookTexture {
  private handle: WebGLTexture | null = null;
  private steps = 0;
  private image: TableImage | null = null;

  constructor(
    private readonly gl: WebGL2RenderingContext,
    private readonly unit: number,
  ) {
    this.restore();
  }

  /** Whether there is one to look up. */
  get filled() {
    return this.image !== null;
  }

  /** Makes what the browser forgot with the context once more. Without a table there is one of nothing: a sampler needs something. */
  restore() {
    const { gl } = this;
    this.handle = gl.createTexture();
    this.steps = 0;
    this.upload(this.image ?? NOTHING);
  }

  /** Gives back what it holds on the card. */
  dispose() {
    this.gl.deleteTexture(this.handle);
  }

  bind() {
    const { gl } = this;
    gl.activeTexture(gl.TEXTURE0 + this.unit);
    gl.bindTexture(gl.TEXTURE_3D, this.handle);
  }

  fill(image: TableImage | null) {
    this.image = image;
    if (image && !this.gl.isContextLost()) this.upload(image);
  }

  private upload({ steps, points }: TableImage) {
    const { gl } = this;
    gl.activeTexture(gl.TEXTURE0 + this.unit);
    gl.bindTexture(gl.TEXTURE_3D, this.handle);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 4);
    if (steps !== this.steps) {
      gl.texParameteri(gl.TEXTURE_3D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
      gl.texParameteri(gl.TEXTURE_3D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
      gl.texImage3D(gl.TEXTURE_3D, 0, gl.RGBA16UI, steps, steps, steps, 0, gl.RGBA_INTEGER, gl.UNSIGNED_SHORT, points);
      this.steps = steps;
      return;
    }
    gl.texSubImage3D(gl.TEXTURE_3D, 0, 0, 0, 0, steps, steps, steps, gl.RGBA_INTEGER, gl.UNSIGNED_SHORT, points);
  }
}

const NOTHING: TableImage = { steps: 2, points: new Uint16Array(4 * 8) };
