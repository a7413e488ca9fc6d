/**
 * Everything that has to be right: type check, lint, unit tests, tests of the real interface. Ends with the sum
 * of all, alone on a line. `unit` or `e2e` runs that part alone; `soak` the long campaign of kills and broken things.
 */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';

const only = process.argv[2];
if (only === 'soak') {
  const soak = spawnSync('node', ['scripts/soak/main.mjs', ...process.argv.slice(3)], { stdio: 'inherit' });
  process.exit(soak.status ?? 1);
}
let passed = 0;
let failed = 0;
mkdirSync('test-results', { recursive: true });

function run(name, command, args, env = {}) {
  console.log(`\n— ${name}`);
  return spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } }).status === 0;
}

function check(name, command, args) {
  if (run(name, command, args)) passed++;
  else failed++;
}

/** Adds a runner's own counts; a runner that broke off without any counts as one failure. */
function count(ok, file, read) {
  try {
    const [good, bad] = read(JSON.parse(readFileSync(file, 'utf8')));
    passed += good;
    failed += bad;
    if (!ok && bad === 0) failed++;
  } catch {
    failed++;
  }
}

if (!only) {
  check('types', 'node', ['scripts/typecheck.mjs']);
  check('lint', 'npx', ['--no-install', 'eslint', '.']);
  check('format', 'npx', ['--no-install', 'prettier', '--check', '--log-level', 'warn', '.']);
}
if (only !== 'e2e') {
  const file = 'test-results/unit.json';
  rmSync(file, { force: true });
  const ok = run('unit tests', 'npx', ['--no-install', 'jest', '--json', `--outputFile=${file}`], {
    NODE_OPTIONS: '--experimental-vm-modules --no-warnings',
  });
  count(ok, file, (r) => [r.numPassedTests, r.numFailedTests + r.numRuntimeErrorTestSuites]);
}
if (only !== 'unit') {
  const file = 'test-results/e2e.json';
  rmSync(file, { force: true });
  const ok = run('the real interface', 'npx', ['--no-install', 'playwright', 'test']);
  count(ok, file, (r) => [r.stats.expected, r.stats.unexpected + r.stats.flaky]);
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
