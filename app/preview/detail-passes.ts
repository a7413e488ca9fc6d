/** Clarity and sharpening as passes over a drawn pane, the same as the export's (core/look/detail). */
import { blurWeights, cellOf, type Detail } from '@glimbo/core/look/detail';
import { EDGE, MOST_REACH, WINDOW } from '@glimbo/core/look/detail-numbers';
import { FloatTarget } from './float-target';
import { Program } from './program';
import { VERTEX } from './shader';

const HEAD = `#version 300 es
precision highp float;
precision highp int;
`;

/** Means of luma and of its square over cells, counted from the pane's upper left; about mid-grey, so that little is lost. */
const CELLS = `${HEAD}
uniform sampler2D treated;
uniform int cell;
out vec4 value;
void main() {
  ivec2 size = textureSize(treated, 0), at = ivec2(gl_FragCoord.xy) * cell;
  ivec2 end = min(at + cell, size);
  vec2 sum = vec2(0.0);
  for (int y = at.y; y < end.y; y++)
    for (int x = at.x; x < end.x; x++) {
      float v = 255.0 * texelFetch(treated, ivec2(x, size.y - 1 - y), 0).r - 128.0;
      sum += vec2(v, v * v);
    }
  value = vec4(sum / float((end.x - at.x) * (end.y - at.y)), 0.0, 0.0);
}`;

/** Means over the window along one axis; after the second axis, slope and offset of the guided filter from them. */
const MEANS = `${HEAD}
uniform sampler2D grid;
uniform ivec2 along;
uniform bool fit;
out vec4 value;
void main() {
  ivec2 size = textureSize(grid, 0), at = ivec2(gl_FragCoord.xy);
  vec2 sum = vec2(0.0);
  float count = 0.0;
  for (int k = -${WINDOW}; k <= ${WINDOW}; k++) {
    ivec2 p = at + k * along;
    if (any(lessThan(p, ivec2(0))) || any(greaterThanEqual(p, size))) continue;
    sum += texelFetch(grid, p, 0).rg;
    count += 1.0;
  }
  vec2 mean = sum / count;
  if (fit) {
    float variance = max(0.0, mean.y - mean.x * mean.x), slope = variance / (variance + ${EDGE}.0);
    mean = vec2(slope, (mean.x + 128.0) * (1.0 - slope));
  }
  value = vec4(mean, 0.0, 0.0);
}`;

/** Luma blurred downwards. */
const BLUR = `${HEAD}
uniform sampler2D treated;
uniform float weights[${MOST_REACH + 1}];
uniform int reach;
out vec4 value;
void main() {
  ivec2 size = textureSize(treated, 0), at = ivec2(gl_FragCoord.xy);
  float sum = 0.0;
  for (int k = -reach; k <= reach; k++)
    sum += weights[abs(k)] * texelFetch(treated, ivec2(at.x, clamp(at.y + k, 0, size.y - 1)), 0).r;
  value = vec4(sum);
}`;

const DETAIL = `${HEAD}
uniform sampler2D treated, grid, blurred;
uniform float weights[${MOST_REACH + 1}];
uniform int reach, cell;
uniform float clarity, sharpen, threshold;
out vec4 value;
void main() {
  ivec2 size = textureSize(treated, 0), at = ivec2(gl_FragCoord.xy);
  vec3 codes = 255.0 * texelFetch(treated, at, 0).rgb;
  float luma = codes.r;
  if (clarity != 0.0) {
    ivec2 cells = textureSize(grid, 0);
    vec2 place = clamp((vec2(at.x, size.y - 1 - at.y) + 0.5) / float(cell) - 0.5, vec2(0.0), vec2(cells - 1));
    ivec2 a = ivec2(place), b = min(a + 1, cells - 1);
    vec2 f = place - vec2(a);
    vec2 upper = mix(texelFetch(grid, a, 0).rg, texelFetch(grid, ivec2(b.x, a.y), 0).rg, f.x);
    vec2 lower = mix(texelFetch(grid, ivec2(a.x, b.y), 0).rg, texelFetch(grid, b, 0).rg, f.x);
    vec2 line = mix(upper, lower, f.y);
    codes.r += clarity * (luma - line.x * luma - line.y);
  }
  if (sharpen > 0.0) {
    float sum = 0.0;
    for (int k = -reach; k <= reach; k++)
      sum += weights[abs(k)] * texelFetch(blurred, ivec2(clamp(at.x + k, 0, size.x - 1), at.y), 0).r;
    float fine = luma - 255.0 * sum;
    codes.r += sharpen * sign(fine) * max(0.0, abs(fine) - threshold);
  }
  codes.r = clamp(codes.r, 1.0, 254.0);
  value = vec4(codes / 255.0, 1.0);
}`;

/** Texture units for what is between: not those of the sphere and its look. */
const UNITS = { treated: 8, grid: 9, other: 10, blurred: 11 };

export class DetailPasses {
  private readonly treated: FloatTarget;
  private readonly grid: FloatTarget;
  private readonly other: FloatTarget;
  private readonly blurred: FloatTarget;
  private programs: Record<'cells' | 'means' | 'blur' | 'detail', Program> | null = null;

  constructor(private readonly gl: WebGL2RenderingContext) {
    this.treated = new FloatTarget(gl, UNITS.treated, 'half');
    this.grid = new FloatTarget(gl, UNITS.grid, 'single');
    this.other = new FloatTarget(gl, UNITS.other, 'single');
    this.blurred = new FloatTarget(gl, UNITS.blurred, 'single');
  }

  forget() {
    this.programs = null;
    for (const target of [this.treated, this.grid, this.other, this.blurred]) target.forget();
  }

  /**
   * Gives a pane of width × height pixels its detail. `treat` draws it as treated codes over the whole of the target that is bound;
   * what comes out, codes as well, is put into `into`. False where the browser cannot.
   */
  run(
    detail: Detail,
    { width, height }: { width: number; height: number },
    treat: () => void,
    into: FloatTarget,
  ): boolean {
    const { gl, treated, grid, other, blurred } = this;
    const cell = cellOf({ width, height });
    const cells = [Math.ceil(width / cell), Math.ceil(height / cell)] as const;
    const { clarity = 0, sharpen } = detail;
    const amount = (sharpen?.amount ?? 0) / 100;
    if (!treated.begin(width, height) || !blurred.begin(width, height)) return false;
    if (!grid.begin(...cells) || !other.begin(...cells) || !into.begin(width, height)) return false;
    const programs = (this.programs ??= this.compile());
    const whole = () => gl.drawArrays(gl.TRIANGLES, 0, 3);
    treated.fill(treat);
    if (clarity) {
      const means = (from: FloatTarget, to: FloatTarget, across: boolean, fit: boolean) => {
        gl.uniform1i(programs.means.use().at('grid'), from.unit);
        gl.uniform2i(programs.means.at('along'), across ? 1 : 0, across ? 0 : 1);
        gl.uniform1i(programs.means.at('fit'), fit ? 1 : 0);
        to.fill(whole);
      };
      gl.uniform1i(programs.cells.use().at('cell'), cell);
      grid.fill(whole);
      means(grid, other, true, false);
      means(other, grid, false, true);
      means(grid, other, true, false);
      means(other, grid, false, false);
    }
    const weights = blurWeights(sharpen?.radius ?? 1);
    if (amount) {
      gl.uniform1fv(programs.blur.use().at('weights'), weights);
      gl.uniform1i(programs.blur.at('reach'), weights.length - 1);
      blurred.fill(whole);
    }
    gl.uniform1fv(programs.detail.use().at('weights'), weights);
    gl.uniform1i(programs.detail.at('reach'), weights.length - 1);
    gl.uniform1i(programs.detail.at('cell'), cell);
    gl.uniform1f(programs.detail.at('clarity'), clarity / 100);
    gl.uniform1f(programs.detail.at('sharpen'), amount);
    gl.uniform1f(programs.detail.at('threshold'), sharpen?.threshold ?? 0);
    into.fill(whole);
    return true;
  }

  private compile() {
    const made = (text: string) => new Program(this.gl, VERTEX, text).samplers(UNITS);
    return { cells: made(CELLS), means: made(MEANS), blur: made(BLUR), detail: made(DETAIL) };
  }
}
