/** The projection in GLSL: the same mathematics as the kernel's (packages/kernel/assembly), see docs there. */
export const VERTEX = `#version 300 es
in vec2 corner;
void main() { gl_Position = vec4(corner, 0.0, 1.0); }`;

export const FRAGMENT = `#version 300 es
precision highp float;
precision highp int;
uniform sampler2D source;
uniform mat3 toSource;
uniform float bend, scale, limb, frameHeight;
uniform vec2 centre, corner0;
uniform bool exact;
out vec4 colour;
const float PI = 3.141592653589793;

// Bicubic (Catmull-Rom) on one mip level, wrapping in longitude and reflecting over the poles.
vec3 fetch(ivec2 p, ivec2 size, int level) {
  if (p.y < 0) { p.y = -1 - p.y; p.x += size.x / 2; }
  else if (p.y >= size.y) { p.y = 2 * size.y - 1 - p.y; p.x += size.x / 2; }
  p.x = p.x - size.x * int(floor(float(p.x) / float(size.x)));
  return texelFetch(source, p, level).rgb;
}
vec4 weights(float t) {
  float a = t * t, b = a * t;
  return vec4(-0.5 * t + a - 0.5 * b, 1.0 - 2.5 * a + 1.5 * b, 0.5 * t + 2.0 * a - 1.5 * b, -0.5 * a + 0.5 * b);
}
vec3 bicubic(vec2 uv, int level) {
  ivec2 size = textureSize(source, level);
  vec2 at = uv * vec2(size) - 0.5;
  vec2 base = floor(at);
  vec4 wx = weights(at.x - base.x), wy = weights(at.y - base.y);
  ivec2 p = ivec2(base) - 1;
  vec3 sum = vec3(0.0);
  for (int j = 0; j < 4; j++) {
    vec3 row = vec3(0.0);
    for (int i = 0; i < 4; i++) row += wx[i] * fetch(p + ivec2(i, j), size, level);
    sum += wy[j] * row;
  }
  return clamp(sum, 0.0, 1.0);
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
  if (!exact) {
    colour = vec4(textureLod(source, uv, 0.0).rgb * cover, 1.0);
    return;
  }
  vec2 size = vec2(textureSize(source, 0));
  float footprint = max(scale * f, scale * (bend + c) * f / max(1.0 + bend * c, 1e-4)) * max(size.x / (2.0 * PI), size.y / PI);
  float detail = clamp(log2(footprint / 1.25), 0.0, 5.0);
  int lower = int(detail);
  float blend = clamp((detail - float(lower)) * 2.0 - 0.5, 0.0, 1.0);
  vec3 value = vec3(0.0);
  if (blend < 1.0) value += (1.0 - blend) * bicubic(uv, lower);
  if (blend > 0.0) value += blend * bicubic(uv, min(5, lower + 1));
  colour = vec4(value * cover, 1.0);
}`;
