/** The web server: security, uploads, media files, progress, and the application's pages. */
import 'reflect-metadata';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { createRequestHandler } from '@react-router/express';
import express, { type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import { RouterContextProvider } from 'react-router';
import { db, migrate } from '~/db/database';
import { KINDS } from '~/jobs/kinds';
import { startIdleWork } from '~/jobs/idle';
import { handIn, queue } from '~/queue/queue';
import { RowQueue } from '~/queue/row-queue';
import { config } from '../base/config';
import { addressContext, nonceContext } from './context';
import { seedDemo } from './demo';
import { eventStream } from './events';
import { guard } from './guard';
import { bodyLimit } from './limits';
import { media } from './media';
import { clearTemporary } from './data-folder';
import { reconcile } from './reconcile';
import { uploads } from './uploads';
import { purgeDue } from './upkeep';

/**
 * Makes the server; the data folder is this process's already. `development`: what serves pages and scripts as they are
 * written, in place of what was built.
 */
export async function createApp(development?: RequestHandler): Promise<Express> {
  handIn(new RowQueue(KINDS));
  await clearTemporary();
  await migrate();
  await purgeDue(Date.now());
  if (config.demo) await seedDemo();
  await reconcile();
  startIdleWork();
  await queue().start();

  const app = express();
  app.disable('x-powered-by');
  // Of a proxy before it, what that says of the browser's address and of HTTPS is believed.
  app.set('trust proxy', config.proxies);
  app.use((_, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64');
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", (_, response) => `'nonce-${(response as express.Response).locals.nonce as string}'`],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          workerSrc: ["'self'", 'blob:'],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(guard());
  app.use(bodyLimit());
  app.get('/events', eventStream);
  app.use('/media', media());
  app.use('/uploads', uploads());
  if (development) app.use(development);
  else {
    const built = join(config.root, 'build/app/client');
    app.use('/assets', express.static(join(built, 'assets'), { immutable: true, maxAge: '1y' }));
    app.use(express.static(built, { maxAge: '1h', index: false }));
  }
  app.all(
    '/{*rest}',
    createRequestHandler({
      build: () => import('virtual:react-router/server-build'),
      getLoadContext: (request, response) => {
        const context = new RouterContextProvider();
        context.set(nonceContext, response.locals.nonce as string);
        context.set(addressContext, request.ip ?? '');
        return context;
      },
    }),
  );
  return app;
}

/** Ends the queue and the database; the caller closes the listening socket. */
export async function closeApp() {
  await queue().stop();
  await db.destroy();
}
