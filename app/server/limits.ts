/** How much a request may bring along. Uploads have rules of their own. */
import type { NextFunction, Request, Response } from 'express';

const MEGABYTE = 1 << 20;
/** Bytes of a request to an address that begins so; the first that fits counts. */
const LIMITS: readonly (readonly [RegExp, number])[] = [
  [/^\/uploads(\/|$)/, Infinity],
  [/^\/footage\/[^/]+\/motion$/, 80 * MEGABYTE],
  [/^\/takes\//, 64 * MEGABYTE],
  [/^\/materials$/, 100 * MEGABYTE],
  [/^\/footage\/[^/]+\/stitch$/, 8 * MEGABYTE],
  [/./, MEGABYTE],
];

export function bodyLimit() {
  return (request: Request, response: Response, next: NextFunction) => {
    if (request.method === 'GET' || request.method === 'HEAD') return next();
    const most = LIMITS.find(([place]) => place.test(request.path))![1];
    const length = request.headers['content-length'];
    if (most === Infinity || length === undefined) {
      // A body that does not say how long it is could be of any length.
      if (most === Infinity || !request.headers['transfer-encoding']) return next();
      return void response
        .status(411)
        .json({ problem: 'The request does not say how long it is. Nothing was changed.' });
    }
    if (Number(length) <= most) return next();
    response.set('connection', 'close');
    response
      .status(413)
      .json({ problem: `That is more than is taken here (${Math.round(most / MEGABYTE)} MB). Nothing was changed.` });
  };
}
