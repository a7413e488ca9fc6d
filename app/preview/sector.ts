/** The sector on the graphics card: its edges, and the twin's picture that the shader draws outside them. */
import { multiply, type Matrix3 } from '@glimbo/core/geometry/rotation';
import { codesOfColour } from '@glimbo/core/look/patch';
import { edgesOf, type Sector } from '@glimbo/core/look/sector';
import type { Program } from './program';
import { SphereTexture, type SphereImage } from './sphere-texture';

/** A sector, and how its twin lies: from the world to the twin's picture, and its signal's factor; null without one. */
export interface SectorShown {
  sector: Sector;
  twin: { fromWorld: Matrix3; gain: number } | null;
}

const MEETS = { none: 0, both: 1, either: 2 } as const;

export class SectorDrawing {
  private readonly twin: SphereTexture;
  private shown: SectorShown | null = null;

  constructor(
    private readonly gl: WebGL2RenderingContext,
    /** Texture unit of the twin's first plane; two more follow it. */
    private readonly unit: number,
  ) {
    this.twin = new SphereTexture(gl);
  }

  get filled() {
    return this.shown !== null;
  }

  /** Takes a sector over; false where there was none and is none. */
  fill(shown: SectorShown | null): boolean {
    if (!shown && !this.shown) return false;
    this.shown = shown;
    return true;
  }

  /** Takes the twin's picture over. */
  fillTwin(picture: SphereImage) {
    this.twin.fill(picture);
  }

  restore() {
    this.twin.restore();
  }

  /** Gives back what it holds on the card. */
  dispose() {
    this.twin.dispose();
  }

  /** Binds the twin's picture, with mip levels if they are wanted. */
  bind(program: Program, withMips: boolean) {
    const twin = this.shown?.twin && this.twin.filled;
    if (twin) this.twin.bind(withMips, this.unit);
    this.gl.uniform1i(program.at('twinPlanar'), this.twin.planar ? 1 : 0);
  }

  /** Tells a program where it lies, for a camera's rotation to the world. */
  place(program: Program, toWorld: Matrix3) {
    if (!this.shown) return;
    const { gl, shown } = this;
    const { sector, twin } = shown;
    const { from, to, meet, bottom, top, feather } = edgesOf(sector);
    gl.uniformMatrix3fv(program.at('toWorld'), true, [...toWorld]);
    gl.uniform3fv(program.at('sectorFrom'), from);
    gl.uniform3fv(program.at('sectorTo'), to);
    gl.uniform1i(program.at('sectorMeet'), MEETS[meet]);
    gl.uniform3f(program.at('sectorEnds'), bottom, top, feather);
    gl.uniform3fv(program.at('outside'), codesOfColour(sector.colour));
    gl.uniform1i(program.at('twinned'), twin && this.twin.filled ? 1 : 0);
    if (!twin) return;
    gl.uniformMatrix3fv(program.at('toTwin'), true, [...multiply(twin.fromWorld, toWorld)]);
    gl.uniform1f(program.at('twinGain'), twin.gain);
  }
}
