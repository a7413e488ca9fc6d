/**
 * Renders the demo clips: `npm run render -w packages/demo -- [CLIP …] [--width 3840] [--still SECONDS --out FILE.png]`,
 * or with `--truth` writes only what they truly show, anew.
 * Opens the scene in headless Chromium, takes its raw frames and encodes them with ffmpeg; beside each clip
 * it writes the true pose of every frame as JSON.
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { quaternionOf } from '@glimbo/core/geometry/rotation';
import { NOMINAL, TRUE } from './lenses.js';
import { CLIPS, EVENTS, RATE, type ClipName } from './motion.js';
import { writeSidecar } from './sidecar.js';
import { writeSound } from './sound.js';

const here = process.cwd();
const clips = join(here, 'clips');
const args = process.argv.slice(2);
const option = (name: string) => {
  const i = args.indexOf(`--${name}`);
  return i < 0 ? undefined : args.splice(i, 2)[1];
};
const width = Number(option('width') ?? 2880);
const still = option('still');
const out = option('out') ?? 'still.png';
/** Clips filmed with the two-lens camera. */
const TWO_LENSES = new Set<ClipName>(['signal-corner']);
const truthAt = args.indexOf('--truth');
if (truthAt >= 0) args.splice(truthAt, 1);
const truthOnly = truthAt >= 0;
const names = (args.length ? args : Object.keys(CLIPS)) as ClipName[];

const bundle = await build({
  entryPoints: [join(here, 'src', 'scene', 'page.ts')],
  bundle: true,
  format: 'esm',
  write: false,
  target: 'es2022',
});
const script = bundle.outputFiles[0]!.text;

for (const name of names) {
  if (truthOnly) await writeTruth(name);
  else await renderClip(name);
}

/** Opens the scene in a browser until it says that it is done; what it sends meanwhile is handed over with its path. */
async function inScene(query: string, take: (path: string, body: AsyncIterable<Buffer>) => Promise<void>) {
  const scratch = mkdtempSync(join(tmpdir(), 'brindle-'));
  let finished = () => {};
  const done = new Promise<void>((resolve) => (finished = resolve));
  const server = createServer(async (request, response) => {
    if (request.method === 'POST') {
      if (request.url === '/done') finished();
      else await take(request.url!, request);
      response.end();
    } else if (request.url!.startsWith('/page.js')) response.setHeader('content-type', 'text/javascript').end(script);
    else response.setHeader('content-type', 'text/html').end('<script type=module src=/page.js></script>');
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as { port: number };
  const browser = spawn('chromium', [
    '--headless', '--no-sandbox', '--disable-quic', '--no-first-run', '--disable-background-networking',
    '--disable-component-update', '--disable-sync', ...(process.env.ANGLE ?? '--use-angle=swiftshader --enable-unsafe-swiftshader').split(' '),
    '--ignore-gpu-blocklist', '--enable-logging=stderr', `--user-data-dir=${join(scratch, 'profile')}`,
    `http://127.0.0.1:${port}/?${query}`,
  ], { stdio: ['ignore', 'ignore', 'pipe'] }); // prettier-ignore
  browser.stderr.on('data', (d: Buffer) => /CONSOLE/.test(String(d)) && process.stderr.write(d));
  await done;
  browser.kill();
  server.close();
  rmSync(scratch, { recursive: true, force: true, maxRetries: 5 });
}

async function renderClip(name: ClipName) {
  const count = CLIPS[name].duration * RATE;
  const [from, to] =
    still === undefined ? [0, count] : [Math.round(Number(still) * RATE), Math.round(Number(still) * RATE) + 1];
  const scratch = mkdtempSync(join(tmpdir(), 'brindle-'));
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${width}x${width / 2}`, '-r', String(RATE), '-i', '-'];
  const target = still === undefined ? clipArguments(name, scratch) : ['-frames:v', '1', out];
  const encoder = spawn('ffmpeg', ['-v', 'error', '-y', ...raw, ...target], { stdio: ['pipe', 'inherit', 'inherit'] });
  await inScene(`clip=${name}&width=${width}&from=${from}&to=${to}`, async (path, body) => {
    for await (const chunk of body) if (!encoder.stdin.write(chunk)) await once(encoder.stdin, 'drain');
    process.stderr.write(`\r${name}: frame ${path.split('/')[2]} of ${count} `);
  });
  encoder.stdin.end();
  await once(encoder, 'close');
  rmSync(scratch, { recursive: true, force: true, maxRetries: 5 });
  if (still !== undefined) return;
  for (const lens of TWO_LENSES.has(name) ? ['-a', '-b'] : [''])
    renameSync(join(clips, `${name}${lens}.part.mp4`), join(clips, `${name}${lens}.mp4`));
  await writeTruth(name);
  if (name === 'footbridge-carry') writeSidecar(CLIPS[name], join(clips, `${name}.motion.csv`));
}

/**
 * H.265 small enough to be committed (under 4 MB), with the clip's sound; a file for each lens where there are two.
 * No frames are predicted from both sides and nothing is tuned for the eye: that smears small jolts over several frames,
 * and the picture must move as the truth says.
 */
function clipArguments(name: ClipName, scratch: string): string[] {
  const sound = join(scratch, 'sound.wav');
  writeSound(name, sound);
  const colour = 'scale=out_color_matrix=bt709:out_range=tv,format=yuv420p';
  const two = TWO_LENSES.has(name);
  const files = two ? ['-a', '-b'] : [''];
  const filter = two
    ? `[0:v]${colour},split[x][y];[x]crop=iw/2:ih:0:0[-a];[y]crop=iw/2:ih:iw/2:0[-b]`
    : `[0:v]${colour}[]`;
  return [
    '-i', sound, '-filter_complex', two ? filter : filter.replace('[]', '[v]'),
    ...files.flatMap((lens) => [
      '-map', `[${lens || 'v'}]`, '-map', '1:a', '-shortest', '-c:a', 'aac', '-b:a', '96k',
      '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv',
      '-c:v', 'libx265', '-preset', 'medium', '-tag:v', 'hvc1', '-b:v', `${Math.round(30_000 / CLIPS[name].duration)}k`,
      '-x265-params', 'log-level=error:keyint=90:bframes=0:no-cutree=1:qcomp=0.8:psy-rd=0:psy-rdoq=0:vbv-maxrate=9000:vbv-bufsize=9000',
      '-movflags', '+faststart', join(clips, `${name}${lens}.part.mp4`),
    ]),
  ]; // prettier-ignore
}

async function writeTruth(name: ClipName) {
  const count = CLIPS[name].duration * RATE;
  const round = (v: number) => Number(v.toFixed(6));
  const frames = Array.from({ length: count }, (_, n) => {
    const pose = CLIPS[name].pose(n / RATE);
    return {
      time: round(n / RATE),
      orientation: quaternionOf(pose.rotation).map(round),
      position: pose.position.map(round),
    };
  });
  const lenses = TWO_LENSES.has(name) ? ` "lenses": ${JSON.stringify({ nominal: NOMINAL, true: TRUE })},\n  ` : '';
  const lines = (list: readonly object[]) => list.map((l) => `  ${JSON.stringify(l)}`).join(',\n');
  const parts = [`"frames": [\n${lines(frames)}\n]`];
  if (EVENTS[name]) {
    let subjects: object[] = [];
    await inScene(`clip=${name}&width=64&from=0&to=${count}&subjects=1`, async (_, body) => {
      const chunks: Buffer[] = [];
      for await (const chunk of body) chunks.push(chunk);
      subjects = JSON.parse(Buffer.concat(chunks).toString()) as object[];
    });
    parts.push(`"subjects": [\n${lines(subjects)}\n]`, `"events": [\n${lines(EVENTS[name])}\n]`);
  }
  writeFileSync(
    join(clips, `${name}.truth.json`),
    `{ "format": "glimbo-truth", "version": 1, "rate": ${RATE},${lenses} ${parts.join(',\n')} }\n`,
  );
}
