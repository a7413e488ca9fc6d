/** Proxies, thumbnails, Sweeps and exports, with ranges so that players can seek. */
import { join } from 'node:path';
import express, { Router, type Response } from 'express';
import { findJob } from '~/db/jobs';
import { exportFile } from '~/jobs/queue';
import { config } from './config';

const ID = /^[0-9a-f-]{36}$/;
const FOOTAGE_FILES = /^(proxy\.mp4|sweep\.png|thumb-\d{4}\.jpg)$/;

export function media(): express.Router {
  const router = Router();
  const send = (response: Response, file: string, root: string, options: object = {}) =>
    response.sendFile(file, { root, ...options }, (error) => {
      if (error && !response.headersSent) response.status(404).end();
    });
  router.get('/footage/:id/:file', (request, response) => {
    const { id, file } = request.params;
    if (!ID.test(id) || !FOOTAGE_FILES.test(file)) return void response.status(404).end();
    send(response, file, join(config.footage, id), { maxAge: '1d' });
  });
  router.get('/exports/:id', async (request, response) => {
    const { id } = request.params;
    const job = ID.test(id) ? await findJob(id) : null;
    if (!job || job.state !== 'done') return void response.status(404).end();
    if (request.query.download !== undefined)
      response.attachment(`${String(job.params.name).replace(/[^\p{L}\p{N} ._-]/gu, '')}.mp4`);
    const file = exportFile(job);
    send(response, file.slice(config.exports.length + 1), config.exports);
  });
  return router;
}
