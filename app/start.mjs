/** Starts the built application and ends it cleanly. */
import { createApp, closeApp, config } from '../build/app/server/index.js';

if (!['127.0.0.1', 'localhost', '::1'].includes(config.host) && !config.passphrase) {
  console.error('glimbo: set GLIMBO_PASSPHRASE before listening on anything but this machine itself.');
  process.exit(1);
}
const app = await createApp();
const server = app.listen(config.port, config.host, (error) => {
  if (error) {
    console.error(
      error.code === 'EADDRINUSE'
        ? `glimbo: port ${config.port} is taken. Choose another with --port.`
        : `glimbo: ${error.message}`,
    );
    process.exit(1);
  }
  console.log(`Glimbo is at http://${config.host}:${config.port}`);
});
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.once(signal, async () => {
    server.close();
    server.closeAllConnections();
    await closeApp();
    process.exit(0);
  });
}
