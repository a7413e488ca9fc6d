/** Values over time as rows of a chart: what lies in each, so that a peak of one frame is seen at any zoom. */

export interface RowScale {
  /** Frames a second of the values. */
  rate: number;
  /** Seconds at a place in pixels from the chart's top. */
  timeAt: (pixel: number) => number;
}

/** The frames that fall on rows `py` to `py + high`: at least one, as long as there are any there. */
export function framesOfRow(
  { rate, timeAt }: RowScale,
  frames: number,
  py: number,
  high = 1,
): [from: number, to: number] {
  const from = Math.max(0, Math.floor(timeAt(py) * rate));
  return [from, Math.min(frames, Math.max(from + 1, Math.ceil(timeAt(py + high) * rate)))];
}

/** Least and most of one of several interleaved values over some frames; both 0 where there are none. */
export function extremes(
  values: ArrayLike<number>,
  [from, to]: [number, number],
  every = 1,
  offset = 0,
): [number, number] {
  let [least, most] = [0, 0];
  for (let n = from; n < to; n++) {
    const value = values[every * n + offset]!;
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return [least, most];
}
