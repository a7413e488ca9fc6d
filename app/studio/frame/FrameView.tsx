/** The Frame: the picture that will be exported, in its real shape, handled directly. */
import { useEffect, useMemo, useRef } from 'react';
import { cutAt } from '@glimbo/core/lookouts/lookouts';
import { FrameOverlay } from './FrameOverlay';
import { formatsLayout, gridLayout, pictureLayout } from '../picture/format-layout';
import { FormatMarks } from './FormatMarks';
import { LookRoundLabels } from './LookRound';
import { usePicture } from '../picture/picture';
import { shownBeforeAfter, showsGrid, useStudio, useStudioStore, useTake } from '../state/store';
import { GridMarks } from '../lookouts/GridMarks';
import { PointOutInFrame } from '../follow/PointOut';
import { FoundInFrame } from '../follow/found/FoundMarks';
import { ProposedInFrame } from '../follow/Proposed';
import { SubjectsInFrame } from '../follow/SubjectMarks';
import { useSize } from '../../ui/useSize';
import { RING, useGrips } from './useGrips';
import { useRenderer } from './useRenderer';

export function FrameView() {
  const store = useStudioStore();
  const take = useTake();
  const picture = usePicture();
  const [well, room] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const turning = useStudio((s) => s.turning);

  const lookRound = useStudio((s) => s.lookRound);
  const beside = useStudio((s) => shownBeforeAfter(s) === 'beside');
  const all = useStudio((s) => s.allFormats && s.station !== 'level') && !lookRound;

  const grid = useStudio((s) => (showsGrid(s) ? s.grid : 'off'));
  const piece = useStudio((s) => cutAt({ cuts: s.take().lookouts?.cuts ?? [] }, s.time));
  const roomRatio = room.height ? room.width / room.height : 1;
  useEffect(() => store.getState().measureRoom(roomRatio), [store, roomRatio]);
  const layout = useMemo(() => {
    if (grid !== 'off') return gridLayout(take, grid, roomRatio);
    if (all) return formatsLayout(take);
    // Beside each other before and after are handled as one.
    return pictureLayout(take, store.getState().time, beside && !lookRound);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the piece on air says what is shown
  }, [take, grid, roomRatio, all, beside, lookRound, piece, store]);
  const size = useMemo(() => {
    // The look round takes all the room there is.
    const ratio = lookRound && room.height ? room.width / room.height : layout.ratio;
    const even = (n: number) => 2 * Math.floor(n / 2);
    const width = even(Math.min(room.width, room.height * ratio));
    return { width, height: even(width / ratio) };
  }, [room, layout, lookRound]);
  const { parts } = layout;

  const problem = useRenderer(canvas, size, picture);

  const { handled, atEdge, handlers } = useGrips(canvas, { size, parts, picture, all });
  const part = parts[handled] ?? parts[0]!;
  const pane = { width: part.width * size.width, height: part.height * size.height };

  return (
    <div className="relative size-full overflow-hidden bg-well p-3">
      <div ref={well} className="relative grid size-full place-items-center">
        <canvas
          ref={canvas}
          tabIndex={0}
          role="application"
          aria-roledescription="picture that is aimed"
          aria-label="Frame: drag to aim, with Shift along one axis, wheel to zoom, drag the edge to roll, Alt-drag to bend"
          data-testid="frame"
          className={`touch-none ${turning ? 'cursor-move' : atEdge ? 'cursor-alias' : 'cursor-grab active:cursor-grabbing'}`}
          style={{ width: size.width, height: size.height, visibility: problem ? 'hidden' : 'visible' }}
          {...handlers}
        />
        {atEdge && size.width > 0 && (
          <div
            className="pointer-events-none absolute border border-dashed border-white/60"
            style={{ width: size.width - 2 * RING, height: size.height - 2 * RING }}
          />
        )}
        {lookRound ? <LookRoundLabels {...size} /> : grid === 'off' && <FrameOverlay {...size} pane={pane} />}
        <FoundInFrame {...size} />
        <SubjectsInFrame {...size} />
        <ProposedInFrame {...size} />
        {!lookRound && <FormatMarks {...size} panes={layout.pictures} all={all} />}
        {grid !== 'off' && <GridMarks {...size} parts={parts} />}
        <PointOutInFrame {...size} />
        {problem && <p className="absolute max-w-sm text-center text-white">{problem}</p>}
      </div>
    </div>
  );
}
