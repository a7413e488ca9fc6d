/** Broken media, take documents and requests without end: each is taken or refused in a sentence, soon, and nothing breaks. */
import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { World } from './world.mjs';

const CLI = ['build/engine/cli.mjs'];
/** Milliseconds in which anything has to be answered. */
const PATIENCE = 60_000;

/** Runs a command to its end; a stack trace or a hang is a problem, as is an output that is there after a failure. */
function run(args) {
  return new Promise((resolve) => {
    const child = spawn('node', [...CLI, ...args], { stdio: ['ignore', 'pipe', 'pipe'] });
    let text = '';
    child.stderr.on('data', (d) => (text += d));
    child.stdout.on('data', () => {});
    const timer = setTimeout(() => child.kill('SIGKILL'), PATIENCE);
    child.once('exit', (code, signal) => {
      clearTimeout(timer);
      resolve({ code, text, hung: signal === 'SIGKILL' });
    });
  });
}

const judge = (problems, what, { code, text, hung }) => {
  if (hung) problems.push(`${what}: no end after ${PATIENCE / 1000} s`);
  else if (/^\s+at .*[(:]\d+/m.test(text) || /call stack/i.test(text))
    problems.push(`${what}: ${text.trim().split('\n').at(0)}`);
  else if (code !== 0 && !text.trim()) problems.push(`${what}: exit code ${code} without a word`);
};

/** One of some ways in which a file can be broken. */
function broken(bytes, dice) {
  const copy = Buffer.from(bytes);
  const kind = dice.int(5);
  if (kind === 0) return copy.subarray(0, dice.int(copy.length));
  if (kind === 1) for (let i = 0; i < 1 + dice.int(200); i++) copy[dice.int(copy.length)] = dice.int(256);
  if (kind === 2) copy.fill(0, dice.int(copy.length), dice.int(copy.length));
  if (kind === 3) return Buffer.concat([copy.subarray(dice.int(copy.length)), copy.subarray(0, dice.int(copy.length))]);
  // The index: what it promises is not what there is.
  if (kind === 4)
    for (let at = copy.indexOf('stsz'), i = 0; i < 40; i++) copy[Math.max(0, at) + dice.int(400)] = dice.int(256);
  return copy;
}

export async function media(count, dice) {
  const world = new World(4397);
  const problems = [];
  const whole = ['mp4', 'mkv', 'ts'].map((ending) => readFileSync(world.clip(`whole.${ending}`, 1, 0.5)));
  const ends = { read: 0, refused: 0 };
  for (let n = 0; n < count; n++) {
    const which = dice.int(3);
    const out = join(world.footage, 'out.mp4');
    const file = join(world.footage, `broken.${['mp4', 'mkv', 'ts'][which]}`);
    writeFileSync(file, broken(whole[which], dice));
    const probed = await run(['probe', file]);
    judge(problems, `media ${n}, probe`, probed);
    if (probed.code === 0) {
      ends.read++;
      const take = join(world.footage, 'take.json');
      writeFileSync(
        take,
        JSON.stringify({
          format: 'glimbo-take',
          version: 1,
          footage: file,
          range: { in: 0, out: 0.3 },
          frame: { aspect: '16:9' },
        }),
      );
      const made = await run(['export', take, '--out', out, '--size', '320x180']);
      judge(problems, `media ${n}, export`, made);
      if (made.code !== 0 && (existsSync(out) || existsSync(`${out}.part`)))
        problems.push(`media ${n}: something half done was left`);
    } else ends.refused++;
    for (const name of [out, `${out}.part`]) rmSync(name, { force: true });
  }
  console.log(`media: ${count} broken files, ${ends.read} read all the same, ${ends.refused} refused in words`);
  world.remove();
  return problems;
}

const VALUES = [
  null,
  true,
  -1,
  0,
  1e9,
  1e308,
  -1e308,
  '',
  'x',
  'x'.repeat(5000),
  [],
  {},
  [[]],
  [null],
  { time: 0 },
  NaN,
  '__proto__',
];

/** A document with some members replaced by nonsense. */
function mangled(document, dice) {
  const copy = structuredClone(document);
  for (let i = 0; i <= dice.int(3); i++) {
    let at = copy;
    for (let depth = 0; depth < dice.int(4); depth++) {
      const inner = Object.values(at).filter((v) => v && typeof v === 'object');
      if (inner.length) at = dice.pick(inner);
    }
    const keys = [...Object.keys(at), 'extra'];
    at[dice.pick(keys)] = dice.pick(VALUES);
  }
  return copy;
}

const TAKE = {
  format: 'glimbo-take',
  version: 1,
  footage: 'whole.mp4',
  range: { in: 0, out: 0.4 },
  frame: { aspect: '16:9' },
  orientation: { mount: { pan: 0, tilt: 0, roll: 180 }, centre: { pan: 3, tilt: 1 } },
  path: {
    turn: 'dials',
    pan: [
      { time: 0, value: 1, ease: 'smooth' },
      { time: 0.3, value: 90, ease: [0.1, 0, 0.9, 1] },
    ],
    tilt: 2,
    fov: 70,
  },
  steady: { mode: 'off' },
  level: { keys: [{ time: 0, up: [0, 1, 0] }] },
};

/** Take documents and requests, to a server; some documents to the command line as well. */
export async function requests(documents, count, dice) {
  const world = new World(4398);
  const problems = [];
  const file = world.clip('whole.mp4', 1, 0.5);
  await world.start();
  const { json } = await world.form('/gather', { intent: 'path', path: file, accepted: 'yes' });
  const footage = json[0].footageId;
  const take = (await world.json(`/footage/${footage}`, { intent: 'take' })).json.id;
  const ends = {};
  const asked = async (what, answer) => {
    const { status, text } = await answer;
    ends[status] = (ends[status] ?? 0) + 1;
    if (status >= 500) problems.push(`${what} was answered ${status}: ${text.slice(0, 120)}`);
  };
  const deep = `${'['.repeat(20_000)}${']'.repeat(20_000)}`;
  for (let n = 0; n < documents; n++) {
    const step = mangled(TAKE, dice);
    await asked(
      `document ${n}`,
      world.json(`/takes/${take}`, {
        intent: 'save',
        id: `save-${n}-fuzz`,
        revision: n + 1,
        change: { first: 0, keep: 1, at: 1, patches: [[{ op: 'replace', path: '', value: step }]] },
      }),
    );
    if (n % 20) continue;
    const on = join(world.footage, 'mangled.json');
    writeFileSync(
      on,
      n % 40 ? JSON.stringify({ ...TAKE, x: 0 }).replace('"x":0', `"x":${deep}`) : JSON.stringify(step),
    );
    judge(
      problems,
      `document ${n} on the command line`,
      await run(['frame', on, '--time', '0.1', '--out', join(world.footage, 'frame.png'), '--size', '64x36']),
    );
  }
  const places = [
    '/',
    '/exports',
    '/settings',
    '/card',
    '/gather',
    `/takes/${take}`,
    `/footage/${footage}`,
    `/footage/${footage}/motion`,
    `/footage/${footage}/stitch`,
    '/jobs/none',
    '/sign-in',
    '/takes/none',
    '/footage/none',
    '/events',
    '/uploads',
    '/media/exports/x',
    '/media/takes/%2e%2e',
  ];
  const bodies = [
    () => deep,
    () => '{',
    () => '',
    () =>
      JSON.stringify(
        mangled(
          {
            intent: dice.pick([
              'save',
              'change',
              'take',
              'analyse',
              'correct',
              'apply',
              'still',
              'fork',
              'put',
              'remark',
              'export',
            ]),
            change: dice.pick([
              { what: 'mark' },
              { first: 0, keep: 0, at: 0, patches: [[{ op: 'replace', path: '', value: TAKE }]] },
            ]),
            history: { first: 0, at: 0, patches: [[{ op: 'replace', path: '', value: TAKE }]] },
            document: TAKE,
            revision: 1,
            id: 'x',
            source: { kind: 'two-lenses' },
            range: { in: 0, out: 1 },
          },
          dice,
        ),
      ),
    () =>
      `intent=${dice.pick(['export', 'copy', 'upload', 'path', 'known', 'cancel', 'again'])}&settings={"rate":[30]}&names=7&uploads=../x&path=../../etc&folder=/&footage=none&takeId=${take}`,
  ];
  const types = ['application/json', 'application/x-www-form-urlencoded', 'multipart/form-data', 'text/plain'];
  for (let n = 0; n < count; n++) {
    const place = dice.pick(places);
    const method = dice.pick(['POST', 'POST', 'POST', 'PUT', 'DELETE', 'PATCH']);
    const headers = {
      'content-type': dice.pick(types),
      ...(dice.int(6) ? {} : { origin: dice.pick(['null', 'http://elsewhere']) }),
    };
    await asked(`${method} ${place}`, world.ask(place, { method, body: dice.pick(bodies)(), headers }));
  }
  // Whatever came in, every page still shows.
  for (const page of ['/', '/exports', '/settings', '/card', `/studio/${take}`]) {
    const { status } = await world.ask(page, { method: 'GET' });
    if (status !== 200) problems.push(`${page} does not show any more (${status})`);
  }
  await world.kill('SIGTERM');
  console.log(
    `requests: ${documents} documents, ${count} requests; answers ${Object.entries(ends)
      .map(([k, v]) => `${v} × ${k}`)
      .join(', ')}`,
  );
  world.remove();
  return problems;
}
