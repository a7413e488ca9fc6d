/** What was changed here and could not be kept as it is: a bar that says so, and what can be done. Nothing is dropped unasked. */
import { useState } from 'react';
import { useNavigate, useRevalidator } from 'react-router';
import { toast } from 'sonner';
import type { History } from '@glimbo/core/document/history';
import { present } from '@glimbo/core/document/history';
import type { Take } from '@glimbo/core/take/take';
import { packHistory } from '@glimbo/core/document/change';
import { historyOf, type Draft } from './drafts';
import { drafts as kept, draftsOfTake, dropMine, post } from './useSaving';
import { useStudio, useStudioStore } from '../state/store';

const hour = (when: number) => new Date(when).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

interface BarProps {
  sentence: string;
  mine: () => History<Take>;
  take: string;
  /** Whether the take is there, so that something can be put on top of it. */
  there: boolean;
  deleted: boolean;
  /** Forgets what was changed here. */
  forget: () => void;
  theirs: string;
}

/** Three ways out: a take of its own, on top of what is there, or thrown away. */
function Bar({ sentence, mine, take, there, deleted, forget, theirs }: BarProps) {
  const navigate = useNavigate();
  const [busy, setBusy] = useState(false);
  const ask = async (intent: 'fork' | 'put' | 'restore') => {
    setBusy(true);
    try {
      const sent = { fork: () => ({ history: packHistory(mine()) }), put: () => ({ document: present(mine()) }) };
      const { status, body } = await post(`/takes/${take}`, {
        intent,
        ...(intent === 'restore' ? {} : sent[intent]()),
      });
      if (status !== 200)
        return void toast.error(body?.problem ?? 'The server did not answer. Nothing was lost; try again.');
      if (intent === 'restore') return void (await ask('put'));
      forget();
      if (intent === 'fork') void navigate(`/studio/${body!.id}`);
      else location.reload();
    } catch {
      toast.error('The server did not answer. What you changed is kept in this browser; try again.');
    } finally {
      setBusy(false);
    }
  };
  const file = () => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([JSON.stringify(present(mine()), null, 2)], { type: 'application/json' }));
    link.download = 'take.json';
    link.click();
  };
  return (
    <div
      className="flex flex-wrap items-center gap-2 border-b-2 border-ink bg-sheet px-3 py-1.5"
      role="alert"
      data-testid="conflict"
    >
      <span className="min-w-60 flex-1">{sentence}</span>
      {there ? (
        <>
          <button className="button main" disabled={busy} onClick={() => void ask('fork')}>
            Keep mine as a take of its own
          </button>
          <button className="button" disabled={busy} onClick={() => void ask(deleted ? 'restore' : 'put')}>
            {deleted ? 'Bring it back with mine' : 'Put mine on top'}
          </button>
        </>
      ) : (
        <button className="button main" onClick={file}>
          Save mine as a file
        </button>
      )}
      <button
        className="button"
        disabled={busy}
        onClick={() => (forget(), theirs === 'Throw mine away' ? void 0 : location.reload())}
      >
        {theirs}
      </button>
    </div>
  );
}

/** The bar for what this page could not save. */
export function SaveConflict({ take }: { take: string }) {
  const store = useStudioStore();
  const save = useStudio((s) => s.save);
  const drafted = useStudio((s) => s.drafted) ? 'kept in this browser' : 'in this page alone: leave it open';
  if (save.kind === 'refused')
    return (
      <div className="border-b-2 border-ink bg-sheet px-3 py-1.5" role="alert" data-testid="refused">
        {save.sentence} It was not saved and is {drafted}; undo it or change it further.
      </div>
    );
  if (save.kind !== 'conflict') return null;
  const { why, since } = save;
  const words = {
    other: `This take was changed in another tab. What you changed here since ${hour(since)} is ${drafted}, and so is what you go on to change.`,
    deleted: `This take was deleted in another tab. What you changed here is ${drafted}.`,
    gone: `This take is gone for good. What you changed here is ${drafted}.`,
  };
  return (
    <Bar
      sentence={words[why]}
      take={take}
      there={why !== 'gone'}
      deleted={why === 'deleted'}
      mine={() => store.getState().history}
      forget={dropMine}
      theirs={why === 'other' ? 'Show the other, without mine' : 'Leave it'}
    />
  );
}

/** The bars for drafts from before that do not fit what the server has now. */
export function OpenDrafts({ take, drafts }: { take: string; drafts: Draft<Take>[] }) {
  const [open, setOpen] = useState(drafts);
  const { revalidate } = useRevalidator();
  const [draft] = open;
  if (!draft) return null;
  const forget = () => {
    void kept.drop(draftsOfTake(take), draft.session);
    setOpen(open.slice(1));
    void revalidate();
  };
  return (
    <Bar
      key={draft.session}
      sentence={`Changes made here at ${hour(draft.when)} were not saved, and the take was changed elsewhere since.`}
      take={take}
      there
      deleted={false}
      mine={() => historyOf(draft)}
      forget={forget}
      theirs="Throw mine away"
    />
  );
}
