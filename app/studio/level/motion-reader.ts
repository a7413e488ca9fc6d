/** Asks the worker about the motion of whole footages. */
import { toast } from 'sonner';
import type { Motion } from '@glimbo/core/motion/motion';
import type { Take } from '@glimbo/core/take/take';
import type { Asked, Questions, Request } from './motion.worker';

type Answer<Q extends keyof Questions> = ReturnType<Questions[Q]>;

let worker: Worker | null = null;
/** The analysis that the worker has. */
let known: Motion | null = null;
let lastId = 0;
const waiting = new Map<number, (answer: never) => void>();

function workerHere(): Worker {
  if (!worker) {
    worker = new Worker(new URL('./motion.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<{ id: number; answer: never }>) => {
      waiting.get(data.id)?.(data.answer);
      waiting.delete(data.id);
    };
    worker.onerror = giveUp;
  }
  return worker;
}

/** After a failure nothing that was asked is answered any more; the next question goes to a new worker. */
function giveUp() {
  worker?.terminate();
  worker = null;
  known = null;
  for (const answer of waiting.values()) answer(undefined as never);
  waiting.clear();
  toast.error('The motion could not be read. Nothing was changed; try it again, or analyse the motion anew.', {
    id: 'motion-reader',
  });
}

/** The answer to a question about a motion analysis, as a take corrects it; undefined, once it was told, after a failure. */
export function askMotion<Q extends keyof Questions>(
  question: Q,
  motion: Motion,
  take: Take,
): Promise<Answer<Q> | undefined> {
  // prettier-ignore
  const { orientation, steady, level, range } = take;
  const asked: Asked = { orientation, steady, level, range };
  const request: Request = { id: ++lastId, question, take: asked, ...(motion !== known && { motion }) };
  known = motion;
  return new Promise<Answer<Q> | undefined>((resolve) => {
    waiting.set(request.id, resolve);
    workerHere().postMessage(request);
  });
}
