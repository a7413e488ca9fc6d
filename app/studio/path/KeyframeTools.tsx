/** What is done with keyframes at the playhead: going from one to the next, setting, copying, removing. */
import { ChevronDown, ChevronUp, Copy, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { neighbours } from '@glimbo/core/path/edit';
import { IconButton } from '~/ui/IconButton';
import { duplicateHere, insertHere, keyHere, removeHere } from '../commands/path-edits';
import { OtherTakes } from '../fields/OtherTakes';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { EditMenu } from './EditMenu';
import { Hold } from './Hold';

/** `count`: how many keyframes there are; `here`: whether one is at the playhead. */
export function KeyframeTools({ count, here }: { count: number; here: boolean }) {
  const store = useStudioStore();
  const { path } = useTake();
  const near = neighbours(
    path,
    useStudio((s) => s.time),
  );
  const selected = useStudio((s) => s.selection.size > 0);
  const [others, setOthers] = useState(false);
  const go = (time: number | undefined) => {
    if (time === undefined) return;
    store.getState().setTime(time);
    store.getState().selectView(time);
  };
  const noun = count === 1 ? 'keyframe' : 'keyframes';
  return (
    <div className="flex h-9 items-center gap-0.5 border-b border-rule px-2">
      <span className="label mr-auto whitespace-nowrap" title={`${count} ${noun}`} data-testid="keyframe-count">
        {count > 0 && <span>{count} </span>}
        <span className={count ? 'hidden @[760px]:inline' : ''}>{count ? noun : 'Keyframes'}</span>
      </span>
      <IconButton
        title="Previous keyframe (↑)"
        label="Previous keyframe"
        disabled={near.previous === undefined}
        onClick={() => go(near.previous)}
      >
        <ChevronUp size={15} />
      </IconButton>
      <IconButton
        title="Next keyframe (↓)"
        label="Next keyframe"
        disabled={near.next === undefined}
        onClick={() => go(near.next)}
      >
        <ChevronDown size={15} />
      </IconButton>
      <IconButton
        title="Duplicate the selected keyframes to the playhead (Ctrl D)"
        label="Duplicate to the playhead"
        disabled={!selected || here}
        onClick={() => duplicateHere(store)}
      >
        <Copy size={14} />
      </IconButton>
      <Hold />
      <EditMenu onOthers={() => setOthers(true)} />
      {others && <OtherTakes onClose={() => setOthers(false)} />}
      <IconButton
        title="Remove the keyframe (Delete)"
        label="Remove the keyframe"
        disabled={!selected && !here}
        onClick={() => removeHere(store)}
      >
        <Trash2 size={14} />
      </IconButton>
      <button
        className="button h-6!"
        onClick={(e) => (e.shiftKey ? insertHere(store) : keyHere(store))}
        title="Set a keyframe at the playhead (Enter); in between without a change of the curve (Shift Enter)"
      >
        <Plus size={13} />{' '}
        {here ? (
          <span>
            Set<span className="hidden @[760px]:inline"> again</span>
          </span>
        ) : (
          'Set'
        )}
      </button>
    </div>
  );
}
