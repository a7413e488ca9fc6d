/** Dials of the look, each with its keys. */
import { gradeAt } from '@glimbo/core/look/channels';
import { Dial } from '~/ui/Dial';
import { ChannelKeys } from '../path/ChannelKeys';
import { useStudio, useStudioStore, useTake } from '../state/store';
import type { GradeDial } from './grade-dials';

export function GradeDials({ label, dials }: { label: string; dials: readonly GradeDial[] }) {
  const store = useStudioStore();
  const { look } = useTake();
  const time = useStudio((s) => s.time);
  const grade = gradeAt(look?.grade ?? {}, time);
  return (
    <section aria-label={label}>
      {dials.map(({ channel, name, least, most, digits, unit }) => (
        <Dial
          key={channel}
          name={name}
          value={grade[channel]}
          min={least}
          max={most}
          step={10 ** -digits}
          digits={digits}
          unit={unit}
          reset={0}
          more={<ChannelKeys channel={channel} name={name} />}
          onChange={(value) => store.getState().gradeDial(channel, value, `grade-${channel}`)}
          onEnd={() => store.getState().endGesture()}
        />
      ))}
    </section>
  );
}
