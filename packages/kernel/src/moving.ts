/** The still world's pictures, pixel by pixel: the WASM module of the motion analysis with a typed face. */
import type { Matrix3 } from '@glimbo/core/geometry/rotation';
import type { Level } from '@glimbo/core/frame/sphere-frame';
import { ModuleRoom, writeAxes } from './module-room.js';
import { brighter, EXCESS, MOST_LOOKS, MOSTLY, type StillWorld, type WorldWork } from '@glimbo/core/moving/still-world';

interface Exports {
  turnPlanes(from: number, wide: number, turn: number, axes: number, width: number, out: number, planes: number): void;
  medians(
    planes: number,
    count: number,
    bytes: number,
    low: number,
    high: number,
    sorted: number,
    median: number,
    spread: number,
  ): void;
  bounds(plane: number, width: number, height: number, least: number, most: number, row: number): void;
  excess(
    look: number,
    still: number,
    least: number,
    most: number,
    usual: number,
    width: number,
    height: number,
    light: number,
    noise: number,
    times: number,
    tint: number,
    out: number,
  ): void;
}

/** Samples of a plane whose medians are taken at a time. */
const PIECE = 16384;

/** For pictures of `width` × width / 2 pixels, width a multiple of 512. Memory is fixed: some seven bytes a pixel. */
export async function createWorldWork(module: WebAssembly.Module, width: number): Promise<WorldWork> {
  const height = width / 2;
  const count = width * height;
  const [whole, tint] = [count * 1.5, count / 4];
  const room = new ModuleRoom();
  const claim = (size: number) => room.claim(size);
  const [from, to, leastAt, mostAt] = [claim(whole), claim(whole), claim(count), claim(count)];
  const [usualAt, out, turnAt, rowAt] = [claim(count + tint), claim(count), claim(72), claim(2 * width)];
  const [axesAt, halfAxesAt] = [claim(8 * width), claim(4 * width)];
  const [samples, sorted] = [claim(PIECE * MOST_LOOKS), claim(16 * MOST_LOOKS)];
  const { memory, wasm } = await room.start<Exports>(module);
  const bytes = new Uint8Array(memory.buffer);
  writeAxes(memory, axesAt, width);
  writeAxes(memory, halfAxesAt, width / 2);

  const put = ({ planes: [luma, blue, red] }: Level, at: number) => {
    bytes.set(luma, at);
    bytes.set(blue, at + count);
    bytes.set(red, at + count + tint);
  };
  const planesOf = (all: Uint8Array): Level['planes'] => [
    all.subarray(0, count),
    all.subarray(count, count + tint),
    all.subarray(count + tint),
  ];

  /** The world whose planes lie in memory at the moment. */
  let laid: StillWorld | null = null;
  const lay = (world: StillWorld) => {
    if (laid === world) return;
    laid = world;
    put(world.picture, to);
    bytes.set(world.bounds[0], leastAt);
    bytes.set(world.bounds[1], mostAt);
    bytes.set(world.usual[0], usualAt);
    bytes.set(world.usual[1], usualAt + count);
  };

  return {
    turn(picture, m: Matrix3) {
      laid = null;
      put(picture, from);
      new Float64Array(memory.buffer, turnAt, 9).set(m);
      wasm.turnPlanes(from, width, turnAt, axesAt, width, to, 1);
      wasm.turnPlanes(from + count, width / 2, turnAt, halfAxesAt, width / 2, to + count, 2);
      return { width, height, planes: planesOf(bytes.slice(to, to + whole)) };
    },

    still(looks) {
      laid = null;
      const [low, high] = [Math.floor(MOSTLY.low * (looks.length - 1)), Math.ceil(MOSTLY.high * (looks.length - 1))];
      const [median, spread] = [new Uint8Array(whole), new Uint8Array(whole)];
      for (const [p, start] of [0, count, count + tint].entries()) {
        const { length } = looks[0]!.planes[p]!;
        for (let at = 0; at < length; at += PIECE) {
          const piece = Math.min(PIECE, length - at);
          for (const [n, { planes }] of looks.entries())
            bytes.set(planes[p]!.subarray(at, at + piece), samples + n * piece);
          wasm.medians(samples, looks.length, piece, low, high, sorted, to, to + PIECE);
          median.set(bytes.subarray(to, to + piece), start + at);
          spread.set(bytes.subarray(to + PIECE, to + PIECE + piece), start + at);
        }
      }
      const [luma, blue, red] = planesOf(spread);
      const tints = blue.map((v, i) => Math.min(255, v + red[i]!));
      bytes.set(median.subarray(0, count), from);
      wasm.bounds(from, width, height, leastAt, mostAt, rowAt);
      const bounds = [bytes.slice(leastAt, leastAt + count), bytes.slice(mostAt, mostAt + count)] as const;
      return { picture: { width, height, planes: planesOf(median) }, usual: [luma, tints], bounds };
    },

    excess(look, world) {
      lay(world);
      put(look, from);
      const { noise, usual, tint: weight } = EXCESS;
      const light = brighter(look, world);
      wasm.excess(from, to, leastAt, mostAt, usualAt, width, height, light, noise, 2 * usual, 2 * weight, out);
      return bytes.subarray(out, out + count);
    },
  };
}
