/**
 * Draws the Frame with WebGL2. While things move it draws quickly and at a resolution that suits the machine, or the
 * one that was chosen; when they stand still it draws once more, exactly, as the export engine does. What it draws is a
 * scene of layers, which can show several views side by side, and two pictures on both sides of a line.
 */
import { limbRadius } from '@glimbo/core/lens/projection';
import { multiply, transpose } from '@glimbo/core/geometry/rotation';
import type { Detail } from '@glimbo/core/look/detail';
import { cameraOf, type View } from '@glimbo/core/lens/view';
import { DetailPasses } from './detail-passes';
import { FloatTarget } from './float-target';
import { LayerDrawing } from './layer-drawing';
import type { Box, Pane, Part, Place } from './panes';
import { Program } from './program';
import type { Scene, SceneLayer } from './scene';
import { FINISH, FRAGMENT, VERTEX } from './shader';
import { SAMPLERS, SphereTexture, type SphereImage } from './sphere-texture';

/** Texture units: the sphere's planes first, then the look's table and what is drawn before it is finished. */
const UNITS = {
  ...Object.fromEntries(SAMPLERS.map((name, unit) => [name, unit])),
  table: 4,
  patchPicture: 5,
  drawn: 7,
  twinSource: 8,
  twinBlueness: 9,
  twinRedness: 10,
};

/** Milliseconds that drawing may take while moving, before the resolution is lowered. */
const BUDGET = 24;
const STILL_AFTER = 160;
/** Milliseconds before blur and detail are tried again while moving, after they took too long. */
const TRY_AGAIN = 10_000;

/** Where a view is drawn, and of which layer. */
type LayerPlace = Place & { layer: LayerDrawing };

export class PreviewRenderer {
  private readonly gl: WebGL2RenderingContext;
  private program!: Program;
  private finish!: Program;
  private readonly layers = new Map<string, LayerDrawing>();
  private readonly second: SphereTexture;
  /** Called when the browser has taken the picture away, and when it is back. */
  onLost: (lost: boolean) => void = () => {};
  /** Where the second picture begins, as a share of the width; null without one. */
  private split: number | null = null;
  /** Share of the full resolution used while moving; found by itself unless it is fixed. */
  private share = 0.6;
  private fixed: number | null = null;
  /** From when on blur and detail may be drawn while moving. */
  private fineFrom = 0;
  /** Whether the picture is the one that is asked for, and not that of a moment before. */
  private current = true;
  private pending = 0;
  /** What is left to draw of the picture that stands still, and the frame it goes on in. */
  private going = 0;
  /** What is drawn before it is finished, as codes. */
  private readonly codes: FloatTarget;
  private readonly passes: DetailPasses;
  private stillTimer: ReturnType<typeof setTimeout> | undefined;
  private scene: Scene | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private size = { width: 640, height: 360 },
  ) {
    const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, preserveDrawingBuffer: true });
    if (!gl) throw new Error('This browser cannot draw the Frame: WebGL 2 is missing or switched off.');
    this.gl = gl;
    this.codes = new FloatTarget(gl, UNITS.drawn, 'half');
    this.passes = new DetailPasses(gl);
    this.prepare();
    this.second = new SphereTexture(gl);
    canvas.addEventListener('webglcontextlost', this.lost);
    canvas.addEventListener('webglcontextrestored', this.restored);
  }

  /** Everything that the browser forgets with the context, but for the pictures. */
  private prepare() {
    const { gl } = this;
    this.program = new Program(gl, VERTEX, FRAGMENT).samplers(UNITS);
    this.finish = new Program(gl, VERTEX, FINISH).samplers(UNITS);
    const corners = gl.createBuffer();
    gl.bindBuffer(gl.ARRAY_BUFFER, corners);
    gl.bufferData(gl.ARRAY_BUFFER, new Float32Array([-1, -1, 3, -1, -1, 3]), gl.STATIC_DRAW);
    gl.enableVertexAttribArray(0);
    gl.vertexAttribPointer(0, 2, gl.FLOAT, false, 0, 0);
  }

  private readonly lost = (e: Event) => {
    // Only who says so gets it back.
    e.preventDefault();
    this.stop();
    this.canvas.dataset.still = 'no';
    this.onLost(true);
  };

  private readonly restored = () => {
    this.prepare();
    this.codes.forget();
    this.passes.forget();
    for (const layer of this.layers.values()) layer.restore();
    this.second.restore();
    this.onLost(false);
    this.schedule();
  };

  /** The Frame's size in device pixels. */
  resize(width: number, height: number) {
    this.size = { width: Math.max(2, Math.round(width)), height: Math.max(2, Math.round(height)) };
    this.schedule();
  }

  /** What the layers of scenes with an id are drawn with. */
  layer(id: string): LayerDrawing {
    let layer = this.layers.get(id);
    if (!layer) this.layers.set(id, (layer = new LayerDrawing(this.gl, UNITS, () => this.schedule())));
    return layer;
  }

  /** Gives back what the layers with an id are drawn with: they are shown no more. */
  giveBack(id: string) {
    this.layers.get(id)?.dispose();
    this.layers.delete(id);
  }

  /** What is drawn from now on. */
  show(scene: Scene) {
    this.scene = scene;
    this.schedule();
  }

  /** Says whether the picture is the one that is asked for; only then does the canvas call itself still. */
  setCurrent(current: boolean) {
    this.current = current;
    if (!current) this.canvas.dataset.still = 'no';
  }

  /** Shows a second picture to the right of a line (a share of the width), or none. */
  setSplit(picture: SphereImage | null, at = 0.5) {
    this.split = picture ? at : null;
    if (picture) this.second.fill(picture);
    this.schedule();
  }

  moveSplit(at: number) {
    if (this.split === null) return;
    this.split = at;
    this.schedule();
  }

  /** Fixes the resolution while moving as a share of the full one; null lets it suit the machine. */
  setShare(share: number | null) {
    this.fixed = share;
    this.schedule();
  }

  private stop() {
    clearTimeout(this.stillTimer);
    cancelAnimationFrame(this.going);
  }

  /** Draws what stands still, look by look, so that nothing else waits for it. */
  private drawStill() {
    const steps = this.draw(true);
    const go = () => {
      if (!steps.next().done) this.going = requestAnimationFrame(go);
    };
    go();
  }

  private schedule() {
    this.stop();
    this.canvas.dataset.still = 'no';
    this.pending ||= requestAnimationFrame(() => {
      this.pending = 0;
      const began = performance.now();
      const steps = this.draw(false);
      while (!steps.next().done);
      const took = performance.now() - began;
      if (took > BUDGET && this.isFine(began)) this.fineFrom = began + TRY_AGAIN;
      // Climb slowly, fall fast, so that the resolution does not swing.
      this.share = Math.min(1, Math.max(0.125, this.share * (took > BUDGET ? 0.8 : took < BUDGET * 0.6 ? 1.05 : 1)));
      this.stillTimer = setTimeout(() => this.drawStill(), STILL_AFTER);
    });
  }

  /** Whether the machine is quick enough for blur and detail while moving, as far as is known. */
  private isFine = (now = performance.now()) => this.share >= 1 && now >= this.fineFrom;

  /** Draws the scene; yields where it may be gone on later. */
  private *draw(exact: boolean): Generator<void> {
    const { gl, scene } = this;
    const drawn = scene?.layers.filter(({ id }) => this.layers.get(id)?.picture.filled) ?? [];
    if (!scene || !drawn.length || gl.isContextLost()) return;
    const share = exact ? 1 : (this.fixed ?? this.share);
    const width = Math.max(2, Math.round(this.size.width * share));
    const height = Math.max(2, Math.round(this.size.height * share));
    if (this.canvas.width !== width || this.canvas.height !== height) Object.assign(this.canvas, { width, height });
    this.canvas.dataset.share = share.toFixed(3);
    for (const program of [this.finish, this.program]) gl.uniform1i(program.use().at('clipped'), scene.clipped ? 1 : 0);
    gl.uniform1i(this.program.at('exact'), exact ? 1 : 0);
    const whole = { width, height, exact, from: 0, until: width };
    if (drawn.length > 1 || drawn[0]!.weight < 1) this.clear();
    for (const layer of drawn) yield* this.drawLayer(layer, whole);
    gl.disable(gl.SCISSOR_TEST);
    // Reading one pixel waits for the drawing, so that its time is known and the next one does not pile up.
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
    if (exact && this.current) this.canvas.dataset.still = 'yes';
  }

  private clear() {
    const { gl } = this;
    gl.disable(gl.SCISSOR_TEST);
    gl.clearColor(0, 0, 0, 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
  }

  private *drawLayer(layer: SceneLayer, whole: Part) {
    const { picture } = this.layer(layer.id);
    yield* this.drawPicture(layer, picture, layer.panes, whole);
    if (layer.before) {
      const until = Math.round(whole.width * layer.before.until);
      yield* this.drawPicture(layer, picture, layer.before.panes, { ...whole, until });
    }
    if (this.split !== null && this.second.filled) {
      const from = Math.round(whole.width * this.split);
      yield* this.drawPicture(layer, this.second, layer.panes, { ...whole, from });
    }
  }

  /** Draws with a weight over what is there. */
  private over(weight: number, draw: () => void) {
    const { gl } = this;
    if (weight >= 1) return draw();
    gl.enable(gl.BLEND);
    gl.blendColor(0, 0, 0, weight);
    gl.blendFunc(gl.CONSTANT_ALPHA, gl.ONE_MINUS_CONSTANT_ALPHA);
    draw();
    gl.disable(gl.BLEND);
  }

  private *drawPicture(
    { id, detail: finish, weight }: SceneLayer,
    texture: SphereTexture,
    panes: Pane[],
    { width, height, exact, from, until }: Part,
  ) {
    const { gl } = this;
    const layer = this.layer(id);
    layer.bind(this.program, exact, texture);
    gl.uniform1i(this.program.at('planar'), texture.planar ? 1 : 0);
    for (const pane of panes) {
      const [w, h] = [Math.round(pane.width * width), Math.round(pane.height * height)];
      const [x, y] = [Math.round(pane.left * width), height - Math.round(pane.top * height) - h];
      const left = Math.max(from, x);
      const box = { x: left, y, width: Math.max(0, Math.min(until, x + w) - left), height: h };
      gl.viewport(x, y, w, h);
      gl.enable(gl.SCISSOR_TEST);
      gl.scissor(box.x, box.y, box.width, box.height);
      for (const program of [this.finish, this.program])
        gl.uniform1i(program.use().at('looked'), layer.look.filled && !pane.plain ? 1 : 0);
      gl.uniform1i(this.program.at('patched'), layer.patch.filled && !pane.plain ? 1 : 0);
      gl.uniform1i(this.program.at('parted'), layer.sector.filled && !pane.plain ? 1 : 0);
      const place = { x, y, w, h, correction: pane.correction, layer };
      const fine = exact || this.isFine();
      const looks = (fine && pane.looks?.({ width: w, height: h })) || [pane.view];
      const detail = fine && !pane.plain ? finish : null;
      const finely = (looks.length > 1 || detail !== null) && this.codes.begin(w, h);
      // Sharp and plain first: looking often takes its time, and so does detail. What lets through is not drawn twice.
      if (!finely || weight >= 1) this.over(weight, () => this.drawView(pane.view, place));
      if (finely) yield* this.drawFinely(looks, place, box, { detail, weight });
    }
  }

  /** The mean of several looks, with its detail, by way of codes. */
  private *drawFinely(
    looks: View[],
    place: LayerPlace,
    box: Box,
    { detail, weight }: { detail: Detail | null; weight: number },
  ): Generator<void> {
    const { gl, finish, program } = this;
    const { x, y, w, h } = place;
    gl.uniform1i(program.at('raw'), 1);
    for (const [i, view] of looks.entries()) {
      yield;
      this.codes.add(i === 0, looks.length, () => this.drawView(view, { ...place, x: 0, y: 0 }));
    }
    gl.uniform1i(program.at('raw'), 0);
    const whole = () => gl.drawArrays(gl.TRIANGLES, 0, 3);
    const treat = () => {
      gl.uniform1i(finish.use().at('raw'), 1);
      gl.uniform2f(finish.at('corner0'), 0, 0);
      whole();
    };
    const treated = detail !== null && this.passes.run(detail, { width: w, height: h }, treat, this.codes);
    gl.viewport(x, y, w, h);
    gl.enable(gl.SCISSOR_TEST);
    gl.scissor(box.x, box.y, box.width, box.height);
    gl.uniform1i(finish.use().at('raw'), 0);
    // With detail its colours were looked up before.
    if (treated) gl.uniform1i(finish.at('looked'), 0);
    gl.uniform2f(finish.at('corner0'), x, y);
    this.over(weight, whole);
    program.use();
  }

  private drawView(view: View, { x, y, w, h, correction, layer }: LayerPlace) {
    const { gl, program } = this;
    const camera = cameraOf(view, w, h);
    const limb = limbRadius(camera.bend);
    gl.uniformMatrix3fv(program.at('toSource'), true, [...multiply(transpose(correction), camera.rotation)]);
    layer.patch.place(program, correction);
    layer.sector.place(program, camera.rotation);
    gl.uniform1f(program.at('bend'), camera.bend);
    gl.uniform1f(program.at('scale'), camera.scale);
    gl.uniform1f(program.at('limb'), Number.isFinite(limb) ? limb : 0);
    gl.uniform2f(program.at('corner0'), x, y);
    gl.uniform1f(program.at('frameHeight'), h);
    gl.uniform2f(program.at('centre'), camera.centreX, camera.centreY);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
  }

  dispose() {
    this.canvas.removeEventListener('webglcontextlost', this.lost);
    this.canvas.removeEventListener('webglcontextrestored', this.restored);
    this.stop();
    cancelAnimationFrame(this.pending);
    for (const id of this.layers.keys()) this.giveBack(id);
    this.second.dispose();
  }
}
