/** Shaping: value curve and speed curve of the segment at the playhead, with handles, time running down. */
import { ClipboardPaste, Copy, Plus, X } from 'lucide-react';
import { useState } from 'react';
import { EASES, type Bezier, type Ease } from '@glimbo/core/curve/ease';
import { easeProblem } from '@glimbo/core/curve/values';
import { turnAcross } from '@glimbo/core/path/gestures';
import { keysOf, turnAfter, type ChannelName } from '@glimbo/core/path/path';
import { segmentAt, shapeSegment, speedsOf, turnSegment, type Segment } from '@glimbo/core/path/shape';
import { Choice } from '~/ui/Choice';
import { NumberField } from '~/ui/Dial';
import { IconButton } from '~/ui/IconButton';
import { Select } from '~/ui/Select';
import { useSize } from '~/ui/useSize';
import * as edit from '../commands/path-edits';
import { forgetItem, keepItem, useKept } from '../state/kept';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { EASE_NAMES, easeName } from './ease-names';
import { SegmentCurves } from './SegmentCurves';
import { MotionBlur, TooFast } from './TooFast';
import { dialOf, VALUE_DIALS } from '../fields/value-dials';
import { keepHere, keptJson } from '~/ui/kept-here';

/** What a change of shape is made to. */
interface Way {
  together: boolean;
  joined: boolean;
}

export function ShapePart() {
  const [channel, setChannel] = useState<ChannelName>('pan');
  const [way, setWay] = useState<Way>({ together: true, joined: false });
  const store = useStudioStore();
  const { path } = useTake();
  const time = useStudio((s) => s.time);
  const segment = segmentAt(keysOf(path, channel), time);
  const shape = (ease: Ease, gesture?: string) =>
    segment &&
    store.getState().edit((t) => ({ ...t, path: shapeSegment(t.path, channel, segment.index, ease, way) }), gesture);
  return (
    <div className="@container h-full">
      <div className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1fr)] divide-x divide-rule">
        <Curves channel={channel} segment={segment} onShape={shape} />
        <div className="flex flex-col gap-1.5 overflow-auto p-2.5">
          <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
            <Select<ChannelName>
              label="Channel to shape"
              value={channel}
              options={VALUE_DIALS.map((d) => [d.channel, d.name] as const)}
              onChange={setChannel}
              className="h-6! py-0"
            />
            <Check
              label="All dials together"
              value={way.together}
              onChange={(together) => setWay({ ...way, together })}
            />
            <Check label="Joined handles" value={way.joined} onChange={(joined) => setWay({ ...way, joined })} />
          </div>
          {segment ? (
            <>
              <Shapes segment={segment} onShape={shape} />
              <Numbers segment={segment} channel={channel} onShape={shape} />
              {channel === 'pan' && <Turning segment={segment} />}
            </>
          ) : (
            <p className="text-muted">{dialOf(channel).name} has no two keyframes yet: there is nothing to shape.</p>
          )}
          <Scopes channel={channel} />
          <TooFast />
          <MotionBlur />
        </div>
      </div>
    </div>
  );
}

const Check = ({ label, value, onChange }: { label: string; value: boolean; onChange: (on: boolean) => void }) => (
  <label className="flex items-center gap-1.5 whitespace-nowrap">
    <input type="checkbox" checked={value} onChange={(e) => onChange(e.target.checked)} /> {label}
  </label>
);

type OnShape = (ease: Ease, gesture?: string) => void;

function Curves({ channel, segment, onShape }: { channel: ChannelName; segment: Segment | null; onShape: OnShape }) {
  const [ref, size] = useSize<HTMLDivElement>();
  return (
    <div ref={ref} className="min-h-0 overflow-hidden">
      {segment && size.height > 40 && (
        <SegmentCurves channel={channel} segment={segment} width={size.width} height={size.height} onShape={onShape} />
      )}
    </div>
  );
}

const CURVE = 'glimbo-curve';

/** Ready shapes one press away, and one's own. */
function Shapes({ segment, onShape }: { segment: Segment; onShape: OnShape }) {
  const own = useKept('glimbo-curve');
  const ease = segment.a.ease ?? 'smooth';
  const { curve } = segment;
  const paste = () => {
    const copied = keptJson(CURVE);
    if (copied !== null && easeProblem(copied) === null) onShape(copied as Ease);
  };
  return (
    <div className="flex flex-wrap gap-1" role="group" aria-label="Shapes">
      {EASES.map((e) => (
        <button key={e} className="button h-6! px-1.5! text-xs" aria-pressed={ease === e} onClick={() => onShape(e)}>
          {EASE_NAMES[e]}
        </button>
      ))}
      {own.map((item) => (
        <span key={item.id} className="flex">
          <button className="button h-6! px-1.5! text-xs" onClick={() => onShape(item.document.ease)}>
            {item.document.name}
          </button>
          <IconButton
            label={`Remove the curve ${item.document.name}`}
            className="size-6!"
            onClick={() => void forgetItem(item)}
          >
            <X size={11} />
          </IconButton>
        </span>
      ))}
      <IconButton label="Copy the curve" className="size-6!" onClick={() => keepHere(CURVE, JSON.stringify(ease))}>
        <Copy size={13} />
      </IconButton>
      <IconButton label="Paste the curve" className="size-6!" onClick={paste}>
        <ClipboardPaste size={13} />
      </IconButton>
      <IconButton
        label="Keep this curve as your own"
        className="size-6!"
        disabled={!curve}
        onClick={() =>
          curve && void keepItem({ format: 'glimbo-curve', version: 1, name: `Curve ${own.length + 1}`, ease: curve })
        }
      >
        <Plus size={13} />
      </IconButton>
    </div>
  );
}

/** The handles as numbers, and the speeds with which the segment begins and ends. */
function Numbers({ segment, channel, onShape }: { segment: Segment; channel: ChannelName; onShape: OnShape }) {
  const { a, b, curve } = segment;
  const { unit, digits } = dialOf(channel);
  if (!curve) return <p className="text-muted">{easeName('hold')}: it stands until the next keyframe.</p>;
  const set = (i: number) => (v: number) => onShape(curve.map((c, n) => (n === i ? v : c)) as unknown as Bezier);
  const speeds = speedsOf(segment, curve);
  const speed = (v: number) => `${v.toFixed(Math.max(1, digits))}${unit}/s`;
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1">
      {(['x1', 'y1', 'x2', 'y2'] as const).map((name, i) => (
        <label key={name} className="figure flex items-center gap-1">
          {name}
          <NumberField
            label={`Handle ${name}`}
            className="h-6! w-12"
            value={curve[i]!}
            min={i % 2 ? -5 : 0}
            max={i % 2 ? 6 : 1}
            digits={2}
            onCommit={set(i)}
          />
        </label>
      ))}
      <span className="figure text-muted" data-testid="segment-speeds">
        {speed(speeds.start)} → {speed(speeds.end)}, {(b.time - a.time).toFixed(2)} s
      </span>
    </div>
  );
}

/** How the view turns on the segment; pointed at, the other way is drawn on the Map. */
function Turning({ segment }: { segment: Segment }) {
  const store = useStudioStore();
  const { path } = useTake();
  const turn = turnAfter(path, segment.a.time);
  const by = turnAcross(path, segment.a.time);
  const turned = (to: 'dials' | 'arc') => turnSegment(path, segment.index, to);
  const look = (to: 'dials' | 'arc' | null) => store.getState().tryPath(to && to !== turn ? turned(to) : null);
  return (
    <div className="flex flex-wrap items-center gap-2" onPointerLeave={() => look(null)}>
      <div
        onPointerOver={(e) => {
          const over = (e.target as Element).closest('button')?.textContent;
          look(over === 'Arc' ? 'arc' : over === 'Dials' ? 'dials' : null);
        }}
      >
        <Choice
          label="Turning"
          value={turn}
          options={[
            ['dials', 'Dials', 'Each dial along its own curve; spins are possible'],
            ['arc', 'Arc', 'The shortest turn from one to the other'],
          ]}
          onChange={(to) => store.getState().edit((t) => ({ ...t, path: turned(to) }))}
        />
      </div>
      {by !== null && Math.abs(by) > 180 && (
        <button className="button h-6!" onClick={() => edit.goOtherWay(store)}>
          {Math.round(Math.abs(by))}°: rather {Math.round(360 - Math.abs(by))}° the other way
        </button>
      )}
    </div>
  );
}

const SCOPES = [
  ['segment', 'this segment'],
  ['channel', 'this channel'],
  ['selection', 'the selection'],
  ['all', 'everything'],
] as const;

/** Smooth, even, eased at its ends: for as much as is chosen. */
function Scopes({ channel }: { channel: ChannelName }) {
  const store = useStudioStore();
  const [scope, setScope] = useState<edit.Scope>('all');
  const none = useStudio((s) => s.selection.size === 0) && scope === 'selection';
  const keys = () => edit.keysOfScope(store, scope, channel);
  return (
    <div className="flex flex-wrap items-center gap-1 border-t border-rule pt-1.5">
      <button className="button h-6! px-1.5!" disabled={none} onClick={() => edit.smoothKeys(store, keys())}>
        Smooth
      </button>
      <button className="button h-6! px-1.5!" disabled={none} onClick={() => edit.evenKeys(store, scope, channel)}>
        Even speed
      </button>
      <button className="button h-6! px-1.5!" disabled={none} onClick={() => edit.easeKeyEnds(store, keys())}>
        Ease the ends
      </button>
      of
      <Select<edit.Scope> label="Of what" value={scope} options={SCOPES} onChange={setScope} className="h-6! py-0" />
    </div>
  );
}
