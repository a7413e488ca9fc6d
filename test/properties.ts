/**
 * Property tests run on the same examples every time, so that a red run can be had again and a green one means the same
 * everywhere. GLIMBO_SEED=N tries others.
 */
import fc from 'fast-check';

fc.configureGlobal({ seed: Number(process.env.GLIMBO_SEED ?? 2026) });
