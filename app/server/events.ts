/** Progress of jobs as server-sent events. */
import type { Request, Response } from 'express';
import { onJob } from '~/queue/events';
import type { JobEvent } from '~/model/job';

export function eventStream(request: Request, response: Response) {
  response.writeHead(200, {
    'content-type': 'text/event-stream',
    'cache-control': 'no-store',
    connection: 'keep-alive',
  });
  response.write('retry: 1000\n\n');
  const send = (event: JobEvent) => response.write(`data: ${JSON.stringify(event)}\n\n`);
  const beat = setInterval(() => response.write(': here\n\n'), 20_000);
  const forget = onJob(send);
  request.on('close', () => {
    clearInterval(beat);
    forget();
  });
}
