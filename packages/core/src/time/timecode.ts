/** Times as people write them. Timecode counts frames of the nearest whole rate and drops none (SMPTE ST 12-1, non-drop). */

/** HH:MM:SS:FF for a frame of a rate. */
export function timecode(frame: number, rate: number): string {
  const base = Math.max(1, Math.round(rate));
  const two = (n: number) => String(n).padStart(2, '0');
  const seconds = Math.floor(frame / base);
  return [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60, frame % base].map(two).join(':');
}

/** The frame of a timecode, whose leading parts may be left out; NaN where it is none. */
export function frameOfTimecode(text: string, rate: number): number {
  const parts = text.trim().split(/[:;.]/).map(Number);
  if (!text.trim() || parts.length > 4 || parts.some((p) => !Number.isInteger(p) || p < 0)) return NaN;
  const [frames = 0, seconds = 0, minutes = 0, hours = 0] = parts.reverse();
  return ((hours * 60 + minutes) * 60 + seconds) * Math.max(1, Math.round(rate)) + frames;
}
