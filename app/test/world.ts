/** A server's world for tests: a data folder of its own, a real database in it, and an engine that does as it is told. */
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { MediaFacts } from '@glimbo/media/probe';
import { newTake } from '@glimbo/core/take/take';

const root = mkdtempSync(join(tmpdir(), 'glimbo-world-'));
process.env.GLIMBO_ROOT = root;
process.env.GLIMBO_DATA = join(root, 'data');
process.env.GLIMBO_FOLDERS = join(root, 'allowed');
process.env.GLIMBO_LOG ??= 'silent';
mkdirSync(join(root, 'allowed'), { recursive: true });
mkdirSync(join(root, 'build/engine'), { recursive: true });
export const allowed = join(root, 'allowed');

/** The engine's stand-in: `behave` of a task says what becomes of it. */
writeFileSync(
  join(root, 'build/engine/job.mjs'),
  `import { existsSync, readFileSync, writeFileSync } from 'node:fs';
  import { join } from 'node:path';
  const say = (r) => process.send(r);
  process.on('disconnect', () => process.exit(1));
  process.once('message', async (task) => {
    const handed = task.kind === 'material' && /behave: (\\w+)/.exec(readFileSync(task.file, 'latin1'))?.[1];
    const behave = handed || (task.behave ?? task.facts?.behave ?? task.take?.behave ?? 'well');
    writeFileSync(join(process.env.GLIMBO_WORK, 'temporary'), 'x');
    if (task.out) writeFileSync(task.out + '.part', 'half');
    say({ progress: 0.1 });
    const died = join(process.env.GLIMBO_ROOT, 'died');
    if (behave === 'dies once' && !existsSync(died)) { writeFileSync(died, ''); process.kill(process.pid, 'SIGKILL'); }
    if (behave === 'dies') process.kill(process.pid, 'SIGKILL');
    if (behave === 'fails') say({ failed: 'It does not work.' });
    else if (behave === 'hangs') { process.on('SIGTERM', () => process.exit(0)); setInterval(() => {}, 1000); return; }
    else if (behave === 'deaf') { process.on('SIGTERM', () => {}); setInterval(() => {}, 1000); return; }
    else {
      if (task.out) writeFileSync(task.out, 'whole');
      say({ done: { ok: true, seconds: 2, rate: 30, frames: 60, bytes: 1000, sound: false, method: 'quick', sidecar: null } });
    }
    setImmediate(() => process.disconnect());
  });`,
);

export const facts = (more: Partial<MediaFacts> & { behave?: string } = {}): MediaFacts => ({
  container: 'mov',
  codec: 'h264',
  pixelFormat: 'yuv420p',
  width: 1920,
  height: 960,
  rate: 30,
  duration: 4,
  frames: 120,
  bitRate: 1e6,
  size: 1000,
  sound: null,
  spherical: null,
  videoStreams: 1,
  stereo: null,
  part: null,
  ...more,
});

/** Opens the database, migrated; `end` closes it and removes the world. */
export async function openWorld() {
  const { makeFolders, config } = await import('../base/config');
  makeFolders();
  const { db, migrate } = await import('../db/database');
  await migrate();
  const { handIn } = await import('../queue/queue');
  const { RowQueue } = await import('../queue/row-queue');
  const { KINDS } = await import('../jobs/kinds');
  // Until it is started, what is added waits.
  handIn(new RowQueue(KINDS));
  const end = async () => {
    await db.destroy();
    rmSync(root, { recursive: true, force: true });
  };
  return { db, config, end };
}

/** Waits until a condition holds. */
export async function until(condition: () => boolean | Promise<boolean>, seconds = 15) {
  const end = Date.now() + seconds * 1000;
  while (!(await condition())) {
    if (Date.now() > end) throw new Error('It did not come about.');
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
}

/** What an export is asked for with; `behave` as above. */
export const exportParams = (behave = 'well') => ({
  take: { ...newTake('a.mp4', 4), behave },
  settings: { width: 320, height: 180, codec: 'h264' },
  name: 'x',
});
