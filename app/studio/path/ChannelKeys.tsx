/** The keys of one channel beside its dial: the one before, one here or not, the one after. */
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { sameTime } from '@glimbo/core/path/keys';
import { keysOf, type CurveName } from '@glimbo/core/path/path';
import { curvesOf } from '@glimbo/core/edit/curves';
import { KeyButton } from './KeyButton';
import { toChannelKey, toggleChannelKey } from '../commands/path-edits';
import { useStudio, useStudioStore, useTake } from '../state/store';

export function ChannelKeys({ channel, name }: { channel: CurveName; name: string }) {
  const store = useStudioStore();
  const keys = keysOf(curvesOf(useTake()), channel);
  const time = useStudio((s) => s.time);
  const here = keys.some((k) => sameTime(k.time, time));
  const small = name.toLowerCase();
  const step = (which: 'previous' | 'next') => {
    const there = keys.some((k) => (which === 'next' ? k.time > time + 1e-6 : k.time < time - 1e-6));
    const words = which === 'next' ? 'Next' : 'Previous';
    return (
      <button
        className="icon-button h-6! w-4!"
        aria-label={`${words} key of ${small}`}
        title={`${words} key of ${small}`}
        disabled={!there}
        onClick={() => toChannelKey(store, channel, which)}
      >
        {which === 'next' ? <ChevronRight size={13} /> : <ChevronLeft size={13} />}
      </button>
    );
  };
  return (
    <span className="flex shrink-0 items-center">
      {step('previous')}
      <KeyButton
        name={small}
        here={here}
        any={keys.length > 0}
        about={`Set a key of ${small} alone`}
        onToggle={() => toggleChannelKey(store, channel)}
      />
      {step('next')}
    </span>
  );
}
