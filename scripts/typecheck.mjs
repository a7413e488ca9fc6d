/** Type-checks every workspace, the tests and the scripts of the end-to-end tests. */
import { spawnSync } from 'node:child_process';

spawnSync('npx', ['--no-install', 'react-router', 'typegen'], { cwd: 'app', stdio: 'inherit' });
const projects = [
  'packages/core',
  'packages/kernel',
  'packages/media',
  'packages/cli',
  'packages/demo',
  'app',
  'tsconfig.test.json',
];
let failed = 0;
for (const project of projects) {
  const { status } = spawnSync('npx', ['--no-install', 'tsc', '-p', project], { stdio: 'inherit' });
  if (status !== 0) failed++;
}
process.exit(failed ? 1 : 0);
