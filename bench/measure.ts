/** Timing commands as whole processes, in turns, so that a machine that slows down for a while slows all of them. */
import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Everything that a benchmark makes lies here and goes when it ends. */
export const folder = mkdtempSync(join(tmpdir(), 'glimbo-bench-'));
process.on('exit', () => rmSync(folder, { recursive: true, force: true }));
export const root = process.env.GLIMBO_ROOT ?? process.cwd();

export interface Measured {
  wall: number;
  cpu: number;
  peak: number;
}

/** Runs a command to its end; wall and CPU seconds of it and its children, and their peak memory together in MiB. */
export async function measure(command: string, args: string[]): Promise<Measured> {
  const began = process.hrtime.bigint();
  const child = spawn(
    'bash',
    [
      '-c',
      'times_file=$1; shift; "$@" >/dev/null 2>"$times_file.err"; code=$?; times >"$times_file"; exit $code',
      'bench',
      join(folder, 'times'),
      command,
      ...args,
    ],
    { stdio: 'ignore' },
  );
  let peak = 0;
  // Every look takes time from what is measured.
  const timer = setInterval(() => (peak = Math.max(peak, memoryOf(child.pid!))), 500);
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

export const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

export type Contestants = Record<string, () => Promise<Measured>>;

/** Lets contestants take turns for some rounds, prints a line for each, and gives a way to ask for medians. */
export async function compete(contestants: Contestants, rounds: number) {
  const results = new Map<string, Measured[]>();
  for (let round = 0; round < rounds; round++)
    for (const [name, run] of Object.entries(contestants)) {
      const measured = await run();
      process.stderr.write(
        `round ${round + 1} of ${rounds}: ${name}: ${measured.wall.toFixed(1)} s, cpu ${measured.cpu.toFixed(1)} s\n`,
      );
      results.set(name, [...(results.get(name) ?? []), measured]);
    }
  const of = (name: string, key: keyof Measured) => median(results.get(name)!.map((m) => m[key]));
  for (const name of results.keys())
    console.log(
      `${name.padEnd(40)} wall ${of(name, 'wall').toFixed(1).padStart(6)} s   cpu ${of(name, 'cpu').toFixed(1).padStart(6)} s   peak ${of(name, 'peak').toFixed(0).padStart(5)} MiB`,
    );
  const ratio = (a: string, b: string, goal: number) =>
    console.log(
      `${a} / ${b}: wall ${(of(a, 'wall') / of(b, 'wall')).toFixed(2)}, cpu ${(of(a, 'cpu') / of(b, 'cpu')).toFixed(2)} (goal ${goal})`,
    );
  return { of, ratio };
}
