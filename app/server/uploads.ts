/** Resumable uploads (the open tus protocol). A finished upload waits in its folder until the Library gathers it. */
import { statfs } from 'node:fs/promises';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import express, { Router } from 'express';
import { config } from '../base/config';

/** Room in bytes that uploads leave free on the disk. */
const SPARE = 500e6;

export function uploads(): express.Router {
  const tus = new Server({
    path: '/uploads',
    datastore: new FileStore({ directory: config.uploads }),
    maxSize: config.largestUpload,
    relativeLocation: true,
    async onUploadCreate(_, upload) {
      // Without it nobody knows whether there is room.
      if (upload.size === undefined)
        throw { status_code: 400, body: 'Say how large the file is before it is sent. Nothing was copied.' };
      const disk = await statfs(config.uploads);
      if (upload.size > disk.bavail * disk.bsize - SPARE) {
        throw {
          status_code: 507,
          body: 'There is not enough room on the disk for this file. Nothing was copied; make room and try again.',
        };
      }
      return {};
    },
    // The store tells a full disk like any other failure to write: the disk itself is asked.
    async onResponseError() {
      const disk = await statfs(config.uploads);
      if (disk.bavail * disk.bsize > 64e6) return undefined;
      return {
        status_code: 507,
        body: 'The disk became full. What has arrived is kept; make room and try again to go on from there.',
      };
    },
  });
  const router = Router();
  router.all('/{*rest}', (request, response) => {
    request.url = request.originalUrl;
    void tus.handle(request, response);
  });
  return router;
}
