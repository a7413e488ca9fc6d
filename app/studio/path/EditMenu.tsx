/** What else can be done with the selected keyframes, or with the path at the playhead. */
import { Ellipsis } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { DropdownMenu } from 'radix-ui';
import { SPIN_AXES, spin, turnAcross, type SpinAxis } from '@glimbo/core/path/gestures';
import { snap } from '@glimbo/core/path/edit';
import type { ChannelName } from '@glimbo/core/path/path';
import { NumberField } from '~/ui/Dial';
import { Select } from '~/ui/Select';
import * as edit from '../commands/path-edits';
import * as files from './path-files';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { VALUE_DIALS, dialOf } from '../fields/value-dials';

export function EditMenu({ onOthers }: { onOthers: () => void }) {
  const store = useStudioStore();
  const some = useStudio((s) => s.selection.size > 0);
  const time = useStudio((s) => s.time);
  const turn = turnAcross(useTake().path, time);
  const item = (name: string, run: () => void, disabled = false) => (
    <DropdownMenu.Item className="menu-item" disabled={disabled} onSelect={run}>
      {name}
    </DropdownMenu.Item>
  );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="icon-button" title="More for keyframes" aria-label="More for keyframes">
        <Ellipsis size={15} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu p-1.5!" sideOffset={4}>
          {item('Set in between, the curve stays (Shift Enter)', () => edit.insertHere(store))}
          {item('Cut (Ctrl X)', () => edit.cutKeys(store), !some)}
          {item('Copy (Ctrl C)', () => void edit.copyKeys(store))}
          {item('Paste here (Ctrl V)', () => edit.pasteKeys(store))}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          {item('Mirror: left for right', () => edit.mirrorSelected(store), !some)}
          {item('Reverse in time', () => edit.reverseSelected(store), !some)}
          <Stretch />
          <Offset />
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <Spin />
          {item(
            turn !== null && Math.abs(turn) > 180
              ? `Turn the other way: ${Math.round(360 - Math.abs(turn))}° instead of ${Math.round(Math.abs(turn))}°`
              : 'Turn the other way round',
            () => edit.goOtherWay(store),
            turn === null,
          )}
          {item('Back to the first view at the end', () => edit.loopToFirst(store))}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          {item('Paste onto other takes…', () => onOthers())}
          {item('Save the path as CSV', () => files.savePath(store))}
          {item('Read a path from CSV…', () => files.readPath(store))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** A row of a menu with numbers in it: typing in them is not for the menu. */
const Fields = ({ children }: { children: ReactNode }) => (
  <div className="flex items-center gap-1.5 px-2 py-0.5" onKeyDown={(e) => e.key !== 'Escape' && e.stopPropagation()}>
    {children}
  </div>
);

/** Stretches times about the playhead. */
function Stretch() {
  const store = useStudioStore();
  const [percent, setPercent] = useState(150);
  return (
    <Fields>
      Stretch about the playhead to
      <NumberField
        label="Stretch to, in per cent"
        value={percent}
        min={1}
        max={2000}
        digits={0}
        unit=" %"
        onCommit={setPercent}
      />
      <button className="button h-6!" onClick={() => edit.stretchSelected(store, percent / 100)}>
        Stretch
      </button>
    </Fields>
  );
}

/** Adds to one channel of what is selected. */
function Offset() {
  const store = useStudioStore();
  const [channel, setChannel] = useState<ChannelName>('pan');
  const [by, setBy] = useState(10);
  const dial = dialOf(channel);
  return (
    <Fields>
      Offset
      <Select<ChannelName>
        label="Channel to offset"
        value={channel}
        options={VALUE_DIALS.map((d) => [d.channel, d.name] as const)}
        onChange={setChannel}
      />
      by
      <NumberField
        label="Offset by"
        value={by}
        min={-720}
        max={720}
        digits={dial.digits}
        unit={dial.unit}
        onCommit={setBy}
      />
      <button className="button h-6!" onClick={() => edit.offsetSelected(store, channel, by)}>
        Offset
      </button>
    </Fields>
  );
}

const AXES: Record<SpinAxis, string> = { vertical: 'the vertical', view: 'the view', across: 'across' };

/** Spins from the playhead on, for some seconds. */
function Spin() {
  const store = useStudioStore();
  const [turns, setTurns] = useState(1);
  const [axis, setAxis] = useState<SpinAxis>('vertical');
  const [seconds, setSeconds] = useState(2);
  const go = () => {
    const { time, footage, edit: change } = store.getState();
    const { rate, duration } = footage.facts;
    const to = snap(Math.min(duration - 1 / rate, time + seconds), rate);
    if (to > time) change((t) => ({ ...t, path: spin(t.path, axis, time, to, turns, 'ease-in-out') }));
  };
  return (
    <Fields>
      Spin
      <NumberField
        label="Turns"
        value={turns}
        min={-20}
        max={20}
        digits={0}
        className="w-10"
        onCommit={(n) => setTurns(Math.round(n) || 1)}
      />
      about
      <Select<SpinAxis>
        label="Axis of the spin"
        value={axis}
        options={SPIN_AXES.map((a) => [a, AXES[a]] as const)}
        onChange={setAxis}
      />
      in
      <NumberField
        label="Seconds of the spin"
        value={seconds}
        min={0.1}
        max={60}
        digits={1}
        unit=" s"
        className="w-14"
        onCommit={setSeconds}
      />
      <button className="button h-6!" onClick={go}>
        Spin
      </button>
    </Fields>
  );
}
