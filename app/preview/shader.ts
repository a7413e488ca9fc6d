/**
 * The projection and the sampling in GLSL: the same mathematics as the kernel's (packages/kernel/assembly), see docs there;
 * a picture in planes is sampled plane by plane and converted then, as the export does.
 */
import { CHROMA_SPAN, CHROMA_ZERO, KB, KG, KR, LUMA_BLACK, LUMA_SPAN } from '@glimbo/core/colour/bt709';
import { TO_RGB } from '@glimbo/core/colour/convert';
import { FAR, UNIT } from '@glimbo/core/look/table';
import { DENSE, LEAN, MOST_LEAN, SHRINK } from '@glimbo/core/lens/filter';

const number = (n: number) => (Number.isInteger(n) ? `${n}.0` : String(n));

export const VERTEX = `#version 300 es
in vec2 corner;
void main() { gl_Position = vec4(corner, 0.0, 1.0); }`;

/** Codes of Y'CbCr to the screen's colours: looked up in the look's table, as the kernel does (assembly/look.ts), and converted. */
const COLOURS = `
const float LUMA_BLACK = ${number(LUMA_BLACK)}, CHROMA_ZERO = ${number(CHROMA_ZERO)}, LIGHT = ${number(TO_RGB.luma)};
const float RED_CR = ${number(TO_RGB.red.cr)}, GREEN_CB = ${number(TO_RGB.green.cb)}, GREEN_CR = ${number(TO_RGB.green.cr)};
const float BLUE_CB = ${number(TO_RGB.blue.cb)};
const vec3 BLACK = vec3(LUMA_BLACK, CHROMA_ZERO, CHROMA_ZERO);

vec3 point(ivec3 at) { return vec3(texelFetch(table, at, 0).rgb) / ${number(UNIT)}; }

// Tetrahedral: from the near corner to the far one along the axes, the farthest inside first.
vec3 lookedUp(vec3 codes) {
  vec3 place = clamp(codes, 0.0, 255.0) * float(textureSize(table, 0).x - 1) / ${number(FAR)};
  ivec3 corner = ivec3(place);
  vec3 f = place - vec3(corner);
  float most = max(f.x, max(f.y, f.z)), least = min(f.x, min(f.y, f.z)), amid = f.x + f.y + f.z - most - least;
  ivec3 first = f.x == most ? ivec3(1, 0, 0) : f.y >= f.z ? ivec3(0, 1, 0) : ivec3(0, 0, 1);
  ivec3 last = f.z == least ? ivec3(0, 0, 1) : f.y <= f.x ? ivec3(0, 1, 0) : ivec3(1, 0, 0);
  vec3 near = (1.0 - most) * point(corner) + (most - amid) * point(corner + first);
  return near + (amid - least) * point(corner + 1 - last) + least * point(corner + 1);
}
vec3 converted(vec3 codes) {
  float light = (codes.x - LUMA_BLACK) * LIGHT, cb = codes.y - CHROMA_ZERO, cr = codes.z - CHROMA_ZERO;
  return clamp(vec3(light + RED_CR * cr, light + GREEN_CB * cb + GREEN_CR * cr, light + BLUE_CB * cb) / 255.0, 0.0, 1.0);
}
vec3 coded(vec3 rgb) {
  float luma = dot(rgb, vec3(${number(KR)}, ${number(KG)}, ${number(KB)}));
  vec2 chroma = (rgb.br - luma) / vec2(${number(2 * (1 - KB))}, ${number(2 * (1 - KR))});
  return vec3(LUMA_BLACK + ${number(LUMA_SPAN)} * luma, CHROMA_ZERO + ${number(CHROMA_SPAN)} * chroma);
}
// Stripes over what has no detail: dark ones on white, light ones on black.
vec3 marked(vec3 rgb) {
  float stripe = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 8.0));
  if (min(rgb.r, min(rgb.g, rgb.b)) > 0.995) return mix(rgb, vec3(0.76, 0.19, 0.06), stripe);
  if (max(rgb.r, max(rgb.g, rgb.b)) < 0.005) return mix(rgb, vec3(0.6), stripe);
  return rgb;
}
vec3 finished(vec3 codes) {
  vec3 rgb = converted(looked ? lookedUp(codes) : codes);
  return clipped ? marked(rgb) : rgb;
}`;

export const FRAGMENT = `#version 300 es
precision highp float;
precision highp int;
uniform sampler2D source, blueness, redness;
uniform bool planar, raw, looked, clipped;
uniform highp usampler3D table;
uniform mat3 toSource, toPatch;
uniform bool patched;
uniform sampler2D twinSource, twinBlueness, twinRedness;
uniform bool parted, twinned, twinPlanar;
uniform mat3 toWorld, toTwin;
uniform vec3 sectorFrom, sectorTo, sectorEnds, outside;
uniform int sectorMeet;
uniform float twinGain;
uniform sampler2D patchPicture;
uniform float cap, capFeather, capReach;
uniform float bend, scale, limb, frameHeight;
uniform vec2 centre, corner0;
uniform bool exact;
out vec4 colour;
const float PI = 3.141592653589793;
const float SHRINK = ${number(SHRINK)}, DENSE = ${number(DENSE)};
const float LEAN = ${number(LEAN)}, MOST_LEAN = ${number(MOST_LEAN)};

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

${COLOURS}

// Codes in a direction of a picture, for a pixel that covers so many radians.
vec3 codesOf(sampler2D luma, sampler2D blue, sampler2D red, bool planes, vec3 d, float angle) {
  vec2 uv = vec2(atan(d.x, d.z) / (2.0 * PI) + 0.5, 0.5 - atan(d.y, length(d.xz)) / PI);
  if (!exact) {
    vec3 value = textureLod(luma, uv, 0.0).rgb;
    return planes ? 255.0 * vec3(value.r, textureLod(blue, uv, 0.0).r, textureLod(red, uv, 0.0).r) : coded(value);
  }
  vec2 size = vec2(textureSize(luma, 0));
  float footprint = angle * max(size.x / (2.0 * PI), size.y / PI);
  vec3 value = sampled(luma, uv, footprint);
  // A plane's pixels are wider, and so are those of the frame's chroma: each covers as many.
  return planes ? 255.0 * vec3(value.r, sampled(blue, uv, footprint).r, sampled(red, uv, footprint).r) : coded(value);
}

// What is kept of a sector in a direction of the world, as the kernel has it (assembly/map.ts).
float weightInSector(vec3 d) {
  float latitude = asin(clamp(d.y, -1.0, 1.0));
  float depth = min(latitude - sectorEnds.x, sectorEnds.y - latitude);
  if (sectorMeet > 0) {
    float a = asin(clamp(dot(d, sectorFrom), -1.0, 1.0)), b = asin(clamp(dot(d, sectorTo), -1.0, 1.0));
    depth = min(depth, sectorMeet == 1 ? min(a, b) : max(a, b));
  }
  return clamp(depth / sectorEnds.z + 0.5, 0.0, 1.0);
}

// Direction in the camera's frame of a place of the pane; beyond the limb the limb's own.
vec3 onSphere(vec2 p) {
  float r = length(p);
  if (limb > 0.0 && r > limb * 0.99999) p *= limb * 0.99999 / r;
  float q2 = dot(p, p) / ((1.0 + bend) * (1.0 + bend));
  float c = (-q2 * bend + sqrt(max(0.0, 1.0 + q2 * (1.0 - bend * bend)))) / (1.0 + q2);
  return vec3(p * (bend + c) / (1.0 + bend), c);
}

// Codes at a place of the pane before the limb's edge is laid over them, for a pixel that covers so many radians.
vec3 seenAt(vec2 p, float angle) {
  vec3 e = onSphere(p);
  vec3 d = toSource * e;
  float kept = parted ? weightInSector(toWorld * e) : 1.0;
  vec3 codes = kept > 0.0 ? codesOf(source, blueness, redness, planar, d, angle) : vec3(0.0);
  if (kept < 1.0) {
    vec3 there = outside;
    if (twinned) there = BLACK + twinGain * (codesOf(twinSource, twinBlueness, twinRedness, twinPlanar, toTwin * e, angle) - BLACK);
    codes = mix(there, codes, kept);
  }
  if (patched) {
    vec3 q = toPatch * d;
    float across = length(q.xy), theta = atan(across, q.z);
    float weight = clamp((cap - theta) / capFeather + 0.5, 0.0, 1.0);
    vec2 at = 0.5 + 0.5 * vec2(q.x, -q.y) * (across > 1e-9 ? theta / capReach / across : 0.0);
    if (weight > 0.0) codes = mix(codes, 255.0 * textureLod(patchPicture, at, 0.0).rgb, weight);
  }
  return codes;
}

void main() {
  vec2 here = gl_FragCoord.xy - corner0;
  vec2 p = vec2(here.x - centre.x, centre.y - (frameHeight - here.y)) * scale;
  float r = length(p);
  float cover = limb > 0.0 ? clamp((limb - r) / scale + 0.5, 0.0, 1.0) : 1.0;
  float c = onSphere(p).z, across = scale * (bend + c) / (1.0 + bend);
  float angle = max(across, across * (bend + c) / max(1.0 + bend * c, 1e-4));
  // A ball's rim is drawn by several samples along the radius, as the kernel does (assembly/radial.ts).
  float lean = exact && bend > 1.0 ? min(MOST_LEAN, angle / across) : 1.0;
  int taps = lean < LEAN ? 1 : int(ceil(lean));
  vec3 codes = vec3(0.0);
  for (int i = 0; i < taps; i++) {
    float by = (float(i) + 0.5) / float(taps) - 0.5;
    codes += seenAt(p * (1.0 + by * scale / max(r, 1e-9)), angle / lean);
  }
  codes = mix(BLACK, codes / float(taps), cover);
  colour = vec4(raw ? codes / 255.0 : finished(codes), 1.0);
}`;

/** Finishes what was drawn as codes before: looks its colours up and converts them, or leaves them codes where there is more to come. */
export const FINISH = `#version 300 es
precision highp float;
precision highp int;
uniform sampler2D drawn;
uniform bool looked, clipped, raw;
uniform vec2 corner0;
uniform highp usampler3D table;
out vec4 colour;
${COLOURS}
void main() {
  vec3 codes = 255.0 * texelFetch(drawn, ivec2(gl_FragCoord.xy - corner0), 0).rgb;
  colour = vec4(raw ? (looked ? lookedUp(codes) : codes) / 255.0 : finished(codes), 1.0);
}`;
