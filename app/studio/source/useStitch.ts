/** The source of the footage as a draft: tried out on stills of the playhead's frame before it is applied. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Calibration } from '@glimbo/core/stitch/calibrate';
import type { Source } from '@glimbo/core/stitch/source';
import { usePicture } from '../picture/picture';
import { seamLine } from '@glimbo/core/stitch/seam-line';
import { askStitch, loadImage } from '../picture/stitch-requests';
import { useStudio, useStudioStore } from '../state/store';
import type { StitchData } from '~/model/stitch';

/** Asks for a still of the whole sphere with a source. */
const stillOf = (id: string, source: Source, time: number, signal?: AbortSignal) =>
  askStitch<{ picture: string; source: Source }>(id, { intent: 'still', source: withoutTrack(source), time }, signal);

/** Brightness and seam are looked at anew in each still. */
const withoutTrack = (source: Source): Source => {
  if (source.kind !== 'two-lenses') return source;
  const { track: _, ...rest } = source;
  return rest;
};

const same = (a: Source, b: Source) => JSON.stringify(withoutTrack(a)) === JSON.stringify(withoutTrack(b));
/** Milliseconds of calm before a still is asked for. */
const CALM = 350;

export function useStitch() {
  const store = useStudioStore();
  const picture = usePicture();
  const { id, version } = useStudio((s) => s.footage);
  const time = useStudio((s) => s.time);
  const speed = useStudio((s) => s.speed);
  const comparing = useStudio((s) => s.compare !== null);
  const [kept, setKept] = useState<StitchData | null>(null);
  const [draft, setDraft] = useState<Source | null>(null);
  const [showSeam, setShowSeam] = useState(true);
  const [busy, setBusy] = useState<'calibrate' | 'apply' | null>(null);
  const [drawing, setDrawing] = useState(false);
  const [result, setResult] = useState<Calibration | null>(null);
  const calibrated = useRef(false);

  const load = useCallback(async () => {
    const data = (await (await fetch(`/footage/${id}/stitch`)).json()) as StitchData;
    setKept(data);
    setDraft(data.source);
  }, [id]);
  useEffect(() => void load(), [load, version]);

  const changed = draft !== null && kept !== null && !same(draft, kept.source);

  // While a draft differs from what the proxy shows, the frame at the playhead is drawn with it.
  useEffect(() => {
    if (!draft || !changed || comparing || speed !== 0) return;
    const stop = new AbortController();
    const timer = setTimeout(async () => {
      setDrawing(true);
      try {
        const { picture: address, source, problem } = await stillOf(id, draft, time, stop.signal);
        if (problem) return void toast.error(problem);
        const image = await loadImage(address);
        if (stop.signal.aborted) return;
        picture.show(image, time);
        if (showSeam) store.getState().drawSeam(seamLine(source, 0));
      } catch {
        if (!stop.signal.aborted)
          toast.error('The still could not be drawn: no answer from the server. Nothing was changed.');
      } finally {
        setDrawing(false);
      }
    }, CALM);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [draft, changed, comparing, speed, time, id, picture, showSeam, store]);
  // With nothing left to try, the proxy's own picture is shown again.
  const trying = changed || comparing;
  useEffect(() => (trying ? () => picture.backToProxy() : undefined), [trying, picture]);

  useEffect(() => {
    store.getState().drawSeam(showSeam && draft ? seamLine(draft, time) : null);
  }, [showSeam, draft, time, store]);
  useEffect(
    () => () => {
      store.getState().drawSeam(null);
      store.getState().compareStills(null);
    },
    [store],
  );

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
