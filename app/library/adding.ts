/**
 * Recordings on their way into the Library from this browser: a queue outside any page, so that it goes on while the
 * user is elsewhere in Glimbo. One recording is sent at a time; a lost connection or a closed tab costs nothing but
 * choosing the file again.
 */
import { Upload } from 'tus-js-client';
import { groupRecordings } from '@glimbo/core/gather/recordings';
import { adding, blank, change, changedLibrary, dismiss, find, post, settle, type Adding } from './adding-store';
import { fingerprintOf } from './fingerprint';
import { lookThrough, tellEach } from './folder-look';
import type { GatherResult, PairChoice, PathResult } from '~/model/gathering';

let current: { key: string; upload: Upload | null } | null = null;

/** Queues files, those of one recording together. */
export function addFiles(files: File[]) {
  const byName = new Map(files.map((f) => [f.webkitRelativePath || f.name, f]));
  const videos = [...byName.keys()].filter(
    (n) => /\.(mp4|mov|mkv|webm|avi|mxf|m4v|mts)$/i.test(n) || byName.size === 1,
  );
  const items = groupRecordings(videos).map(({ name, files: names }): Adding => {
    const parts = names.map((n) => byName.get(n)!);
    const empty = parts.find((f) => f.size === 0);
    return {
      ...blank,
      key: crypto.randomUUID(),
      name,
      files: parts,
      size: parts.reduce((sum, f) => sum + f.size, 0),
      ...(empty
        ? {
            state: 'problem',
            text: `${empty.name} is empty (0 bytes). Copy it from the card again. Nothing was added.`,
          }
        : {}),
    };
  });
  adding.setState((s) => ({ items: [...s.items, ...items] }));
  void work();
}

/** Takes in what had arrived whole before the page went away, the files of one recording together. */
export function addArrived(arrived: { id: string; name: string; size: number }[]) {
  const byName = new Map(arrived.map((u) => [u.name, u]));
  for (const { name, files } of groupRecordings([...byName.keys()])) {
    const parts = files.map((f) => byName.get(f)!);
    const key = crypto.randomUUID();
    const size = parts.reduce((sum, u) => sum + u.size, 0);
    const item: Adding = { ...blank, key, name, size, sent: size, uploads: parts.map((u) => u.id), arrived: files };
    adding.setState((s) => ({ items: [...s.items, item] }));
    void gather(key, false);
  }
}

/** Adds what lies at a path on the machine that runs Glimbo: a file, or all recordings of a folder. */
export async function addPath(
  path: string,
  accepted = false,
  key: string = crypto.randomUUID(),
  pair: PairChoice = null,
) {
  const name = path.split('/').at(-1) ?? path;
  if (!find(key)) adding.setState((s) => ({ items: [...s.items, { ...blank, key, name, path }] }));
  change(key, { state: 'checking', text: 'Looking at it' });
  try {
    const found = (await post({
      intent: 'path',
      path,
      prefix: adding.getState().prefix,
      accepted: accepted ? 'yes' : 'no',
      pair: pair ?? '',
    })) as PathResult;
    if ('job' in found) return await lookThrough(key, found.job, found.recordings);
    if (found.length === 1) settle(key, found[0]!);
    else {
      tellEach(found);
      dismiss(key);
    }
  } catch {
    change(key, { state: 'problem', text: 'The server did not answer. Nothing was added; try again.' });
  }
  changedLibrary();
}

async function work() {
  if (current) return;
  const next = adding.getState().items.find((i) => i.state === 'waiting' && i.files.length);
  if (!next) return void adding.setState({ speed: 0 });
  current = { key: next.key, upload: null };
  try {
    await send(next);
  } finally {
    current = null;
    void work();
  }
}

async function send(item: Adding) {
  change(item.key, { state: 'sending', text: '' });
  const known = await knownAs(item.files[0]!);
  if (known) return settle(item.key, { known });
  const uploads: string[] = [];
  let before = 0;
  for (const file of item.files) {
    const id = await sendFile(item.key, file, before);
    if (!id) return;
    uploads.push(id);
    before += file.size;
  }
  change(item.key, { uploads });
  await gather(item.key, false);
}

/** A name under which the same content is in the Library already, asked before anything is sent. */
async function knownAs(file: File): Promise<string | null> {
  try {
    const mark = await fingerprintOf(file);
    if (!mark) return null;
    return ((await post({ intent: 'known', fingerprint: mark })) as { known: string | null }).known;
  } catch {
    return null;
  }
}

/** Sends one file; gives its upload's id, or null when it was paused, cancelled or failed. */
function sendFile(key: string, file: File, before: number): Promise<string | null> {
  return new Promise((resolve) => {
    let [lastSent, lastTime] = [0, performance.now()];
    const upload = new Upload(file, {
      endpoint: '/uploads',
      chunkSize: 32 << 20,
      retryDelays: [0, 1000, 3000, 5000, 10000, 20000],
      removeFingerprintOnSuccess: true,
      metadata: { filename: file.name },
      onProgress: (sent) => {
        const now = performance.now();
        if (now - lastTime > 500) {
          const speed = ((sent - lastSent) / (now - lastTime)) * 1000;
          adding.setState((s) => ({ speed: s.speed ? 0.7 * s.speed + 0.3 * speed : speed }));
          [lastSent, lastTime] = [sent, now];
        }
        change(key, { sent: before + sent });
      },
      onError: (error) => {
        const told = 'originalResponse' in error ? error.originalResponse?.getBody() : '';
        change(key, {
          state: 'problem',
          text:
            told || `${file.name} could not be copied: the connection was lost. Try again to go on where it stopped.`,
        });
        resolve(null);
      },
      onSuccess: () => resolve(upload.url!.split('/').at(-1)!),
    });
    current = { key, upload };
    stops.set(key, () => resolve(null));
    void upload.findPreviousUploads().then((earlier) => {
      if (earlier[0]) upload.resumeFromPreviousUpload(earlier[0]);
      if (find(key)?.state === 'sending') upload.start();
      else resolve(null);
    });
  });
}
const stops = new Map<string, () => void>();

/** Has the server take finished uploads into the Library. `accepted`: the doubts were seen; `pair`: what two files are. */
export async function gather(key: string, accepted: boolean, pair: PairChoice = null) {
  const item = find(key);
  if (!item) return;
  if (item.path) return addPath(item.path, accepted, key, pair);
  const names = item.arrived ?? item.files.map((f) => f.name);
  if (pair === 'apart') return takeApart(item, names);
  change(key, { state: 'checking', text: 'Looking at it' });
  try {
    const { prefix } = adding.getState();
    settle(
      key,
      (await post({
        intent: 'upload',
        uploads: item.uploads.join(','),
        names: JSON.stringify(names),
        name: prefix + item.name,
        accepted: accepted ? 'yes' : 'no',
        pair: pair ?? '',
      })) as GatherResult,
    );
  } catch {
    change(key, { state: 'problem', text: 'The server did not answer. The copy is kept; try again.' });
  }
  changedLibrary();
}

/** Makes two recordings of what was one of two files. */
function takeApart(item: Adding, names: string[]) {
  dismiss(item.key);
  for (const [i, upload] of item.uploads.entries()) {
    const name = names[i]!.split('/')
      .at(-1)!
      .replace(/\.[^.]+$/, '');
    const one: Adding = { ...item, key: crypto.randomUUID(), name, files: [], uploads: [upload], arrived: [names[i]!] };
    adding.setState((s) => ({ items: [...s.items, one] }));
    void gather(one.key, false);
  }
}

/** Stops sending a recording and keeps what has arrived. */
export function pause(key: string) {
  const item = find(key);
  if (!item || (item.state !== 'sending' && item.state !== 'waiting')) return;
  change(key, { state: 'paused' });
  if (current?.key === key) void current.upload?.abort(false).catch(() => {});
  stops.get(key)?.();
}

/** Goes on with a paused or failed recording where it stopped. */
export function resume(key: string) {
  const item = find(key);
  if (!item) return;
  if (item.uploads.length || item.path) return void gather(key, false);
  change(key, { state: 'waiting', text: '' });
  void work();
}

/** Gives a recording up; what has arrived of it is thrown away. */
export function cancel(key: string) {
  const item = find(key);
  if (!item) return;
  if (current?.key === key) void current.upload?.abort(true).catch(() => {});
  for (const upload of item.uploads) void post({ intent: 'discard', upload });
  dismiss(key);
  stops.get(key)?.();
}

export const pauseAll = () => adding.getState().items.forEach((i) => pause(i.key));
export const resumeAll = () => adding.getState().items.forEach((i) => i.state === 'paused' && resume(i.key));
