/** jsdom with what browsers have and it lacks, as Node has it: parts of the interface are tested in it. */
import { TestEnvironment } from 'jest-environment-jsdom';

const NODE_HAS = [
  'AbortController',
  'AbortSignal',
  'Headers',
  'ReadableStream',
  'Request',
  'Response',
  'TextDecoder',
  'TextEncoder',
  'TransformStream',
  'URLSearchParams',
  'WritableStream',
  'fetch',
  'structuredClone',
];

/** Nothing is ever laid out here, so nothing changes its size. */
class StillResizeObserver {
  observe() {}
  unobserve() {}
  disconnect() {}
}

export default class BrowserEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    for (const name of NODE_HAS) this.global[name] = globalThis[name];
    this.global.ResizeObserver ??= StillResizeObserver;
  }
}
