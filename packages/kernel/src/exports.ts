/** What the kernel's WASM module offers, as assembly/index.ts has it. Pointers are byte offsets. */
export interface Exports {
  fillWeights(table: number): void;
  mapGrid(camera: number, grid: number, columns: number, row: number, rows: number): void;
  drawRows(
    camera: number,
    grid: number,
    columns: number,
    row: number,
    rows: number,
    out: number,
    width: number,
    height: number,
    stride: number,
    levels: number,
    count: number,
    background: number,
    weights: number,
    scratch: number,
  ): void;
  partRows(
    camera: number,
    grid: number,
    columns: number,
    row: number,
    rows: number,
    out: number,
    width: number,
    height: number,
    stride: number,
    other: number,
    otherStride: number,
    gain: number,
    zero: number,
    node: number,
  ): void;
  narrow(source: number, sourceWidth: number, out: number, width: number, from: number, to: number): void;
  halve(source: number, sourceWidth: number, out: number, width: number, from: number, to: number): void;
  addRows(samples: number, sums: number, bytes: number, weight: number): void;
  settleRows(sums: number, out: number, bytes: number): void;
  blendRows(samples: number, to: number, bytes: number, weight: number): void;
  layOver(to: number, added: number, left: number, count: number): void;
  lookRows(
    y: number,
    u: number,
    v: number,
    stride: number,
    chromaStride: number,
    width: number,
    rows: number,
    block: number,
    top: number,
    table: number,
    steps: number,
    shift: number,
    dither: number,
  ): void;
  detailRows(
    y: number,
    stride: number,
    out: number,
    outStride: number,
    width: number,
    height: number,
    from: number,
    to: number,
    cell: number,
    clarity: number,
    sharpen: number,
    reach: number,
    weights: number,
    threshold: number,
    scratch: number,
  ): void;
  matchRows(
    y: number,
    u: number,
    v: number,
    width: number,
    from: number,
    to: number,
    blocks: number,
    gains: number,
    sectors: number,
    scratch: number,
  ): void;
}
