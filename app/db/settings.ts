/** What is set in the Settings screen. */
import { PROXY_WIDTHS } from '@glimbo/media/gather';
import { db } from './database';

export interface Settings {
  /** Largest width of proxies in pixels. */
  proxyWidth: number;
}

const DEFAULTS: Settings = { proxyWidth: 1920 };

export async function readSettings(): Promise<Settings> {
  const rows = await db<{ name: string; value: string }>('settings');
  return { ...DEFAULTS, ...Object.fromEntries(rows.map((r) => [r.name, JSON.parse(r.value) as unknown])) };
}

export async function changeSettings(change: Partial<Settings>) {
  if (change.proxyWidth !== undefined && !(PROXY_WIDTHS as readonly number[]).includes(change.proxyWidth)) return;
  for (const [name, value] of Object.entries(change))
    await db('settings')
      .insert({ name, value: JSON.stringify(value) })
      .onConflict('name')
      .merge();
}
