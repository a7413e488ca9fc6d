/** Picks what should be grey: the next press in the Frame or on the Map makes it neutral. */
import { Pipette } from 'lucide-react';
import { useEffect } from 'react';
import { useStudio, useStudioStore } from '../state/store';

export function GreyPicker() {
  const store = useStudioStore();
  const picking = useStudio((s) => s.pickingGrey);
  useEffect(() => () => store.getState().pickGrey(false), [store]);
  return (
    <div className="flex items-center gap-2">
      <button className="button h-6!" aria-pressed={picking} onClick={() => store.getState().pickGrey(!picking)}>
        <Pipette size={13} /> Pick grey
      </button>
      <span className="text-muted">
        {picking ? 'Press something in the Frame or on the Map that should be grey.' : ''}
      </span>
    </div>
  );
}
