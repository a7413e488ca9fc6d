/** Parting a picture: what of a plane is kept, and another picture of the same place where it is not. */

import { mapPixel } from './map';
import { NODE_BYTES, TILE } from './record';

/** A sample of the other picture with its signal times a gain about a zero. */
@inline
function gained(value: u8, gain: f32, zero: f32): f32 {
  return max(<f32>0, min(<f32>255, (<f32>value - zero) * gain + zero));
}

/**
 * Lays another picture over tile rows `row` to `row + rows` of a plane, with what is left over of the sector's weight. `camera` and
 * `grid` are the sector's; both pictures are width × height, their rows `stride` and `otherStride` bytes apart. `node` is scratch.
 */
export function partRows(
  camera: usize, grid: usize, columns: i32, row: i32, rows: i32, out: usize, width: i32, height: i32, stride: i32,
  other: usize, otherStride: i32, gain: f32, zero: f32, node: usize,
): void {
  const pitch = <usize>((columns + 3) * NODE_BYTES);
  for (let j = 0; j < rows; j++) {
    const top = (row + j) * TILE;
    const lines = min(TILE, height - top);
    for (let i = 0; i < columns; i++) {
      const a = grid + <usize>(j + 1) * pitch + <usize>((i + 1) * NODE_BYTES);
      const c = a + pitch;
      const least = min(min(load<f32>(a, 16), load<f32>(a + NODE_BYTES, 16)), min(load<f32>(c, 16), load<f32>(c + NODE_BYTES, 16)));
      const most = max(max(load<f32>(a, 16), load<f32>(a + NODE_BYTES, 16)), max(load<f32>(c, 16), load<f32>(c + NODE_BYTES, 16)));
      if (least >= 1) continue;
      const left = i * TILE;
      const wide = min(TILE, width - left);
      for (let y = top; y < top + lines; y++) {
        for (let x = left; x < left + wide; x++) {
          const to = out + <usize>(y * stride + x);
          const there = gained(load<u8>(other + <usize>(y * otherStride + x)), gain, zero);
          let weight: f32 = 0;
          if (most > 0) {
            mapPixel(camera, <f64>x + 0.5, <f64>y + 0.5, node);
            weight = max(<f32>0, min(<f32>1, load<f32>(node, 16)));
          }
          store<u8>(to, <u8>(there + (<f32>load<u8>(to) - there) * weight + <f32>0.5));
        }
      }
    }
  }
}
