/** Playing and going about in time; the picture format stands here too, since every framing depends on it. */
import {
  ChevronFirst,
  ChevronLast,
  Expand,
  Grid2x2,
  Layers,
  Pause,
  Play,
  Repeat,
  StepBack,
  StepForward,
} from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { anglesIn, aimOf } from '@glimbo/core/view/view-of';
import { IconButton } from '~/ui/IconButton';
import { NumberField } from '~/ui/Dial';
import { usePaceMap } from '../path/pace-edits';
import { useClock, useStudio, useFollowed, useStudioStore, useTake } from '../state/store';
import { FormatMenu } from './FormatMenu';
import { usePlayer } from '../player/player-context';

export function Transport() {
  const store = useStudioStore();
  const take = useTake();
  const time = useStudio((s) => s.time);
  const speed = useStudio((s) => s.speed);
  const loop = useStudio((s) => s.loop);
  const lookRound = useStudio((s) => s.lookRound);
  const large = useStudio((s) => s.large);
  const player = usePlayer();
  const { rate, duration } = store.getState().footage.facts;
  const times = useClock();
  const pace = usePaceMap();
  const angles = anglesIn(take, aimOf(take, { ...useFollowed(), lookout: useStudio((s) => s.aimed()) }, time));
  return (
    <div className="@container flex h-10 items-center gap-1 border-b border-rule px-3">
      <IconButton label="To the in point" onClick={() => store.getState().setTime(take.range.in)}>
        <ChevronFirst size={16} />
      </IconButton>
      <IconButton
        title="One frame back (←)"
        label="One frame back"
        onClick={() => store.getState().setTime(time - 1 / rate)}
      >
        <StepBack size={15} />
      </IconButton>
      <IconButton
        className="bg-ink! text-paper!"
        title={speed ? 'Pause (Space)' : 'Play (Space)'}
        label={speed ? 'Pause' : 'Play'}
        onClick={() => player.toggle()}
      >
        {speed ? <Pause size={15} /> : <Play size={15} />}
      </IconButton>
      <IconButton
        title="One frame on (→)"
        label="One frame on"
        onClick={() => store.getState().setTime(time + 1 / rate)}
      >
        <StepForward size={15} />
      </IconButton>
      <IconButton label="To the out point" onClick={() => store.getState().setTime(take.range.out - 1 / rate)}>
        <ChevronLast size={16} />
      </IconButton>
      <IconButton pressed={loop} label="Loop between in and out" onClick={() => store.getState().setLoop(!loop)}>
        <Repeat size={14} />
      </IconButton>
      <NumberField
        label="Time in seconds"
        className="ml-1 w-20"
        value={times.shown(time)}
        min={0}
        max={times.shown(duration)}
        digits={3}
        unit=" s"
        onCommit={(t) => store.getState().setTime(times.footage(t))}
      />
      <span
        className={`figure ml-1 whitespace-nowrap text-muted ${take.pace ? 'hidden @[860px]:inline' : ''}`}
        title="Frame number"
      >
        f {Math.round(time * rate)}
      </span>
      {take.pace && (
        <span
          className="figure ml-1 whitespace-nowrap"
          title="Seconds of the clip, and how many it has"
          data-testid="clip-time"
        >
          clip {pace.clip(time).toFixed(1)} of {pace.length.toFixed(1)} s
        </span>
      )}
      {speed !== 0 && speed !== 1 && <span className="figure font-semibold">{speed}×</span>}
      <span className="flex-1" />
      <IconButton
        pressed={lookRound}
        title="Look all round: front, right, back and left at once (G)"
        label="Look all round"
        onClick={() => store.getState().lookAllRound(!lookRound)}
      >
        <Grid2x2 size={15} />
      </IconButton>
      <PictureMenu />
      {!large && (
        <IconButton
          title="The Frame alone, over the whole window (F)"
          label="Large Frame"
          onClick={() => store.getState().enlarge(true)}
        >
          <Expand size={15} />
        </IconButton>
      )}
      <span
        className="figure hidden text-muted @[800px]:inline"
        title="Horizontal and vertical angle, and 35 mm equivalent focal length"
      >
        {angles.horizontal.toFixed(0)}° × {angles.vertical.toFixed(0)}° · {angles.focalLength.toFixed(1)} mm
      </span>
      <FormatMenu />
    </div>
  );
}

const SHARES = [
  ['auto', 'Suited to this machine'],
  ['1', 'Full'],
  ['0.5', 'Half'],
  ['0.25', 'Quarter'],
  ['0.125', 'Eighth'],
] as const;
const PREVIEWS = [
  ['proxy', 'The proxy'],
  ['original', 'The original'],
] as const;

/** What the Frame is drawn from while it stands, and how finely while it plays. */
function PictureMenu() {
  const store = useStudioStore();
  const preview = useStudio((s) => s.preview);
  const share = useStudio((s) => s.share);
  const group = (
    label: string,
    value: string,
    options: readonly (readonly [string, string])[],
    choose: (v: string) => void,
  ) => (
    <DropdownMenu.RadioGroup value={value} onValueChange={choose}>
      <DropdownMenu.Label className="label px-2 pt-1">{label}</DropdownMenu.Label>
      {options.map(([id, name]) => (
        <DropdownMenu.RadioItem key={id} value={id} className="menu-item pl-6!">
          <DropdownMenu.ItemIndicator className="-ml-6 w-4">•</DropdownMenu.ItemIndicator>
          {name}
        </DropdownMenu.RadioItem>
      ))}
    </DropdownMenu.RadioGroup>
  );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="icon-button" title="What the Frame is drawn from" aria-label="Picture">
        <Layers size={15} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu" sideOffset={4}>
          {group('Picture while it stands still', preview, PREVIEWS, (v) =>
            store.getState().drawFrom(v as typeof preview),
          )}
          {group('Resolution while it plays', share === null ? 'auto' : String(share), SHARES, (v) =>
            store.getState().playAtShare(v === 'auto' ? null : Number(v)),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
