/** The command line as it is typed: what is wrong is said in a sentence, with the right exit code, and nothing is written. */
import { afterAll, describe, expect, jest, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { newTake } from '@glimbo/core/take/take';
import { USAGE } from '../src/options.js';
import { runCommandLine } from '../src/run.js';

// It waits for processes, on any machine.
jest.setTimeout(120_000);

process.env.GLIMBO_ENGINE = resolve('build/engine');
const folder = mkdtempSync(join(tmpdir(), 'glimbo-cli-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const write = (name: string, content: unknown) => writeFileSync(at(name), JSON.stringify(content));

execFileSync('ffmpeg', [
  ...[
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=256x128:r=10:d=1',
    '-c:v',
    'libx264',
    '-pix_fmt',
    'yuv420p',
  ],
  at('clip.mp4'),
]);
write('take.json', newTake('clip.mp4', 1));
write('steadied.json', { ...newTake('clip.mp4', 1), steady: { mode: 'rolling' } });
write('late.json', { ...newTake('clip.mp4', 1), range: { in: 5, out: 6 } });
write('broken.json', { format: 'glimbo-take' });
writeFileSync(at('none.json'), 'no JSON');
writeFileSync(at('sidecar.csv'), 'time,rate_x\n0,1\n');

async function run(...args: string[]) {
  const [said, told] = [[] as string[], [] as string[]];
  const code = await runCommandLine(args, {
    signal: new AbortController().signal,
    say: (text) => void said.push(text),
    tell: (text) => void told.push(text),
  });
  return { code, said: said.join(''), told: told.join('') };
}

describe('a command line', () => {
  test.each<[string, number, RegExp, string[]]>([
    ['nothing', 2, /Name a command/, []],
    ['a command that is none', 2, /no command "dance"/, ['dance']],
    ['a member of every object', 2, /no command "constructor"/, ['constructor']],
    ['an option that is none', 2, /--loud/, ['export', '--loud']],
    ['no take', 2, /Name a take document/, ['export', '--out', at('o.mp4')]],
    ['no place to write', 2, /--out FILE/, ['export', at('take.json')]],
    [
      'a folder that is not there',
      1,
      /no folder .*missing to write o\.mp4 in/,
      ['export', at('take.json'), '--out', at('missing/o.mp4')],
    ],
    [
      'a folder in place of a file',
      1,
      /is a folder\. Name a file/,
      ['frame', at('take.json'), '--time', '0', '--out', folder],
    ],
    ['the root', 1, /is a folder/, ['sweep', at('clip.mp4'), '--out', '/']],
    ['a file in place of a folder', 1, /no folder/, ['motion', at('clip.mp4'), '--out', at('clip.mp4/o.json')]],
    ['no moment', 2, /--time SECONDS, or several/, ['frame', at('take.json'), '--out', at('o.png')]],
    [
      'both sorts of moments',
      2,
      /--time SECONDS, or several/,
      ['frame', at('take.json'), '--time', '0', '--times', '0,1', '--out', at('o.png')],
    ],
    [
      'a moment that is none',
      2,
      /--times must be a number/,
      ['frame', at('take.json'), '--times', '0,x', '--out', at('o.png')],
    ],
    ['a take that is not there', 1, /gone\.json was not found/, ['export', at('gone.json'), '--out', at('o.mp4')]],
    ['a take that is no JSON', 1, /not a JSON document/, ['export', at('none.json'), '--out', at('o.mp4')]],
    ['a take that is none', 1, /not a take that Glimbo can read/, ['export', at('broken.json'), '--out', at('o.mp4')]],
    [
      'a codec that is none',
      2,
      /--codec must be one of/,
      ['export', at('take.json'), '--out', at('o.mp4'), '--codec', 'x'],
    ],
    ['a size that is odd', 1, /not a size/, ['export', at('take.json'), '--out', at('o.mp4'), '--size', '321x180']],
    ['a rate that is none', 2, /--rate must be/, ['export', at('take.json'), '--out', at('o.mp4'), '--rate', 'fast']],
    [
      'a bit rate that is none',
      2,
      /--bitrate must/,
      ['export', at('take.json'), '--out', at('o.mp4'), '--bitrate', '1X'],
    ],
    [
      'both amounts',
      2,
      /not both/,
      ['export', at('take.json'), '--out', at('o.mp4'), '--quality', '20', '--bitrate', '9M'],
    ],
    [
      'both pictures',
      2,
      /not both/,
      ['export', at('take.json'), '--out', at('o.mp4'), '--sphere', '--compare', 'over'],
    ],
    [
      'a comparison that is none',
      2,
      /--compare must/,
      ['export', at('take.json'), '--out', at('o.mp4'), '--compare', 'x'],
    ],
    ['a range beyond the end', 1, /lies after the end/, ['export', at('late.json'), '--out', at('o.mp4')]],
    ['no motion to steady with', 1, /was not analysed/, ['export', at('steadied.json'), '--out', at('o.mp4')]],
    ['no moment', 2, /--time SECONDS/, ['frame', at('take.json'), '--out', at('o.png')]],
    ['a moment that is none', 2, /--time must be/, ['frame', at('take.json'), '--out', at('o.png'), '--time=-1']],
    [
      'a method that is none',
      2,
      /--method must be/,
      ['motion', at('clip.mp4'), '--out', at('o.json'), '--method', 'x'],
    ],
    [
      'a sidecar that is none',
      1,
      /sidecar cannot be used/,
      ['motion', at('clip.mp4'), '--out', at('o.json'), '--sidecar', at('sidecar.csv')],
    ],
    ['footage that is not there', 1, /was not found/, ['probe', at('gone.mp4')]],
    ['no footage', 2, /Name a file/, ['sweep', '--out', at('o.png')]],
    ['no footage to level', 2, /Name a file/, ['level', '--out', at('o.json')]],
    ['nowhere to write what moves', 2, /--out FILE/, ['find', 'a.mp4']],
    ['nothing to find in', 2, /Name a file/, ['find', '--out', at('o.json')]],
    ['nobody to follow', 2, /--direction LON,LAT/, ['follow', 'a.mp4', '--at', '1', '--out', at('o.json')]],
    [
      'what was found that was not',
      1,
      /o\.json is not what \.\/glimbo find wrote/,
      ['follow', at('clip.mp4'), '--at', '1', '--direction', '1,2', '--found', at('o.json'), '--out', at('p.json')],
    ],
    ['no moment to follow from', 2, /--at SECONDS/, ['follow', 'a.mp4', '--direction', '1,2', '--out', at('o.json')]],
    [
      'a subject larger than the sphere',
      2,
      /from 1 to 100/,
      ['follow', 'a.mp4', '--at', '1', '--direction', '1,2', '--size', '400', '--out', at('o.json')],
    ],
  ])('with %s ends with %d and a sentence', async (_, code, sentence, args) => {
    const before = readdirSync(folder).sort();
    const result = await run(...args);
    expect([result.code, result.told]).toEqual([code, '']);
    expect(result.said).toMatch(sentence);
    expect(result.said).not.toMatch(/\n\s+at /);
    expect(result.said.includes('Usage:')).toBe(code === 2);
    expect(readdirSync(folder).sort()).toEqual(before);
  });

  test('tells its usage when asked', async () => {
    expect(await run('--help')).toMatchObject({ code: 0, said: '', told: expect.stringContaining('./glimbo export') });
  });
});

describe('what was asked for', () => {
  test('is made, told in JSON, and nothing half done is left', async () => {
    const export_ = await run('export', at('take.json'), '--out', at('out.mp4'), '--size', '160x90');
    expect(export_.code).toBe(0);
    expect(JSON.parse(export_.told)).toMatchObject({
      file: at('out.mp4'),
      frames: 10,
      rate: 10,
      width: 160,
      height: 90,
    });
    expect(export_.said).toMatch(/10 of 10 frames/);
    const frame = await run('frame', at('take.json'), '--out', at('out.png'), '--time', '0.5', '--size', '160x90');
    expect(JSON.parse(frame.told)).toEqual({ file: at('out.png'), time: 0.5, footage: { frame: 5, time: 0.5 } });
    // Between two frames of the footage the view is the moment's own; the picture is said to be the earlier frame's.
    const three = await run(
      'frame',
      at('take.json'),
      '--out',
      at('out.png'),
      '--times',
      '0.5,0.599,0.6',
      '--size',
      '160x90',
    );
    const told = three.told
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { file: string; footage: object });
    expect(told.map((t) => t.file)).toEqual([1, 2, 3].map((n) => at(`out-${n}.png`)));
    expect(told.map((t) => t.footage)).toEqual([5, 5, 6].map((frame) => ({ frame, time: frame / 10 })));
    expect(readFileSync(at('out-1.png')).equals(readFileSync(at('out.png')))).toBe(true);
    // A name like a protocol's is a name.
    copyFileSync(at('clip.mp4'), at('concat:a.mp4'));
    const here = process.cwd();
    process.chdir(dirname(at('clip.mp4')));
    const odd = await run('probe', 'concat:a.mp4').finally(() => process.chdir(here));
    expect(JSON.parse(odd.told)).toMatchObject({ width: 256 });
    const probed = await run('probe', at('clip.mp4'));
    expect(JSON.parse(probed.told)).toMatchObject({ width: 256, height: 128, rate: 10, frames: 10 });
    expect([existsSync(at('out.mp4')), existsSync(at('out.png'))]).toEqual([true, true]);
    expect(readdirSync(folder).filter((f) => f.endsWith('.part'))).toEqual([]);
  });

  test.each(['beside', 'over', 'inset'])(
    'before and after %s is one picture of the size that was asked for',
    async (compare) => {
      const out = at(`${compare}.mp4`);
      const { code, told } = await run(
        'export',
        at('take.json'),
        '--out',
        out,
        '--size',
        '320x180',
        '--compare',
        compare,
      );
      expect([code, JSON.parse(told)]).toEqual([0, expect.objectContaining({ width: 320, height: 180, frames: 10 })]);
      const { told: facts } = await run('probe', out);
      expect(JSON.parse(facts)).toMatchObject({ width: 320, height: 180, frames: 10 });
    },
  );

  test('that is stopped says so and leaves nothing', async () => {
    const stop = new AbortController();
    stop.abort();
    const said: string[] = [];
    const code = await runCommandLine(['export', at('take.json'), '--out', at('stopped.mp4')], {
      signal: stop.signal,
      say: (text) => void said.push(text),
      tell: () => {},
    });
    expect([code, said.join('')]).toEqual([130, expect.stringContaining('Nothing half done was kept')]);
    expect(existsSync(at('stopped.mp4'))).toBe(false);
  });
});

test('the launcher hands on every command that the command line has', () => {
  const commands = [...USAGE.matchAll(/\.\/glimbo (\w+)/g)].map(([, name]) => name!);
  expect(commands).toContain('find');
  const handedOn = /^ {2}(export \|.*)\) setup/m.exec(readFileSync(resolve('glimbo'), 'utf8'))![1]!.split(' | ');
  expect(new Set(handedOn)).toEqual(new Set(commands));
});
