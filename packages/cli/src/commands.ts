/** The commands: the same engine as the application's, without a browser. */
import { existsSync, readFileSync } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { DocumentError } from '@glimbo/core/boundary/document-error';
import { codecFacts, CODECS, type Codec } from '@glimbo/core/export/codecs';
import { levelDocument } from '@glimbo/core/level/document';
import { SURE } from '@glimbo/core/level/sure';
import { methodNamed, METHODS, type Motion } from '@glimbo/core/motion/motion';
import { joinSidecar, readSidecar } from '@glimbo/core/motion/sidecar';
import { sphereWidth } from '@glimbo/core/stitch/source';
import { COMPARISONS, sizeWithBefore } from '@glimbo/core/export/settings';
import { formatsOf, inFormat, sizeIn } from '@glimbo/core/take/formats';
import type { Take } from '@glimbo/core/take/take';
import { readTake } from '@glimbo/core/take/validate';
import { readClipSettings } from '@glimbo/core/export/validate-settings';
import { lostStretches, isSeen } from '@glimbo/core/follow/subject';
import { directionOf } from '@glimbo/core/geometry/sphere';
import { foundIn } from '@glimbo/core/moving/found';
import { toldShare } from '@glimbo/core/moving/moving';
import { frameOf } from '@glimbo/core/time/frames';
import { followBeside } from '@glimbo/media/follow-beside';
import { namedFound } from '@glimbo/media/found-file';
import { shippedDetector } from '@glimbo/media/detector';
import { findSubjects } from '@glimbo/media/find-subjects';
import { gather } from '@glimbo/media/gather';
import { analyseMotion } from '@glimbo/media/motion';
import { readMotion, writeMotion } from '@glimbo/media/motion-file';
import { probe } from '@glimbo/media/probe';
import { openRecording, readRecording, type Recording } from '@glimbo/media/recording';
import { exportClip } from '@glimbo/media/render/clip';
import { renderStill } from '@glimbo/media/render/still';
import { removeTemporary, temporaryFolder } from '@glimbo/media/temporary';
import { writeWhole } from '@glimbo/media/write-whole';
import {
  bitRate,
  CommandError,
  directionOption,
  needOut,
  numbered,
  numeric,
  oneOf,
  sizeOption,
  subjectSize,
  timesOption,
  type Options,
} from './options.js';
import { motionFirst, onSphere } from './on-sphere.js';

/** A command as it is called. `say` is for people (standard error), `tell` for programs (standard output). */
export interface Call {
  argument: string | undefined;
  options: Options;
  signal: AbortSignal;
  say: (text: string) => void;
  tell: (text: string) => void;
}

function needFile(argument: string | undefined): string {
  if (!argument) throw new CommandError('Name a file.');
  // A whole path: a name with a colon in it would be taken for a protocol.
  return resolve(argument);
}

async function loadTake(file: string | undefined, options: Options): Promise<{ take: Take; recording: Recording }> {
  if (!file) throw new CommandError('Name a take document.');
  let plain: unknown;
  try {
    plain = JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
    const sentence = missing ? `${file} was not found.` : `${file} is not a JSON document: ${(error as Error).message}`;
    throw new CommandError(sentence, false);
  }
  const take = inItsFormat(readTake(plain), options);
  const footage = resolve(dirname(file), take.footage);
  const motion = options.motion ?? beside(footage);
  const other = take.look?.sector?.twin?.footage;
  const twin = other === undefined ? null : resolve(dirname(file), other);
  return {
    take,
    recording: {
      ...(await openRecording(footage, options.source)),
      motion,
      materials: dirname(resolve(file)),
      subjects: dirname(resolve(file)),
      // One that is missing is told by whoever needs it.
      ...(twin && existsSync(twin) ? { twin: await openRecording(twin) } : {}),
    },
  };
}

/** The analysis that lies beside a footage. */
function beside(footage: string): string | undefined {
  const file = `${footage}.motion.json`;
  return existsSync(file) ? file : undefined;
}

/** A take in the format that is asked for, of those that it has. */
function inItsFormat(take: Take, { format }: Options): Take {
  if (format === undefined) return take;
  try {
    return inFormat(take, format);
  } catch {
    const has = formatsOf(take).map((f) => f.aspect);
    throw new CommandError(`--format must be one that the take has: ${has.join(', ')}, not "${format}".`);
  }
}

/** What a sidecar's reader finds wrong, as somebody is told it. */
function fits<T>(read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (!(error instanceof DocumentError)) throw error;
    throw new CommandError(`The motion sidecar cannot be used: ${error.problem}.`, false);
  }
}

const sidecarSamples = (file: string) => fits(() => readSidecar(readFileSync(file, 'utf8')));

/** Size of the whole sphere at the footage's own resolution, unless one is asked for. */
async function sphereSize(recording: Recording, options: Options) {
  const asked = sizeOption(options);
  if (asked) return asked;
  const width = sphereWidth(recording.source, (await readRecording(recording)).facts.width);
  return { width, height: width / 2 };
}

/** The motion of the footage that a command names, analysed as its options say. */
async function analysed({ argument, options, signal, say }: Call): Promise<Motion> {
  const file = needFile(argument);
  const method = methodNamed(options.method ?? 'quick');
  if (!method) throw new CommandError(`--method must be ${METHODS.join(' or ')}, not "${options.method}".`);
  const use = oneOf('use', options.use, ['replace', 'anchor'] as const) ?? 'replace';
  const samples = options.sidecar ? sidecarSamples(options.sidecar) : null;
  const recording = await openRecording(file, options.source);
  const working = { signal, progress: (s: number) => say(`\r${Math.round(s * 100)} %   `) };
  const motion = await onSphere(file, recording, working, (sphere, facts, w) =>
    analyseMotion(sphere, facts, { method, ...w }),
  );
  say('\n');
  if (!samples) return motion;
  const joined = fits(() => joinSidecar(motion, samples, use));
  say(`sidecar: ${joined.words}\n`);
  return joined.motion;
}

/** The qualities of a codec, from its least number to its greatest; those that have none take any and leave it. */
function rangeOf(codec: Codec): [number, number] {
  const { quality } = codecFacts(codec);
  return quality
    ? [Math.min(quality.best, quality.least), Math.max(quality.best, quality.least)]
    : [-Infinity, Infinity];
}

export const COMMANDS: Record<string, (call: Call) => Promise<void>> = {
  async export({ argument, options, signal, say, tell }) {
    const out = needOut(options);
    const { take, recording } = await loadTake(argument, options);
    const codec = oneOf('codec', options.codec, CODECS) ?? 'h264';
    if (options.quality !== undefined && options.bitrate !== undefined)
      throw new CommandError('Give --quality or --bitrate, not both.');
    const compare = oneOf('compare', options.compare, COMPARISONS);
    if (compare && options.sphere) throw new CommandError('Give --sphere or --compare, not both.');
    const view = sizeOption(options) ?? sizeWithBefore(sizeIn(take, 1080), compare);
    const settings = readClipSettings({
      ...(options.sphere ? await sphereSize(recording, options) : view),
      sphere: options.sphere,
      compare,
      codec,
      rate: numeric(options, 'rate', [1, 240], undefined),
      quality: numeric(options, 'quality', rangeOf(codec), undefined),
      bitRate: bitRate(options),
    });
    const began = Date.now();
    const report = await exportClip(take, recording, out, settings, {
      signal,
      progress: (done, total) => {
        const left = done ? ((Date.now() - began) / 1000 / done) * (total - done) : NaN;
        say(`\r${done} of ${total} frames${done ? `, ${Math.ceil(left)} s left` : ''}   `);
      },
    });
    say('\n');
    tell(`${JSON.stringify({ file: out, ...report })}\n`);
  },
  async frame({ argument, options, tell }) {
    const out = needOut(options);
    const { take, recording } = await loadTake(argument, options);
    const times = timesOption(options);
    const size = sizeOption(options) ?? sizeIn(take, 1080);
    for (const [i, time] of times.entries()) {
      const file = options.times === undefined ? out : numbered(out, i + 1);
      const shown = await renderStill(take, recording, time, size, file);
      tell(`${JSON.stringify({ file, time, footage: shown })}\n`);
    }
  },
  async motion(call) {
    const out = needOut(call.options);
    const motion = await analysed(call);
    await writeMotion(out, motion);
    call.tell(
      `${JSON.stringify({ file: out, method: motion.method, frames: motion.frames.length, cuts: motion.cuts, bad: motion.bad })}\n`,
    );
  },
  async level(call) {
    const { argument, options, tell } = call;
    const out = needOut(options);
    const known = options.motion ?? beside(needFile(argument));
    const document = levelDocument(known ? await readMotion(known) : await analysed(call));
    await writeWhole(out, `${JSON.stringify(document)}\n`);
    const sure = document.ups.filter((u) => u.confidence >= SURE).length;
    tell(`${JSON.stringify({ file: out, frames: document.ups.length, sure })}\n`);
  },
  async follow({ argument, options, signal, say, tell }) {
    const out = needOut(options);
    const file = needFile(argument);
    const at = numeric(options, 'at', [0, 1e6], null);
    if (at === null) throw new CommandError('Say when the subject is to be seen with --at SECONDS.');
    const { longitude, latitude } = directionOption(options);
    const size = subjectSize(options);
    const recording = await openRecording(file, options.source);
    const found = options.found === undefined ? null : await namedFound(options.found);
    const working = { signal, progress: (s: number) => say(`\r${Math.round(s * 100)} %   `) };
    const subject = await onSphere(file, recording, working, async (sphere, facts, w) => {
      const { motion, rest } = await motionFirst(options.motion ?? beside(file), sphere, facts, w);
      const order = { frame: frameOf(at, facts.rate), direction: directionOf(longitude, latitude), size };
      return followBeside(sphere, facts, order, { motion, found, ...rest });
    });
    say('\n');
    await writeWhole(out, `${JSON.stringify(subject)}\n`);
    const seen = subject.looks.filter(isSeen).length;
    tell(`${JSON.stringify({ file: out, frames: subject.looks.length, seen, lost: lostStretches(subject) })}\n`);
  },
  async find({ argument, options, signal, say, tell }) {
    const out = needOut(options);
    const file = needFile(argument);
    const working = { signal, progress: (s: number) => say(`\r${Math.round(s * 100)} %   `) };
    const recording = await openRecording(file, options.source);
    const moving = await onSphere(file, recording, working, async (sphere, facts, w) => {
      const { motion, rest } = await motionFirst(options.motion ?? beside(file), sphere, facts, w);
      return findSubjects(sphere, facts, { motion, detector: await shippedDetector(), ...rest });
    });
    say('\n');
    await writeWhole(out, `${JSON.stringify(moving)}\n`);
    const found = foundIn(moving).map(({ look: _, ...told }) => told);
    tell(`${JSON.stringify({ file: out, frames: moving.frames, told: toldShare(moving), found })}\n`);
  },
  async probe({ argument, tell }) {
    const { facts, doubts } = await probe(needFile(argument));
    tell(`${JSON.stringify({ ...facts, doubts: doubts.map((d) => d.sentence) }, null, 2)}\n`);
  },
  async sweep({ argument, options, signal, say, tell }) {
    const out = needOut(options);
    const file = needFile(argument);
    const recording = await openRecording(file, options.source);
    const { facts, doubts } = await readRecording(recording);
    const folder = temporaryFolder('sweep');
    try {
      const variableRate = doubts.some((d) => d.kind === 'variable-rate');
      const gathered = await gather(recording, facts, join(folder, 'made'), {
        variableRate,
        signal,
        progress: (share) => say(`\r${Math.round(share * 100)} %   `),
      });
      await copyFile(join(folder, 'made', 'sweep.png'), out);
      say('\n');
      tell(`${JSON.stringify({ file: out, ...gathered.sweep })}\n`);
    } finally {
      removeTemporary(folder);
    }
  },
};
