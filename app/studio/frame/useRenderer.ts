/** Keeps the Frame's canvas drawn as the take is seen. */
import { useEffect, useRef, useState, type RefObject } from 'react';
import { toast } from 'sonner';
import { LookTables } from '~/preview/look-tables';
import { PreviewRenderer } from '~/preview/renderer';
import type { StudioState } from '../state/state';
import { shownBeforeAfter, useStudio, useStudioStore } from '../state/store';
import { frameScene, OWN } from '../picture/frame-panes';
import { patchesFor } from './patches';
import type { Picture } from '../picture/picture';
import { SectorInFrame } from './sector';

const lookFailed = () =>
  toast.error('The look could not be drawn. Your take is kept; change a dial of the look to try it again.', {
    id: 'look-failed',
  });

/** Members of the Studio's state that say what is seen in the Frame. */
const SEEN = [
  'time',
  'history',
  'glance',
  'tryOut',
  'tried',
  'motion',
  'light',
  'others',
  'tracks',
  'otherLight',
  'splitAt',
  'unsteadied',
  'allFormats',
  'station',
  'seeing',
  'grid',
  'frameRoom',
  'lookRound',
] as const satisfies (keyof StudioState)[];

/** Whether something else is seen than before. */
const sees = (now: StudioState, before: StudioState) =>
  SEEN.some((name) => now[name] !== before[name]) || shownBeforeAfter(now) !== shownBeforeAfter(before);

/** Draws into a canvas of a size in CSS pixels; gives a sentence when that cannot be. */
export function useRenderer(
  canvas: RefObject<HTMLCanvasElement | null>,
  size: { width: number; height: number },
  picture: Picture,
): string | null {
  const store = useStudioStore();
  const renderer = useRef<PreviewRenderer | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const compare = useStudio((s) => s.compare);
  const share = useStudio((s) => s.share);

  useEffect(() => {
    try {
      const made = new PreviewRenderer(canvas.current!);
      renderer.current = made;
      const own = made.layer(OWN);
      made.onLost = (lost) =>
        setProblem(lost ? 'The picture was lost by the browser; it comes back by itself. Your take is kept.' : null);
      const tables = new LookTables({
        table: (table) => {
          arrived();
          own.setTable(table);
        },
        missing: (missing) => store.getState().missLut(missing),
        failed: lookFailed,
      });
      // Until the video has reached the playhead, the Frame still shows another moment.
      const { rate } = store.getState().footage.facts;
      const arrived = () => {
        const there = Math.abs((picture.time ?? Infinity) - store.getState().time) < 0.75 / rate;
        made.setCurrent(there && tables.settled && sector.settled);
      };
      const sector = new SectorInFrame(store, own, () => arrived());
      const patches = patchesFor(store, picture, own);
      const forget = picture.listen((shown) => {
        arrived();
        patches();
        own.setPicture(shown);
      });
      const look = () => {
        patches();
        sector.bring();
        const { treatment, scene } = frameScene(store.getState());
        tables.want(treatment);
        arrived();
        made.show(scene);
      };
      look();
      const unsubscribe = store.subscribe((now, before) => sees(now, before) && look());
      return () => {
        forget();
        unsubscribe();
        tables.dispose();
        sector.dispose();
        made.dispose();
      };
    } catch (error) {
      setProblem((error as Error).message);
    }
  }, [store, picture, canvas]);

  useEffect(() => renderer.current?.setShare(share), [share]);
  const [left, right] = [compare?.left, compare?.right];
  useEffect(() => {
    if (!left || !right) return renderer.current?.setSplit(null);
    renderer.current?.layer(OWN).setPicture(left);
    renderer.current?.setSplit(right, store.getState().compare?.at);
  }, [left, right, store]);
  const splitAt = compare?.at;
  useEffect(() => void (splitAt !== undefined && renderer.current?.moveSplit(splitAt)), [splitAt]);

  useEffect(() => renderer.current?.resize(size.width * devicePixelRatio, size.height * devicePixelRatio), [size]);

  return problem;
}
