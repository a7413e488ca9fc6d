/** Calling ffmpeg and ffprobe: always with argument arrays, never through a shell, on local files alone. */
import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ToldError } from '@glimbo/core/boundary/told-error';
import { whyItEnded, whyNotStarted } from './program-words.js';

/** Input options for everything that a user hands us: files only, real media containers only. */
export const SAFE_INPUT = [
  '-protocol_whitelist', 'file,pipe',
  '-format_whitelist', 'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mxf,ogg',
]; // prettier-ignore

/** Options of ffmpeg's scale filter for our pictures as they go to JPEG, which is BT.601 in full range. */
export const TO_JPEG = 'in_color_matrix=bt709:in_range=tv:out_color_matrix=bt601:out_range=pc';

/** Colour tags of everything we encode. */
export const BT709 = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'];

/** A failure that is told to the user as it stands; `cause` may hold a program's whole error output. */
export class MediaError extends ToldError {}

/** The folder with the built engine: the kernel and its workers. */
export const engineFolder = () => process.env.GLIMBO_ENGINE ?? dirname(fileURLToPath(import.meta.url));

const running = new Set<ChildProcess>();
process.on('exit', () => running.forEach((child) => child.kill('SIGKILL')));

/** On Linux the kernel ends a child when its parent is killed, however that happens; elsewhere it ends when its pipes break. */
const LEASH = process.platform === 'linux' ? '/usr/bin/setpriv' : '';

/** A command as it has to be started so that it dies with the process that starts it. */
export const leashed = (program: string, args: string[]): [string, string[]] =>
  existsSync(LEASH) ? [LEASH, ['--pdeathsig', 'KILL', '--', program, ...args]] : [program, args];

/** Starts a program that dies with this process. */
export function start(program: string, args: string[], stdio: ('ignore' | 'pipe')[]): ChildProcess {
  const child = spawn(...leashed(program, args), { stdio });
  running.add(child);
  child.once('close', () => running.delete(child));
  return child;
}

/**
 * Calls `stop` when a signal is given, at once if it was given already. Gives what ends that. An abort listener alone
 * would never hear of a signal that came before it.
 */
export function onAbort(signal: AbortSignal | undefined, stop: () => void): () => void {
  if (signal?.aborted) stop();
  signal?.addEventListener('abort', stop);
  return () => signal?.removeEventListener('abort', stop);
}

/** Waits for a program's end; rejects with a sentence when it failed, and what it wrote to its error output as the cause. */
export function finished(child: ChildProcess): Promise<void> {
  let errors = '';
  child.stderr?.on('data', (d: Buffer) => (errors = (errors + d.toString()).slice(-4000)));
  return new Promise((resolve, reject) => {
    child.once('error', (e: NodeJS.ErrnoException) => reject(new MediaError(whyNotStarted(e), { cause: e.message })));
    child.once('close', (code, signal) => {
      if (code === 0) return resolve();
      reject(new MediaError(whyItEnded(code, signal, errors), { cause: errors }));
    });
  });
}

/** Runs a program to its end and gives its standard output. */
export async function output(program: string, args: string[], input?: Uint8Array): Promise<Buffer> {
  const child = start(program, args, [input ? 'pipe' : 'ignore', 'pipe', 'pipe']);
  const chunks: Buffer[] = [];
  child.stdout!.on('data', (d: Buffer) => chunks.push(d));
  if (input) {
    child.stdin!.on('error', () => {});
    child.stdin!.end(input);
  }
  await finished(child);
  return Buffer.concat(chunks);
}
