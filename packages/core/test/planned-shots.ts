/** The shots of a plan's frame whose only layer is a take, part by part. */
import type { FramePlan, Pane, PlannedShot } from '../src/plan/plan.js';

export const shotsIn = (plan: FramePlan, n = 0): PlannedShot[][] => plan.layersAt(n)[0]!.parts.map((p) => p.shots);

export const panesIn = (plan: FramePlan, n = 0): Pane[] => plan.layersAt(n)[0]!.parts.map((p) => p.pane);
