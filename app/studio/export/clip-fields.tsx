/** The rows of the clip's form, each of which changes some of what is chosen. */
import type { ReactNode } from 'react';
import { CODECS, codecFacts } from '@glimbo/core/export/codecs';
import { chosenSize, type ClipChoice } from '@glimbo/core/export/choice';
import { shapesFor, withFormat } from '@glimbo/core/take/formats';
import { NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import { useStudioStore, useTake } from '../state/store';

const SIZE_CLASSES = [
  ['1080', '1080 class'],
  ['2160', '2160 class'],
  ['free', 'Own size'],
] as const;
const COMPARE_NAMES = [
  ['none', 'Only after'],
  ['beside', 'Before beside it'],
  ['over', 'Before over it'],
  ['inset', 'Before in a corner'],
] as const;

interface FieldProps {
  choice: ClipChoice;
  set: (change: Partial<ClipChoice>) => void;
}

function Row({ name, hidden, children }: { name: string; hidden?: boolean; children: ReactNode }) {
  return (
    <div className="flex h-8 items-center gap-2" hidden={hidden}>
      <span className="w-20 shrink-0 text-muted">{name}</span>
      {children}
    </div>
  );
}

/** What is exported: the take's view or the sphere, and what was before beside it. */
export function PictureRow({ choice: c, set }: FieldProps) {
  const { sphereWidth } = useStudioStore().getState().footage;
  return (
    <Row name="Picture">
      <Select
        label="What is exported"
        className="w-36"
        value={c.sphere ? 'sphere' : 'view'}
        options={[
          ['view', "This take's view"],
          ['sphere', 'The whole sphere, corrected'],
        ]}
        onChange={(v) => set({ sphere: v === 'sphere' })}
      />
      {!c.sphere && (
        <Select
          label="Before and after"
          className="min-w-0 flex-1"
          value={c.compare}
          options={COMPARE_NAMES}
          onChange={(compare) => set({ compare })}
        />
      )}
      {c.sphere && (
        <span className="figure">
          {sphereWidth} × {sphereWidth / 2}
        </span>
      )}
    </Row>
  );
}

export function SizeRow({ choice: c, set }: FieldProps) {
  const store = useStudioStore();
  const take = useTake();
  const size = chosenSize(c, take);
  return (
    <Row name="Format" hidden={c.sphere}>
      <Select
        label="Export format"
        value={take.frame.aspect}
        options={shapesFor(take).map((a) => [a, a] as const)}
        onChange={(aspect) => store.getState().edit((t) => withFormat(t, aspect))}
        disabled={c.sphere}
      />
      <Select
        label="Size class"
        value={c.sizeClass}
        options={SIZE_CLASSES}
        onChange={(sizeClass) => set({ sizeClass, ...size })}
      />
      {c.sizeClass === 'free' ? (
        <>
          <NumberField
            label="Width"
            className="w-16"
            digits={0}
            min={16}
            max={8192}
            value={c.width}
            onCommit={(v) => set({ width: Math.round(v / 2) * 2 })}
          />
          ×
          <NumberField
            label="Height"
            className="w-16"
            digits={0}
            min={16}
            max={8192}
            value={c.height}
            onCommit={(v) => set({ height: Math.round(v / 2) * 2 })}
          />
        </>
      ) : (
        <span className="figure">
          {size.width} × {size.height}
        </span>
      )}
    </Row>
  );
}

export function RateRow({ choice: c, set }: FieldProps) {
  const { facts } = useStudioStore().getState().footage;
  return (
    <Row name="Frame rate">
      <NumberField
        label="Frame rate"
        className="w-20"
        digits={2}
        min={1}
        max={240}
        unit=" fps"
        value={c.rate}
        onCommit={(rate) => set({ rate })}
      />
      <span className="text-muted">footage: {Number(facts.rate.toFixed(2))}</span>
    </Row>
  );
}

export function CodecRow({ choice: c, set }: FieldProps) {
  return (
    <Row name="Codec">
      <Select
        label="Codec"
        value={c.codec}
        options={CODECS.map((k) => [k, codecFacts(k).label] as const)}
        onChange={(codec) => set({ codec })}
      />
    </Row>
  );
}

/** By quality or by bit rate; codecs that lose nothing have neither. */
export function AmountRow({ choice: c, set }: FieldProps) {
  const scale = codecFacts(c.codec).quality;
  return (
    <Row name="Amount" hidden={!scale}>
      <Select
        label="Quality or bit rate"
        value={c.by}
        options={[
          ['quality', 'by quality'],
          ['bitRate', 'by bit rate'],
        ]}
        onChange={(by) => set({ by })}
      />
      {c.by === 'quality' ? (
        <>
          <NumberField
            label="Quality"
            className="w-14"
            digits={0}
            min={scale?.best}
            max={scale?.least}
            value={c.quality}
            onCommit={(quality) => set({ quality })}
          />
          <span className="whitespace-nowrap text-muted">
            {scale?.best} best, to {scale?.least}
          </span>
        </>
      ) : (
        <NumberField
          label="Bit rate"
          className="w-24"
          digits={1}
          min={0.1}
          max={500}
          unit=" Mbit/s"
          value={c.megabits}
          onCommit={(megabits) => set({ megabits })}
        />
      )}
    </Row>
  );
}
