/** The source of the footage as a draft: tried out on stills of the playhead's frame before it is applied. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Calibration } from '@glimbo/core/stitch/calibrate';
import type { Source } from '@glimbo/core/stitch/source';
import { askStitch, loadImage } from '../picture/stitch-requests';
import { useStudio, useStudioStore } from '../state/store';
import type { StitchData } from '~/model/stitch';
import { stillOf, useTriedStill, withoutTrack } from './tried-still';

const same = (a: Source, b: Source) => JSON.stringify(withoutTrack(a)) === JSON.stringify(withoutTrack(b));

export function useStitch() {
  const store = useStudioStore();
  const { id, version } = useStudio((s) => s.footage);
  const time = useStudio((s) => s.time);
  const [kept, setKept] = useState<StitchData | null>(null);
  const [draft, setDraft] = useState<Source | null>(null);
  const [showSeam, setShowSeam] = useState(true);
  const [busy, setBusy] = useState<'calibrate' | 'apply' | null>(null);
  const [result, setResult] = useState<Calibration | null>(null);
  const calibrated = useRef(false);

  const load = useCallback(async () => {
    const data = (await (await fetch(`/footage/${id}/stitch`)).json()) as StitchData;
    setKept(data);
    setDraft(data.source);
  }, [id]);
  useEffect(() => void load(), [load, version]);

  const changed = draft !== null && kept !== null && !same(draft, kept.source);
  const drawing = useTriedStill({ draft, changed, showSeam });

  const change = (to: Source) => {
    store.getState().compareStills(null);
    setDraft(to);
  };

  /** Shows the frame with the lenses as they are kept, and as they are in the draft, on both sides of a line. */
  async function compare(after: Source) {
    if (!kept) return;
    const [left, right] = await Promise.all([stillOf(id, kept.source, time), stillOf(id, after, time)]);
    if (left.problem ?? right.problem) return void toast.error(left.problem ?? right.problem);
    const images = await Promise.all([loadImage(left.picture), loadImage(right.picture)]);
    store.getState().compareStills({ left: images[0], right: images[1], at: 0.5 });
  }

  async function calibrate() {
    if (draft?.kind !== 'two-lenses') return;
    setBusy('calibrate');
    try {
      const found = await askStitch<Calibration>(id, { intent: 'calibrate', source: withoutTrack(draft), time });
      if (found.problem) return void toast.error(found.problem);
      setResult(found);
      calibrated.current = true;
      const after = { ...draft, lenses: found.lenses };
      setDraft(after);
      await compare(after);
    } catch {
      toast.error('The calibration got no answer from the server. Nothing was changed; try again.');
    } finally {
      setBusy(null);
    }
  }

  /** Keeps the draft and has the proxy made with it. */
  async function apply(source: Source = draft!) {
    setBusy('apply');
    try {
      const keepTrack =
        kept?.source.kind === 'two-lenses' &&
        source.kind === 'two-lenses' &&
        kept.source.track &&
        JSON.stringify([source.lenses, source.housing]) === JSON.stringify([kept.source.lenses, kept.source.housing]);
      const sent = keepTrack ? { ...source, track: (kept.source as typeof source).track } : withoutTrack(source);
      const { problem } = await askStitch<object>(id, {
        intent: 'apply',
        source: sent,
        calibrated: calibrated.current,
      });
      if (problem) return void toast.error(problem);
      calibrated.current = false;
      store.getState().compareStills(null);
      toast('The proxy is being made with the new stitch. Go on working; it comes by itself.');
      await load();
    } catch {
      toast.error('There was no answer from the server. Nothing was changed; try again.');
    } finally {
      setBusy(null);
    }
  }

  return {
    kept,
    draft,
    changed,
    busy,
    drawing,
    result,
    showSeam,
    setShowSeam,
    change,
    calibrate,
    apply,
    compare: () => draft && compare(draft),
    endCompare: () => store.getState().compareStills(null),
    back: () => kept && change(kept.source),
  };
}
