/**
 * Jest runs modules in a context of its own, in which every look-up of a global is slow: ten million calls of `Math` take ten
 * seconds instead of a fifth of one. Modules that compute get the globals they use as constants of their own.
 */
import swc from '@swc/jest';

const BOUND = [
  'Array',
  'Atomics',
  'Float32Array',
  'Float64Array',
  'Int16Array',
  'Int32Array',
  'Int8Array',
  'Math',
  'Number',
  'Object',
  'Uint16Array',
  'Uint32Array',
  'Uint8Array',
  'Uint8ClampedArray',
];
/** Where what is computed a million times stands. */
const NUMERIC = /[\\/](packages[\\/](core|kernel|media|demo)[\\/](src|test)|bench)[\\/]/;

function bind(code, file) {
  if (!NUMERIC.test(file)) return code;
  const used = BOUND.filter((name) => new RegExp(`(?<![.\\w$])${name}\\b`).test(code));
  // On the first line, so that the lines of errors stay right.
  return used.length ? `const { ${used.join(', ')} } = globalThis; ${code}` : code;
}

export default {
  createTransformer(options) {
    const inner = swc.createTransformer(options);
    const bound = (result, file) => ({ ...result, code: bind(result.code, file) });
    return {
      ...inner,
      process: (source, file, about) => bound(inner.process(source, file, about), file),
      processAsync: async (source, file, about) => bound(await inner.processAsync(source, file, about), file),
      getCacheKey: (...about) => `${inner.getCacheKey(...about)}-bound-2`,
    };
  },
};
