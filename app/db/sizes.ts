/** What was learned about the size of clips from those that were made. */
import type { ClipSettings } from '@glimbo/core/export/settings';
import { learnedRatio, ratioKey, type SizeRatios } from '@glimbo/core/export/estimate';
import { db } from './database';

const NAME = 'sizes';

export async function sizeRatios(): Promise<SizeRatios> {
  const row = await db<{ name: string; value: string }>('settings').where({ name: NAME }).first();
  return row ? (JSON.parse(row.value) as SizeRatios) : {};
}

export async function learnSize(settings: ClipSettings, clip: { seconds: number; bytes: number; estimate: number }) {
  // Of a moment too short nothing can be learned: its first picture is most of it.
  if (clip.seconds < 0.5) return;
  const key = ratioKey(settings);
  const before = await sizeRatios();
  const value = JSON.stringify({ ...before, [key]: learnedRatio(before[key], clip.bytes, clip.estimate) });
  await db('settings').insert({ name: NAME, value }).onConflict('name').merge();
}
