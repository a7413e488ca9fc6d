/** Proposes paths beside the interface. */
import type { Motion } from '@glimbo/core/motion/motion';
import { sketch, type Sketch, type SketchTask } from '@glimbo/core/sketch/sketch';
import { correctionOf, type Corrected } from '@glimbo/core/correction/correction';

export interface SketchRequest {
  id: number;
  task: Omit<SketchTask, 'toWorld'>;
  take: Corrected;
  motion: Motion | null;
}

export interface SketchAnswer {
  id: number;
  sketch: Sketch;
}

self.onmessage = ({ data: { id, task, take, motion } }: MessageEvent<SketchRequest>) => {
  const answer: SketchAnswer = { id, sketch: sketch({ ...task, toWorld: correctionOf(take, motion) }) };
  self.postMessage(answer);
};
