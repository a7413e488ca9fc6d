/** A shader program with its uniforms by name. */
export class Program {
  readonly handle: WebGLProgram;
  private readonly places = new Map<string, WebGLUniformLocation | null>();

  /** Compiles and links it; the only attribute is `corner`. Throws with what the compiler says. */
  constructor(
    private readonly gl: WebGL2RenderingContext,
    vertex: string,
    fragment: string,
  ) {
    this.handle = gl.createProgram();
    for (const [type, text] of [
      [gl.VERTEX_SHADER, vertex],
      [gl.FRAGMENT_SHADER, fragment],
    ] as const) {
      const shader = gl.createShader(type)!;
      gl.shaderSource(shader, text);
      gl.compileShader(shader);
      if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(shader) ?? 'shader');
      gl.attachShader(this.handle, shader);
    }
    gl.bindAttribLocation(this.handle, 0, 'corner');
    gl.linkProgram(this.handle);
  }

  use() {
    this.gl.useProgram(this.handle);
    return this;
  }

  at(name: string) {
    if (!this.places.has(name)) this.places.set(name, this.gl.getUniformLocation(this.handle, name));
    return this.places.get(name) ?? null;
  }

  /** Says which texture unit each sampler reads. */
  samplers(units: Readonly<Record<string, number>>) {
    this.use();
    for (const [name, unit] of Object.entries(units)) this.gl.uniform1i(this.at(name), unit);
    return this;
  }
}
