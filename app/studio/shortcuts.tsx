/** The Studio's keys, and the sheet that shows them. */
import { useCallback, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { Dialog } from 'radix-ui';
import { Command } from 'cmdk';
import { tinykeys } from 'tinykeys';
import { copyViewKey, neighbours, removeKeys, setViewKey } from '@glimbo/core/path/edit';
import { sameTime, selectedTimes, viewKeySelection } from '@glimbo/core/path/keys';
import { nudgeTilt } from '@glimbo/core/lens/aim';
import { LENS_PRESETS } from '@glimbo/core/lens/presets';
import { setIn, setOut } from '@glimbo/core/take/range';
import { nextMiddle } from '@glimbo/core/level/level';
import { nextJolt } from './level/useTurning';
import { centrePointed } from './level/orient';
import { takeOfRange, toggleMark, toggleRange } from './state/marks';
import { usePlayer } from './transport/player-context';
import { heldByPointer } from './pointer-focus';
import type { View } from '@glimbo/core/lens/view';
import { CHANNELS } from '@glimbo/core/path/path';
import { useStudioStore, type StudioStore } from './state/store';

interface ShortCut {
  keys: string;
  shown: string;
  about: string;
  run: () => void;
}

/** Keys that move a slider that has the focus. */
const SLIDES = /^(Arrow|Home|End|Page)/;

/** Whether a key belongs to what has the focus: text that is typed, a dialog or menu, a slider's own keys. */
const typing = (e: KeyboardEvent) => {
  const { target } = e;
  if (!(target instanceof Element)) return false;
  if (target.closest('[role="slider"]')) return SLIDES.test(e.key);
  if (target.closest('input[type="checkbox"], input[type="radio"]')) return e.key === ' ';
  const own = target.closest('input, select, textarea, [role="dialog"], [role="menu"], [role="listbox"]') !== null;
  return own || (target as HTMLElement).isContentEditable;
};

/** Sets a keyframe of the view at the playhead. */
export const keyHere = (store: StudioStore) => {
  const { time, edit, selectView, glance, dial } = store.getState();
  // A glance is taken over by the keyframe.
  if (glance) dial({});
  edit((t) => ({ ...t, path: setViewKey(t.path, time) }));
  selectView(time);
};

/** Removes the selected keyframes, or those at the playhead. */
export const removeHere = (store: StudioStore) => {
  const { selection, time, edit, take, deselect } = store.getState();
  const chosen = selection.size ? selection : viewKeySelection(take().path, time);
  edit((t) => ({ ...t, path: removeKeys(t.path, chosen) }));
  deselect();
};

function list(store: StudioStore, player: ReturnType<typeof usePlayer>, open: (takeId: string) => void): ShortCut[] {
  const s = store.getState;
  const step = (seconds: number) => s().setTime(s().time + seconds);
  const { rate } = s().footage.facts;
  const nudge = (channel: 'pan' | 'tilt' | 'roll', by: number) =>
    s().dial(
      { [channel]: channel === 'tilt' ? nudgeTilt(s().view().tilt, by) : s().view()[channel] + by },
      `nudge-${channel}`,
    );
  const toKey = (which: 'previous' | 'next') => {
    const t = neighbours(s().take().path, s().time)[which];
    if (t === undefined) return;
    s().setTime(t);
    s().selectView(t);
  };
  const range = (which: 'in' | 'out') =>
    s().edit((t) => {
      const { facts } = s().footage;
      const range =
        which === 'in'
          ? setIn(t.range, s().time, facts, 'yield')
          : setOut(t.range, s().time + 1 / rate, facts, 'yield');
      return { ...t, range };
    });
  return [
    { keys: 'Space', shown: 'Space', about: 'Play, pause', run: () => player.toggle() },
    { keys: 'j', shown: 'J', about: 'Play backwards, faster with each press', run: () => player.shuttle(-1) },
    { keys: 'k', shown: 'K', about: 'Stop', run: () => player.pause() },
    { keys: 'l', shown: 'L', about: 'Play, faster with each press', run: () => player.shuttle(1) },
    { keys: 'ArrowLeft', shown: '←', about: 'One frame back', run: () => step(-1 / rate) },
    { keys: 'ArrowRight', shown: '→', about: 'One frame on', run: () => step(1 / rate) },
    { keys: 'Shift+ArrowLeft', shown: 'Shift ←', about: 'One second back', run: () => step(-1) },
    { keys: 'Shift+ArrowRight', shown: 'Shift →', about: 'One second on', run: () => step(1) },
    { keys: 'ArrowUp', shown: '↑', about: 'Previous keyframe', run: () => toKey('previous') },
    { keys: 'ArrowDown', shown: '↓', about: 'Next keyframe', run: () => toKey('next') },
    { keys: '+', shown: '+', about: 'Show less time, closer', run: () => s().zoomTime(0.5) },
    { keys: '-', shown: '−', about: 'Show more time', run: () => s().zoomTime(2) },
    { keys: 'i', shown: 'I', about: 'In point here', run: () => range('in') },
    { keys: 'o', shown: 'O', about: 'Out point after this frame', run: () => range('out') },
    { keys: 'm', shown: 'M', about: 'Mark here, or take it away', run: () => toggleMark(store) },
    { keys: 'r', shown: 'R', about: 'Begin a range, end it', run: () => toggleRange(store) },
    { keys: 't', shown: 'T', about: 'Make a take of the range here', run: () => void takeOfRange(store, open) },
    { keys: 'g', shown: 'G', about: 'Look all round', run: () => s().lookAllRound(!s().lookRound) },
    {
      keys: 'v',
      shown: 'V',
      about: 'Sweep or activity',
      run: () => s().readSweepAs(s().sweepReading === 'sweep' ? 'activity' : 'sweep'),
    },
    { keys: 'f', shown: 'F', about: 'The Frame alone, large', run: () => s().enlarge(!s().large) },
    { keys: 'n', shown: 'N', about: 'Next jolt', run: () => void nextJolt(store) },
    {
      keys: 'h',
      shown: 'H',
      about: 'To the middle of the longest unlevelled stretch',
      run: () => s().setTime(nextMiddle(s().take().level?.keys ?? [], s().take().range)),
    },
    { keys: 'x', shown: 'X', about: 'What is under the pointer is ahead', run: () => centrePointed(store) },
    {
      keys: 'Escape',
      shown: 'Esc',
      about: 'Back from the large Frame, or from a glance to the path',
      run: () => (s().large ? s().enlarge(false) : (s().glanceAt(null), s().lookAllRound(false))),
    },
    { keys: 'Enter', shown: 'Enter', about: 'Set a keyframe', run: () => keyHere(store) },
    { keys: 'Delete', shown: 'Delete', about: 'Remove the keyframe', run: () => removeHere(store) },
    { keys: 'Backspace', shown: '⌫', about: 'Remove the keyframe', run: () => removeHere(store) },
    { keys: '$mod+z', shown: 'Ctrl Z', about: 'Undo', run: () => s().undo() },
    { keys: '$mod+Shift+z', shown: 'Ctrl Shift Z', about: 'Redo', run: () => s().redo() },
    { keys: '$mod+c', shown: 'Ctrl C', about: 'Copy the view', run: () => copyView(store) },
    { keys: '$mod+v', shown: 'Ctrl V', about: 'Paste the view here', run: () => pasteView(store) },
    { keys: '$mod+d', shown: 'Ctrl D', about: 'Duplicate the selected keyframe here', run: () => duplicateHere(store) },
    { keys: 'a', shown: 'A', about: 'Pan left 1°', run: () => nudge('pan', -1) },
    { keys: 'd', shown: 'D', about: 'Pan right 1°', run: () => nudge('pan', 1) },
    { keys: 'w', shown: 'W', about: 'Tilt up 1°', run: () => nudge('tilt', 1) },
    { keys: 's', shown: 'S', about: 'Tilt down 1°', run: () => nudge('tilt', -1) },
    { keys: 'q', shown: 'Q', about: 'Roll anticlockwise 1°', run: () => nudge('roll', -1) },
    { keys: 'e', shown: 'E', about: 'Roll clockwise 1°', run: () => nudge('roll', 1) },
  ];
}

const CLIPBOARD = 'glimbo-view';

/** A view from the browser's storage; null when there is none that can be used. */
function readView(text: string | null): Partial<View> | null {
  try {
    const plain = JSON.parse(text ?? 'null') as Record<string, unknown> | null;
    const known = CHANNELS.filter((name) => typeof plain?.[name] === 'number' && Number.isFinite(plain[name]));
    return known.length ? Object.fromEntries(known.map((name) => [name, plain![name]])) : null;
  } catch {
    return null;
  }
}

function copyView(store: StudioStore) {
  localStorage.setItem(CLIPBOARD, JSON.stringify(store.getState().view()));
}
function pasteView(store: StudioStore) {
  const view = readView(localStorage.getItem(CLIPBOARD));
  if (view) store.getState().dial(view);
}
/** Copies the selected keyframe to the playhead; of several, the first. */
export function duplicateHere(store: StudioStore) {
  const { selection, time, edit, take, selectView } = store.getState();
  const [from] = selectedTimes(take().path, selection);
  if (from === undefined || sameTime(from, time)) return;
  edit((t) => ({ ...t, path: copyViewKey(t.path, from, time) }));
  selectView(time);
}

export function Shortcuts() {
  const store = useStudioStore();
  const player = usePlayer();
  const [sheet, setSheet] = useState<'keys' | 'commands' | null>(null);
  const navigate = useNavigate();
  const open = useCallback((id: string) => void navigate(`/studio/${id}`), [navigate]);
  const keys = list(store, player, open);
  useEffect(() => {
    const handler = (run: () => void) => (e: KeyboardEvent) => {
      const plain = !(e.ctrlKey || e.metaKey);
      // Copying text that is selected, and pressing a focused button, stay what they are everywhere.
      if (typing(e) || (!plain && e.key === 'c' && String(getSelection()) !== '')) return;
      const press = e.key === 'Enter' || e.key === ' ';
      if (press && !heldByPointer(e.target) && (e.target as HTMLElement).closest('button, a')) return;
      e.preventDefault();
      run();
    };
    return tinykeys(window, {
      ...Object.fromEntries(list(store, player, open).map((k) => [k.keys, handler(k.run)])),
      'Shift+?': handler(() => setSheet('keys')),
      '$mod+k': (e) => (e.preventDefault(), setSheet('commands')),
    });
  }, [store, player, open]);

  // B shows the picture as it was filmed for as long as it is held.
  useEffect(() => {
    const hold = (held: boolean) => (e: KeyboardEvent) => {
      if (e.key.toLowerCase() !== 'b' || e.repeat || e.ctrlKey || e.metaKey || (held && typing(e))) return;
      store.getState().showAsFilmed(held);
    };
    const [down, up] = [hold(true), hold(false)];
    const letGo = () => store.getState().showAsFilmed(false);
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', letGo);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', letGo);
    };
  }, [store]);

  const commands = [
    ...keys.filter((k) => k.keys !== 'Backspace').map((k) => ({ name: k.about, hint: k.shown, run: k.run })),
    ...LENS_PRESETS.map((p) => ({
      name: `Lens: ${p.name}`,
      hint: '',
      run: () => store.getState().usePreset(p),
    })),
  ];
  return (
    <Dialog.Root open={sheet !== null} onOpenChange={(open) => !open && setSheet(null)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          className="menu fixed top-20 left-1/2 w-[560px] max-w-[92vw] -translate-x-1/2 p-4!"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-3 font-semibold">{sheet === 'keys' ? 'Keys' : 'Commands'}</Dialog.Title>
          {sheet === 'keys' ? (
            <dl className="grid grid-cols-2 gap-x-6 gap-y-1">
              {[
                ...keys,
                { keys: 'b', shown: 'B held', about: 'As it was filmed' },
                { keys: 'c', shown: 'Ctrl K', about: 'Commands by name' },
              ].map((k) => (
                <div key={k.keys} className="flex justify-between gap-3 border-b border-rule py-0.5">
                  <dt>{k.about}</dt>
                  <dd className="figure text-muted">{k.shown}</dd>
                </div>
              ))}
            </dl>
          ) : (
            <Command label="Commands">
              <Command.Input className="field w-full" placeholder="What do you want to do?" />
              <Command.List className="mt-2 max-h-80 overflow-auto">
                <Command.Empty className="p-2 text-muted">No command has that name.</Command.Empty>
                {commands.map((c) => (
                  <Command.Item
                    key={c.name}
                    className="flex h-7 items-center justify-between px-2 data-[selected=true]:bg-ink data-[selected=true]:text-paper"
                    onSelect={() => {
                      setSheet(null);
                      c.run();
                    }}
                  >
                    {c.name} <span className="figure opacity-75">{c.hint}</span>
                  </Command.Item>
                ))}
              </Command.List>
            </Command>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
