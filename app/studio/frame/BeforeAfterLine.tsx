/** The words over before and after, and the line between them. */
import { SPLIT_WORD, SplitLine } from './SplitLine';
import { shownBeforeAfter, useStudio, useStudioStore } from '../state/store';

export function BeforeAfterLine({ width, height }: { width: number; height: number }) {
  const store = useStudioStore();
  const mode = useStudio(shownBeforeAfter);
  const unsteadied = useStudio((s) => s.unsteadied);
  const at = useStudio((s) => s.splitAt);
  const look = useStudio((s) => s.station === 'look');
  if (unsteadied)
    return (
      <span className={`${SPLIT_WORD} left-2`} data-testid="as-filmed">
        {look ? 'Before' : 'As filmed'}
      </span>
    );
  if (mode === 'after') return null;
  if (mode === 'split')
    return (
      <SplitLine
        label={look ? 'Line between before and after the look' : 'Line between unsteadied and steadied'}
        width={width}
        height={height}
        at={at}
        onMove={(splitAt) => store.getState().splitFrameAt(splitAt)}
      />
    );
  return (
    <>
      <span className={`${SPLIT_WORD} left-2`}>Before</span>
      <span className={SPLIT_WORD} style={{ left: width / 2 + 8 }}>
        After
      </span>
    </>
  );
}
