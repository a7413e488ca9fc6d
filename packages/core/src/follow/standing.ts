/**
 * From what stands out to all that stands: a jacket is found by its colours, the person goes from hat to shoes. Row by row up and down,
 * for as long as what is between the sides is unlike what is left of it, and right of it.
 */
import { apply, DEGREES, RADIANS, type Vec3 } from '../geometry/rotation.js';
import { uprightTo } from './aim.js';
import { cellOf, glimpse, glimpseOf, type Glimpse, type SphereFrame } from '../frame/sphere-frame.js';
import type { Box } from './box.js';

/** Cells of the look from side to side, and across what was found. */
const SIDE = 96;
const ACROSS = 12;
/** What is wider than this against its height does not stand. */
const UPRIGHT = 0.9;
/** Widths up and down from the middle that things go on at most. */
const TALL = 2.2;
/** A row belongs to it that is this unlike its sides, against the middle row; up to so many others may lie between. */
const UNLIKE = 0.55;
const GAP = 3;
/** From which difference on two colours have nothing in common, and how much more tint counts than light. */
const APART = 30;
const TINT = 2.5;
/** Widths from the middle: how far a row goes, and what is beside it. */
const OWN = 0.4;
const [BESIDE, ASIDE] = [0.75, 1.6];

/** The box of all that stands where a box is, in degrees; what lies is given back as it is. */
export function standing(frame: SphereFrame, box: Box): Box {
  if (box.width > UPRIGHT * box.height) return box;
  const look = glimpseOf(SIDE);
  const toPicture = uprightTo(box.direction);
  const across = (box.width * RADIANS * SIDE) / ACROSS;
  glimpse(frame, toPicture, across, look);
  const middle = SIDE / 2;
  const least = UNLIKE * unlikeSides(look, middle);
  const reach = Math.min(TALL * ACROSS, middle - 4);
  const end = (step: 1 | -1) => {
    const from = Math.round((0.8 * ACROSS * box.height) / box.width / 2);
    let last = Math.min(from, reach);
    for (let k = last; k < reach && k - last <= GAP; k++) if (unlikeSides(look, middle + step * k) >= least) last = k;
    return last;
  };
  const cell = cellOf(across, SIDE);
  const angle = (cells: number) => 2 * Math.atan((cells * cell) / 2);
  const [up, down] = [angle(end(-1)), angle(end(1) + 1)];
  const off = (up - down) / 2;
  const direction: Vec3 = apply(toPicture, [0, Math.sin(off), Math.cos(off)]);
  return { direction, width: box.width, height: (up + down) * DEGREES };
}

/** How unlike the middle of a row is to what is beside it, on the side that is more alike: 0 alike, 1 nothing in common. */
function unlikeSides(look: Glimpse, row: number): number {
  const middle = SIDE / 2;
  const [near, far] = [Math.round(ACROSS * BESIDE), Math.round(ACROSS * ASIDE)];
  return Math.min(unlike(look, row, middle - far, middle - near), unlike(look, row, middle + near, middle + far));
}

/** How far the colours of a row's middle are from the nearest one between two columns, in the mean. */
function unlike({ planes: [luma, blue, red] }: Glimpse, row: number, from: number, to: number): number {
  const own = Math.round(ACROSS * OWN);
  let [sum, count] = [0, 0];
  for (let y = row - 1; y <= row + 1; y++)
    for (let x = SIDE / 2 - own; x < SIDE / 2 + own; x++, count++) {
      const a = y * SIDE + x;
      let nearest = APART;
      for (let v = row - 2; v <= row + 2; v++)
        for (let b = v * SIDE + from; b < v * SIDE + to; b++) {
          const tint = Math.abs(blue[a]! - blue[b]!) + Math.abs(red[a]! - red[b]!);
          nearest = Math.min(nearest, Math.abs(luma[a]! - luma[b]!) + TINT * tint);
        }
      sum += nearest / APART;
    }
  return sum / count;
}
