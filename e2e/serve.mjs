/** Starts the application for a worker of the walks, with an empty data folder of its own. */
import { once } from 'node:events';
import { mkdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';

// Where another one serves already, its data is not to be touched: this fails.
const probe = createServer().listen(Number(process.env.GLIMBO_PORT), '127.0.0.1');
await once(probe, 'listening');
probe.close();
await once(probe, 'close');

const folder = process.env.GLIMBO_E2E;
for (const name of ['data', 'footage']) rmSync(join(folder, name), { recursive: true, force: true });
mkdirSync(join(folder, 'footage'), { recursive: true });
process.env.NODE_ENV = 'production';
process.env.GLIMBO_ROOT = process.cwd();
process.env.GLIMBO_DATA = join(folder, 'data');
process.env.GLIMBO_FOLDERS = `${join(process.cwd(), 'packages/demo/clips')}:${join(folder, 'footage')}`;
const { start } = await import('../build/app/server/index.js');
await start();
// Analyses that nobody asked for would only be in the way of the tests; one of them switches it on.
const settings = `http://127.0.0.1:${process.env.GLIMBO_PORT}/settings`;
await fetch(settings, { method: 'POST', body: new URLSearchParams({ analyseNew: 'no', findNew: 'no' }) });
console.log('ready');
