/** What the preview draws: layers, each a picture of its own, one over the other. */
import type { Detail } from '@glimbo/core/look/detail';
import type { Pane } from './panes';

export interface SceneLayer {
  /** By this its pictures, its table, its patch and its sector are known from one scene to the next. */
  id: string;
  /** What is seen of it, each in a part of the canvas. */
  panes: Pane[];
  /** What is drawn up to a line at a share of the width instead; null without a line. */
  before: { panes: Pane[]; until: number } | null;
  /** Clarity and sharpening of what stands still; null without any. */
  detail: Detail | null;
  /** How much it covers of what lies under it, 0…1. */
  weight: number;
}

export interface Scene {
  /** From the lowest to the uppermost; what none of them covers is black. */
  layers: SceneLayer[];
  /** Whether what is black or white without detail is marked. */
  clipped: boolean;
}
