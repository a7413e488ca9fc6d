/** Corners: places whose surroundings change in every direction, spread evenly over the sphere. */

/** Half the side of the window over which slopes are summed. */
const WINDOW: i32 = 2;

/**
 * For every cell of a grid over the sphere finds the place with the largest smaller eigenvalue of its structure matrix
 * (Shi and Tomasi 1994), slopes taken per angle on the sphere. Rows of cells are equally high; row r has `columns[r]`
 * cells (32 bits each). `wanted` has a byte a cell: 0 passes it over. Writes score, longitude and latitude in radians as
 * three floats a cell, in order.
 */
export function findCorners(level: usize, width: i32, height: i32, rows: i32, columns: usize, wanted: usize, scratch: usize, out: usize): void {
  slopes(level, width, height, scratch);
  let cell = out;
  for (let r = 0; r < rows; r++) {
    const count = load<i32>(columns + (<usize>r << 2));
    const from = max(WINDOW + 1, (height * r) / rows);
    const to = min(height - WINDOW - 1, (height * (r + 1)) / rows);
    for (let c = 0; c < count; c++) {
      let best: f32 = -1;
      if (!load<u8>(wanted++)) {
        store<f32>(cell, best);
        cell += 12;
        continue;
      }
      let bestX = 0;
      let bestY = 0;
      for (let y = from; y < to; y++)
        for (let x = (width * c) / count; x < (width * (c + 1)) / count; x++) {
          if (x < WINDOW || x >= width - WINDOW) continue;
          const score = cornerAt(scratch, width, x, y);
          if (score > best) {
            best = score;
            bestX = x;
            bestY = y;
          }
        }
      store<f32>(cell, best);
      store<f32>(cell, (<f32>bestX + 0.5) / <f32>width * 6.2831855 - 3.1415927, 4);
      store<f32>(cell, 1.5707964 - (<f32>bestY + 0.5) / <f32>height * 3.1415927, 8);
      cell += 12;
    }
  }
}

/** Writes the products of slopes of every pixel: xx, xy, yy. */
function slopes(level: usize, width: i32, height: i32, out: usize): void {
  const row = <usize>width << 2;
  for (let y = 1; y < height - 1; y++) {
    const latitude = (0.5 - (<f64>y + 0.5) / <f64>height) * 3.141592653589793;
    const stretch = <f32>(1 / Math.max(0.05, Math.cos(latitude)));
    for (let x = 1; x < width - 1; x++) {
      const p = level + (<usize>(y * width + x) << 2);
      const gx = (load<f32>(p + 4) - load<f32>(p - 4)) * stretch;
      const gy = load<f32>(p + row) - load<f32>(p - row);
      const q = out + <usize>(y * width + x) * 12;
      store<f32>(q, gx * gx);
      store<f32>(q, gx * gy, 4);
      store<f32>(q, gy * gy, 8);
    }
  }
}

@inline
function cornerAt(scratch: usize, width: i32, x: i32, y: i32): f32 {
  let xx: f32 = 0;
  let xy: f32 = 0;
  let yy: f32 = 0;
  for (let j = -WINDOW; j <= WINDOW; j++) {
    let q = scratch + <usize>((y + j) * width + x - WINDOW) * 12;
    for (let i = 0; i < 2 * WINDOW + 1; i++) {
      xx += load<f32>(q);
      xy += load<f32>(q, 4);
      yy += load<f32>(q, 8);
      q += 12;
    }
  }
  const half = (xx + yy) * 0.5;
  return half - Mathf.sqrt(max<f32>(0, half * half - (xx * yy - xy * xy)));
}
