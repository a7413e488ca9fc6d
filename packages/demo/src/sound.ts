/** The demo clips' sound, synthesised: wheels over joints, puffing, birds, a whistle. 48 kHz, 16 bit, stereo. */
import { writeFileSync } from 'node:fs';
import { CLIPS, wagonAt, type ClipName } from './motion.js';
import { seededRandom } from '@glimbo/core/random';
import { JOINT_SPACING } from './track.js';

const SAMPLE_RATE = 48000;

export function writeSound(name: ClipName, file: string) {
  const count = CLIPS[name].duration * SAMPLE_RATE;
  const left = new Float32Array(count);
  const right = new Float32Array(count);
  const random = seededRandom(name.length);
  const add = (at: number, length: number, pan: number, wave: (t: number) => number) => {
    const start = Math.round(at * SAMPLE_RATE);
    for (let i = 0; i < length * SAMPLE_RATE && start + i < count; i++) {
      const v = wave(i / SAMPLE_RATE);
      left[start + i]! += v * (1 - pan);
      right[start + i]! += v * pan;
    }
  };
  const noise = () => random() * 2 - 1;
  let low = 0;
  for (let i = 0; i < count; i++) {
    low = low * 0.985 + noise() * 0.015;
    left[i]! += low * 0.5;
    right[i]! += low * 0.5;
  }
  const ridge = name === 'ridge-loop';
  const loud = ridge ? 1 : 0.35;
  for (let t = 0; t < CLIPS[name].duration; t += 0.14) {
    add(t, 0.1, 0.5, (a) => noise() * Math.exp(-a * 45) * 0.13 * loud);
  }
  if (ridge)
    for (let k = 0; k < wagonAt(CLIPS[name].duration) / JOINT_SPACING; k++) {
      const t = (k * JOINT_SPACING - wagonAt(0)) / 1.42;
      for (const d of [0, 0.11])
        if (t + d > 0) add(t + d, 0.09, 0.5, (a) => Math.sin(a * 900) * Math.exp(-a * 60) * 0.4);
    }
  for (let i = 0; i < 18; i++) {
    const at = random() * CLIPS[name].duration;
    const f = 2600 + random() * 1800;
    add(
      at,
      0.14,
      random(),
      (a) => Math.sin(2 * Math.PI * (f + 900 * Math.sin(a * 60)) * a) * Math.sin((Math.PI * a) / 0.14) * 0.05,
    );
  }
  for (const at of ridge ? [3.2, 9.1] : [1.2, 6.4])
    add(
      at,
      0.9,
      ridge ? 0.7 : 0.3,
      (a) =>
        (Math.sin(2 * Math.PI * 780 * a) + 0.6 * Math.sin(2 * Math.PI * 1040 * a)) *
        Math.min(1, a * 20) *
        Math.min(1, (0.9 - a) * 12) *
        0.12,
    );
  writeFileSync(file, wave(left, right));
}

function wave(left: Float32Array, right: Float32Array): Buffer {
  const data = Buffer.alloc(44 + left.length * 4);
  data.write('RIFF', 0);
  data.writeUInt32LE(36 + left.length * 4, 4);
  data.write('WAVEfmt ', 8);
  data.writeUInt32LE(16, 16);
  data.writeUInt16LE(1, 20);
  data.writeUInt16LE(2, 22);
  data.writeUInt32LE(SAMPLE_RATE, 24);
  data.writeUInt32LE(SAMPLE_RATE * 4, 28);
  data.writeUInt16LE(4, 32);
  data.writeUInt16LE(16, 34);
  data.write('data', 36);
  data.writeUInt32LE(left.length * 4, 40);
  const sample = (v: number) => Math.round(Math.max(-1, Math.min(1, v)) * 32000);
  for (let i = 0; i < left.length; i++) {
    data.writeInt16LE(sample(left[i]!), 44 + i * 4);
    data.writeInt16LE(sample(right[i]!), 46 + i * 4);
  }
  return data;
}
