/** The keys of one channel beside its dial: the one before, one here or not, the one after. */
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { sameTime } from '@glimbo/core/path/keys';
import { keysOf, type CurveName } from '@glimbo/core/path/path';
import { curvesOf } from '@glimbo/core/take/curves';
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
      <button
        className="icon-button h-6! w-4.5!"
        aria-label={`Key of ${small} here`}
        aria-pressed={here}
        title={here ? `Take the key of ${small} away` : `Set a key of ${small} alone`}
        onClick={() => toggleChannelKey(store, channel)}
      >
        <svg width={11} height={11} viewBox="-6 -6 12 12" aria-hidden>
          <circle
            r={4.2}
            fill={here ? 'var(--camera)' : 'none'}
            stroke={keys.length ? 'var(--camera)' : 'var(--edge)'}
            strokeWidth={1.8}
          />
        </svg>
      </button>
      {step('next')}
    </span>
  );
}
