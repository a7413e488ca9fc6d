/** Putting keyframes, or settings, of this take onto other takes that are chosen in a list. */
import { useEffect, useState } from 'react';
import { useParams } from 'react-router';
import { Dialog } from 'radix-ui';
import { toast } from 'sonner';
import { clippingOf } from '@glimbo/core/path/clipping';
import { allKeys, selectedTimes } from '@glimbo/core/path/keys';
import { curvesOf } from '@glimbo/core/edit/curves';
import { SETTINGS, type Setting } from '@glimbo/core/edit/paste';
import type { TakeChoice } from '~/model/take';
import { CheckList, toggled } from '~/ui/CheckList';
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
  const [listed, setListed] = useState<TakeChoice[] | null>(null);
  const takes = listed ?? [];
  const [project, setProject] = useState<string | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [keys, setKeys] = useState(!only);
  const [settings, setSettings] = useState<ReadonlySet<Setting>>(new Set(only ? [only] : []));
  useEffect(() => {
    void fetch('/takes')
      .then((r) => r.json() as Promise<{ takes: TakeChoice[] }>)
      .then((found) => {
        setListed(found.takes.filter((t) => t.id !== takeId));
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
                <input type="checkbox" checked={settings.has(s)} onChange={() => setSettings(toggled(settings, s))} />
                {NAMES[s]}
              </label>
            ))}
          </div>
          <p className="mt-1 text-muted">Keyframes come as long after each take's in point as here.</p>
          {takes.length > 0 ? (
            <CheckList
              label="Takes"
              items={takes.map(({ id, name, footageName }) => ({
                id,
                name,
                about: <span className="truncate text-muted">{footageName}</span>,
              }))}
              group={
                inProject.length > 0 && inProject.length < takes.length
                  ? { name: `All ${inProject.length} of ${project}`, ids: inProject.map((t) => t.id) }
                  : null
              }
              chosen={chosen}
              onChoose={setChosen}
            />
          ) : (
            <p className="mt-2 text-muted">
              {listed ? 'There is no other take to paste onto.' : 'The takes are not listed yet.'}
            </p>
          )}
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
