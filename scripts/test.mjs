/**
 * Everything that has to be right: type check, lint, unit tests, tests of the real interface. Ends with the sum
 * of all, alone on a line. `unit` or `e2e` runs that part alone; `soak` the long campaign of kills and broken things.
 */
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';

const only = process.argv[2];
if (only === 'soak') {
  const soak = spawnSync('node', ['scripts/soak/main.mjs', ...process.argv.slice(3)], { stdio: 'inherit' });
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
  const ok = await run('unit tests', 'npx', ['--no-install', 'jest', '--json', `--outputFile=${file}`], {
    NODE_OPTIONS: '--experimental-vm-modules --no-warnings',
  });
  count(ok, file, (r) => [r.numPassedTests, r.numFailedTests + r.numRuntimeErrorTestSuites]);
}
await still;
if (only !== 'unit') {
  const file = 'test-results/e2e.json';
  rmSync(file, { force: true });
  const ok = await run('the real interface', 'npx', ['--no-install', 'playwright', 'test']);
  count(ok, file, (r) => [r.stats.expected, r.stats.unexpected + r.stats.flaky]);
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
