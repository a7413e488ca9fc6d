/** First cuts of everything: a Sketch of each chosen footage as a take of its own, as one job. */
import { Sparkles } from 'lucide-react';
import { useState } from 'react';
import { useRevalidator } from 'react-router';
import { Dialog } from 'radix-ui';
import { toast } from 'sonner';
import { ASPECTS } from '@glimbo/core/lens/format';
import { SKETCH_LIMITS, USUAL_SKETCH } from '@glimbo/core/sketch/sketch';
import type { LibraryFootage } from '~/model/footage';
import { CheckList } from '~/ui/CheckList';
import { NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import { sendJson } from '~/ui/send';
import { SketchDials } from '~/ui/SketchDials';

export function FirstCuts({ footage }: { footage: readonly LibraryFootage[] }) {
  const [open, setOpen] = useState(false);
  const ready = footage.filter((f) => !f.deleted && f.reach >= f.duration - 0.5);
  if (ready.length === 0) return null;
  return (
    <>
      <button className="button" onClick={() => setOpen(true)} title="A path proposed for each footage, as takes">
        <Sparkles size={14} /> First cuts
      </button>
      {open && <Order ready={ready} onClose={() => setOpen(false)} />}
    </>
  );
}

const LONGEST_USUAL = 30;

function Order({ ready, onClose }: { ready: readonly LibraryFootage[]; onClose: () => void }) {
  const { revalidate } = useRevalidator();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set(ready.map((f) => f.id)));
  const [dials, setDials] = useState(USUAL_SKETCH);
  const [aspect, setAspect] = useState('16:9');
  const [length, setLength] = useState<number | undefined>(LONGEST_USUAL);
  const begin = async () => {
    const { problem } = await sendJson('/first-cuts', { footage: [...chosen], aspect, ...dials, length });
    if (problem) return void toast.error(problem);
    await revalidate();
    onClose();
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          className="menu fixed top-20 left-1/2 w-[520px] max-w-[92vw] -translate-x-1/2 p-4!"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-1 font-semibold">First cuts of everything</Dialog.Title>
          <p className="mb-2 text-muted">
            For each chosen footage a path is proposed from what moves, whom you follow and your marks, and kept as a
            take of its own. Your takes stay as they are.
          </p>
          <SketchDials dials={dials} onChange={(change) => setDials({ ...dials, ...change })} />
          <div className="my-1 flex items-center gap-3">
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={length !== undefined}
                onChange={(e) => setLength(e.target.checked ? LONGEST_USUAL : undefined)}
              />
              At most
            </label>
            {length !== undefined && (
              <NumberField
                label="Seconds at most"
                value={length}
                min={SKETCH_LIMITS.length.least}
                max={SKETCH_LIMITS.length.most}
                unit=" s"
                onCommit={setLength}
              />
            )}
            <span className="flex-1" />
            <Select label="Format" value={aspect} options={ASPECTS.map((a) => [a, a] as const)} onChange={setAspect} />
          </div>
          <CheckList
            label="Footage"
            items={ready.map(({ id, name, duration }) => ({
              id,
              name,
              about: <span className="figure text-muted">{duration.toFixed(0)} s</span>,
            }))}
            chosen={chosen}
            onChoose={setChosen}
          />
          <div className="mt-3 flex justify-end gap-2">
            <button className="button" onClick={onClose}>
              Leave
            </button>
            <button className="button main" disabled={!chosen.size} onClick={() => void begin()}>
              Make {chosen.size} {chosen.size === 1 ? 'take' : 'takes'}
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
