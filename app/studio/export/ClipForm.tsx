/** What the clip is to be like: picture, format, size, rate, codec and amount, with the size it will have. */
import { Film } from 'lucide-react';
import { useState } from 'react';
import { useFetcher, useParams } from 'react-router';
import { expectedSize, firstChoice, settingsOf, type ClipChoice } from '@glimbo/core/export/choice';
import { formatsOf, inFormat } from '@glimbo/core/take/formats';
import { clipLength, framesIn } from '@glimbo/core/take/timing';
import { bytes, clock } from '~/ui/format';
import { useStudio, useStudioStore, useTake } from '../state/store';
import { useWork } from '../state/work';
import { AmountRow, CodecRow, PictureRow, RateRow, SizeRow } from './clip-fields';

export function ClipForm() {
  const store = useStudioStore();
  const take = useTake();
  const { ratios } = useWork();
  const saved = useStudio((s) => s.save.kind === 'saved');
  const { takeId } = useParams();
  const { facts, sphereWidth } = store.getState().footage;
  const fetcher = useFetcher<{ problem?: string }>();
  const [c, setChoice] = useState<ClipChoice>(() => firstChoice(take.reading ?? facts.rate));
  const set = (change: Partial<ClipChoice>) => setChoice({ ...c, ...change });
  const settings = settingsOf(c, take, sphereWidth);
  const seconds = clipLength(take, facts.rate);
  const expected = expectedSize(settings, seconds, facts.sound !== null, ratios);
  const formats = formatsOf(take);
  const send = (aspects: string[]) => {
    const each = aspects.map((aspect) => ({ aspect, settings: settingsOf(c, inFormat(take, aspect), sphereWidth) }));
    return fetcher.submit(
      { intent: 'export', takeId: takeId!, clips: JSON.stringify(each) },
      { method: 'post', action: '/exports' },
    );
  };
  const busy = !saved || fetcher.state !== 'idle';
  const fields = { choice: c, set };
  return (
    <section className="overflow-auto px-3 py-2" aria-label="Export settings">
      <PictureRow {...fields} />
      <SizeRow {...fields} />
      <RateRow {...fields} />
      <CodecRow {...fields} />
      <AmountRow {...fields} />
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <button className="button main h-8!" onClick={() => void send([take.frame.aspect])} disabled={busy}>
          <Film size={14} /> Export clip
        </button>
        {formats.length > 1 && !c.sphere && c.sizeClass !== 'free' && (
          <button
            className="button h-8!"
            onClick={() => void send(formats.map((f) => f.aspect))}
            disabled={busy}
            title={formats.map((f) => f.aspect).join(', ')}
          >
            Export all {formats.length} formats
          </button>
        )}
        <span
          className="figure whitespace-nowrap"
          data-testid="estimate"
          title={
            expected.learned ? 'Reckoned with how large your clips came out' : 'A guess; it gets better with every clip'
          }
        >
          {expected.exact ? '' : 'about '}
          {bytes(expected.bytes)}
        </span>
        <span className="figure whitespace-nowrap text-muted">
          {clock(seconds)}, {framesIn(seconds, c.rate)} frames
        </span>
      </div>
      {fetcher.data?.problem && <p className="mt-2 text-error">{fetcher.data.problem}</p>}
    </section>
  );
}
