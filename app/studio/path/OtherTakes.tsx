/** Putting keyframes, or settings, of this take onto other takes that are chosen in a list. */
import { useEffect, useState } from 'react';
import { useParams } from 'react-router';
import { Dialog } from 'radix-ui';
import { toast } from 'sonner';
import { clippingOf } from '@glimbo/core/path/clipping';
import { allKeys, selectedTimes } from '@glimbo/core/path/keys';
import { curvesOf } from '@glimbo/core/take/curves';
import { SETTINGS, type Setting } from '@glimbo/core/take/paste';
import type { TakeChoice } from '~/model/take';
import { sendJson } from '~/ui/send';
import { useStudioStore } from '../state/store';

const NAMES: Record<Setting, string> = {
  level: 'Level',
  steady: 'Steadying',
  orientation: 'Orientation',
  pace: 'Pace',
  look: 'Look',
  formats: 'Formats',
  lookouts: 'Lookouts',
};

/** `only`: the setting that is copied, without any keyframes, until somebody ticks more. */
export function OtherTakes({ only, onClose }: { only?: Setting; onClose: () => void }) {
  const store = useStudioStore();
  const { takeId } = useParams();
  const [takes, setTakes] = useState<TakeChoice[]>([]);
  const [project, setProject] = useState<string | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [keys, setKeys] = useState(!only);
  const [settings, setSettings] = useState<ReadonlySet<Setting>>(new Set(only ? [only] : []));
  useEffect(() => {
    void fetch('/takes')
      .then((r) => r.json() as Promise<{ takes: TakeChoice[] }>)
      .then((found) => {
        setTakes(found.takes.filter((t) => t.id !== takeId));
        setProject(found.takes.find((t) => t.id === takeId)?.projectName ?? null);
      })
      .catch(() => toast.error('The takes could not be listed: the server did not answer. Try again.'));
  }, [takeId]);
  const { take, selection } = store.getState();
  const { range } = take();
  const path = curvesOf(take());
  const several = selectedTimes(path, selection);
  const inProject = takes.filter((t) => t.projectName === project);
  const paste = async () => {
    const from = several.length ? selection : allKeys(path);
    const [first = range.in] = selectedTimes(path, from);
    const { pasted, problem } = await sendJson<{ pasted: number }>('/takes', {
      takes: [...chosen],
      ...(keys ? { keys: clippingOf(path, from) ?? undefined, after: Math.max(0, first - range.in) } : {}),
      ...(settings.size ? { from: takeId, settings: [...settings] } : {}),
    });
    if (problem) return void toast.error(problem);
    toast(`Pasted onto ${pasted} ${pasted === 1 ? 'take' : 'takes'}. Undo in each takes it back.`);
    onClose();
  };
  const toggle = <T,>(set: ReadonlySet<T>, item: T): ReadonlySet<T> =>
    set.has(item) ? new Set([...set].filter((i) => i !== item)) : new Set([...set, item]);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          className="menu fixed top-20 left-1/2 w-[560px] max-w-[92vw] -translate-x-1/2 p-4!"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-2 font-semibold">Paste onto other takes</Dialog.Title>
          <div className="flex flex-wrap gap-x-4 gap-y-1">
            <label className="flex items-center gap-1.5">
              <input type="checkbox" checked={keys} onChange={(e) => setKeys(e.target.checked)} />
              {several.length ? `${several.length} selected keyframes` : 'All keyframes'}
            </label>
            {SETTINGS.map((s) => (
              <label key={s} className="flex items-center gap-1.5">
                <input type="checkbox" checked={settings.has(s)} onChange={() => setSettings(toggle(settings, s))} />
                {NAMES[s]}
              </label>
            ))}
          </div>
          <p className="mt-1 text-muted">Keyframes come as long after each take's in point as here.</p>
          <div className="mt-2 max-h-72 overflow-auto border border-rule" role="group" aria-label="Takes">
            <label className="flex items-center gap-2 border-b border-rule px-2 py-1">
              <input
                type="checkbox"
                checked={takes.length > 0 && chosen.size === takes.length}
                onChange={(e) => setChosen(new Set(e.target.checked ? takes.map((t) => t.id) : []))}
              />
              All {takes.length}
            </label>
            {inProject.length > 0 && inProject.length < takes.length && (
              <label className="flex items-center gap-2 border-b border-rule px-2 py-1">
                <input
                  type="checkbox"
                  checked={inProject.every((t) => chosen.has(t.id))}
                  onChange={(e) => setChosen(new Set(e.target.checked ? inProject.map((t) => t.id) : []))}
                />
                All {inProject.length} of {project}
              </label>
            )}
            {takes.map((t) => (
              <label key={t.id} className="flex items-center gap-2 px-2 py-1">
                <input type="checkbox" checked={chosen.has(t.id)} onChange={() => setChosen(toggle(chosen, t.id))} />
                <span className="min-w-0 flex-1 truncate">{t.name}</span>
                <span className="truncate text-muted">{t.footageName}</span>
              </label>
            ))}
          </div>
          <div className="mt-3 flex justify-end gap-2">
            <button className="button" onClick={onClose}>
              Leave
            </button>
            <button
              className="button main"
              disabled={!chosen.size || (!keys && !settings.size)}
              onClick={() => void paste()}
            >
              Paste onto {chosen.size}
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
