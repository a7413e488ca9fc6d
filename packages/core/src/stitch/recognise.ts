/** Telling what a picture shows from how it looks: a sphere laid flat, or the circles that fisheye lenses draw. */

export interface Circle {
  centreX: number;
  centreY: number;
  radius: number;
}

/** Luma above which something was drawn; outside a lens's circle it is dark. */
const DARK = 34;

/**
 * The circle that a lens draws in a luma picture of width × height bytes, in its pixels; null if there is none, that
 * is if the corners are not dark or the edge is not round. Rays go from the middle outwards; the circle is fitted
 * to where each leaves the picture's bright part (least squares; Kåsa 1976), twice, without what lies off.
 */
export function findCircle(luma: Uint8Array, width: number, height: number, left = 0, stride = width): Circle | null {
  const at = (x: number, y: number) => luma[y * stride + left + x]!;
  const cornerSide = Math.max(2, Math.round(Math.min(width, height) * 0.06));
  for (const [cx, cy] of [
    [0, 0],
    [width - cornerSide, 0],
    [0, height - cornerSide],
    [width - cornerSide, height - cornerSide],
  ] as const) {
    let bright = 0;
    for (let y = 0; y < cornerSide; y++) for (let x = 0; x < cornerSide; x++) if (at(cx + x, cy + y) > DARK) bright++;
    if (bright > cornerSide * cornerSide * 0.1) return null;
  }
  const points: [number, number][] = [];
  const rays = 180;
  for (let i = 0; i < rays; i++) {
    const [dx, dy] = [Math.cos((i * 2 * Math.PI) / rays), Math.sin((i * 2 * Math.PI) / rays)];
    const reach = Math.floor(Math.min(Math.abs(width / 2 / dx), Math.abs(height / 2 / dy))) - 1;
    let r = reach;
    while (r > 0 && at(Math.floor(width / 2 + dx * r), Math.floor(height / 2 + dy * r)) <= DARK) r--;
    // A ray that is bright up to the border leaves a circle that is cut off there: it says nothing.
    if (r < reach - 1 && r > Math.min(width, height) / 8)
      points.push([width / 2 + dx * (r + 1), height / 2 + dy * (r + 1)]);
  }
  if (points.length < rays * 0.3) return null;
  let circle = fitCircle(points);
  const off = (p: [number, number], c: Circle) => Math.abs(Math.hypot(p[0] - c.centreX, p[1] - c.centreY) - c.radius);
  let kept = points.filter((p) => off(p, circle) < circle.radius * 0.06);
  if (kept.length < points.length * 0.5) return null;
  circle = fitCircle(kept);
  kept = points.filter((p) => off(p, circle) < circle.radius * 0.02);
  if (kept.length < points.length * 0.5) return null;
  return fitCircle(kept);
}

function fitCircle(points: [number, number][]): Circle {
  const n = points.length;
  const mx = points.reduce((s, p) => s + p[0] / n, 0);
  const my = points.reduce((s, p) => s + p[1] / n, 0);
  let [uu, uv, vv, uz, vz] = [0, 0, 0, 0, 0];
  for (const [x, y] of points) {
    const [u, v] = [x - mx, y - my];
    const z = u * u + v * v;
    uu += u * u;
    uv += u * v;
    vv += v * v;
    uz += u * z;
    vz += v * z;
  }
  const det = 2 * (uu * vv - uv * uv);
  const [a, b] = [(uz * vv - vz * uv) / det, (vz * uu - uz * uv) / det];
  return { centreX: mx + a, centreY: my + b, radius: Math.sqrt(a * a + b * b + (uu + vv) / n) };
}

export type Recognised =
  { kind: 'sphere' } | { kind: 'one-lens'; circle: Circle } | { kind: 'two-lenses'; circles: [Circle, Circle] };

/** What a luma picture shows. Coordinates are in its pixels. */
export function recognise(luma: Uint8Array, width: number, height: number): Recognised {
  const half = width >> 1;
  if (width / height > 1.6) {
    const first = findCircle(luma, half, height, 0, width);
    const second = findCircle(luma, half, height, half, width);
    if (first && second) return { kind: 'two-lenses', circles: [first, { ...second, centreX: second.centreX + half }] };
  }
  const one = findCircle(luma, width, height);
  return one ? { kind: 'one-lens', circle: one } : { kind: 'sphere' };
}
