/** Stills of one pane, as most tests draw them. */
import { stillPanes } from '@glimbo/core/plan/clip-plan';
import type { Shot } from '@glimbo/core/plan/shot';
import { drawPanes } from '../src/render/still.js';

/** The shots of a still that is one view. */
export const stillShots = (...of: Parameters<typeof stillPanes>): Shot[] => stillPanes(...of)[0]!.shots;

type Drawing = Parameters<typeof drawPanes>;

/** The mean of shots from one picture of their footage, as yuv444p bytes. */
export function drawShots(shots: readonly Shot[], raw: Drawing[2], decoded: Drawing[3], finishing?: Drawing[4]) {
  const { width, height } = shots[0]!.picture;
  const pane = { left: 0, top: 0, width, height };
  return drawPanes([{ pane, shots: [...shots] }], pane, raw, decoded, finishing);
}
