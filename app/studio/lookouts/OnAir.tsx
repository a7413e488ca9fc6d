/** What is on air at the playhead: one Lookout, several in one picture, or the path; how it joins, and the line between several. */
import { Trash2 } from 'lucide-react';
import { changeCut, removeCut, showingOf, withCuts } from '@glimbo/core/edit/lookouts';
import {
  cutAt,
  JOIN_TIMES,
  JOINS,
  LAYOUTS,
  LONGEST_JOIN,
  type Cut,
  type Lookouts,
} from '@glimbo/core/lookouts/lookouts';
import { clock } from '~/ui/format';
import { NumberField } from '~/ui/Dial';
import { IconButton } from '~/ui/IconButton';
import { Select } from '~/ui/Select';
import { useClock, useStudio, useStudioStore } from '../state/store';
import { putOnAir } from './live-cut';
import { JOIN_NAMES, LAYOUT_NAMES } from './words';

export function OnAir({ lookouts }: { lookouts: Lookouts }) {
  const store = useStudioStore();
  const at = useStudio((s) => cutAt(lookouts, s.time));
  const chosen = useStudio((s) => s.lookoutChosen);
  const cut = lookouts.cuts[at];
  const shows = cut?.shows ?? null;
  const { views } = lookouts;
  return (
    <>
      <div className="flex flex-wrap gap-1" role="group" aria-label="Put on air">
        <button className="button h-6! px-1.5!" aria-pressed={!shows} onClick={() => putOnAir(store, null)}>
          Path
        </button>
        {LAYOUTS.map((layout) => (
          <button
            key={layout}
            className="button h-6! px-1.5!"
            aria-pressed={layout === shows?.layout}
            onClick={() => putOnAir(store, showingOf(layout, Math.min(chosen, views.length - 1), views.length))}
          >
            {LAYOUT_NAMES[layout]}
          </button>
        ))}
      </div>
      {cut && <Piece cut={cut} at={at} lookouts={lookouts} />}
      {shows && shows.layout !== 'one' && <LineFields line={lookouts.line} />}
    </>
  );
}

function Piece({ cut, at, lookouts }: { cut: Cut; at: number; lookouts: Lookouts }) {
  const store = useStudioStore();
  const times = useClock();
  const change = (part: Partial<Cut>) => store.getState().edit((t) => withCuts(t, (c) => changeCut(c, at, part)));
  const { shows, join = 'cut' } = cut;
  return (
    <div className="mt-1 flex flex-wrap items-center gap-1">
      <button className="figure underline" onClick={() => store.getState().setTime(cut.time)} title="To this cut">
        {clock(times.shown(cut.time))}
      </button>
      {shows?.views.map((view, k) => (
        <Select
          key={k}
          label={shows.views.length === 1 ? 'On air from here' : `Part ${k + 1} of the picture`}
          className="h-6! w-24"
          value={String(view)}
          options={lookouts.views.map((v, n) => [String(n), `${n + 1} ${v.name}`])}
          onChange={(v) => change({ shows: { ...shows, views: shows.views.map((w, i) => (i === k ? Number(v) : w)) } })}
        />
      ))}
      <Select
        label="How it joins"
        className="h-6!"
        value={join}
        options={JOINS.map((j) => [j, JOIN_NAMES[j]])}
        onChange={(j) => change({ join: j === 'cut' ? undefined : j, over: undefined })}
      />
      {join !== 'cut' && (
        <NumberField
          label="Seconds that the join takes"
          value={cut.over ?? JOIN_TIMES[join]}
          min={0}
          max={LONGEST_JOIN}
          digits={2}
          unit=" s"
          className="h-6! w-16"
          onCommit={(over) => change({ over })}
        />
      )}
      <IconButton
        label="Take this cut out"
        className="size-6!"
        onClick={() => store.getState().edit((t) => withCuts(t, (c) => removeCut(c, at)))}
      >
        <Trash2 size={13} />
      </IconButton>
    </div>
  );
}

/** The line between several views. */
function LineFields({ line }: { line: Lookouts['line'] }) {
  const store = useStudioStore();
  const change = (next: Lookouts['line']) =>
    store.getState().edit((t) => ({ ...t, lookouts: t.lookouts && { ...t.lookouts, line: next } }), 'line');
  const { width, colour } = line ?? { width: 0, colour: '#ffffff' };
  return (
    <div className="mt-1 flex items-center gap-2">
      <span>Line between</span>
      <NumberField
        label="Width of the line between"
        value={width}
        min={0}
        max={10}
        digits={1}
        unit=" %"
        className="h-6! w-16"
        onCommit={(w) => change(w > 0 ? { width: w, colour } : undefined)}
      />
      {width > 0 && (
        <input
          type="color"
          aria-label="Colour of the line between"
          value={colour}
          onChange={(e) => change({ width, colour: e.target.value })}
        />
      )}
    </div>
  );
}
