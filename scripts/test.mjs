/**
 * Everything that has to be right: type check, lint, unit tests, tests of the real interface. Ends with the sum
 * of all, alone on a line. `unit` or `e2e` runs that part alone, or the files of it that are named; `coverage` the unit tests
 * with the lines that they leave out; `soak` the long campaign of kills and broken things.
 */
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';

const [only, ...files] = process.argv.slice(2);
if (only === 'soak') {
  const soak = spawnSync('node', ['scripts/soak/main.mjs', ...files], { stdio: 'inherit' });
  process.exit(soak.status ?? 1);
}
let passed = 0;
let failed = 0;
mkdirSync('test-results', { recursive: true });

async function run(name, command, args, env = {}) {
  console.log(`\n— ${name}`);
  const [status] = await once(spawn(command, args, { stdio: 'inherit', env: { ...process.env, ...env } }), 'close');
  return status === 0;
}

/** Checks that need no running program, one after the other, beside something else; what they say is shown when all are done. */
async function checks(list) {
  const said = [];
  for (const [name, command, args] of list) {
    said.push(`\n— ${name}\n`);
    const child = spawn(command, args);
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => said.push(String(text)));
    const [status] = await once(child, 'close');
    if (status === 0) passed++;
    else failed++;
  }
  console.log(said.join(''));
}

/** What failed, by its name and the first lines of its reason: told again at the very end, below what is long. */
const reasons = [];
const plain = (text) => stripVTControlCharacters(text).split('\n').slice(0, 12).join('\n');

const unitReasons = (r) =>
  r.testResults.flatMap((suite) => [
    ...(suite.assertionResults.length ? [] : [`${suite.name}\n${plain(suite.message)}`]),
    ...suite.assertionResults
      .filter((t) => t.status === 'failed')
      .map((t) => `${suite.name}: ${t.fullName}\n${plain(t.failureMessages[0] ?? '')}`),
  ]);

const walkReasons = (suite) => [
  ...(suite.suites ?? []).flatMap(walkReasons),
  ...(suite.specs ?? [])
    .filter((spec) => !spec.ok)
    .map((spec) => {
      const errors = spec.tests.flatMap((t) => t.results.flatMap((r) => r.errors));
      return `${spec.file}: ${spec.title}\n${plain(errors[0]?.message ?? '')}`;
    }),
];

/** Tells which lines no unit test reaches: file by file in words, and to be looked at in test-results/coverage. */
const COVERAGE = [
  '--coverage',
  '--coverageProvider=v8',
  '--coverageReporters=text',
  '--coverageReporters=html',
  '--coverageDirectory=test-results/coverage',
];

/** What each test took, in milliseconds. */
const durations = [];
const SHOWN = 10;

const unitDurations = (r) =>
  r.testResults.flatMap(({ name, assertionResults }) =>
    assertionResults.map((t) => ({ took: t.duration ?? 0, name: `${relative('.', name)}: ${t.fullName}` })),
  );

const walkDurations = (suite) => [
  ...(suite.suites ?? []).flatMap(walkDurations),
  ...(suite.specs ?? []).map((spec) => ({
    took: spec.tests.flatMap((t) => t.results).reduce((sum, r) => sum + r.duration, 0),
    name: `e2e/${spec.file}: ${spec.title}`,
  })),
];

/** Adds a runner's own counts; a runner that broke off without any counts as one failure. */
function count(ok, file, read, reasonsOf, durationsOf) {
  try {
    const result = JSON.parse(readFileSync(file, 'utf8'));
    const [good, bad] = read(result);
    reasons.push(...reasonsOf(result));
    durations.push(...durationsOf(result));
    passed += good;
    failed += bad;
    if (!ok && bad === 0) failed++;
  } catch {
    failed++;
  }
}

const still = only
  ? null
  : checks([
      ['types', 'node', ['scripts/typecheck.mjs']],
      ['lint', 'npx', ['--no-install', 'eslint', '.']],
      ['format', 'npx', ['--no-install', 'prettier', '--check', '--log-level', 'warn', '.']],
    ]);
if (only !== 'e2e') {
  const file = 'test-results/unit.json';
  rmSync(file, { force: true });
  const covered = only === 'coverage' ? COVERAGE : [];
  const args = ['--no-install', 'jest', '--json', `--outputFile=${file}`, ...covered, ...files];
  const ok = await run('unit tests', 'npx', args, {
    NODE_OPTIONS: '--experimental-vm-modules --no-warnings',
  });
  count(
    ok,
    file,
    (r) => [r.numPassedTests, r.numFailedTests + r.numRuntimeErrorTestSuites],
    unitReasons,
    unitDurations,
  );
}
await still;
if (only !== 'unit' && only !== 'coverage') {
  const file = 'test-results/e2e.json';
  rmSync(file, { force: true });
  const ok = await run('the real interface', 'npx', ['--no-install', 'playwright', 'test', ...files]);
  count(ok, file, (r) => [r.stats.expected, r.stats.unexpected + r.stats.flaky], walkReasons, walkDurations);
}
console.log(`\nthe ${SHOWN} tests that took longest:`);
for (const { took, name } of durations.sort((a, b) => b.took - a.took).slice(0, SHOWN))
  console.log(`  ${(took / 1000).toFixed(1).padStart(6)} s  ${name}`);
for (const reason of reasons) console.log(`\nfailed: ${reason}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
