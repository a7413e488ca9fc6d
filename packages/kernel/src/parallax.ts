/** What fits neither a rig's travel nor any depth, pixel by pixel: the WASM module of the motion analysis with a typed face. */
import { multiply, transpose, turnTo, type Matrix3 } from '@glimbo/core/geometry/rotation';
import {
  BLIND,
  MOST_OFF,
  OFF,
  SHIFTS,
  shiftedRows,
  slackOf,
  type ParallaxWork,
  type Turned,
} from '@glimbo/core/moving/parallax';
import { ModuleRoom, writeAxes } from './module-room.js';

interface Exports {
  halfPlane(from: number, width: number, height: number, out: number): void;
  turnPlanes(from: number, wide: number, turn: number, axes: number, width: number, out: number, planes: number): void;
  slackBounds(
    plane: number,
    width: number,
    height: number,
    slack: number,
    least: number,
    most: number,
    spare: number,
  ): void;
  fitDepth(
    now: number,
    least: number,
    most: number,
    width: number,
    height: number,
    rows: number,
    mostOff: number,
    best: number,
    sums: number,
    spare: number,
  ): void;
  misfit(best: number, width: number, height: number, noise: number, times: number, blind: number, out: number): void;
}

/** For pictures of `wide` × wide / 2 pixels, wide a multiple of 32. Memory is fixed: some six bytes a pixel. */
export async function createParallaxWork(module: WebAssembly.Module, wide: number): Promise<ParallaxWork> {
  const [width, height] = [wide / 2, wide / 4];
  const count = width * height;
  const room = new ModuleRoom();
  const [whole, laid, turned] = [room.claim(4 * count), room.claim(3 * count), room.claim(3 * count)];
  const [now, least, most] = [room.claim(3 * count), room.claim(3 * count), room.claim(3 * count)];
  const [best, sums, spare] = [room.claim(2 * count), room.claim(2 * count), room.claim(2 * width + 64)];
  const [turnAt, axesAt, slackAt] = [room.claim(72), room.claim(8 * width), room.claim(height)];
  const tables = [false, true].map((later) => SHIFTS.map((shift) => ({ shift, later, at: room.claim(4 * height) })));
  const { memory, wasm } = await room.start<Exports>(module);
  const bytes = new Uint8Array(memory.buffer);
  writeAxes(memory, axesAt, width);
  bytes.set(slackOf(height), slackAt);
  for (const { shift, later, at } of tables.flat())
    new Int32Array(memory.buffer, at, height).set(shiftedRows(height, shift, later));

  const turn = (from: number, m: Matrix3, out: number, planes: number) => {
    new Float64Array(memory.buffer, turnAt, 9).set(m);
    wasm.turnPlanes(from, width, turnAt, axesAt, width, out, planes);
  };
  /** A picture's three planes, all of the same size, with the travel at the upper pole. */
  const lay = ({ picture: { planes: own }, toWorld }: Turned, toTravel: Matrix3, out: number) => {
    bytes.set(own[0], whole);
    wasm.halfPlane(whole, width, height, laid);
    bytes.set(own[1], laid + count);
    bytes.set(own[2], laid + 2 * count);
    turn(laid, multiply(toTravel, toWorld), out, 3);
  };

  return {
    excess(look, others, travel) {
      const toTravel = turnTo(travel, [0, 1, 0]);
      lay(look, toTravel, now);
      bytes.fill(255, best, best + 2 * count);
      for (const other of others) {
        lay(other, toTravel, turned);
        for (let p = 0; p < 3; p++)
          wasm.slackBounds(turned + p * count, width, height, slackAt, least + p * count, most + p * count, spare);
        for (const { at } of tables[Number(other.later)]!)
          wasm.fitDepth(now, least, most, width, height, at, MOST_OFF, best, sums, spare);
      }
      wasm.misfit(best, width, height, OFF.noise, OFF.times, BLIND, laid);
      turn(laid, transpose(toTravel), turned, 1);
      return bytes.slice(turned, turned + count);
    },
  };
}
