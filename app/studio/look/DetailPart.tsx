/** Detail: clarity and sharpening. */
import { DETAIL_LIMITS, USUAL_SHARPEN, type Sharpen } from '@glimbo/core/look/detail';
import { withDetail } from '@glimbo/core/edit/look';
import { Dial } from '~/ui/Dial';
import { useStudioStore, useTake } from '../state/store';

const SHARPEN_DIALS: readonly { id: keyof Sharpen; name: string; unit: string; digits: number }[] = [
  { id: 'amount', name: 'Sharpening', unit: ' %', digits: 0 },
  { id: 'radius', name: 'Radius', unit: ' px', digits: 1 },
  { id: 'threshold', name: 'Threshold', unit: '', digits: 0 },
];

export function DetailPart() {
  const store = useStudioStore();
  const { look } = useTake();
  const { clarity = 0, sharpen = USUAL_SHARPEN } = look?.detail ?? {};
  const end = () => store.getState().endGesture();
  return (
    <div className="h-full max-w-xl overflow-auto px-3 py-1.5">
      <Dial
        name="Clarity"
        value={clarity}
        min={DETAIL_LIMITS.clarity.least}
        max={DETAIL_LIMITS.clarity.most}
        step={1}
        digits={0}
        unit=" %"
        reset={0}
        onChange={(v) => store.getState().edit((t) => withDetail(t, { clarity: v }), 'clarity')}
        onEnd={end}
      />
      {SHARPEN_DIALS.map(({ id, name, unit, digits }) => (
        <Dial
          key={id}
          name={name}
          value={sharpen[id]}
          min={DETAIL_LIMITS[id].least}
          max={DETAIL_LIMITS[id].most}
          step={10 ** -digits}
          digits={digits}
          unit={unit}
          reset={USUAL_SHARPEN[id]}
          onChange={(v) =>
            store.getState().edit((t) => {
              const now = t.look?.detail?.sharpen ?? USUAL_SHARPEN;
              // A radius or threshold that is turned first is meant to be seen.
              const amount = id !== 'amount' && now.amount === 0 ? 60 : now.amount;
              return withDetail(t, { sharpen: { ...now, amount, [id]: v } });
            }, `sharpen-${id}`)
          }
          onEnd={end}
        />
      ))}
      <p className="mt-1 text-muted">
        Clarity lifts local contrast and leaves edges alone; sharpening lifts what is finer than its radius, in the
        exported frame’s own pixels. Both are drawn when the Frame stands still, and in play where the machine is quick
        enough.
      </p>
    </div>
  );
}
