/** The settings of one overlay. */
import { useMemo } from 'react';
import { changeOverlay, setOverlayValue, toggleOverlayKey, type OverlayChannel } from '@glimbo/core/edit/overlays';
import {
  BAR_RATIOS,
  FONT_IDS,
  FONTS,
  LONGEST_TITLE,
  OVERLAY_LIMITS,
  type Bars,
  type FontId,
  type Logo,
  type Overlay,
  type Title,
} from '@glimbo/core/overlay/overlays';
import { lettersMissing } from '@glimbo/core/overlay/svg';
import { evaluate } from '@glimbo/core/curve/channel';
import { sameTime } from '@glimbo/core/path/keys';
import { Dial, NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import { KeyButton } from '../path/KeyButton';
import { useStudio, useStudioStore } from '../state/store';
import { useOverlayMaterials } from './overlay-materials';

interface Props<O> {
  overlay: O;
  index: number;
}

function useChange(index: number) {
  const store = useStudioStore();
  return (change: Partial<Overlay>, gesture?: string) =>
    store.getState().edit((t) => changeOverlay(t, index, change), gesture && `${gesture}-${index}`);
}

export function OverlayFields({ overlay, index }: Props<Overlay>) {
  if (overlay.kind === 'bars') return <BarsFields overlay={overlay} index={index} />;
  return (
    <>
      {overlay.kind === 'title' && <Writing overlay={overlay} index={index} />}
      <Size overlay={overlay} index={index} />
      <Keyed overlay={overlay} index={index} name="x" title="Across" unit="" digits={2} limits={OVERLAY_LIMITS.place} />
      <Keyed overlay={overlay} index={index} name="y" title="Down" unit="" digits={2} limits={OVERLAY_LIMITS.place} />
      <Keyed
        overlay={overlay}
        index={index}
        name="opacity"
        title="Opacity"
        unit=" %"
        digits={0}
        limits={OVERLAY_LIMITS.opacity}
      />
      <Times overlay={overlay} index={index} />
    </>
  );
}

function BarsFields({ overlay: { ratio }, index }: Props<Bars>) {
  const change = useChange(index);
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      {BAR_RATIOS.map((r) => (
        <button key={r} className="button h-6!" aria-pressed={r === ratio} onClick={() => change({ ratio: r })}>
          {r.toFixed(2)}
        </button>
      ))}
      <label className="flex items-center gap-1">
        Own
        <NumberField
          label="Ratio of the bars"
          className="h-6! w-16"
          value={ratio}
          min={OVERLAY_LIMITS.ratio.least}
          max={OVERLAY_LIMITS.ratio.most}
          digits={2}
          onCommit={(v) => change({ ratio: v })}
        />
      </label>
    </div>
  );
}

function Writing({ overlay, index }: Props<Title>) {
  const change = useChange(index);
  const overlays = useMemo(() => [overlay], [overlay]);
  const font = useOverlayMaterials(overlays).fonts[overlay.font];
  const missing = font ? lettersMissing(font, overlay.text) : [];
  return (
    <>
      <textarea
        className="w-full border border-edge bg-sheet px-1.5 py-0.5"
        rows={2}
        maxLength={LONGEST_TITLE}
        aria-label="Text of the title"
        value={overlay.text}
        onChange={(e) => change({ text: e.target.value }, 'title-text')}
      />
      {missing.length > 0 && (
        <p className="text-error" role="alert">
          This font has no “{missing.join('')}”: left out in Frame and clip.
        </p>
      )}
      <div className="flex flex-wrap items-center gap-2 py-0.5">
        <Select<FontId>
          label="Font"
          value={overlay.font}
          options={FONT_IDS.map((id) => [id, FONTS[id]] as const)}
          onChange={(font) => change({ font })}
          className="h-6! py-0"
        />
        <label className="flex items-center gap-1">
          Colour
          <input
            type="color"
            className="h-6 w-8"
            aria-label="Colour of the title"
            value={overlay.colour}
            onChange={(e) => change({ colour: e.target.value }, 'title-colour')}
          />
        </label>
        <label className="flex items-center gap-1">
          <input type="checkbox" checked={overlay.shadow} onChange={(e) => change({ shadow: e.target.checked })} />
          Shadow
        </label>
      </div>
    </>
  );
}

function Size({ overlay, index }: Props<Title | Logo>) {
  const store = useStudioStore();
  const change = useChange(index);
  const title = overlay.kind === 'title';
  const { least, most } = title ? OVERLAY_LIMITS.titleSize : OVERLAY_LIMITS.pictureSize;
  return (
    <Dial
      name={title ? 'Size' : 'Width'}
      value={overlay.size}
      min={least}
      max={most}
      step={0.5}
      unit=" %"
      reset={title ? 7 : 14}
      onChange={(size) => change({ size }, 'overlay-size')}
      onEnd={() => store.getState().endGesture()}
    />
  );
}

interface KeyedProps extends Props<Title | Logo> {
  name: OverlayChannel;
  title: string;
  unit: string;
  digits: number;
  limits: { least: number; most: number };
}

/** A dial that can be keyed at the playhead. */
function Keyed({ overlay, index, name, title, unit, digits, limits }: KeyedProps) {
  const store = useStudioStore();
  const time = useStudio((s) => s.time);
  const channel = overlay[name];
  const keys = typeof channel === 'number' ? [] : channel;
  const here = keys.some((k) => sameTime(k.time, time));
  return (
    <Dial
      name={title}
      value={evaluate(channel, time, 0)}
      min={limits.least}
      max={limits.most}
      step={10 ** -digits}
      digits={digits}
      unit={unit}
      reset={name === 'opacity' ? 100 : 0.5}
      more={
        <KeyButton
          name={title.toLowerCase()}
          here={here}
          any={keys.length > 0}
          about={`Set a key of ${title.toLowerCase()}`}
          onToggle={() => store.getState().edit((t) => toggleOverlayKey(t, index, name, time))}
        />
      }
      onChange={(v) =>
        store.getState().edit((t) => setOverlayValue(t, index, name, time, v), `overlay-${name}-${index}@${time}`)
      }
      onEnd={() => store.getState().endGesture()}
    />
  );
}

/** When it is seen, and how it comes and goes. */
function Times({ overlay, index }: Props<Title | Logo>) {
  const time = useStudio((s) => s.time);
  const take = useStudio((s) => s.take());
  const change = useChange(index);
  const { from = take.range.in, to = take.range.out, fade } = overlay;
  return (
    <div className="flex flex-wrap items-center gap-1.5 pt-0.5">
      <button className="button h-6! px-1.5!" disabled={time >= to} onClick={() => change({ from: time })}>
        From here
      </button>
      <button className="button h-6! px-1.5!" disabled={time <= from} onClick={() => change({ to: time })}>
        To here
      </button>
      <span className="figure text-muted" data-testid="overlay-times">
        {from.toFixed(2)} to {to.toFixed(2)} s
      </span>
      <label className="flex items-center gap-1">
        Fade
        <NumberField
          label="Fade in seconds"
          className="h-6! w-14"
          value={fade}
          min={OVERLAY_LIMITS.fade.least}
          max={OVERLAY_LIMITS.fade.most}
          unit=" s"
          onCommit={(v) => change({ fade: v })}
        />
      </label>
    </div>
  );
}
