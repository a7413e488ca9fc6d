/** Pages stay when the server is away, and only then. */
import { expect, test } from '@jest/globals';
import { keepLast } from '../ui/keep-last';

const request = (path: string) => new Request(`http://glimbo${path}`);
const away = () => Promise.reject(new TypeError('Failed to fetch'));

test('what was shown is shown on when there is no answer; on another page, or when the server says no, it is told', async () => {
  const { clientLoader } = keepLast<{ n: number }>();
  const load = (path: string, serverLoader: () => Promise<unknown>) =>
    clientLoader({ request: request(path), serverLoader: serverLoader as never });
  await expect(load('/studio/1', away)).rejects.toThrow('Failed to fetch');
  expect(await load('/studio/1', async () => ({ n: 1 }))).toEqual({ n: 1 });
  expect(await load('/studio/1?t=2', away)).toEqual({ n: 1 });
  await expect(load('/studio/2', away)).rejects.toThrow();
  const gone = new Response('gone', { status: 404 });
  await expect(load('/studio/1', () => Promise.reject(gone))).rejects.toBe(gone);
  expect(await load('/studio/1', async () => ({ n: 2 }))).toEqual({ n: 2 });
  expect(await load('/studio/1', away)).toEqual({ n: 2 });
});
