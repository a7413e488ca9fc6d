/** Times, sizes and rates as text. */
export function clock(seconds: number, digits = 2): string {
  // Rounded before it is split, so that nothing is ever 0:60.
  const s = Math.round(Math.max(0, seconds) * 10 ** digits) / 10 ** digits;
  const minutes = Math.floor(s / 60);
  return `${minutes}:${(s - minutes * 60).toFixed(digits).padStart(digits ? digits + 3 : 2, '0')}`;
}

export function bytes(n: number): string {
  if (n >= 1e9) return `${(n / 1e9).toFixed(2)} GB`;
  return n >= 1e6 ? `${(n / 1e6).toFixed(1)} MB` : `${n > 0 ? Math.max(1, Math.round(n / 1e3)) : 0} kB`;
}

export const left = (seconds: number | null) =>
  seconds === null
    ? ''
    : seconds < 90
      ? `${Math.max(1, Math.round(seconds))} s left`
      : `${Math.round(seconds / 60)} min left`;

export const rateText = (rate: number) => `${Number(rate.toFixed(3))} fps`;
