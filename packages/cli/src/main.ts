/** The command line: the same engine without a browser. Progress on standard error, results on standard output. */
import { existsSync, readFileSync } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { dirname, isAbsolute, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { parseSize, sizeOf } from '@glimbo/core/lens/format';
import { sphereWidth } from '@glimbo/core/stitch/source';
import { CODECS, COMPARISONS, sizeWithBefore, type Codec, type Comparison } from '@glimbo/core/take/clip';
import { readClipSettings } from '@glimbo/core/take/validate-clip';
import type { Take } from '@glimbo/core/take/take';
import { LEAST_AGREEMENT, matchInWords, matchSidecar, readSidecar, withSidecar } from '@glimbo/core/motion/sidecar';
import { methodNamed, METHODS, type Motion } from '@glimbo/core/motion/motion';
import { readTake } from '@glimbo/core/take/validate';
import { MediaError } from '@glimbo/media/ffmpeg';
import { gather } from '@glimbo/media/gather';
import { analyseMotion } from '@glimbo/media/motion';
import { writeMotion } from '@glimbo/media/motion-file';
import { probe } from '@glimbo/media/probe';
import { openRecording, readRecording, type Recording } from '@glimbo/media/recording';
import { exportClip } from '@glimbo/media/render/clip';
import { renderStill } from '@glimbo/media/render/still';
import { clearAbandoned, removeTemporary, temporaryFolder } from '@glimbo/media/temporary';

const USAGE = `Usage:
  ./glimbo export TAKE.json --out FILE.mp4 [--size 1920x1080] [--rate 30] [--codec ${CODECS.join('|')}] [--quality N | --bitrate 18M] [--sphere | --compare beside|over|inset]
  ./glimbo frame TAKE.json --time S --out FILE.png [--size WxH]
  ./glimbo motion FILE --out FILE.json [--method quick|thorough] [--sidecar FILE.csv [--use replace|anchor]]
  ./glimbo probe FILE
  ./glimbo sweep FILE --out FILE.png
What a picture shows (lenses, a part of the sphere) is read from FILE.source.json beside the footage, or --source FILE;
how the rig moved is read from FILE.motion.json beside it, or --motion FILE.`;

const { values, positionals } = parse();
const stop = new AbortController();
const { signal } = stop;

function parse() {
  try {
    return parseArgs({
      allowPositionals: true,
      options: {
        out: { type: 'string' },
        size: { type: 'string' },
        rate: { type: 'string' },
        codec: { type: 'string' },
        quality: { type: 'string' },
        bitrate: { type: 'string' },
        time: { type: 'string' },
        source: { type: 'string' },
        motion: { type: 'string' },
        method: { type: 'string' },
        sidecar: { type: 'string' },
        use: { type: 'string' },
        sphere: { type: 'boolean' },
        compare: { type: 'string' },
        help: { type: 'boolean' },
      },
    });
  } catch (error) {
    fail((error as Error).message.split('\n')[0]!);
  }
}

function fail(sentence: string, usage = true): never {
  process.stderr.write(`glimbo: ${sentence}\n${usage ? `${USAGE}\n` : ''}`);
  process.exit(usage ? 2 : 1);
}

/** A numeric option within a range; the default when it is absent. */
function numeric<T>(name: 'rate' | 'quality' | 'time', low: number, high: number, fallback: T): number | T {
  const text = values[name];
  if (text === undefined) return fallback;
  const n = Number(text);
  if (text.trim() === '' || !(n >= low && n <= high))
    fail(`--${name} must be a number from ${low} to ${high}, not "${text}".`);
  return n;
}

function bitRate(): number | undefined {
  if (values.bitrate === undefined) return undefined;
  const match = /^(\d+(?:\.\d+)?)([kM]?)$/.exec(values.bitrate);
  const bits = match ? Number(match[1]) * { '': 1, k: 1e3, M: 1e6 }[match[2] as '' | 'k' | 'M'] : NaN;
  if (!(bits >= 1e5 && bits <= 5e8)) fail(`--bitrate must be from 100k to 500M, such as 18M, not "${values.bitrate}".`);
  return bits;
}

async function loadTake(file: string | undefined): Promise<{ take: Take; recording: Recording }> {
  if (!file) fail('Name a take document.');
  let plain: unknown;
  try {
    plain = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
    fail(missing ? `${file} was not found.` : `${file} is not a JSON document: ${(error as Error).message}`, false);
  }
  const take = readTake(plain);
  const footage = isAbsolute(take.footage) ? take.footage : resolve(dirname(file), take.footage);
  const beside = `${footage}.motion.json`;
  const motion = values.motion ?? (existsSync(beside) ? beside : undefined);
  return { take, recording: { ...(await openRecording(footage, values.source)), motion } };
}

function sidecarSamples(file: string) {
  const samples = readSidecar(readFileSync(file, 'utf8'));
  if (typeof samples === 'string') fail(`${file} is not a motion sidecar: ${samples}.`, false);
  return samples;
}

const needOut = () => values.out ?? fail('Say where to write with --out FILE.');
const sizeFor = (take: Take) => (values.size ? parseSize(values.size) : sizeOf(take.frame.aspect, 1080));

/** Size of the whole sphere at the footage's own resolution, unless one is asked for. */
async function sphereSize(recording: Recording) {
  if (values.size) return parseSize(values.size);
  const width = sphereWidth(recording.source, (await readRecording(recording)).facts.width);
  return { width, height: width / 2 };
}

const commands: Record<string, (argument: string | undefined) => Promise<void>> = {
  async export(argument) {
    const out = needOut();
    const { take, recording } = await loadTake(argument);
    const codec = (values.codec ?? 'h264') as Codec;
    if (!CODECS.includes(codec))
      fail(`--codec ${codec} is not available yet; choose one of ${CODECS.join(', ')}.`, false);
    if (values.quality !== undefined && values.bitrate !== undefined) fail('Give --quality or --bitrate, not both.');
    const compare = values.compare as Comparison | undefined;
    if (compare && !COMPARISONS.includes(compare))
      fail(`--compare must be one of ${COMPARISONS.join(', ')}, not "${compare}".`);
    if (compare && values.sphere) fail('Give --sphere or --compare, not both.');
    const view = values.size ? parseSize(values.size) : sizeWithBefore(sizeFor(take), compare);
    const settings = readClipSettings({
      ...(values.sphere ? await sphereSize(recording) : view),
      sphere: values.sphere,
      compare,
      codec,
      rate: numeric('rate', 1, 240, undefined),
      quality: numeric('quality', 0, 51, undefined),
      bitRate: bitRate(),
    });
    const began = Date.now();
    const report = await exportClip(take, recording, out, settings, {
      signal,
      progress: (done, total) => {
        const left = done ? ((Date.now() - began) / 1000 / done) * (total - done) : NaN;
        process.stderr.write(`\r${done} of ${total} frames${done ? `, ${Math.ceil(left)} s left` : ''}   `);
      },
    });
    process.stderr.write('\n');
    process.stdout.write(`${JSON.stringify({ file: out, ...report })}\n`);
  },
  async frame(argument) {
    const out = needOut();
    const { take, recording } = await loadTake(argument);
    const time = numeric('time', 0, 1e6, null) ?? fail('Say which moment with --time SECONDS.');
    await renderStill(take, recording, time, sizeFor(take), out);
    process.stdout.write(`${JSON.stringify({ file: out, time })}\n`);
  },
  async motion(argument) {
    const out = needOut();
    const file = argument ?? fail('Name a file.');
    const method = methodNamed(values.method ?? 'quick');
    if (!method) fail(`--method must be ${METHODS.join(' or ')}, not "${values.method}".`);
    const use = values.use ?? 'replace';
    if (use !== 'replace' && use !== 'anchor') fail(`--use must be replace or anchor, not "${use}".`);
    const samples = values.sidecar ? sidecarSamples(values.sidecar) : null;
    const recording = await openRecording(file, values.source);
    const { facts, doubts } = await readRecording(recording);
    const share = (s: number) => process.stderr.write(`\r${Math.round(s * 100)} %   `);
    let motion: Motion;
    const whole =
      recording.source.kind === 'sphere' && !recording.source.stereo && !doubts.some((d) => d.kind === 'variable-rate');
    if (whole) motion = await analyseMotion(file, facts, { method, signal, progress: share });
    else {
      // What the lenses saw is laid flat first, as it is for the proxy.
      const folder = temporaryFolder('motion');
      try {
        await gather(recording, facts, join(folder, 'made'), {
          variableRate: true,
          signal,
          progress: (s) => share(s / 2),
        });
        motion = await analyseMotion(join(folder, 'made', 'proxy.mp4'), facts, {
          method,
          signal,
          progress: (s) => share(0.5 + s / 2),
        });
      } finally {
        removeTemporary(folder);
      }
    }
    process.stderr.write('\n');
    if (samples) {
      const match = matchSidecar(samples, motion);
      if (match.agreement < LEAST_AGREEMENT)
        fail(`The sidecar does not belong to this footage: ${matchInWords(match)}.`, false);
      process.stderr.write(`sidecar: ${matchInWords(match)}\n`);
      motion = withSidecar(motion, samples, match, use);
    }
    await writeMotion(out, motion);
    process.stdout.write(
      `${JSON.stringify({ file: out, method: motion.method, frames: motion.frames.length, cuts: motion.cuts, bad: motion.bad })}\n`,
    );
  },
  async probe(argument) {
    const { facts, doubts } = await probe(argument ?? fail('Name a file.'));
    process.stdout.write(`${JSON.stringify({ ...facts, doubts: doubts.map((d) => d.sentence) }, null, 2)}\n`);
  },
  async sweep(argument) {
    const out = needOut();
    const file = argument ?? fail('Name a file.');
    const recording = await openRecording(file, values.source);
    const { facts, doubts } = await readRecording(recording);
    const folder = temporaryFolder('sweep');
    try {
      const variableRate = doubts.some((d) => d.kind === 'variable-rate');
      const gathered = await gather(recording, facts, join(folder, 'made'), {
        variableRate,
        signal,
        progress: (share) => process.stderr.write(`\r${Math.round(share * 100)} %   `),
      });
      await copyFile(join(folder, 'made', 'sweep.png'), out);
      process.stderr.write('\n');
      process.stdout.write(`${JSON.stringify({ file: out, ...gathered.sweep })}\n`);
    } finally {
      removeTemporary(folder);
    }
  },
};

if (values.help) {
  process.stdout.write(`${USAGE}\n`);
  process.exit(0);
}
const [name, argument] = positionals;
const command = name ? commands[name] : undefined;
if (!command) fail(name ? `There is no command "${name}".` : 'Name a command.');
clearAbandoned();
for (const name of ['SIGINT', 'SIGTERM'] as const)
  process.once(name, () => {
    stop.abort();
    // What cannot be broken off cleanly is given up; its temporary folder goes with the process.
    setTimeout(() => process.exit(130), 3000).unref();
  });
try {
  await command(argument);
} catch (error) {
  if (signal.aborted) {
    process.stderr.write('\nglimbo: stopped. Nothing half done was kept.\n');
    process.exit(130);
  }
  const told =
    error instanceof MediaError ||
    error instanceof RangeError ||
    ['TakeError', 'SourceError', 'ShapeError'].includes((error as Error).constructor.name);
  fail(told ? (error as Error).message : `${(error as Error).stack}`, false);
}
