/** Where Lookouts stand in a picture that shows several. */
import { SHOWN, type Layout, type Line } from './lookouts.js';

/** A part of the picture in shares of its width and height, from its upper left. */
export interface Place {
  left: number;
  top: number;
  width: number;
  height: number;
}

export const WHOLE: Place = { left: 0, top: 0, width: 1, height: 1 };

export const samePlace = (a: Place, b: Place): boolean =>
  a.left === b.left && a.top === b.top && a.width === b.width && a.height === b.height;

/** The small picture's side as a share of the frame's, and its distance from the corner as a share of the shorter side. */
const SMALL = 1 / 3;
const MARGIN = 1 / 24;

/** The places of a layout in a frame of a ratio of width to height; a later one lies over the earlier. */
export function placesOf(layout: Layout, ratio: number): Place[] {
  const halves = (across: boolean): Place[] =>
    [0, 1].map((k) =>
      across ? { left: k / 2, top: 0, width: 0.5, height: 1 } : { left: 0, top: k / 2, width: 1, height: 0.5 },
    );
  switch (layout) {
    case 'one':
      return [WHOLE];
    case 'beside':
      return halves(true);
    case 'over':
      return halves(false);
    case 'inset': {
      const [mx, my] = ratio >= 1 ? [MARGIN / ratio, MARGIN] : [MARGIN, MARGIN * ratio];
      return [WHOLE, { left: 1 - SMALL - mx, top: 1 - SMALL - my, width: SMALL, height: SMALL }];
    }
    case 'four':
      return [0, 1, 2, 3].map((k) => ({ left: (k % 2) / 2, top: Math.floor(k / 2) / 2, width: 0.5, height: 0.5 }));
  }
}

const even = (v: number) => 2 * Math.round(v / 2);

/** A place in a frame of width × height pixels, all even; neighbours meet without a gap. */
export function pixelsOf({ left, top, width, height }: Place, frame: { width: number; height: number }) {
  const [x, y] = [even(left * frame.width), even(top * frame.height)];
  const [right, bottom] = [even((left + width) * frame.width), even((top + height) * frame.height)];
  return { left: x, top: y, width: right - x, height: bottom - y };
}

/** The lines between the views of a layout, as SVG shapes in a frame of width × height pixels; none for one alone. */
export function linesOf(layout: Layout, line: Line | undefined, frame: { width: number; height: number }): string {
  if (!line || !(line.width > 0) || SHOWN[layout] === 1) return '';
  const thick = Math.max(1, (line.width / 100) * Math.min(frame.width, frame.height));
  const { width, height } = frame;
  const upright = `M${width / 2} 0V${height}`;
  const across = `M0 ${height / 2}H${width}`;
  const small = pixelsOf(placesOf('inset', width / height)[1]!, frame);
  const rim = `M${small.left} ${small.top}h${small.width}v${small.height}h${-small.width}Z`;
  const shape = { one: '', beside: upright, over: across, inset: rim, four: upright + across }[layout];
  return `<path d="${shape}" fill="none" stroke="${line.colour}" stroke-width="${Number(thick.toFixed(2))}"/>`;
}
