/** Where a worker's application is, and its files: no two workers share any of it. */
import { mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const worker = Number(process.env.TEST_PARALLEL_INDEX ?? 0);
const all = join(tmpdir(), 'glimbo-e2e');
const folder = join(all, `worker-${worker}`);
const port = 4371 + 10 * worker;

export const world = {
  folder,
  port,
  address: `http://127.0.0.1:${port}`,
  /** A port for a server of a walk's own. */
  ownPort: port + 1,
  /** What is made of demo clips, by what it is made with: kept for the next run. */
  made: join(all, 'made'),
};

/** Files to be gathered. */
export const scratch = join(folder, 'footage');
/** The application's own data folder. */
export const data = join(folder, 'data');
for (const path of [world.made, scratch]) mkdirSync(path, { recursive: true });
