/** What a layer of a scene is drawn with, on the graphics card: its picture, its table of colours, its patch and its sector. */
import { LookTexture, type TableImage } from './look-texture';
import { PatchTexture, type PatchImage } from './patch-texture';
import type { Program } from './program';
import { SectorDrawing, type SectorShown } from './sector';
import { SphereTexture, type SphereImage } from './sphere-texture';

/** Texture units of what a layer has besides its picture, whose planes come first. */
interface LayerUnits {
  table: number;
  patchPicture: number;
  twinSource: number;
}

export class LayerDrawing {
  readonly picture: SphereTexture;
  readonly look: LookTexture;
  readonly patch: PatchTexture;
  readonly sector: SectorDrawing;

  constructor(
    gl: WebGL2RenderingContext,
    units: LayerUnits,
    /** Called when something of it has changed. */
    private readonly changed: () => void,
  ) {
    this.picture = new SphereTexture(gl);
    this.look = new LookTexture(gl, units.table);
    this.patch = new PatchTexture(gl, units.patchPicture);
    this.sector = new SectorDrawing(gl, units.twinSource);
  }

  /** Makes what the browser forgot with the context once more. */
  restore() {
    for (const part of [this.look, this.patch, this.sector, this.picture]) part.restore();
  }

  /** Gives back what it holds on the card. */
  dispose() {
    for (const part of [this.look, this.patch, this.sector, this.picture]) part.dispose();
  }

  /** Takes over a picture of the whole sphere. */
  setPicture(picture: SphereImage) {
    this.picture.fill(picture);
    this.changed();
  }

  /** Takes over the table that colours are looked up in; null where nothing is done to them. */
  setTable(table: TableImage | null) {
    this.look.fill(table);
    this.changed();
  }

  /** What covers a part of the sphere, with its picture in codes; null without anything. */
  setPatch(patch: PatchImage | null) {
    if (this.patch.fill(patch)) this.changed();
  }

  /** What part of the sphere is kept, and how its twin lies; null where all is. */
  setSector(shown: SectorShown | null) {
    if (this.sector.fill(shown)) this.changed();
  }

  /** Takes over the twin's picture of its whole sphere. */
  setTwin(picture: SphereImage) {
    this.sector.fillTwin(picture);
    this.changed();
  }

  /** Binds all of it for drawing, pictures with mip levels if they are wanted; `picture` in place of its own. */
  bind(program: Program, withMips: boolean, picture = this.picture) {
    picture.bind(withMips);
    this.look.bind();
    this.patch.bind();
    this.sector.bind(program, withMips);
  }
}
