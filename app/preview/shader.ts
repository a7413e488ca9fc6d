/**
 * The projection and the sampling in GLSL: the same mathematics as the kernel's (packages/kernel/assembly), see docs there;
 * a picture in planes is sampled plane by plane and converted then, as the export does.
 */
import { CHROMA_ZERO, LUMA_BLACK } from '@glimbo/core/colour/bt709';
import { TO_RGB } from '@glimbo/core/colour/convert';
import { DENSE, SHRINK } from '@glimbo/core/lens/filter';

const number = (n: number) => (Number.isInteger(n) ? `${n}.0` : String(n));

export const VERTEX = `#version 300 es
in vec2 corner;
void main() { gl_Position = vec4(corner, 0.0, 1.0); }`;

export const FRAGMENT = `#version 300 es
precision highp float;
precision highp int;
uniform sampler2D source, blueness, redness;
uniform bool planar;
uniform mat3 toSource;
uniform float bend, scale, limb, frameHeight;
uniform vec2 centre, corner0;
uniform bool exact;
out vec4 colour;
const float PI = 3.141592653589793;
const float SHRINK = ${number(SHRINK)}, DENSE = ${number(DENSE)};
const float LUMA_BLACK = ${number(LUMA_BLACK)}, CHROMA_ZERO = ${number(CHROMA_ZERO)}, LIGHT = ${number(TO_RGB.luma)};
const float RED_CR = ${number(TO_RGB.red.cr)}, GREEN_CB = ${number(TO_RGB.green.cb)}, GREEN_CR = ${number(TO_RGB.green.cr)};
const float BLUE_CB = ${number(TO_RGB.blue.cb)};

// Bicubic (Catmull-Rom) on one mip level, wrapping in longitude and reflecting over the poles.
vec3 fetch(sampler2D plane, ivec2 p, ivec2 size, int level) {
  if (p.y < 0) { p.y = -1 - p.y; p.x += size.x / 2; }
  else if (p.y >= size.y) { p.y = 2 * size.y - 1 - p.y; p.x += size.x / 2; }
  p.x = p.x - size.x * int(floor(float(p.x) / float(size.x)));
  return texelFetch(plane, p, level).rgb;
}
vec4 weights(float t) {
  float a = t * t, b = a * t;
  return vec4(-0.5 * t + a - 0.5 * b, 1.0 - 2.5 * a + 1.5 * b, 0.5 * t + 2.0 * a - 1.5 * b, -0.5 * a + 0.5 * b);
}
vec3 bicubic(sampler2D plane, vec2 uv, int level) {
  ivec2 size = textureSize(plane, level);
  vec2 at = uv * vec2(size) - 0.5;
  vec2 base = floor(at);
  vec4 wx = weights(at.x - base.x), wy = weights(at.y - base.y);
  ivec2 p = ivec2(base) - 1;
  vec3 sum = vec3(0.0);
  for (int j = 0; j < 4; j++) {
    vec3 row = vec3(0.0);
    for (int i = 0; i < 4; i++) row += wx[i] * fetch(plane, p + ivec2(i, j), size, level);
    sum += wy[j] * row;
  }
  return clamp(sum, 0.0, 1.0);
}

// A plane where a pixel covers so many of its pixels, as the kernel does: one sample, or where they are many, two by two.
vec3 sampled(sampler2D plane, vec2 uv, float footprint) {
  float detail = log2(footprint / SHRINK);
  if (detail > DENSE) {
    vec2 size = vec2(textureSize(plane, 0));
    vec2 spread = vec2(min(1.0, footprint / max(1e-3, cos((uv.y - 0.5) * PI)) / size.x), footprint / size.y);
    int level = int(clamp(ceil(log2(footprint * 0.5) - 0.5), 0.0, 5.0));
    vec3 sum = vec3(0.0);
    for (int i = 0; i < 4; i++) sum += bicubic(plane, uv + spread * (vec2(i & 1, i >> 1) * 0.5 - 0.25), level);
    return sum * 0.25;
  }
  detail = clamp(detail, 0.0, 5.0);
  int lower = int(detail);
  float blend = clamp((detail - float(lower)) * 2.0 - 0.5, 0.0, 1.0);
  vec3 value = vec3(0.0);
  if (blend < 1.0) value += (1.0 - blend) * bicubic(plane, uv, lower);
  if (blend > 0.0) value += blend * bicubic(plane, uv, min(5, lower + 1));
  return value;
}

vec3 converted(float y, float u, float v) {
  float light = (y * 255.0 - LUMA_BLACK) * LIGHT, cb = u * 255.0 - CHROMA_ZERO, cr = v * 255.0 - CHROMA_ZERO;
  return clamp(vec3(light + RED_CR * cr, light + GREEN_CB * cb + GREEN_CR * cr, light + BLUE_CB * cb) / 255.0, 0.0, 1.0);
}

void main() {
  vec2 at = gl_FragCoord.xy - corner0;
  vec2 p = vec2(at.x - centre.x, centre.y - (frameHeight - at.y)) * scale;
  float r = length(p), cover = 1.0;
  if (limb > 0.0) {
    cover = clamp((limb - r) / scale + 0.5, 0.0, 1.0);
    if (r > limb * 0.99999) p *= limb * 0.99999 / r;
  }
  float q2 = dot(p, p) / ((1.0 + bend) * (1.0 + bend));
  float c = (-q2 * bend + sqrt(max(0.0, 1.0 + q2 * (1.0 - bend * bend)))) / (1.0 + q2);
  float f = (bend + c) / (1.0 + bend);
  vec3 d = toSource * vec3(p * f, c);
  vec2 uv = vec2(atan(d.x, d.z) / (2.0 * PI) + 0.5, 0.5 - atan(d.y, length(d.xz)) / PI);
  vec3 value;
  if (!exact) {
    value = textureLod(source, uv, 0.0).rgb;
    if (planar) value = converted(value.r, textureLod(blueness, uv, 0.0).r, textureLod(redness, uv, 0.0).r);
  } else {
    vec2 size = vec2(textureSize(source, 0));
    float footprint = max(scale * f, scale * (bend + c) * f / max(1.0 + bend * c, 1e-4)) * max(size.x / (2.0 * PI), size.y / PI);
    value = sampled(source, uv, footprint);
    // A plane's pixels are wider, and so are those of the frame's chroma: each covers as many.
    if (planar) value = converted(value.r, sampled(blueness, uv, footprint).r, sampled(redness, uv, footprint).r);
  }
  colour = vec4(value * cover, 1.0);
}`;
