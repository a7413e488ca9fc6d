/** A path as comma-separated values: a row for each keyframe of a channel (docs/formats/path-csv.md). */
import { csvFormatRows, csvParseRows } from 'd3-dsv';
import { DocumentError } from '../boundary/document-error.js';
import { easeOf, type Keyframe } from '../curve/channel.js';
import type { Ease } from '../curve/ease.js';
import { CHANNELS, emptyPath, keysOf, type ChannelName, type Path } from './path.js';
import { channelProblem } from './limits.js';

const HEAD = ['time', 'channel', 'value', 'ease', 'turn'];
const easeText = (ease: Ease) => (typeof ease === 'string' ? ease : ease.join(' '));

/** The keyframes of a path, and its fixed values as rows without a time. */
export function pathToCsv(path: Path): string {
  const rows = CHANNELS.flatMap((name) => {
    const channel = path[name];
    if (typeof channel === 'number') return [['', name, String(channel), '', '']];
    return channel.map((k) => [String(k.time), name, String(k.value), easeText(easeOf(k)), k.turn ?? '']);
  });
  return `${csvFormatRows([HEAD, ...rows])}\n`;
}

function easeFrom(text: string): Ease | undefined {
  if (text === '') return undefined;
  const parts = text.split(/\s+/).map(Number);
  return (parts.length === 4 && parts.every(Number.isFinite) ? parts : text) as Ease;
}

/** A path from comma-separated values; rows may come in any order. Throws DocumentError with the row that cannot be read. */
export function pathFromCsv(text: string): Path {
  const [head, ...rows] = csvParseRows(text.trim());
  const columns = (head ?? []).map((h) => h.trim().toLowerCase());
  const at = (name: string) => columns.indexOf(name);
  if (at('time') < 0 || at('channel') < 0 || at('value') < 0)
    throw new DocumentError(`its first row must be ${HEAD.join(',')}`);
  const path = emptyPath();
  const found = new Map<ChannelName, Keyframe[]>();
  rows.forEach((row, i) => {
    const cell = (name: string) => row[at(name)]?.trim() ?? '';
    const name = CHANNELS.find((c) => c === cell('channel'));
    const [time, value] = [Number(cell('time')), Number(cell('value'))];
    if (!name || cell('value') === '' || !Number.isFinite(value) || !Number.isFinite(time))
      throw new DocumentError(`row ${i + 2} has no channel, time and value that can be read`);
    if (cell('time') === '') return void (path[name] = value);
    const ease = easeFrom(cell('ease'));
    const turn = cell('turn') ? { turn: cell('turn') as Keyframe['turn'] } : {};
    found.set(name, [...(found.get(name) ?? []), { time, value, ...(ease ? { ease } : {}), ...turn }]);
  });
  for (const [name, keys] of found) path[name] = keys.sort((a, b) => a.time - b.time);
  for (const name of CHANNELS) {
    const problem = channelProblem(name)(path[name]);
    if (problem) throw new DocumentError(`${name}: ${problem}`);
  }
  if (!CHANNELS.some((name) => keysOf(path, name).length || typeof path[name] === 'number'))
    throw new DocumentError('there are no keyframes in it');
  return path;
}
