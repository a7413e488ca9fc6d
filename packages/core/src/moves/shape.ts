/** What a move does, as a shape to be drawn small: how far the camera sees, moment by moment. */
import { DEFAULT_VIEW } from '../lens/view.js';
import { emptyPath, viewAt } from '../path/path.js';
import { putMove, usualValues, type Move } from './moves.js';

/** What is seen at a moment of a move: the middle of the view and the edges of its field, in degrees. */
export interface MoveMoment {
  /** Share of the move, 0 to 1. */
  at: number;
  left: number;
  middle: number;
  right: number;
}

/** Frames a second at which a move is looked at. */
const RATE = 30;

/**
 * Some moments of a move with its usual values, on a level view straight ahead: along whichever of pan, tilt and roll turns most.
 */
export function shapeOfMove(move: Move, moments = 24): MoveMoment[] {
  const { path } = putMove(emptyPath(), move, 0, { view: DEFAULT_VIEW, values: usualValues(move), rate: RATE });
  const end = Math.max(...Object.values(path).flatMap((c) => (Array.isArray(c) ? c.map((k) => k.time) : [0])));
  const views = Array.from({ length: moments + 1 }, (_, i) => viewAt(path, (end * i) / moments));
  const moves = (name: 'pan' | 'roll' | 'tilt') => Math.max(...views.map((v) => Math.abs(v[name] - views[0]![name])));
  const along = (['pan', 'roll', 'tilt'] as const).reduce((a, b) => (moves(b) > moves(a) ? b : a));
  return views.map((view, i) => ({
    at: i / moments,
    left: view[along] - view.fov / 2,
    middle: view[along],
    right: view[along] + view.fov / 2,
  }));
}
