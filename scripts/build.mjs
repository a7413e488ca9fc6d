/**
 * Builds what has changed since it was built: the kernel to WASM, the engine and command line with esbuild, the application
 * with Vite. Names of parts as arguments build those alone.
 */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const engine = join(root, 'build', 'engine');
const stamps = join(root, 'build', 'stamps');
for (const folder of [engine, stamps]) mkdirSync(folder, { recursive: true });

/** Runs a program of a package's; what it says is shown when it fails. */
function npx(cwd, ...args) {
  const { status, stdout, stderr } = spawnSync('npx', ['--no-install', ...args], { cwd, encoding: 'utf8' });
  if (status === 0) return;
  console.error(`${stdout}${stderr}`);
  throw new Error(`${args[0]} failed`);
}

function buildKernel() {
  npx(
    root,
    'asc',
    'packages/kernel/assembly/index.ts',
    '--enable',
    'simd',
    '--enable',
    'threads',
    '--importMemory',
    '--sharedMemory',
    '--initialMemory',
    '1',
    '--maximumMemory',
    '65536',
    '--runtime',
    'stub',
    '--use',
    'abort=',
    '-O3',
    '--noAssert',
    '--outFile',
    'build/engine/kernel.wasm',
  );

  npx(
    root,
    'asc',
    'packages/kernel/assembly/motion/index.ts',
    '--enable',
    'simd',
    '--importMemory',
    '--initialMemory',
    '1',
    '--maximumMemory',
    '65536',
    '--memoryBase',
    '1024',
    '--runtime',
    'stub',
    '--use',
    'abort=',
    '-O3',
    '--noAssert',
    '--outFile',
    'build/engine/motion.wasm',
  );
}

async function buildEngine() {
  // What an earlier build left under names of its own.
  for (const file of readdirSync(engine)) if (/^chunk-.*\.mjs$/.test(file)) rmSync(join(engine, file));
  await build({
    entryPoints: {
      cli: 'packages/cli/src/main.ts',
      job: 'packages/cli/src/job.ts',
      'render-worker': 'packages/media/src/render/worker.ts',
      'motion-worker': 'packages/media/src/motion-worker.ts',
      'look-worker': 'packages/media/src/look-worker.ts',
      'follow-worker': 'packages/media/src/follow-worker.ts',
      bench: 'bench/main.ts',
    },
    absWorkingDir: root,
    outdir: engine,
    bundle: true,
    external: ['@playwright/test', 'knex', '@tensorflow/*', '@vladmandic/human'],
    splitting: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    outExtension: { '.js': '.mjs' },
    // Modules rather than CommonJS where a package has both: what is not used stays out, and starts are quicker.
    mainFields: ['module', 'main'],
    tsconfigRaw: { compilerOptions: { experimentalDecorators: true } },
    logLevel: 'warning',
  });

  // What titles are written with, and what draws overlays.
  const modules = join(root, 'node_modules');
  copyFileSync(join(modules, '@resvg', 'resvg-wasm', 'index_bg.wasm'), join(engine, 'resvg.wasm'));
  for (const [id, file] of Object.entries({
    sans: 'instrument-sans/files/instrument-sans-latin-600-normal.woff',
    narrow: 'archivo-narrow/files/archivo-narrow-latin-700-normal.woff',
    serif: 'fraunces/files/fraunces-latin-600-normal.woff',
    mono: 'martian-mono/files/martian-mono-latin-500-normal.woff',
  }))
    copyFileSync(join(modules, '@fontsource', file), join(engine, `font-${id}.woff`));
}

const buildApp = () => npx(join(root, 'app'), 'react-router', 'build');

const PACKAGES = ['core', 'kernel', 'media', 'cli', 'demo'].map((name) => `packages/${name}/src`);
/** What each part is built by, and from which files and folders. */
const PARTS = {
  kernel: { make: buildKernel, from: ['packages/kernel/assembly'] },
  engine: { make: buildEngine, from: [...PACKAGES, 'bench', 'package-lock.json'] },
  app: { make: buildApp, from: [...PACKAGES, 'app', 'package-lock.json'] },
};

/** Files that nothing is built from, or that building writes. */
const APART = /^(node_modules|\.react-router|test|clips)$/;

function* filesIn(path) {
  const found = statSync(join(root, path));
  if (!found.isDirectory()) return yield `${path} ${found.size} ${found.mtimeMs}`;
  for (const name of readdirSync(join(root, path)).sort()) if (!APART.test(name)) yield* filesIn(join(path, name));
}

/** What a part's sources and how they are built come to. */
function stateOf({ from }) {
  const hash = createHash('sha256').update(readFileSync(fileURLToPath(import.meta.url)));
  for (const path of from) for (const file of filesIn(path)) hash.update(file);
  return hash.digest('hex');
}

const read = (file) => {
  try {
    return readFileSync(file, 'utf8');
  } catch {
    return '';
  }
};

for (const name of process.argv.length > 2 ? process.argv.slice(2) : Object.keys(PARTS)) {
  const part = PARTS[name];
  if (!part) throw new Error(`There is no part ${name}; there are ${Object.keys(PARTS).join(', ')}.`);
  const stamp = join(stamps, name);
  const state = stateOf(part);
  if (read(stamp) === state) continue;
  console.error(`glimbo: building the ${name}`);
  rmSync(stamp, { force: true });
  await part.make();
  writeFileSync(stamp, state);
}
