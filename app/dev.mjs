/** The application as it is written on: pages and server code are taken over as they change. The engine is built beforehand. */
import { createServer } from 'node:http';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { createServer as createVite } from 'vite';

const root = dirname(fileURLToPath(import.meta.url));
process.chdir(root);
const server = createServer();
const vite = await createVite({ root, server: { middlewareMode: true, hmr: { server } } });
const { createApp, closeApp, config } = await vite.ssrLoadModule('./server/app.ts');
server.on('request', await createApp(vite.middlewares));
server.listen(config.port, '127.0.0.1', () =>
  console.log(`Glimbo is at http://127.0.0.1:${config.port}, as it is written on`),
);
for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, async () => {
    server.closeAllConnections();
    await closeApp();
    await vite.close();
    process.exit(0);
  });
