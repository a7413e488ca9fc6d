/** The short form of the soak: a few kills, a few broken files, documents and requests; `./glimbo test soak` is the long one. */
import { spawnSync } from 'node:child_process';
import { expect, test } from '@playwright/test';

test('kills and broken things lose nothing, leave nothing and break nothing', () => {
  const amounts = ['--kills', '3', '--media', '6', '--documents', '40', '--requests', '60', '--seed', '5'];
  const { status, stdout, stderr } = spawnSync('node', ['scripts/soak/main.mjs', ...amounts], { encoding: 'utf8' });
  expect(`${stdout}${stderr}`).toContain('nothing was lost, nothing was left, nothing broke');
  expect(status).toBe(0);
});
