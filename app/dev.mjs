/** The application as it is written on: pages and server code are taken over as they change. The engine is built beforehand. */
import { createServer } from 'node:http';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { createServer as createVite } from 'vite';

const root = dirname(fileURLToPath(import.meta.url));
process.chdir(root);
const server = createServer();
const vite = await createVite({ root, server: { middlewareMode: true, hmr: { server } } });
const { start } = await vite.ssrLoadModule('./server/start.ts');
await start(server, vite.middlewares, () => vite.close());
