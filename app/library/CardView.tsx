/** What is on a card: recordings with a picture each, ticked and copied; nothing is copied before that. */
import { Check, Disc, Eject, HardDriveDownload } from 'lucide-react';
import { Checkbox } from 'radix-ui';
import { useEffect, useState } from 'react';
import { Form, Link, useFetcher, useNavigate, useRevalidator } from 'react-router';
import { useStore } from 'zustand';
import type { CardRecording } from '@glimbo/media/card';
import { copyName, JobProgress } from '~/ui/JobProgress';
import { bytes, clock } from '~/ui/format';
import { jobEvents, liveJob, useJobEvents } from '~/ui/job-events';
import type { CardLook, CardState } from '~/model/card';
import type { Job, JobEvent } from '~/model/job';

const isCopy = ({ kind }: JobEvent) => kind === 'copy';

export function CardView({ card, path, copies }: { card: CardState; path: string | null; copies: Job[] }) {
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [looks, setLooks] = useState<ReadonlyMap<string, CardLook>>(new Map());
  const [prefix, setPrefix] = useState('');
  const [tags, setTags] = useState('');
  useJobEvents(isCopy);
  const events = useStore(jobEvents, ({ byId }) => byId);
  const fetcher = useFetcher<{ problem?: string }>();
  useLooks(card.folder, card.recordings, setLooks);

  const chosen = card.recordings.filter((r) => ticked.has(r.name));
  const fit = card.recordings.filter((r) => usable(r, looks.get(r.name)));
  const tick = (name: string, on: boolean) =>
    setTicked((old) => {
      const next = new Set(old);
      if (on) next.add(name);
      else next.delete(name);
      return next;
    });
  const copy = () => {
    const form = new FormData();
    form.set('intent', 'copy');
    form.set('folder', card.folder!);
    form.set('prefix', prefix);
    form.set('tags', tags);
    chosen.forEach((r) => form.append('recording', r.name));
    void fetcher.submit(form, { method: 'post', action: '/card' });
    setTicked(new Set());
  };
  const running = copies.filter((j) => liveJob(j, events[j.id])?.going);
  const last = copies[0];

  return (
    <main className="mx-auto max-w-[1400px] p-5">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-lg font-semibold">Card</h1>
        {card.folder && <span className="figure truncate text-muted">{card.folder}</span>}
        <span className="flex-1" />
        {card.demo && (
          <Form method="post">
            {card.demo === 'inserted' ? (
              <button className="button" name="intent" value="eject">
                <Eject size={14} /> Eject the card
              </button>
            ) : (
              <button className="button main" name="intent" value="insert">
                <Disc size={14} /> Insert the card
              </button>
            )}
          </Form>
        )}
        <FolderAsCard path={path} />
      </div>
      {card.problem && <p className="mb-3 text-error">{card.problem}</p>}
      {fetcher.data?.problem && (
        <p className="mb-3 text-error" role="alert">
          {fetcher.data.problem}
        </p>
      )}
      {(running.length ? running : last ? [last] : []).map((job) => (
        <JobProgress key={job.id} job={job} name={copyName(job)} />
      ))}
      {card.folder ? (
        card.recordings.length === 0 ? (
          <p className="py-16 text-center text-lg">There are no recordings on this card.</p>
        ) : (
          <>
            <ul className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(280px,1fr))] gap-3">
              {card.recordings.map((r) => (
                <Recording
                  key={r.name}
                  recording={r}
                  look={looks.get(r.name)}
                  ticked={ticked.has(r.name)}
                  onTick={(on) => tick(r.name, on)}
                />
              ))}
            </ul>
            <div className="sticky bottom-0 mt-4 flex flex-wrap items-center gap-3 border-t border-edge bg-paper py-3">
              <button
                className="button"
                onClick={() => setTicked(new Set(fit.map((r) => r.name)))}
                disabled={!fit.length || chosen.length === fit.length}
              >
                Choose all that can be copied
              </button>
              <button className="button" onClick={() => setTicked(new Set())} disabled={!chosen.length}>
                Choose none
              </button>
              <label className="flex items-center gap-2">
                Name prefix
                <input
                  className="field w-32"
                  value={prefix}
                  maxLength={60}
                  onChange={(e) => setPrefix(e.target.value)}
                  placeholder="none"
                />
              </label>
              <label className="flex items-center gap-2">
                Tags
                <input
                  className="field w-40"
                  value={tags}
                  onChange={(e) => setTags(e.target.value)}
                  placeholder="open day, pole"
                />
              </label>
              <span className="flex-1" />
              <span className="figure text-muted">
                {chosen.length} of {card.recordings.length} chosen, {bytes(chosen.reduce((sum, r) => sum + r.size, 0))}
              </span>
              <button className="button main" onClick={copy} disabled={!chosen.length}>
                <HardDriveDownload size={14} /> Copy to the Library
              </button>
            </div>
          </>
        )
      ) : (
        <div className="py-16 text-center">
          <p className="text-lg">{card.demo ? 'The card is not inserted.' : 'No card is read yet.'}</p>
          <p className="text-muted">
            {card.demo
              ? 'Insert it to see what was filmed. Nothing is copied until you choose it.'
              : 'Give the folder of a card or of a disk, on the machine that runs Glimbo.'}
          </p>
        </div>
      )}
    </main>
  );
}

/** Whether nothing is known that speaks against copying a recording. */
const usable = (r: CardRecording, look: CardLook | undefined) => !r.problem && !look?.problem && !look?.known;

/** Asks for a look at each recording, two at a time, the ones at the top first. */
function useLooks(
  folder: string | null,
  recordings: CardRecording[],
  set: (change: (old: ReadonlyMap<string, CardLook>) => ReadonlyMap<string, CardLook>) => void,
) {
  const names = recordings.map((r) => r.name).join('/');
  const { revalidate } = useRevalidator();
  useEffect(() => {
    set(() => new Map());
    if (!folder) return;
    const stop = new AbortController();
    const rest = names.split('/').filter(Boolean);
    const next = async (): Promise<void> => {
      const name = rest.shift();
      if (name === undefined) return;
      const query = new URLSearchParams({ folder, name });
      try {
        const look = (await (await fetch(`/card/look?${query}`, { signal: stop.signal })).json()) as CardLook;
        set((old) => new Map(old).set(name, look));
      } catch {
        if (stop.signal.aborted) return;
        void revalidate();
      }
      return next();
    };
    void next();
    void next();
    return () => stop.abort();
  }, [folder, names]); // eslint-disable-line react-hooks/exhaustive-deps -- the setter and the revalidator never change what is asked
}

function Recording({
  recording,
  look,
  ticked,
  onTick,
}: {
  recording: CardRecording;
  look: CardLook | undefined;
  ticked: boolean;
  onTick: (on: boolean) => void;
}) {
  const problem = recording.problem ?? look?.problem;
  const can = usable(recording, look);
  return (
    <li className={`border bg-sheet ${ticked ? 'border-ink' : 'border-rule'}`} data-testid="card-recording">
      <label className="block cursor-pointer">
        <span className="relative block aspect-[2/1] bg-well">
          {look?.picture ? (
            <img
              src={`/media/cards/${look.picture}`}
              alt={`A picture from ${recording.name}`}
              className={`size-full object-cover ${can ? '' : 'opacity-40'}`}
              draggable={false}
            />
          ) : (
            <span className="grid size-full place-items-center text-white/70">
              {look ? 'No picture can be read' : 'Looking'}
            </span>
          )}
          <Checkbox.Root
            className="absolute top-2 left-2 grid size-6 place-items-center border border-edge bg-sheet data-[state=checked]:bg-ink data-[state=checked]:text-paper"
            aria-label={`Choose ${recording.name}`}
            checked={ticked}
            disabled={!can}
            onCheckedChange={(on) => onTick(on === true)}
          >
            <Checkbox.Indicator>
              <Check size={16} />
            </Checkbox.Indicator>
          </Checkbox.Root>
        </span>
      </label>
      <div className="p-2">
        <h2 className="truncate font-semibold">{recording.name}</h2>
        <p className="figure truncate text-muted">
          {look?.duration ? `${clock(look.duration)} · ${look.width} × ${look.height} · ` : ''}
          {bytes(recording.size)}
        </p>
        <p className={problem ? 'text-error' : 'text-muted'}>
          {problem ??
            (look?.known
              ? `In the Library already, as ${look.known}.`
              : recording.files.length > 1
                ? 'Two lenses, two files'
                : 'One file')}
        </p>
      </div>
    </li>
  );
}

function FolderAsCard({ path }: { path: string | null }) {
  const [text, setText] = useState(path ?? '');
  const navigate = useNavigate();
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void navigate(text.trim() ? `/card?${new URLSearchParams({ path: text.trim() })}` : '/card');
      }}
    >
      <input
        className="field w-64"
        aria-label="Folder to read as a card"
        placeholder="Folder to read as a card"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <button className="button">Read it</button>
      {path && (
        <Link className="underline" to="/card">
          Back to the card
        </Link>
      )}
    </form>
  );
}
