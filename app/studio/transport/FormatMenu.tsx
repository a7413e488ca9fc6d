/** The picture's format: the one that is worked on, all that the take has, what one has of its own, and guides. */
import { Frame as FrameIcon } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { corrects } from '@glimbo/core/take/format-correction';
import {
  addFormat,
  formatOf,
  formatsOf,
  removeFormat,
  shapesFor,
  withCorrection,
  withFormat,
} from '@glimbo/core/take/formats';
import { Select } from '~/ui/Select';
import { GUIDES, type Guide } from '../state/frame-state';
import { useStudio, useStudioStore, useTake } from '../state/store';

const GUIDE_NAMES: Record<Guide, string> = { thirds: 'Thirds', centre: 'Centre', safe: 'Safe area for feeds' };
const CORRECTING = [
  ['no', 'the path, for all formats'],
  ['value', 'this format alone'],
  ['keys', 'this format alone, with keyframes'],
] as const;

export function FormatMenu() {
  const store = useStudioStore();
  const take = useTake();
  const correcting = useStudio((s) => s.correcting);
  const own = corrects(formatOf(take).correction);
  const formats = formatsOf(take);
  return (
    <span className="ml-1 flex items-center gap-1">
      <label className="flex items-center gap-2">
        <span className="label hidden @[740px]:inline">Format</span>
        <Select
          label="Format"
          value={take.frame.aspect}
          options={shapesFor(take).map(
            (a) => [a, formats.length > 1 && formats.some((f) => f.aspect === a) ? `${a} ✓` : a] as const,
          )}
          onChange={(aspect) => store.getState().edit((t) => withFormat(t, aspect))}
        />
      </label>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          className="icon-button"
          title="Formats of this take, and guides"
          aria-label="Formats and guides"
          aria-pressed={correcting !== 'no' || own}
        >
          <FrameIcon size={15} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className="menu max-h-[70vh] overflow-auto" sideOffset={4}>
            <Formats />
            <DropdownMenu.Separator className="my-1 h-px bg-rule" />
            <DropdownMenu.RadioGroup
              value={correcting}
              onValueChange={(v) => store.getState().correctFormat(v as typeof correcting)}
            >
              <DropdownMenu.Label className="label px-2">Aiming changes</DropdownMenu.Label>
              {CORRECTING.map(([id, name]) => (
                <DropdownMenu.RadioItem key={id} value={id} className="menu-item pl-6!">
                  <DropdownMenu.ItemIndicator className="-ml-6 w-4">•</DropdownMenu.ItemIndicator>
                  {name}
                </DropdownMenu.RadioItem>
              ))}
            </DropdownMenu.RadioGroup>
            <DropdownMenu.Item
              className="menu-item"
              disabled={!own}
              onSelect={() => store.getState().edit((t) => withCorrection(t, undefined))}
            >
              {take.frame.aspect} follows the path alone again
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 h-px bg-rule" />
            <GuideItems />
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </span>
  );
}

/** An item that is on or off, and leaves the menu open. */
function Tick({
  name,
  on,
  onToggle,
  disabled,
}: {
  name: string;
  on: boolean;
  onToggle: () => void;
  disabled?: boolean;
}) {
  return (
    <DropdownMenu.CheckboxItem
      className="menu-item pl-6!"
      checked={on}
      disabled={disabled}
      onSelect={(e) => e.preventDefault()}
      onCheckedChange={onToggle}
    >
      <DropdownMenu.ItemIndicator className="-ml-6 w-4">✓</DropdownMenu.ItemIndicator>
      {name}
    </DropdownMenu.CheckboxItem>
  );
}

function Formats() {
  const store = useStudioStore();
  const take = useTake();
  const all = useStudio((s) => s.allFormats);
  const formats = formatsOf(take);
  return (
    <>
      <DropdownMenu.Label className="label px-2 pt-1">Formats of this take</DropdownMenu.Label>
      {shapesFor(take).map((aspect) => {
        const has = formats.some((f) => f.aspect === aspect);
        return (
          <Tick
            key={aspect}
            name={aspect}
            on={has}
            disabled={has && formats.length === 1}
            onToggle={() => store.getState().edit((t) => (has ? removeFormat(t, aspect) : addFormat(t, aspect)))}
          />
        );
      })}
      <Tick
        name="Side by side in the Frame"
        on={all}
        disabled={formats.length < 2}
        onToggle={() => store.getState().showAllFormats(!all)}
      />
    </>
  );
}

function GuideItems() {
  const store = useStudioStore();
  const guides = useStudio((s) => s.guides);
  return (
    <>
      <DropdownMenu.Label className="label px-2">Guides, never exported</DropdownMenu.Label>
      {GUIDES.map((guide) => (
        <Tick
          key={guide}
          name={GUIDE_NAMES[guide]}
          on={guides.includes(guide)}
          onToggle={() => store.getState().toggleGuide(guide)}
        />
      ))}
    </>
  );
}
