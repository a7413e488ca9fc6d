/**
 * Measures exports against ffmpeg in one run and prints ratios. The contestants take turns, so that a machine
 * that slows down for a while slows all of them; wall time and CPU seconds are both given, with medians.
 * Usage: ./glimbo bench [ROUNDS] [quick]; quick leaves out v360, which takes minutes a round.
 */
import { spawn, execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setMoment } from '@glimbo/core/path/edit';
import { viewAt } from '@glimbo/core/path/path';
import { DEFAULT_QUALITY } from '@glimbo/core/take/clip';
import { newTake, type Take } from '@glimbo/core/take/take';
import { engineFolder } from '@glimbo/media/ffmpeg';
import { encoderArguments } from '@glimbo/media/render/clip';

const ROUNDS = Number(process.argv[2] ?? 3);
const FRAMES = 120;
const SECONDS = FRAMES / 30;
const RATE = 30;
const folder = mkdtempSync(join(tmpdir(), 'glimbo-bench-'));
const footage = join(folder, 'footage-4k.mp4');
const root = process.env.GLIMBO_ROOT ?? process.cwd();

interface Measured {
  wall: number;
  cpu: number;
  peak: number;
}

/** Runs a command to its end; wall and CPU seconds of it and its children, and their peak memory together in MiB. */
async function measure(command: string, args: string[]): Promise<Measured> {
  const began = process.hrtime.bigint();
  const child = spawn('bash', ['-c', 'times_file=$1; shift; "$@" >/dev/null 2>"$times_file.err"; code=$?; times >"$times_file"; exit $code', 'bench', join(folder, 'times'), command, ...args], { stdio: 'ignore' }); // prettier-ignore
  let peak = 0;
  const timer = setInterval(() => (peak = Math.max(peak, memoryOf(child.pid!))), 100);
  const code = await new Promise((resolve) => child.once('close', resolve));
  clearInterval(timer);
  const wall = Number(process.hrtime.bigint() - began) / 1e9;
  if (code !== 0) throw new Error(`${command} failed: ${readFileSync(join(folder, 'times.err'), 'utf8').slice(-500)}`);
  const children = readFileSync(join(folder, 'times'), 'utf8').trim().split('\n').at(-1)!;
  const cpu = [...children.matchAll(/(\d+)m([\d.]+)s/g)].reduce((sum, m) => sum + Number(m[1]) * 60 + Number(m[2]), 0);
  return { wall, cpu, peak };
}

/** Memory of a process and all below it in MiB: proportional shares, so that shared pages count once. */
function memoryOf(top: number): number {
  const parents = new Map<number, number>();
  for (const pid of readdirSync('/proc').filter((n) => /^\d+$/.test(n))) {
    try {
      parents.set(Number(pid), Number(readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ')[1]));
    } catch {
      // It ended meanwhile.
    }
  }
  const below = (pid: number): boolean =>
    pid === top || (parents.has(pid) && parents.get(pid)! > 1 && below(parents.get(pid)!));
  let sum = 0;
  for (const pid of parents.keys()) {
    if (!below(pid)) continue;
    try {
      sum += Number(/^Pss:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))?.[1] ?? 0) / 1024;
    } catch {
      // It ended meanwhile.
    }
  }
  return sum;
}

function takeOf(name: string, take: Take): string {
  const file = join(folder, `${name}.json`);
  writeFileSync(file, JSON.stringify(take));
  return file;
}

/** A camera that moves all the time: once round in the whole clip, nodding and zooming. */
function moving(bend: 0 | 1): Take {
  const take = newTake(footage, FRAMES / RATE);
  const planet = bend === 1;
  take.path = setMoment(take.path, 0, { pan: -150, tilt: planet ? -90 : -12, fov: planet ? 270 : 70, bend }, 'linear');
  take.path = setMoment(take.path, SECONDS / 2, { pan: 20, tilt: planet ? -80 : 10, fov: planet ? 250 : 85 }, 'linear');
  take.path = setMoment(take.path, SECONDS, { pan: 210, tilt: planet ? -90 : -5, fov: planet ? 270 : 70 }, 'linear');
  return take;
}

/** The same move as commands for v360, one set a frame: its own way of moving the camera. */
function v360Commands(take: Take): string {
  const lines: string[] = [];
  for (let n = 0; n < FRAMES; n++) {
    const view = viewAt(take.path, n / RATE);
    const wide = (2 * Math.atan((Math.tan((view.fov * Math.PI) / 360) * 16) / 9) * 180) / Math.PI;
    const pan = ((((view.pan + 180) % 360) + 360) % 360) - 180;
    const set = [['yaw', pan], ['pitch', view.tilt], ['h_fov', wide], ['v_fov', view.fov]] as const; // prettier-ignore
    lines.push(`${(n / RATE).toFixed(4)} ${set.map(([key, v]) => `v360 ${key} ${v.toFixed(4)}`).join(', ')};`);
  }
  const file = join(folder, 'v360.cmd');
  writeFileSync(file, lines.join('\n'));
  return file;
}

const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

process.stderr.write('preparing 4K footage\n');
execFileSync('ffmpeg', ['-v', 'error', '-y', '-t', String(FRAMES / RATE), '-i', join(root, 'packages/demo/clips/ridge-loop.mp4'), '-vf', 'scale=3840:1920:flags=lanczos',
  '-c:v', 'libx265', '-preset', 'fast', '-x265-params', 'log-level=error', '-b:v', '20M', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-c:a', 'copy', footage]); // prettier-ignore

const encode = encoderArguments({ codec: 'h264', quality: DEFAULT_QUALITY });
const ff = (filter: string) => [
  '-v',
  'error',
  '-nostdin',
  '-y',
  '-i',
  footage,
  '-vf',
  filter,
  ...encode,
  '-c:a',
  'aac',
  '-b:a',
  '192k',
  join(folder, 'ff.mp4'),
];
const cli = (take: string) => [
  join(engineFolder(), 'cli.mjs'),
  'export',
  take,
  '--out',
  join(folder, 'own.mp4'),
  '--size',
  '1920x1080',
];
const flat = moving(0);
const contestants: Record<string, () => Promise<Measured>> = {
  'glimbo, moving camera': () => measure('node', cli(takeOf('flat', flat))),
  'glimbo, moving planet': () => measure('node', cli(takeOf('planet', moving(1)))),
  'ffmpeg decode + scale + encode': () => measure('ffmpeg', ff('scale=1920:1080')),
  'ffmpeg v360, moving camera': () =>
    measure('ffmpeg', ff(`sendcmd=f=${v360Commands(flat)},v360=e:flat:w=1920:h=1080:interp=cubic`)),
};

if (process.argv[3] === 'quick') delete contestants['ffmpeg v360, moving camera'];

const results = new Map<string, Measured[]>();
try {
  for (let round = 0; round < ROUNDS; round++)
    for (const [name, run] of Object.entries(contestants)) {
      const measured = await run();
      process.stderr.write(
        `round ${round + 1} of ${ROUNDS}: ${name}: ${measured.wall.toFixed(1)} s, cpu ${measured.cpu.toFixed(1)} s\n`,
      );
      results.set(name, [...(results.get(name) ?? []), measured]);
    }
} finally {
  rmSync(folder, { recursive: true, force: true });
}

const of = (name: string, key: keyof Measured) => median(results.get(name)!.map((m) => m[key]));
console.log(`${FRAMES} frames, 3840 × 1920 H.265 to 1920 × 1080 H.264 with sound, medians of ${ROUNDS}`);
for (const name of results.keys()) {
  console.log(
    `${name.padEnd(32)} wall ${of(name, 'wall').toFixed(1).padStart(6)} s   cpu ${of(name, 'cpu').toFixed(1).padStart(6)} s   peak ${of(name, 'peak').toFixed(0).padStart(5)} MiB`,
  );
}
const ratio = (a: string, b: string, key: 'wall' | 'cpu') => (of(a, key) / of(b, key)).toFixed(2);
for (const own of ['glimbo, moving camera', 'glimbo, moving planet'])
  console.log(
    `${own} / ffmpeg decode + scale + encode: wall ${ratio(own, 'ffmpeg decode + scale + encode', 'wall')}, cpu ${ratio(own, 'ffmpeg decode + scale + encode', 'cpu')} (goal 1.25)`,
  );
if (results.has('ffmpeg v360, moving camera'))
  console.log(
    `glimbo / ffmpeg v360, moving camera: wall ${ratio('glimbo, moving camera', 'ffmpeg v360, moving camera', 'wall')}, cpu ${ratio('glimbo, moving camera', 'ffmpeg v360, moving camera', 'cpu')} (goal 0.25)`,
  );
