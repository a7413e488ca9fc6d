/** What is set in the Settings screen. */
import { PROXY_WIDTHS } from '@glimbo/media/gather';
import { db } from './database';

export interface Settings {
  /** Largest width of proxies in pixels. */
  proxyWidth: number;
  /** Whether the motion of new footage is analysed by itself, when nothing else waits. */
  analyseNew: boolean;
  /** Whether subjects are found in it, too. */
  findNew: boolean;
}

const DEFAULTS: Settings = { proxyWidth: 1920, analyseNew: true, findNew: true };
const NAMES = Object.keys(DEFAULTS) as (keyof Settings)[];

export async function readSettings(): Promise<Settings> {
  const rows = await db<{ name: string; value: string }>('settings').whereIn('name', NAMES);
  return { ...DEFAULTS, ...Object.fromEntries(rows.map((r) => [r.name, JSON.parse(r.value) as unknown])) };
}

/** Changes settings; values out of their range are left out. */
export async function changeSettings({ proxyWidth, analyseNew, findNew }: Partial<Settings>) {
  const change: Partial<Settings> = {};
  if (proxyWidth !== undefined && (PROXY_WIDTHS as readonly number[]).includes(proxyWidth))
    change.proxyWidth = proxyWidth;
  if (typeof analyseNew === 'boolean') change.analyseNew = analyseNew;
  if (typeof findNew === 'boolean') change.findNew = findNew;
  for (const [name, value] of Object.entries(change))
    await db('settings')
      .insert({ name, value: JSON.stringify(value) })
      .onConflict('name')
      .merge();
}
