/** Writing the lanes of a footage's sound as it comes in: loudness, and onset strength. */
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beatsOf, tempoOf, type BeatsFile } from '@glimbo/core/sound/beats';
import { HEARD_RATE, ONSET_RATE, OnsetMeter } from '@glimbo/core/sound/onsets';

/** Loudness in dB below full scale that is shown as nothing. */
const QUIETEST = -54;

/** What a sound's lanes are made of: loudness by frame, and onset strength. */
export interface HeardSound {
  loudness: Uint8Array;
  onsets: Uint8Array;
}

/**
 * Takes mono 16-bit samples, HEARD_RATE a second, and gives one byte a frame of loudness (root mean square) from QUIETEST (0) to
 * 0 dB (255), and the onset strength in which beats are found.
 */
export class SoundWriter {
  private readonly loudness: number[];
  private readonly meter: OnsetMeter;
  private sum = 0;
  private count = 0;
  private odd: number | null = null;

  /** `goOn`: what was heard before, where it is gone on. */
  constructor(
    private readonly rate: number,
    goOn?: HeardSound,
  ) {
    this.loudness = [...(goOn?.loudness ?? [])];
    this.meter = new OnsetMeter(goOn?.onsets);
  }

  take(chunk: Uint8Array) {
    let i = 0;
    if (this.odd !== null && chunk.length) {
      this.sample(this.odd | (chunk[0]! << 8));
      this.odd = null;
      i = 1;
    }
    for (; i + 1 < chunk.length; i += 2) this.sample(chunk[i]! | (chunk[i + 1]! << 8));
    if (i < chunk.length) this.odd = chunk[i]!;
  }

  private sample(unsigned: number) {
    const v = (unsigned > 32767 ? unsigned - 65536 : unsigned) / 32768;
    this.meter.hear(v);
    this.sum += v * v;
    this.count++;
    if (this.count >= HEARD_RATE / this.rate) {
      const decibels = 10 * Math.log10(this.sum / this.count + 1e-12);
      this.loudness.push(Math.round(255 * Math.max(0, Math.min(1, 1 - decibels / QUIETEST))));
      this.count -= HEARD_RATE / this.rate;
      this.sum = 0;
    }
  }

  /** What was heard during so many frames; silence where nothing came. */
  finish(frames: number): HeardSound {
    const values = Math.round((frames / this.rate) * ONSET_RATE);
    return {
      loudness: Uint8Array.from({ length: frames }, (_, n) => this.loudness[n] ?? 0),
      onsets: Uint8Array.from({ length: values }, (_, n) => this.meter.onsets[n] ?? 0),
    };
  }
}

/** Writes `sound.u8` and `beats.json` into a folder. */
export async function writeSound(folder: string, { loudness, onsets }: HeardSound) {
  await writeFile(join(folder, 'sound.u8'), loudness);
  const beats = beatsOf(onsets);
  const file: BeatsFile = { format: 'glimbo-beats', version: 1, tempo: tempoOf(beats), beats };
  await writeFile(join(folder, 'beats.json'), JSON.stringify(file));
}
