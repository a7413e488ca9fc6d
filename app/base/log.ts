/** What happened, one JSON line each, on standard error: for whoever looks after the server. */
import pino from 'pino';

export const log = pino(
  { level: process.env.GLIMBO_LOG ?? 'warn', base: undefined },
  pino.destination({ fd: 2, sync: true }),
);
