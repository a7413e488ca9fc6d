/** The Studio's keys, the sheet that shows and changes them, and commands by name. */
import { useCallback, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { Dialog } from 'radix-ui';
import { Command as Palette } from 'cmdk';
import { toast } from 'sonner';
import { tinykeys } from 'tinykeys';
import { useStore } from 'zustand';
import { heldByPointer } from '../state/pointer-focus';
import { useStudioStore } from '../state/store';
import { usePlayer } from '../player/player-context';
import { commandsOf, type Command } from './commands';
import { chooseKey, keyChoice, keyOf, pressedKey, shownKey, usualKeys } from './key-choice';
import { useHeldKeys } from './useHeldKeys';

/** Keys that move a slider that has the focus. */
const SLIDES = /^(Arrow|Home|End|Page)/;

/** Whether a key belongs to what has the focus: text that is typed, a dialog or menu, a slider's own keys. */
export const typing = (e: KeyboardEvent) => {
  const { target } = e;
  if (!(target instanceof Element)) return false;
  if (target.closest('[role="slider"]')) return SLIDES.test(e.key);
  if (target.closest('input[type="checkbox"], input[type="radio"]')) return e.key === ' ';
  const own = target.closest('input, select, textarea, [role="dialog"], [role="menu"], [role="listbox"]') !== null;
  return own || (target as HTMLElement).isContentEditable;
};

/** Runs something by key, unless the key belongs to what has the focus. */
const handler = (run: () => void) => (e: KeyboardEvent) => {
  const plain = !(e.ctrlKey || e.metaKey);
  // Copying text that is selected, and pressing a focused button, stay what they are everywhere.
  if (typing(e) || (!plain && e.key === 'c' && String(getSelection()) !== '')) return;
  const press = e.key === 'Enter' || e.key === ' ';
  if (press && !heldByPointer(e.target) && (e.target as HTMLElement).closest('button, a')) return;
  e.preventDefault();
  run();
};

export function Shortcuts() {
  const store = useStudioStore();
  const player = usePlayer();
  const [sheet, setSheet] = useState<'keys' | 'commands' | null>(null);
  const navigate = useNavigate();
  const open = useCallback((id: string) => void navigate(`/studio/${id}`), [navigate]);
  const { chosen } = useStore(keyChoice);
  useHeldKeys(typing);
  useEffect(() => {
    const commands = commandsOf(store, player, open);
    const keyed = commands.flatMap((c) => {
      const key = keyOf(c, chosen);
      return key ? [[key, handler(c.run)] as const] : [];
    });
    const remove = commands.find((c) => c.id === 'remove-key')!;
    return tinykeys(window, {
      Backspace: handler(remove.run),
      ...Object.fromEntries(keyed),
      'Shift+?': handler(() => setSheet('keys')),
      '$mod+k': (e) => (e.preventDefault(), setSheet('commands')),
    });
  }, [store, player, open, chosen]);

  return (
    <Dialog.Root open={sheet !== null} onOpenChange={(open) => !open && setSheet(null)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          className="menu fixed top-16 left-1/2 w-[640px] max-w-[92vw] -translate-x-1/2 p-4!"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-3 font-semibold">{sheet === 'keys' ? 'Keys' : 'Commands'}</Dialog.Title>
          {sheet === 'keys' ? (
            <Keys commands={commandsOf(store, player, open)} />
          ) : (
            <Commands commands={commandsOf(store, player, open)} onDone={() => setSheet(null)} />
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** All keys by group. A key is changed by pressing it and then the new one. */
function Keys({ commands }: { commands: Command[] }) {
  const { chosen } = useStore(keyChoice);
  const [asked, setAsked] = useState<Command | null>(null);
  const take = (e: React.KeyboardEvent, command: Command) => {
    if (e.key === 'Tab') return;
    e.preventDefault();
    e.stopPropagation();
    if (e.key === 'Escape' && command.id !== 'escape') return setAsked(null);
    const key = pressedKey(e.nativeEvent);
    if (!key) return;
    setAsked(null);
    const before = chooseKey(commands, command, key);
    if (before) toast(`${shownKey(key)} was the key of “${before.name}”, which has none now.`);
  };
  const groups = [...new Set(commands.filter((c) => c.key || chosen[c.id]).map((c) => c.group))];
  return (
    <>
      <div className="max-h-[64vh] overflow-auto">
        <div className="columns-2 gap-6">
          {groups.map((group) => (
            <section key={group} className="mb-2 break-inside-avoid" aria-label={group}>
              <h2 className="label">{group}</h2>
              <dl>
                {commands
                  .filter((c) => c.group === group && (c.key || chosen[c.id]))
                  .map((c) => (
                    <div key={c.id} className="flex items-center justify-between gap-3 border-b border-rule">
                      <dt>{c.name}</dt>
                      <dd>
                        <button
                          className="figure h-6 min-w-8 px-1 text-right whitespace-nowrap text-muted hover:text-ink"
                          aria-label={`Key of ${c.name}: ${shownKey(keyOf(c, chosen) ?? 'none')}`}
                          title="Press to choose another key"
                          onClick={() => setAsked(c)}
                          onBlur={() => setAsked(null)}
                          onKeyDown={(e) => asked?.id === c.id && take(e, c)}
                        >
                          {asked?.id === c.id ? 'press a key…' : shownKey(keyOf(c, chosen) ?? '–')}
                        </button>
                      </dd>
                    </div>
                  ))}
              </dl>
            </section>
          ))}
          <p className="break-inside-avoid text-muted">
            <span className="figure">B</span> held shows it as it was filmed. <span className="figure">Ctrl K</span>{' '}
            finds every command by name.
          </p>
        </div>
      </div>
      <div className="mt-3 flex items-center justify-between">
        <p className="text-muted">Press a key here, then the one it is to be.</p>
        <button className="button" onClick={usualKeys} disabled={Object.keys(chosen).length === 0}>
          All as usual
        </button>
      </div>
    </>
  );
}

function Commands({ commands, onDone }: { commands: Command[]; onDone: () => void }) {
  const { chosen } = useStore(keyChoice);
  return (
    <Palette label="Commands">
      <Palette.Input className="field w-full" placeholder="What do you want to do?" />
      <Palette.List className="mt-2 max-h-80 overflow-auto">
        <Palette.Empty className="p-2 text-muted">No command has that name.</Palette.Empty>
        {commands.map((c) => (
          <Palette.Item
            key={c.id}
            className="flex h-7 items-center justify-between px-2 data-[selected=true]:bg-ink data-[selected=true]:text-paper"
            value={c.name}
            onSelect={() => {
              onDone();
              c.run();
            }}
          >
            {c.name} <span className="figure opacity-75">{shownKey(keyOf(c, chosen) ?? '')}</span>
          </Palette.Item>
        ))}
      </Palette.List>
    </Palette>
  );
}
