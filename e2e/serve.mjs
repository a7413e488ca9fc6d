/** Starts the application for the tests with an empty data folder of its own. */
import { mkdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const data = join(tmpdir(), 'glimbo-e2e');
rmSync(data, { recursive: true, force: true });
mkdirSync(data, { recursive: true });
process.env.NODE_ENV = 'production';
process.env.GLIMBO_ROOT = process.cwd();
process.env.GLIMBO_DATA = join(data, 'data');
process.env.GLIMBO_FOLDERS = `${join(process.cwd(), 'packages/demo/clips')}:${join(data, 'footage')}`;
await import('../app/start.mjs');
// Analyses that nobody asked for would only be in the way of the tests; one of them switches it on.
const address = `http://127.0.0.1:${process.env.GLIMBO_PORT}/settings`;
await fetch(address, { method: 'POST', body: new URLSearchParams({ analyseNew: 'no' }) });
