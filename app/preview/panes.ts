/** What the Frame is made of: views in parts of the canvas. */
import type { Matrix3 } from '@glimbo/core/geometry/rotation';
import type { View } from '@glimbo/core/lens/view';

/** One view in a part of the canvas; the part is in shares of the whole from its upper left. */
export interface Pane {
  view: View;
  /** From the footage's picture to the world in which the view is aimed. */
  correction: Matrix3;
  /** With motion blur: the views, at a size in pixels, whose mean is shown once things stand still. */
  looks?: (size: { width: number; height: number }) => View[];
  /** Whether nothing is done to its colours. */
  plain?: boolean;
  left: number;
  top: number;
  width: number;
  height: number;
}

export const wholeFrame = (view: View, correction: Matrix3, looks?: Pane['looks']): Pane => ({
  view,
  correction,
  ...(looks ? { looks } : {}),
  left: 0,
  top: 0,
  width: 1,
  height: 1,
});

/** What of the canvas is drawn, in pixels, between two columns. */
export interface Part {
  width: number;
  height: number;
  exact: boolean;
  from: number;
  until: number;
}

/** Pixels from the lower left. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Where a view is drawn, in pixels from the lower left, and how. */
export interface Place {
  x: number;
  y: number;
  w: number;
  h: number;
  correction: Matrix3;
}
