/** Builds everything: the kernel to WASM, the engine and command line with esbuild, the application with Vite. */
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const engine = join(root, 'build', 'engine');
const only = process.argv[2];
mkdirSync(engine, { recursive: true });
// What an earlier build left under names of its own.
for (const file of readdirSync(engine)) if (/^chunk-.*\.mjs$/.test(file)) rmSync(join(engine, file));

const npx = (cwd, ...args) =>
  execFileSync('npx', ['--no-install', ...args], { cwd, stdio: ['ignore', 'inherit', 'inherit'] });

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

await build({
  entryPoints: {
    cli: 'packages/cli/src/main.ts',
    job: 'packages/cli/src/job.ts',
    'render-worker': 'packages/media/src/render/worker.ts',
    'motion-worker': 'packages/media/src/motion-worker.ts',
    'look-worker': 'packages/media/src/look-worker.ts',
    bench: 'bench/main.ts',
  },
  absWorkingDir: root,
  outdir: engine,
  bundle: true,
  external: ['@playwright/test'],
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

if (only !== 'engine') npx(join(root, 'app'), 'react-router', 'build');
