/** How what is ahead goes on over time: keys of pan, tilt and roll for the whole sphere. */
import { Trash2 } from 'lucide-react';
import {
  easeTurn,
  removeTurn,
  setTurn,
  turnEase,
  turnAt,
  TURNED,
  turnTimes,
  type Turned,
} from '@glimbo/core/take/turn';
import { clock } from '~/ui/format';
import { NumberField } from '~/ui/Dial';
import { IconButton } from '~/ui/IconButton';
import { EaseSelect } from '../path/EaseSelect';
import { useClock, useStudio, useStudioStore, useTake } from '../state/store';

const MOST: Readonly<Record<Turned, number>> = { pan: 36000, tilt: 360, roll: 3600 };

export function TurnFields() {
  const store = useStudioStore();
  const { orientation } = useTake();
  const turn = orientation?.turn;
  const time = useStudio((s) => s.time);
  const times = useClock();
  const now = turnAt(turn, time);
  const put = (next: typeof turn) => store.getState().correct({ orientation: { ...orientation, turn: next } });
  const keys = turnTimes(turn);
  return (
    <div className="flex flex-col gap-1" role="group" aria-label="Turn over time">
      <h2 className="label">Turn over time</h2>
      <p className="text-muted">
        Turns the whole sphere, in spherical clips too. A number that is typed sets a key at the playhead.
      </p>
      <div className="flex flex-wrap gap-2">
        {TURNED.map((name) => (
          <label key={name} className="flex items-center gap-1">
            {name}
            <NumberField
              label={`Turn: ${name}`}
              value={now[name]}
              min={-MOST[name]}
              max={MOST[name]}
              unit="°"
              onCommit={(v) => put(setTurn(turn, time, { [name]: v }))}
            />
          </label>
        ))}
        <button className="button" onClick={() => put(setTurn(turn, time, {}))}>
          Key here
        </button>
      </div>
      {keys.length > 0 && (
        <div className="max-h-28 overflow-auto">
          {keys.map((key) => (
            <div key={key} className="flex items-center gap-2 border-t border-rule py-0.5" data-testid="turn-key">
              <button className="figure underline" onClick={() => store.getState().setTime(key)}>
                {clock(times.shown(key))}
              </button>
              <span className="figure flex-1 text-muted">{turnAt(turn, key).pan.toFixed(1)}°</span>
              <EaseSelect
                label={`What leaves the turn at ${clock(times.shown(key))}`}
                ease={turnEase(turn, key)}
                className="w-24"
                onChange={(ease) => put(easeTurn(turn, key, ease))}
              />
              <IconButton
                label={`Remove the turn at ${clock(times.shown(key))}`}
                className="size-6!"
                onClick={() => put(removeTurn(turn, key))}
              >
                <Trash2 size={12} />
              </IconButton>
            </div>
          ))}
        </div>
      )}
      {turn && (
        <button className="button self-start" onClick={() => put(undefined)}>
          Take all of it out
        </button>
      )}
    </div>
  );
}
