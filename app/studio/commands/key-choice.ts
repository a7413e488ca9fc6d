/** Which key does what: the usual ones, and what somebody chose instead; kept in the browser. */
import { createStore } from 'zustand';
import type { Command } from './commands';
import { keepHere, keptJson } from '~/ui/kept-here';

const KEPT = 'glimbo-own-keys';

/** Chosen keys by command; an empty one means none. */
type Chosen = Readonly<Record<string, string>>;

function kept(): Chosen {
  const entries = Object.entries(keptJson(KEPT) ?? {}) as [string, unknown][];
  return Object.fromEntries(entries.filter((e): e is [string, string] => typeof e[1] === 'string'));
}

export const keyChoice = createStore<{ chosen: Chosen }>()(() => ({ chosen: kept() }));

function keep(chosen: Chosen) {
  keepHere(KEPT, JSON.stringify(chosen));
  keyChoice.setState({ chosen });
}

/** The key of a command as tinykeys writes it; none when it has none. */
export const keyOf = ({ id, key }: Command, chosen: Chosen): string | undefined => (chosen[id] ?? key) || undefined;

/** Gives a command a key; one that had it before loses it, and is given back. */
export function chooseKey(commands: readonly Command[], command: Command, key: string): Command | undefined {
  const { chosen } = keyChoice.getState();
  const before = commands.find((c) => c.id !== command.id && keyOf(c, chosen) === key);
  keep({ ...chosen, ...(before ? { [before.id]: '' } : {}), [command.id]: key });
  return before;
}

export const usualKeys = () => keep({});

const SIGNS: Record<string, string> = {
  $mod: 'Ctrl',
  ArrowLeft: '←',
  ArrowRight: '→',
  ArrowUp: '↑',
  ArrowDown: '↓',
  Escape: 'Esc',
  '-': '−',
};

/** A key as it is shown. */
export const shownKey = (key: string): string =>
  key === '+'
    ? key
    : key
        .split('+')
        .map((k) => SIGNS[k] ?? (k.length === 1 ? k.toUpperCase() : k))
        .join(' ');

/** Keys that a browser or a field needs for itself. */
const TAKEN = new Set(['Tab', 'F5', 'F11', 'F12', 'Dead', 'Process', 'Unidentified']);

/** What was pressed as a key that a command can have; null for a modifier alone, or a key that belongs to others. */
export function pressedKey(
  e: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
): string | null {
  if (['Control', 'Meta', 'Alt', 'Shift'].includes(e.key) || TAKEN.has(e.key)) return null;
  const key = e.key === ' ' ? 'Space' : e.key.length === 1 ? e.key.toLowerCase() : e.key;
  const letter = /^[a-z]$/.test(key) || e.key.length > 1;
  const held = [e.ctrlKey || e.metaKey ? '$mod' : '', e.altKey ? 'Alt' : '', e.shiftKey && letter ? 'Shift' : ''];
  return [...held.filter(Boolean), key].join('+');
}
