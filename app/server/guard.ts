/**
 * Who may speak to the server: the right host, the right origin, and, off this machine, the passphrase. An address is
 * looked at as it will be understood; one that could be understood otherwise later is refused.
 */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { createCookie } from 'react-router';
import { config, isLocal } from '../base/config';
import { log } from '../base/log';
import { Tries } from './tries';

const secret = randomBytes(32).toString('hex');
const pass = createCookie('glimbo-pass', {
  secrets: [secret],
  httpOnly: true,
  sameSite: 'strict',
  path: '/',
  maxAge: 30 * 24 * 3600,
});

/** The header that lets somebody in who knew the passphrase. */
export const passHeader = () => pass.serialize('in');
export const tries = new Tries();

/** Whether a passphrase is the right one, in constant time. */
export function passes(given: string): boolean {
  const digest = (text: string) => createHmac('sha256', secret).update(text).digest();
  return timingSafeEqual(digest(given), digest(config.passphrase));
}

/** A request's path, if it has only one meaning; null if it goes through folders, hides slashes or is not well-formed. */
export function plainPath(url: string): string | null {
  const raw = url.split('?')[0]!;
  let path: string;
  try {
    path = decodeURIComponent(raw);
  } catch {
    return null;
  }
  if (!path.startsWith('/') || /\/\/|\\|[\0-\x1f]|%|(^|\/)\.{1,2}(\/|$)/.test(path)) return null; // eslint-disable-line no-control-regex -- they are what is looked for
  return path;
}

/** What may be had without the passphrase: signing in, and the files that its page is made of. */
const isPublic = (path: string) => /^\/(sign-in(\.data)?|mark\.svg|assets\/[\w.-]+)$/.test(path);

/** The host that an Origin header names; null for `null` and other things that are not addresses. */
function originHost(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}

export function guard() {
  const local = isLocal(config.host);
  return async (request: Request, response: Response, next: NextFunction) => {
    const path = plainPath(request.originalUrl);
    if (path === null) return void response.status(400).send('That address cannot be understood.');
    const host = (request.headers.host ?? '').replace(/:\d+$/, '');
    if (local && !isLocal(host))
      return void response.status(403).send('This Glimbo answers only on the machine it runs on.');
    const { origin } = request.headers;
    const reads = request.method === 'GET' || request.method === 'HEAD';
    if (origin && !reads && originHost(origin) !== request.headers.host)
      return void response.status(403).send('Requests from other sites are not taken.');
    if (local || isPublic(path) || (await pass.parse(request.headers.cookie ?? '')) === 'in') return next();
    log.info({ path, address: request.ip }, 'sent to sign in');
    if (reads && !path.endsWith('.data') && /html|\*\/\*/.test(request.headers.accept ?? '*/*'))
      return void response.redirect('/sign-in');
    response
      .status(401)
      .json({ problem: 'Sign in again: the passphrase is needed. What you made here is kept in this browser.' });
  };
}
