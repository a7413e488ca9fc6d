/**
 * A ball's rim, where a pixel covers far more of the sphere along the radius than across it: several samples along the radius,
 * each as sharp as the picture is across.
 */

import { LEAN } from '../../core/src/lens/filter';
import { field } from './fields';
import { isDense } from './dense';
import { addRows, settleRows } from './mix';
import { CENTRE_X, CENTRE_Y, NODE_BYTES, SCRATCH_NODES, SCRATCH_RADIAL, SCRATCH_TAP, TILE } from './record';
import { drawDense, drawSmooth, turn } from './tile';

/** Samples that a pixel takes along the radius, for how much longer than wide it is on the sphere. */
@inline
export function tapsOf(lean: f32): i32 {
  return lean < <f32>LEAN ? 1 : <i32>Mathf.ceil(lean);
}

/** Where the i-th of them lies along the radius, in pixels from the pixel's middle. */
@inline
export function tapAt(i: i32, taps: i32): f64 {
  return (<f64>i + 0.5) / <f64>taps - 0.5;
}

/** A corner node moved by a part of a pixel along the radius, with its u unwrapped already. */
function moveNode(camera: usize, node: usize, u: f32, px: i32, py: i32, by: f64, pitch: usize, width: f32, out: usize): void {
  const x = <f64>px + 0.5 - field(camera, CENTRE_X);
  const y = <f64>py + 0.5 - field(camera, CENTRE_Y);
  const r = Math.sqrt(x * x + y * y);
  const right = <f32>(r > 0 ? (by * x) / r : 0) / (<f32>2 * <f32>TILE);
  const down = <f32>(r > 0 ? (by * y) / r : 0) / (<f32>2 * <f32>TILE);
  const after = node + NODE_BYTES;
  const before = node - NODE_BYTES;
  const below = node + pitch;
  const above = node - pitch;
  const across = turn(load<f32>(after), load<f32>(before), width);
  const du = across * right + turn(load<f32>(below), load<f32>(above), width) * down;
  const dv = (load<f32>(after, 4) - load<f32>(before, 4)) * right + (load<f32>(below, 4) - load<f32>(above, 4)) * down;
  store<f32>(out, u + du);
  store<f32>(out, load<f32>(node, 4) + dv, 4);
  store<f32>(out, load<f32>(node, 8), 8);
}

/** Draws one whole tile at `px`, `py` as the mean of `taps` tiles along the radius: 8 × 8 bytes at `out`. */
export function drawRadial(
  camera: usize, levels: usize, count: i32, a: usize, u1: f32, u2: f32, u3: f32, detail: f32, px: i32, py: i32, taps: i32,
  pitch: usize, width: f32, out: usize, weights: usize, scratch: usize,
): void {
  const p = scratch + <usize>SCRATCH_NODES;
  const q = p + NODE_BYTES;
  const r = q + NODE_BYTES;
  const s = r + NODE_BYTES;
  const tap = scratch + <usize>SCRATCH_TAP;
  const sums = scratch + <usize>SCRATCH_RADIAL;
  const share = 256 / taps;
  memory.fill(sums, 0, 2 * TILE * TILE);
  for (let i = 0; i < taps; i++) {
    const by = tapAt(i, taps);
    moveNode(camera, a, load<f32>(a), px, py, by, pitch, width, p);
    moveNode(camera, a + NODE_BYTES, u1, px + TILE, py, by, pitch, width, q);
    moveNode(camera, a + pitch, u2, px, py + TILE, by, pitch, width, r);
    moveNode(camera, a + pitch + NODE_BYTES, u3, px + TILE, py + TILE, by, pitch, width, s);
    if (isDense(detail)) drawDense(levels, count, p, q, r, s, load<f32>(q), load<f32>(r), load<f32>(s), tap, weights, scratch);
    else drawSmooth(levels, count, p, q, r, s, load<f32>(q), load<f32>(r), load<f32>(s), detail, tap, TILE, weights, scratch);
    // The weights add up to 256: the middle one takes what dividing leaves.
    addRows(tap, sums, TILE * TILE, i == taps >> 1 ? 256 - share * (taps - 1) : share);
  }
  settleRows(sums, out, TILE * TILE);
}
