/** The moods, each as a small live picture of the present frame, with the amount of the one that is on. */
import { Plus, Trash2, Upload, Download } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { gradeAt } from '@glimbo/core/look/channels';
import { MOODS, type Mood } from '@glimbo/core/look/moods';
import { mapOf, NO_CUBES } from '@glimbo/core/look/treatment';
import { withLook } from '@glimbo/core/edit/look';
import type { SmallFrame } from '~/preview/small-frame';
import { lookedAt } from '~/preview/small-look';
import { NumberField } from '~/ui/Dial';
import { chooseFiles } from '~/ui/files';
import { IconButton } from '~/ui/IconButton';
import { forgetItem, keepFile, keepItem, saveAsFile, useKept } from '../state/kept';
import { useStillTime, useStudio, useStudioStore, useTake } from '../state/store';
import { useSmallFrame } from './useSmallFrame';

export function MoodStrip() {
  const store = useStudioStore();
  const frame = useSmallFrame();
  const { look } = useTake();
  const own = useKept('glimbo-mood');
  const on = look?.mood;
  const choose = (mood: Mood) => {
    const amount = on?.amount ?? 100;
    const next = on?.name === mood.name ? undefined : { name: mood.name, grade: mood.grade, amount };
    store.getState().edit((t) => withLook(t, { mood: next }));
  };
  const ownOne = own.find((o) => o.document.name === on?.name);
  return (
    <section className="flex shrink-0 items-stretch gap-2 border-b border-rule px-3 py-1.5" aria-label="Moods">
      <div className="flex min-w-0 flex-1 gap-1.5 overflow-x-auto" role="group" aria-label="Moods">
        {MOODS.map((mood) => (
          <MoodButton key={mood.name} mood={mood} frame={frame} on={on?.name === mood.name} onChoose={choose} />
        ))}
        {own.map(({ id, document }) => (
          <MoodButton key={id} mood={document} frame={frame} on={on?.name === document.name} onChoose={choose} />
        ))}
      </div>
      <div className="flex w-32 shrink-0 flex-col justify-between">
        <label className="flex items-center justify-between gap-1">
          Amount
          <NumberField
            label="Amount of the mood"
            className="h-6! w-16"
            value={on?.amount ?? 100}
            min={0}
            max={100}
            digits={0}
            unit=" %"
            onCommit={(amount) => on && store.getState().edit((t) => withLook(t, { mood: { ...on, amount } }))}
          />
        </label>
        <div className="flex justify-end">
          {ownOne && (
            <>
              <IconButton
                label="Save this mood as a file"
                className="size-6!"
                onClick={() => saveAsFile(ownOne.document)}
              >
                <Download size={13} />
              </IconButton>
              <IconButton
                label="Remove this mood of your own"
                className="size-6!"
                onClick={() => void forgetItem(ownOne)}
              >
                <Trash2 size={13} />
              </IconButton>
            </>
          )}
          <IconButton
            label="Read a mood from a file"
            className="size-6!"
            onClick={() => chooseFiles('.json', keepFile)}
          >
            <Upload size={13} />
          </IconButton>
          <KeepMood count={own.length} />
        </div>
      </div>
    </section>
  );
}

/** Keeps light and colour as they are at the playhead as a mood of one's own. */
function KeepMood({ count }: { count: number }) {
  const store = useStudioStore();
  const graded = useStudio((s) => s.take().look?.grade !== undefined);
  return (
    <IconButton
      label="Keep light and colour as a mood"
      title={graded ? 'Keep light and colour as a mood of your own' : 'Turn a dial of light or colour first'}
      className="size-6!"
      disabled={!graded}
      onClick={() => {
        const { take, time } = store.getState();
        const grade = gradeAt(take().look?.grade ?? {}, time);
        void keepItem({ format: 'glimbo-mood', version: 1, name: `Mood ${count + 1}`, grade });
      }}
    >
      <Plus size={14} />
    </IconButton>
  );
}

interface MoodButtonProps {
  mood: Mood;
  frame: SmallFrame | null;
  on: boolean;
  onChoose: (mood: Mood) => void;
}

function MoodButton({ mood, frame, on, onChoose }: MoodButtonProps) {
  const { look } = useTake();
  const time = useStillTime();
  const own = look?.grade;
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = frame && canvas.current?.getContext('2d');
    if (!context || time === null) return;
    // One after the other, so that nothing waits for all of them.
    const idle = requestAnimationFrame(() => {
      const map = mapOf(
        { grade: gradeAt(own ?? {}, time), mood: { grade: gradeAt(mood.grade, 0), amount: 1 } },
        NO_CUBES,
      );
      const drawn = lookedAt(frame, map, 2);
      Object.assign(canvas.current!, { width: drawn.width, height: drawn.height });
      context.putImageData(drawn, 0, 0);
    });
    return () => cancelAnimationFrame(idle);
  }, [frame, mood, own, time]);
  return (
    <button
      className={`flex w-17 shrink-0 flex-col border ${on ? 'border-ink bg-ink text-paper' : 'border-transparent hover:border-edge'}`}
      aria-pressed={on}
      onClick={() => onChoose(mood)}
      title={on ? `${mood.name}: press again to take it off` : mood.name}
    >
      <canvas ref={canvas} className="h-10 w-full bg-well object-cover" aria-hidden />
      <span className="w-full truncate px-0.5 text-left text-[11px] leading-4">{mood.name}</span>
    </button>
  );
}
