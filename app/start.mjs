/** Starts the built application and ends it cleanly. */
import { createApp, closeApp, config, isLocal, log } from '../build/app/server/index.js';

if (!isLocal(config.host) && !config.passphrase) {
  console.error('glimbo: set GLIMBO_PASSPHRASE before listening on anything but this machine itself.');
  process.exit(1);
}
// Work that goes wrong unseen is told to the log; it does not end the server, and everybody's work with it.
process.on('unhandledRejection', (error) => log.error({ err: error }, 'work failed unseen'));
const app = await createApp();
const host = config.host.replace(/^\[|\]$/g, '');
const server = app.listen(config.port, host, (error) => {
  if (error) {
    console.error(
      error.code === 'EADDRINUSE'
        ? `glimbo: port ${config.port} is taken. Choose another with --port.`
        : `glimbo: ${error.message}`,
    );
    process.exit(1);
  }
  console.log(`Glimbo is at http://${host.includes(':') ? `[${host}]` : host}:${config.port}`);
});
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.once(signal, async () => {
    server.close();
    server.closeAllConnections();
    await closeApp();
    process.exit(0);
  });
}
