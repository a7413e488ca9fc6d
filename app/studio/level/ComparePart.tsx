/** Before against after, in the Frame. */
import { Choice } from '~/ui/Choice';
import { useStudio, useStudioStore } from '../state/store';
import { useTurning } from './useTurning';

export function ComparePart() {
  const store = useStudioStore();
  const mode = useStudio((s) => s.beforeAfter);
  const { turning, current } = useTurning();
  return (
    <div className="flex flex-col gap-2 p-3">
      <Choice
        label="In the Frame"
        value={mode}
        options={[
          ['after', 'After'],
          ['split', 'Both, with a line between'],
          ['beside', 'Side by side'],
        ]}
        onChange={(beforeAfter) => store.getState().showBeforeAfter(beforeAfter)}
      />
      <p className="text-muted">
        Both play in step. <span className="figure">B</span>, held, shows before alone. The Export station exports both
        in one picture.
      </p>
      {turning && current && (
        <p className="figure" data-testid="jitter" title="Root mean square of the angular acceleration above 2 Hz">
          Jitter {turning.jitter.before.toFixed(0)} °/s² before, {turning.jitter.after.toFixed(0)} °/s² after
        </p>
      )}
    </div>
  );
}
