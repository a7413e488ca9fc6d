/** Who gets in, and how much may be brought along: asked over real connections, with paths as they are. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { request } from 'node:http';
import type { AddressInfo, Server } from 'node:net';
import express from 'express';

process.env.GLIMBO_HOST = '0.0.0.0';
process.env.GLIMBO_PASSPHRASE = 'turntable';
process.env.GLIMBO_LOG = 'silent';
process.env.GLIMBO_DATA = '/tmp/glimbo-guard-test';
const { guard, passes, passHeader, plainPath } = await import('../server/guard');
const { bodyLimit } = await import('../server/limits');
const { Tries } = await import('../server/tries');
const { isLocal } = await import('../base/config');

let server: Server;
let port: number;
beforeAll((done) => {
  const app = express();
  app.use(guard());
  app.use(bodyLimit());
  app.all('/{*rest}', (_, response) => void response.send('inside'));
  server = app.listen(0, '127.0.0.1', () => {
    port = (server.address() as AddressInfo).port;
    done();
  });
});
afterAll((done) => void server.close(() => done()));

interface Asked {
  method?: string;
  headers?: Record<string, string>;
  body?: string;
}
/** Asks with the path exactly as it is written. */
const ask = (path: string, { method = 'GET', headers = {}, body }: Asked = {}) =>
  new Promise<{ status: number; text: string }>((resolve, reject) => {
    const asked = request({ port, host: '127.0.0.1', path, method, headers }, (answer) => {
      let text = '';
      answer.on('data', (d: Buffer) => (text += d.toString()));
      answer.on('end', () => resolve({ status: answer.statusCode!, text }));
    });
    asked.on('error', reject);
    asked.end(body);
  });

const AROUND = [
  '/assets/../settings.data',
  '/assets/%2e%2e/settings.data',
  '/assets/..%2fsettings.data',
  '/assets/..\\settings.data',
  '/assets/%2e%2e%5csettings.data',
  '/sign-in/../settings.data',
  '/sign-in/%2E%2E/exports',
  '/assets//../exports',
  '//exports',
  '/./exports',
  '/assets/%252e%252e/exports',
  '/%00',
  '/%',
];

describe('without the passphrase', () => {
  test.each(AROUND)('%s leads nowhere', async (path) => {
    for (const method of ['GET', 'POST', 'DELETE']) {
      const { status, text } = await ask(path, { method });
      expect(text).not.toBe('inside');
      expect([301, 302, 400, 401, 403]).toContain(status);
    }
  });

  test.each([
    '/',
    '/settings',
    '/media/exports/1',
    '/events',
    '/uploads',
    '/assets-private/x',
    '/assets/',
    '/sign-in/x',
    '/mark.svg/x',
    '/_root.data',
  ])('%s is closed: denied by default', async (path) => expect((await ask(path)).text).not.toBe('inside'));

  test.each(['/sign-in', '/sign-in.data', '/mark.svg', '/assets/app-1a2b.js'])('%s is open', async (path) => {
    expect((await ask(path)).text).toBe('inside');
  });

  test('a script hears it as an answer, a page is sent to sign in', async () => {
    expect(await ask('/takes/1', { method: 'POST' })).toMatchObject({
      status: 401,
      text: expect.stringContaining('kept in this browser'),
    });
    expect((await ask('/settings', { headers: { accept: 'text/html' } })).status).toBe(302);
  });

  test('a cookie that only contains the right one, or is made up, does not open', async () => {
    const right = (await passHeader()).split(';')[0]!;
    const [name, value] = [right.slice(0, right.indexOf('=')), right.slice(right.indexOf('=') + 1)];
    expect((await ask('/settings', { headers: { cookie: `x${name}=${value}` } })).text).not.toBe('inside');
    expect((await ask('/settings', { headers: { cookie: `${name}=ImluIg%3D%3D.abc` } })).text).not.toBe('inside');
    expect((await ask('/settings', { headers: { cookie: right } })).text).toBe('inside');
  });
});

describe('with it', () => {
  let cookie: string;
  beforeAll(async () => void (cookie = (await passHeader()).split(';')[0]!));

  test('other sites are not taken, and an origin that is none is no failure', async () => {
    for (const origin of ['null', 'http://evil.example', 'not an address']) {
      const { status } = await ask('/takes/1', { method: 'POST', headers: { cookie, origin } });
      expect(status).toBe(403);
    }
    const own = { cookie, origin: `http://127.0.0.1:${port}` };
    expect((await ask('/takes/1', { method: 'POST', headers: own })).text).toBe('inside');
  });

  test('bodies are limited, and say how long they are', async () => {
    const big = { cookie, 'content-length': String(500e6) };
    expect(await ask('/gather', { method: 'POST', headers: big })).toMatchObject({
      status: 413,
      text: expect.stringContaining('Nothing was changed'),
    });
    expect(
      (await ask('/gather', { method: 'POST', headers: { cookie, 'transfer-encoding': 'chunked' }, body: 'x' })).status,
    ).toBe(411);
    expect((await ask('/gather', { method: 'POST', headers: { cookie }, body: 'intent=known' })).text).toBe('inside');
    expect((await ask('/uploads/1', { method: 'PATCH', headers: big })).text).toBe('inside');
  });

  test('the passphrase is compared whole', () => {
    expect([passes('turntable'), passes('turntabl'), passes('')]).toEqual([true, false, false]);
  });
});

test('a path has one meaning or none', () => {
  expect(plainPath('/studio/ab-12?t=1/../2')).toBe('/studio/ab-12');
  expect(plainPath('/media/footage/1/thumb-0001.jpg?v=2')).toBe('/media/footage/1/thumb-0001.jpg');
  for (const path of AROUND) expect(plainPath(path)).toBeNull();
});

test('this machine is this machine, however it is written', () => {
  expect(['127.0.0.1', 'localhost', '::1', '[::1]', '0.0.0.0', '192.168.0.2'].map(isLocal)).toEqual([
    true,
    true,
    true,
    true,
    false,
    false,
  ]);
});

describe('guessing', () => {
  test('is slowed down after a few failures, more and more, for each address by itself', () => {
    let now = 0;
    const tries = new Tries(() => now);
    for (let i = 0; i < 5; i++) expect(tries.begin('a')).toBe(0);
    expect(tries.begin('a')).toBe(10);
    expect(tries.begin('b')).toBe(0);
    now = 10_000;
    expect(tries.begin('a')).toBe(0);
    expect(tries.begin('a')).toBe(20);
    for (let i = 0; i < 30; i++) {
      now += 1e7;
      expect(tries.begin('a')).toBe(0);
    }
    expect(tries.begin('a')).toBe(900);
    tries.succeeded('a');
    expect(tries.begin('a')).toBe(0);
  });
});
