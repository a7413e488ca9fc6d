/**
 * Draws the Frame with WebGL2. While things move it draws quickly and at a resolution that suits the machine;
 * when they stand still it draws once more, exactly, as the export engine does.
 */
import { limbRadius } from '@glimbo/core/lens/projection';
import { cameraOf, type View } from '@glimbo/core/lens/view';
import { cameraToSource, type Take } from '@glimbo/core/take/take';
import { FRAGMENT, VERTEX } from './shader';

/** Milliseconds that drawing may take while moving, before the resolution is lowered. */
const BUDGET = 24;
const STILL_AFTER = 160;

export class PreviewRenderer {
  private readonly gl: WebGL2RenderingContext;
  private readonly program: WebGLProgram;
  private readonly places = new Map<string, WebGLUniformLocation | null>();
  /** Share of the full resolution used while moving. */
  private share = 0.6;
  private pending = 0;
  private stillTimer: ReturnType<typeof setTimeout> | undefined;
  private mipsReady = false;
  private ready = false;
  private wanted: { view: View; orientation: Pick<Take, 'orientation'> } | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private size = { width: 640, height: 360 },
  ) {
    const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, preserveDrawingBuffer: true });
    if (!gl) throw new Error('This browser cannot draw the Frame: WebGL 2 is missing or switched off.');
    this.gl = gl;
    this.program = this.link();
    gl.useProgram(this.program);
    const corners = gl.createBuffer();
    gl.bindBuffer(gl.ARRAY_BUFFER, corners);
    gl.bufferData(gl.ARRAY_BUFFER, new Float32Array([-1, -1, 3, -1, -1, 3]), gl.STATIC_DRAW);
    gl.enableVertexAttribArray(0);
    gl.vertexAttribPointer(0, 2, gl.FLOAT, false, 0, 0);
    gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.REPEAT);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.LINEAR);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.LINEAR);
  }

  private link() {
    const { gl } = this;
    const program = gl.createProgram();
    for (const [type, text] of [[gl.VERTEX_SHADER, VERTEX], [gl.FRAGMENT_SHADER, FRAGMENT]] as const) {
      const shader = gl.createShader(type)!;
      gl.shaderSource(shader, text);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(shader) ?? 'shader');
      gl.attachShader(program, shader);
    }
    gl.bindAttribLocation(program, 0, 'corner');
    gl.linkProgram(program);
    return program;
  } // prettier-ignore

  /** The Frame's size in device pixels. */
  resize(width: number, height: number) {
    this.size = { width: Math.max(2, Math.round(width)), height: Math.max(2, Math.round(height)) };
    this.schedule();
  }

  /** Takes over the picture that the video shows now. */
  setPicture(video: TexImageSource) {
    const { gl } = this;
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, gl.RGBA, gl.UNSIGNED_BYTE, video);
    this.mipsReady = false;
    this.ready = true;
    this.schedule();
  }

  setView(view: View, orientation: Pick<Take, 'orientation'>) {
    this.wanted = { view, orientation };
    this.schedule();
  }

  private schedule() {
    clearTimeout(this.stillTimer);
    this.canvas.dataset.still = 'no';
    this.pending ||= requestAnimationFrame(() => {
      this.pending = 0;
      const began = performance.now();
      this.draw(false);
      const took = performance.now() - began;
      // Climb slowly, fall fast, so that the resolution does not swing.
      this.share = Math.min(1, Math.max(0.2, this.share * (took > BUDGET ? 0.8 : took < BUDGET * 0.6 ? 1.05 : 1)));
      this.stillTimer = setTimeout(() => this.draw(true), STILL_AFTER);
    });
  }

  private at(name: string) {
    if (!this.places.has(name)) this.places.set(name, this.gl.getUniformLocation(this.program, name));
    return this.places.get(name) ?? null;
  }

  private draw(exact: boolean) {
    if (!this.wanted || !this.ready) return;
    const { gl } = this;
    const share = exact ? 1 : this.share;
    const width = Math.max(2, Math.round(this.size.width * share));
    const height = Math.max(2, Math.round(this.size.height * share));
    if (this.canvas.width !== width || this.canvas.height !== height) Object.assign(this.canvas, { width, height });
    if (exact && !this.mipsReady) {
      gl.generateMipmap(gl.TEXTURE_2D);
      this.mipsReady = true;
    }
    const camera = cameraOf(this.wanted.view, width, height);
    const limb = limbRadius(camera.bend);
    gl.viewport(0, 0, width, height);
    gl.uniformMatrix3fv(
      this.at('toSource'),
      true,
      cameraToSource(this.wanted.orientation, camera.rotation) as unknown as number[],
    );
    gl.uniform1f(this.at('bend'), camera.bend);
    gl.uniform1f(this.at('scale'), camera.scale);
    gl.uniform1f(this.at('limb'), Number.isFinite(limb) ? limb : 0);
    gl.uniform1f(this.at('frameHeight'), height);
    gl.uniform2f(this.at('centre'), camera.centreX, camera.centreY);
    gl.uniform1i(this.at('exact'), exact ? 1 : 0);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    // Reading one pixel waits for the drawing, so that its time is known and the next one does not pile up.
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
    if (exact) this.canvas.dataset.still = 'yes';
  }

  dispose() {
    clearTimeout(this.stillTimer);
    cancelAnimationFrame(this.pending);
  }
}
