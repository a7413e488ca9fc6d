/** Starts the server: the port and the data folder first, so that a start that cannot be changes nothing; then all the rest. */
import { createServer, type RequestListener, type Server } from 'node:http';
import type { RequestHandler } from 'express';
import { config, isLocal } from '../base/config';
import { log } from '../base/log';
import { presentTake } from '~/db/takes';
import { closeApp, createApp } from './app';
import { takeDataFolder } from './data-folder';
import { unowned } from './reconcile';
import { StartProblem } from './start-problem';

/** For what looks into a data folder from outside. */
export { closeApp, presentTake, unowned };

/** The host without the brackets that an IPv6 address may come in. */
const host = config.host.replace(/^\[|\]$/g, '');

function listen(server: Server): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', ({ code, message }: NodeJS.ErrnoException) =>
      reject(
        new StartProblem(
          code === 'EADDRINUSE'
            ? `port ${config.port} is taken. Choose another with --port.`
            : `the address ${host} cannot be listened on: ${message}.`,
        ),
      ),
    );
    server.listen(config.port, host, resolve);
  });
}

async function startIn(server: Server, development?: RequestHandler): Promise<() => Promise<void>> {
  if (!isLocal(config.host) && !config.passphrase)
    throw new StartProblem('set GLIMBO_PASSPHRASE before listening on anything but this machine itself.');
  if (!(Number.isInteger(config.port) && config.port >= 0 && config.port <= 65535))
    throw new StartProblem('a port is a whole number from 0 to 65535.');
  let ready!: (app: RequestListener) => void;
  const app = new Promise<RequestListener>((resolve) => (ready = resolve));
  // What is asked before everything is there waits for it: pages that are open do not notice a start.
  server.on('request', (request, response) => void app.then((answer) => answer(request, response)));
  await listen(server);
  const release = takeDataFolder();
  ready(await createApp(development));
  return async () => {
    server.close();
    server.closeAllConnections();
    await closeApp();
    release();
  };
}

/** Starts, and ends cleanly when the system asks for it; a start that cannot be says why and ends the process. */
export async function start(server: Server = createServer(), development?: RequestHandler, also = async () => {}) {
  // Work that goes wrong unseen is told to the log; it does not end the server, and everybody's work with it.
  process.on('unhandledRejection', (error) => log.error({ err: error }, 'work failed unseen'));
  let end: () => Promise<void>;
  try {
    end = await startIn(server, development);
  } catch (error) {
    // It listens already: whatever went wrong, a server that will never answer must not stay.
    console.error(`glimbo: ${error instanceof StartProblem ? error.message : (error as Error).stack}`);
    process.exit(1);
  }
  let ending = false;
  // Not `once`: a package that listens too ends the process itself when it finds no other listener left.
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => {
      if (ending) return;
      ending = true;
      void end()
        .then(also)
        .finally(() => process.exit(0));
    });
  console.log(`Glimbo is at http://${host.includes(':') ? `[${host}]` : host}:${config.port}`);
}
