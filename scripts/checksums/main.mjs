/**
 * Checksums of exports, stills, Sweep and motion of the demo's takes, made by the command line that is built. Kept on one
 * machine before a change and compared after it: node scripts/checksums/main.mjs --keep FILE, then --against FILE.
 * `--engine FOLDER` takes another build, `--keep-files FOLDER` leaves what was made to be looked at.
 */
import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { parseArgs, promisify } from 'node:util';
import { MADE, TAKES } from './takes.mjs';

const { values } = parseArgs({
  options: {
    keep: { type: 'string' },
    against: { type: 'string' },
    engine: { type: 'string', default: 'build/engine' },
    'keep-files': { type: 'string' },
  },
});
const run = promisify(execFile);
const clips = resolve('packages/demo/clips');
const cli = join(resolve(values.engine), 'cli.mjs');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-checksums-'));
const made = values['keep-files'] ? resolve(values['keep-files']) : join(folder, 'made');
mkdirSync(made, { recursive: true });

const glimbo = (...args) => run('node', [cli, ...args], { cwd: folder });
const sumOf = (file) => createHash('sha256').update(readFileSync(file)).digest('hex');
const lines = [];

async function make(name, ending, ...args) {
  const file = join(made, `${name.replaceAll(/\W+/g, '-')}.${ending}`);
  await glimbo(...args, '--out', file);
  const line = `${sumOf(file)}  ${name}`;
  lines.push(line);
  console.log(line);
  return file;
}

function prepare() {
  for (const clip of ['turntable', 'ridge-loop', 'footbridge-carry', 'signal-corner-a', 'signal-corner-b'])
    symlinkSync(join(clips, `${clip}.mp4`), join(folder, `${clip}.mp4`));
  const lens = (centreX, pan) => ({
    centreX,
    centreY: 720,
    radius: 705,
    fov: 204,
    k1: 0,
    k2: 0,
    pan,
    tilt: 0,
    roll: 0,
  });
  const source = { kind: 'two-lenses', join: 'files', lenses: [lens(720, 0), lens(2160, 180)] };
  const settings = { feather: 4, match: 'gentle', seam: 'moving', housing: 'bare' };
  writeFileSync(
    join(folder, 'signal-corner-a.mp4.source.json'),
    JSON.stringify({
      format: 'glimbo-source',
      version: 1,
      second: 'signal-corner-b.mp4',
      source: { ...source, ...settings },
    }),
  );
  for (const [name, take] of Object.entries(TAKES)) writeFileSync(join(folder, `${name}.json`), JSON.stringify(take));
}

try {
  prepare();
  const sidecar = join(clips, 'footbridge-carry.motion.csv');
  const motions = {
    ridge: await make('motion, quick', 'json', 'motion', 'ridge-loop.mp4'),
    carry: await make('motion, sidecar', 'json', 'motion', 'footbridge-carry.mp4', '--sidecar', sidecar),
  };
  cpSync(motions.ridge, join(folder, 'ridge-loop.mp4.motion.json'));
  cpSync(motions.carry, join(folder, 'footbridge-carry.mp4.motion.json'));
  await make('Sweep', 'png', 'sweep', 'turntable.mp4');
  await make('Sweep, two lenses', 'png', 'sweep', 'signal-corner-a.mp4');
  for (const [name, take, command, args, ending] of MADE) await make(name, ending, command, `${take}.json`, ...args);
} finally {
  rmSync(folder, { recursive: true, force: true });
}

if (values.keep) writeFileSync(values.keep, `${lines.join('\n')}\n`);
if (values.against) {
  const before = new Map(
    readFileSync(values.against, 'utf8')
      .trim()
      .split('\n')
      .map((line) => line.split('  ').reverse()),
  );
  const changed = lines.filter((line) => before.get(line.split('  ')[1]) !== line.split('  ')[0]);
  console.log(`${lines.length - changed.length} of ${lines.length} are what they were in ${basename(values.against)}`);
  for (const line of changed) console.log(`changed: ${line.split('  ')[1]}`);
  process.exitCode = changed.length ? 1 : 0;
}
