/** What looking for up needs of every pixel: the WASM module of the motion analysis with a typed face. */
import type { Prepare } from '@glimbo/core/level/evidence/seen';
import { ModuleRoom } from './module-room.js';

interface Exports {
  planeBytes(width: number, height: number): number;
  structure(bytes: number, width: number, height: number, room: number, out: number): void;
  soften(bytes: number, width: number, height: number, room: number, out: number): void;
}

/** Prepares grey pictures of width × width/2 pixels, a multiple of 8. Memory is fixed: some 30 bytes a pixel. */
export async function createPrepare(module: WebAssembly.Module, width: number): Promise<Prepare> {
  const height = width / 2;
  const pixels = width * height;
  const claimed = new ModuleRoom();
  const picture = claimed.claim(pixels);
  // Four planes whose rows have a margin, and three planes.
  const room = claimed.claim(pixels * (16 + 12) + 1024 * height);
  const { memory, wasm } = await claimed.start<Exports>(module);
  const out = room + 4 * wasm.planeBytes(width, height);
  const bytes = new Uint8Array(memory.buffer, picture, pixels);
  const plane = (n: number) => new Float32Array(memory.buffer, out + 4 * n * pixels, pixels).slice();
  return (grey) => {
    bytes.set(grey);
    wasm.soften(picture, width, height, room, out);
    const soft = plane(0);
    wasm.structure(picture, width, height, room, out);
    return { width, grey, soft, xx: plane(0), xy: plane(1), yy: plane(2) };
  };
}
