/** How the sound of a clip follows its pace: stretches between held frames, each with tempos along its way. */
import { heldIn, paceMap, type Pace } from './pace.js';

export interface SoundStretch {
  /** Seconds of the footage. */
  from: number;
  to: number;
  /** Seconds of the clip that it lasts, and how long the last frame stands after it, without sound. */
  length: number;
  held: number;
  /** Tempos from seconds of the stretch's own footage on; 1 is as the footage is read. */
  tempos: { at: number; tempo: number }[];
}

export interface PacedSound {
  stretches: SoundStretch[];
  /** Seconds of the clip between which it is quiet. */
  quiet: { from: number; to: number }[];
}

/** Seconds of the footage between two tempos: short enough that a ramp is heard as one. */
const STEP = 0.025;

/** The sound of a range that follows a pace; null without a pace. `unit`: see `paceMap`. */
export function pacedSound(
  { pace }: { pace?: Pace },
  range: { in: number; out: number },
  unit: number,
): PacedSound | 'off' | null {
  if (!pace?.keys.length) return null;
  if (pace.sound === 'off') return 'off';
  const map = paceMap(pace, range, unit);
  const held = heldIn(pace, range);
  const bounds = [range.in, ...held.map((k) => k.time).filter((t) => t > range.in), range.out];
  const heldAt = (time: number) => held.find((k) => k.time === time)?.held ?? 0;
  const stretches = bounds.slice(1).map((to, i): SoundStretch => {
    const from = bounds[i]!;
    const length = map.clip(to) - map.clip(from) - heldAt(from);
    return { from, to, length, held: heldAt(to), tempos: temposOf(map.speedAt, from, to, unit) };
  });
  // A frame that is held at the very beginning is a stretch of silence alone.
  const first = heldAt(range.in);
  const before = first ? [{ from: range.in, to: range.in, length: 0, held: first, tempos: [] }] : [];
  return { stretches: [...before, ...stretches], quiet: quietIn(pace, map, unit) };
}

function temposOf(speedAt: (t: number) => number, from: number, to: number, unit: number) {
  const tempos: SoundStretch['tempos'] = [];
  for (let at = 0; at < to - from; at += STEP) {
    const middle = Math.min(to - 1e-9, from + at + STEP / 2);
    const tempo = speedAt(middle) / unit;
    if (tempos.at(-1)?.tempo !== tempo) tempos.push({ at, tempo });
  }
  return tempos;
}

/** Where the speed leaves what shall be heard, looked at every few hundredths of a second of the clip. */
function quietIn({ quietBelow = 0, quietAbove = Infinity }: Pace, map: ReturnType<typeof paceMap>, unit: number) {
  const quiet: { from: number; to: number }[] = [];
  if (quietBelow <= 0 && quietAbove === Infinity) return quiet;
  for (let at = 0; at < map.length; at += STEP) {
    const speed = map.speedAt(map.footage(at + STEP / 2)) / unit;
    if (speed >= quietBelow && speed <= quietAbove) continue;
    const last = quiet.at(-1);
    const to = Math.min(map.length, at + STEP);
    if (last && last.to >= at - 1e-9) last.to = to;
    else quiet.push({ from: at, to });
  }
  return quiet;
}
