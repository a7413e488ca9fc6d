/** A server of the soak's own, footage for it, and what can be asked of it. */
import { execFileSync, spawn } from 'node:child_process';
import { appendFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Random numbers that a seed decides (mulberry32). */
export function random(seed) {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
  const int = (n) => Math.floor(next() * n);
  return { next, int, pick: (list) => list[int(list.length)] };
}

export const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
export const ffmpeg = (...args) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);

export class World {
  constructor(port) {
    this.port = port;
    this.root = mkdtempSync(join(tmpdir(), 'glimbo-soak-'));
    this.data = join(this.root, 'data');
    this.footage = join(this.root, 'footage');
    mkdirSync(this.footage, { recursive: true });
    this.address = `http://127.0.0.1:${port}`;
    this.errors = '';
  }

  /** Some seconds of a demo clip as a file; `padding` bytes make copying it take a while. */
  clip(name, from, seconds, padding = 0) {
    const file = join(this.footage, name);
    ffmpeg(
      '-ss',
      String(from),
      '-t',
      String(seconds),
      '-i',
      'packages/demo/clips/turntable.mp4',
      '-vf',
      'scale=1024:512',
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-c:a',
      'aac',
      file,
    );
    if (padding) {
      const head = Buffer.alloc(8);
      head.writeUInt32BE(padding + 8);
      head.write('free', 4);
      appendFileSync(file, Buffer.concat([head, Buffer.alloc(padding, 7)]));
    }
    return file;
  }

  async start() {
    const env = {
      ...process.env,
      NODE_ENV: 'production',
      GLIMBO_ROOT: process.cwd(),
      GLIMBO_DATA: this.data,
      GLIMBO_PORT: String(this.port),
      GLIMBO_FOLDERS: this.root,
      GLIMBO_LOG: 'error',
    };
    this.server = spawn('node', ['app/start.mjs'], { env, stdio: ['ignore', 'pipe', 'pipe'] });
    this.server.stderr.on('data', (d) => (this.errors += d));
    this.ended = new Promise((resolve) => this.server.once('exit', resolve));
    const began = new Promise((resolve) =>
      this.server.stdout.on('data', (d) => String(d).includes('http://') && resolve(true)),
    );
    if (!(await Promise.race([began, this.ended.then(() => false)])))
      throw new Error(`The server did not start: ${this.errors.slice(-500)}`);
  }

  async kill(signal = 'SIGKILL') {
    this.server.kill(signal);
    await this.ended;
  }

  async ask(path, { method = 'POST', body, headers = {} } = {}) {
    const answer = await fetch(this.address + path, { method, body, headers, redirect: 'manual' });
    const text = await answer.text();
    let json = null;
    try {
      json = JSON.parse(text);
    } catch {
      // A page.
    }
    return { status: answer.status, text, json };
  }

  json = (path, body) =>
    this.ask(path, { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } });
  form = (path, fields) => this.ask(path, { body: new URLSearchParams(fields) });

  /** Command lines of running processes that have to do with this world. */
  processes() {
    return readdirSync('/proc')
      .filter((name) => /^\d+$/.test(name) && Number(name) !== process.pid)
      .map((pid) => {
        try {
          return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
        } catch {
          return '';
        }
      })
      .filter((line) => line.includes(this.root) && !line.includes('chrom'));
  }

  remove() {
    rmSync(this.root, { recursive: true, force: true });
  }
}
