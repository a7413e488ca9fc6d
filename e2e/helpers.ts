import { execFileSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import {
  closeSync,
  copyFileSync,
  existsSync,
  openSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { basename, extname, join } from 'node:path';
import knex from 'knex';
import { stepsFrom } from '@glimbo/core/document/change';
import { whole, type Patch } from '@glimbo/core/document/patch';
import { expect, type Page } from './test';
import { data, scratch, world } from './world';

export { data, scratch };

export const ffmpeg = (...args: string[]) =>
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1 << 28 });

/** What ffmpeg makes with these arguments, which is made once and copied ever after. */
export function made(file: string, ...args: string[]): string {
  const before = join(world.made, createHash('sha256').update(args.join('\0')).digest('hex') + extname(file));
  if (!existsSync(before)) {
    const half = join(scratch, `half${extname(file)}`);
    ffmpeg(...args, half);
    copyFileSync(half, `${before}.${process.pid}`);
    renameSync(`${before}.${process.pid}`, before);
    rmSync(half);
  }
  copyFileSync(before, file);
  return file;
}

/** Some seconds of a demo clip as a file of their own, small enough to be gathered quickly. */
export function footage(name: string, from: number, seconds: number, clip = 'turntable'): string {
  const filmed = ['-ss', String(from), '-t', String(seconds), '-i', `packages/demo/clips/${clip}.mp4`];
  const coded = ['-vf', 'scale=1920:960', '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '16', '-c:a', 'aac'];
  const colours = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709'];
  return made(join(scratch, name), ...filmed, ...coded, ...colours);
}

/** Runs the command line of the built engine. */
export const glimbo = (...args: string[]) =>
  execFileSync('node', ['build/engine/cli.mjs', ...args], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });

/** PSNR in dB of two pictures (PNG), away from a border of some pixels. */
export function psnr(a: string, b: string, border = 8): number {
  const read = (file: string) =>
    ffmpeg('-i', file, '-vf', `crop=iw-${2 * border}:ih-${2 * border}`, '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-');
  const [x, y] = [read(a), read(b)];
  expect(x.length).toBe(y.length);
  let sum = 0;
  for (let i = 0; i < x.length; i++) sum += (x[i]! - y[i]!) ** 2;
  return 10 * Math.log10((255 * 255 * x.length) / Math.max(sum, 1e-9));
}

/** Adds a file through the real interface and waits until its proxy is there. */
export async function gather(page: Page, file: string) {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(file);
  await gathered(page, basename(file).replace(/\.[^.]+$/, ''));
}

/** The card of a footage in the Library, by its whole name. */
export const card = (page: Page, name: string) => page.getByRole('article', { name, exact: true });

/** How much footage the Library has. */
export async function footageCount(page: Page): Promise<number> {
  const told = page.getByTestId('footage-count');
  return (await told.count()) ? Number(await told.innerText()) : 0;
}

/** Waits until a footage is in the Library with its proxy. */
export const gathered = (page: Page, name: string) =>
  expect(card(page, name).and(page.locator('[data-whole]'))).toBeVisible({ timeout: 240_000 });

export const sha256 = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex');

/** Makes an MP4 file larger by bytes that mean nothing (a box of type free), so that copying it takes a while. */
export function inflate(file: string, bytes: number) {
  const handle = openSync(file, 'a');
  const head = Buffer.alloc(8);
  head.writeUInt32BE(bytes + 8);
  head.write('free', 4);
  writeSync(handle, head);
  for (let left = bytes; left > 0; left -= 1 << 20) writeSync(handle, randomBytes(Math.min(left, 1 << 20)));
  closeSync(handle);
}

export async function openTake(page: Page, name: string) {
  if (new URL(page.url(), world.address).pathname !== '/') await page.goto('/');
  await card(page, name).getByRole('button', { name: 'New take' }).click();
  await still(page);
}

/** Waits until the Frame is drawn exactly. */
export async function still(page: Page) {
  await expect(page.getByTestId('frame')).toHaveAttribute('data-still', 'yes', { timeout: 60_000 });
}

export const saved = (page: Page) => expect(page.getByTestId('save-state')).toHaveText('saved');

/** The Frame's pixels as a PNG file, with their size, once it is drawn exactly. */
export async function frameShot(page: Page, file: string) {
  // Looked at and read in one go: a new picture may come at any time.
  const read = () =>
    page
      .getByTestId('frame')
      .evaluate((c: HTMLCanvasElement) =>
        c.dataset.still === 'yes' ? { url: c.toDataURL(), width: c.width, height: c.height } : null,
      );
  let shot: Awaited<ReturnType<typeof read>> = null;
  await expect.poll(async () => (shot = await read()), { timeout: 60_000 }).not.toBeNull();
  const { url, width, height } = shot!;
  writeFileSync(file, Buffer.from(url.split(',')[1]!, 'base64'));
  return { width, height };
}

export const takeDocument = (footageFile: string, path: object, more: object = {}) => {
  const file = join(scratch, `take-${Math.random().toString(36).slice(2)}.json`);
  writeFileSync(
    file,
    JSON.stringify({
      format: 'glimbo-take',
      version: 1,
      footage: footageFile,
      range: { in: 0, out: 2 },
      frame: { aspect: '16:9' },
      path,
      ...more,
    }),
  );
  return file;
};

export const dial = (page: Page, name: string) => page.getByRole('textbox', { name: `${name} value` });
export async function dialValue(page: Page, name: string) {
  return parseFloat((await dial(page, name).inputValue()).replace('−', '-'));
}
export async function typeDial(page: Page, name: string, value: number) {
  await dial(page, name).fill(String(value));
  await dial(page, name).press('Enter');
}
export async function goTo(page: Page, seconds: number) {
  const field = page.getByRole('textbox', { name: 'Time in seconds' });
  await field.fill(String(seconds));
  await field.press('Enter');
}

export const readJson = (file: string) => JSON.parse(readFileSync(file, 'utf8')) as Record<string, never>;

/** Goes to a station of the Studio. */
export const station = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name }).click();

/** Opens a part of a station's bench. */
export const part = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();

/** The id of the take that is open. */
export const takeOf = (page: Page) => page.url().match(/studio\/([0-9a-f-]+)/)![1]!;

/** Looks something up in the application's own database. */
export async function inData<T>(look: (db: knex.Knex) => Promise<T>): Promise<T> {
  const filename = join(data, 'glimbo.sqlite');
  const db = knex({ client: 'better-sqlite3', connection: { filename }, useNullAsDefault: true });
  try {
    return await look(db);
  } finally {
    await db.destroy();
  }
}

/** A take's document as it is kept. */
export const kept = <T>(id: string) =>
  inData(async (db) => {
    const { at } = (await db('takes').where({ id }).first()) as { at: number };
    const rows = (await db('take_steps').where({ take_id: id }).where('position', '<=', at).orderBy('position')) as {
      document: string;
      whole: number;
    }[];
    const patches = rows.map((row) => {
      const found = JSON.parse(row.document) as object;
      return row.whole ? whole(found) : (found as Patch);
    });
    return stepsFrom<object>(null, patches).at(-1) as T;
  });

/** The drafts that lie in the browser's database, as JSON. */
export const draftsIn = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<string>((resolve, reject) => {
        const open = indexedDB.open('glimbo');
        open.onerror = () => reject(new Error('no database'));
        open.onsuccess = () => {
          const all = open.result.transaction('drafts').objectStore('drafts').getAll();
          all.onsuccess = () => resolve(JSON.stringify(all.result));
        };
      }),
  );

/** At the Export station: a size of one's own, so that a clip is soon written; and a quality. */
export async function chooseSize(page: Page, width: number, height: number, quality = 8) {
  await page.getByRole('combobox', { name: 'Size class' }).selectOption('free');
  for (const [field, value] of [
    ['Width', width],
    ['Height', height],
    ['Quality', quality],
  ] as const) {
    await page.getByRole('textbox', { name: field, exact: true }).fill(String(value));
    await page.getByRole('textbox', { name: field, exact: true }).press('Enter');
  }
}

/** Exports the open take, and gives the file once it is finished. */
export async function exportClip(page: Page, width: number, height: number, quality?: number): Promise<string> {
  await saved(page);
  await station(page, 'Export');
  await chooseSize(page, width, height, quality);
  const finished = page.getByRole('region', { name: 'Exports of this take' }).getByText('finished');
  const before = await finished.count();
  await page.getByRole('button', { name: 'Export clip' }).click();
  await expect(finished).toHaveCount(before + 1, { timeout: 240_000 });
  const take_id = takeOf(page);
  const { id } = await inData(
    (db) => db('jobs').where({ kind: 'export', take_id }).orderBy('created', 'desc').first() as Promise<{ id: string }>,
  );
  return join(data, 'exports', `${id}.mp4`);
}

/** The proxy of an open take's footage. */
export async function proxyOfTake(page: Page): Promise<string> {
  const row = await inData(
    (db) =>
      db('takes')
        .where({ id: takeOf(page) })
        .first() as Promise<{ footage_id: string }>,
  );
  return join(data, 'footage', row.footage_id, 'proxy.mp4');
}
