/** The walks' `test`: each worker walks through an application of its own, with its own port, data and footage. */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { test as base } from '@playwright/test';
import { world } from './world';

export { expect, type Locator, type Page } from '@playwright/test';

export const test = base.extend<object, { address: string }>({
  address: [
    async ({}, use) => {
      const env = { ...process.env, GLIMBO_PORT: String(world.port), GLIMBO_E2E: world.folder };
      const server = spawn('node', ['e2e/serve.mjs'], { env, stdio: ['ignore', 'pipe', 'inherit'] });
      await new Promise<void>((resolve) =>
        server.stdout.on('data', (text: Buffer) => text.includes('ready') && resolve()),
      );
      await use(world.address);
      server.kill('SIGTERM');
      await once(server, 'exit');
    },
    { scope: 'worker', auto: true },
  ],
  baseURL: ({ address }, use) => use(address),
});
