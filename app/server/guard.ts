/** Who may speak to the server: the right host, the right origin, and, off this machine, the passphrase. */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { config } from './config';

const LOCAL = new Set(['127.0.0.1', 'localhost', '[::1]']);
const secret = randomBytes(32);
export const COOKIE = 'glimbo-pass';
export const passToken = () => createHmac('sha256', secret).update(config.passphrase).digest('hex');

/** Whether a passphrase is the right one, in constant time. */
export function passes(given: string): boolean {
  const digest = (text: string) => createHmac('sha256', secret).update(text).digest();
  return timingSafeEqual(digest(given), digest(config.passphrase));
}

export function guard() {
  const local = LOCAL.has(config.host);
  return (request: Request, response: Response, next: NextFunction) => {
    const host = (request.headers.host ?? '').replace(/:\d+$/, '');
    if (local && !LOCAL.has(host))
      return void response.status(403).send('This Glimbo answers only on the machine it runs on.');
    const { origin } = request.headers;
    if (
      origin &&
      request.method !== 'GET' &&
      request.method !== 'HEAD' &&
      new URL(origin).host !== request.headers.host
    ) {
      return void response.status(403).send('Requests from other sites are not taken.');
    }
    const open = local || request.path.startsWith('/assets/') || request.path.startsWith('/sign-in');
    if (!open && !request.headers.cookie?.includes(`${COOKIE}=${passToken()}`))
      return void response.redirect('/sign-in');
    next();
  };
}
