/** Proxies, thumbnails, Sweeps and exports, with ranges so that players can seek. */
import { existsSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import { layout, onDisk } from '../base/layout';
import express, { Router, type Response } from 'express';
import { FONT_IDS } from '@glimbo/core/overlay/overlays';
import { findFootage } from '~/db/footage';
import { findJob } from '~/db/jobs';
import { exportPlace } from '~/jobs/export';
import { isMaterial } from '~/model/material';
import { takePicture } from './take-picture';
import { config } from '../base/config';

const ID = /^[0-9a-f-]{36}$/;
const FOOTAGE_FILES =
  /^(proxy(-\d+)?\.mp4|companion\.mp4|(sweep|activity)(-\d{4})?\.png|sound\.u8|beats\.json|thumb-\d{4}\.jpg)$/;

export function media(): express.Router {
  const router = Router();
  const send = (response: Response, file: string, root: string, options: object = {}) =>
    response.sendFile(file, { root, ...options }, (error) => {
      if (error && !response.headersSent) response.status(404).end();
    });
  router.get('/footage/:id/:file', (request, response, next) => {
    const { id, file } = request.params;
    if (file === 'original') return next();
    if (!ID.test(id) || !FOOTAGE_FILES.test(file)) return void response.status(404).end();
    // What is still being gathered lies beside its place.
    const whole = onDisk(layout.gathered(id));
    send(response, file, existsSync(whole) ? whole : onDisk(layout.gathering(id)), { maxAge: '1d' });
  });
  router.get('/footage/:id/original', async (request, response) => {
    const footage = ID.test(request.params.id) ? await findFootage(request.params.id) : null;
    if (!footage?.laidFlat) return void response.status(404).end();
    send(response, basename(footage.file), dirname(footage.file), { dotfiles: 'allow' });
  });
  router.get('/cards/:file', (request, response) => {
    const { file } = request.params;
    if (!/^[0-9a-f]{32}\.jpg$/.test(file)) return void response.status(404).end();
    send(response, file, join(config.cards, 'looks'), { maxAge: '1d' });
  });
  router.get('/fonts/:id', (request, response) => {
    const { id } = request.params;
    if (!(FONT_IDS as readonly string[]).includes(id)) return void response.status(404).end();
    send(response, `font-${id}.woff`, config.engine, { maxAge: '1d' });
  });
  router.get('/materials/:file', (request, response) => {
    const { file } = request.params;
    if (!isMaterial(file)) return void response.status(404).end();
    // A drawing somebody gave may hold more than shapes: opened by itself it may do nothing.
    response.set('content-security-policy', "sandbox; default-src 'none'; style-src 'unsafe-inline'");
    send(response, file, onDisk(layout.all('materials')), { maxAge: '1y', immutable: true });
  });
  router.get('/stills/:file', (request, response) => {
    const { file } = request.params;
    if (!/^[0-9a-f]{32}\.png$/.test(file)) return void response.status(404).end();
    send(response, file, onDisk(layout.all('stills')), { maxAge: '1h' });
  });
  router.get('/exports/:id/now', (request, response) => {
    const { id } = request.params;
    if (!ID.test(id)) return void response.status(404).end();
    response.set('cache-control', 'no-store');
    send(response, layout.exportPicture(id).path, onDisk(layout.all('exports')), { cacheControl: false });
  });
  router.get('/takes/:id', async (request, response) => {
    const { id } = request.params;
    const file = ID.test(id) ? await takePicture(id).catch(() => null) : null;
    if (!file) return void response.status(404).end();
    send(response, file, onDisk(layout.all('takes')), { maxAge: '1y', immutable: true });
  });
  router.get('/exports/:id', async (request, response) => {
    const { id } = request.params;
    const job = ID.test(id) ? await findJob(id) : null;
    if (!job || job.state !== 'done') return void response.status(404).end();
    const { path } = exportPlace(job);
    if (request.query.download !== undefined)
      response.attachment(`${String(job.params.name).replace(/[^\p{L}\p{N} ._-]/gu, '')}${extname(path)}`);
    send(response, path, onDisk(layout.all('exports')));
  });
  return router;
}
