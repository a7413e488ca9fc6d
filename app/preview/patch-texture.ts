/** The patch's picture on the graphics card, and where the shader lays it. */
import { RADIANS, transpose, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { patchToSource, reachOf, type Patch } from '@glimbo/core/look/patch';
import type { Program } from './program';

/** A patch with its picture: codes of Y', Cb and Cr, three bytes a pixel, rows first. */
export interface PatchImage {
  patch: Patch;
  side: number;
  pixels: Uint8Array;
}

export class PatchTexture {
  private handle: WebGLTexture | null = null;
  private image: PatchImage | null = null;

  constructor(
    private readonly gl: WebGL2RenderingContext,
    private readonly unit: number,
  ) {}

  get filled() {
    return this.image !== null;
  }

  /** Takes a patch over; false where there was none and is none. */
  fill(image: PatchImage | null): boolean {
    if (!image && !this.image) return false;
    this.image = image;
    this.upload();
    return true;
  }

  /** Makes what the browser forgot with the context once more. */
  restore() {
    this.handle = null;
    this.upload();
  }

  /** Gives back what it holds on the card. */
  dispose() {
    this.gl.deleteTexture(this.handle);
  }

  bind() {
    const { gl } = this;
    gl.activeTexture(gl.TEXTURE0 + this.unit);
    gl.bindTexture(gl.TEXTURE_2D, this.handle);
  }

  private upload() {
    const { gl, image } = this;
    if (!image || gl.isContextLost()) return;
    gl.activeTexture(gl.TEXTURE0 + this.unit);
    if (!this.handle) {
      this.handle = gl.createTexture();
      gl.bindTexture(gl.TEXTURE_2D, this.handle);
      for (const side of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T])
        gl.texParameteri(gl.TEXTURE_2D, side, gl.CLAMP_TO_EDGE);
      for (const filter of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER])
        gl.texParameteri(gl.TEXTURE_2D, filter, gl.LINEAR);
    }
    gl.bindTexture(gl.TEXTURE_2D, this.handle);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGB8, image.side, image.side, 0, gl.RGB, gl.UNSIGNED_BYTE, image.pixels);
  }

  /** Tells a program where it lies, with the correction C of what is drawn. */
  place(program: Program, correction: Matrix3) {
    if (!this.image) return;
    const { gl } = this;
    const { patch } = this.image;
    gl.uniformMatrix3fv(program.at('toPatch'), true, [...transpose(patchToSource(patch, correction))]);
    gl.uniform1f(program.at('cap'), patch.size * RADIANS);
    gl.uniform1f(program.at('capFeather'), Math.max(patch.feather, 0.5) * RADIANS);
    gl.uniform1f(program.at('capReach'), reachOf(patch) * RADIANS);
  }
}
