/** The information sheet of a footage: every fact of its file, its name, tags and notes, and what hangs on it. */
import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useEffect, useState } from 'react';
import { Link, useFetcher } from 'react-router';
import type { RemarkChange } from '@glimbo/core/gather/remarks';
import { colourName } from '@glimbo/core/gather/colour';
import { bytes, clock, rateText } from '~/ui/format';
import { useFootageAct } from '~/ui/footage-act';
import { KINDS } from './FootageCard';
import type { FootageInfo, LibraryFootage } from '~/model/footage';
import type { TakeRecord } from '~/model/take';

interface SheetProps {
  footage: LibraryFootage | null;
  missing: boolean;
  takes: TakeRecord[];
  onClose: () => void;
}

export function InfoSheet({ footage, missing, takes, onClose }: SheetProps) {
  return (
    <Dialog.Root open={footage !== null} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          className="fixed inset-y-0 right-0 z-50 flex w-[440px] flex-col overflow-auto border-l border-edge bg-sheet p-4 shadow-lg"
          aria-describedby={undefined}
        >
          {footage && <Content key={footage.id} footage={footage} missing={missing} takes={takes} />}
          <Dialog.Close className="icon-button absolute top-3 right-3" aria-label="Close">
            <X size={16} />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Content({ footage, missing, takes }: { footage: LibraryFootage } & Pick<SheetProps, 'missing' | 'takes'>) {
  const act = useFootageAct();
  const fetcher = useFetcher();
  const [info, setInfo] = useState<FootageInfo | null>(null);
  const [name, setName] = useState(footage.name);
  const [tags, setTags] = useState(footage.tags.join(', '));
  const [notes, setNotes] = useState<string | null>(null);
  useEffect(() => {
    void fetch(`/footage/${footage.id}/info`).then(async (r) => setInfo((await r.json()) as FootageInfo));
  }, [footage]);
  const say = (remark: object) => void act(footage.id, { intent: 'remark', ...remark });
  const change = (what: RemarkChange) => void act(footage.id, { intent: 'change', change: what });
  const retag = () => {
    const wanted = tags
      .split(',')
      .map((t) => t.trim())
      .filter(Boolean);
    const add = wanted.filter((t) => !footage.tags.includes(t));
    const remove = footage.tags.filter((t) => !wanted.includes(t));
    if (add.length || remove.length) change({ what: 'tags', add, remove });
  };
  const facts = info?.facts;
  const colour = facts?.colour && colourName(facts.colour);
  const rows: [string, string][] = facts
    ? [
        ['Files', info.files.join('\n')],
        ['Kept', info.inPlace ? 'used where it lies, never written to' : 'copied into the data folder'],
        ['Shows', `${KINDS[footage.kind]}${facts.spherical ? `; its metadata say ${facts.spherical}` : ''}`],
        [
          'Picture',
          `${facts.width} × ${facts.height}, ${facts.codec}, ${facts.pixelFormat}${colour ? `, ${colour}, shown as BT.709` : ''}`,
        ],
        ['Frame rate', `${rateText(facts.rate)}${footage.variableRate ? ', variable, made constant' : ''}`],
        ['Duration', `${clock(facts.duration)}, ${facts.frames} frames`],
        [
          'Sound',
          facts.sound
            ? `${facts.sound.codec}, ${facts.sound.channels} channels, ${facts.sound.sampleRate / 1000} kHz`
            : 'none',
        ],
        ['Size', `${bytes(facts.size)}, ${(facts.bitRate / 1e6).toFixed(1)} Mbit/s, ${facts.container}`],
        ['Proxy', info.proxy ? `${info.proxy.width} × ${info.proxy.height}` : 'not made yet'],
        ['Gathered', new Date(footage.created).toLocaleString('en-GB')],
        ['Fingerprint', info.fingerprint ?? 'none'],
      ]
    : [];
  return (
    <>
      <Dialog.Title className="label">Footage</Dialog.Title>
      <input
        className="mt-1 mr-8 border-b border-rule bg-transparent text-lg font-semibold"
        aria-label="Name of the footage"
        value={name}
        onChange={(e) => setName(e.target.value)}
        onBlur={() => (name.trim() ? name !== footage.name && say({ name }) : setName(footage.name))}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />
      {missing && <Relink id={footage.id} files={info?.files ?? []} />}
      <label className="mt-3">
        <span className="label">Tags, with commas between</span>
        <input
          className="field w-full"
          value={tags}
          onChange={(e) => setTags(e.target.value)}
          onBlur={retag}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      </label>
      <label className="mt-2">
        <span className="label">Notes</span>
        <textarea
          className="field h-24! w-full py-1"
          value={notes ?? info?.notes ?? ''}
          disabled={!info}
          onChange={(e) => setNotes(e.target.value)}
          onBlur={() =>
            notes !== null && info && notes !== info.notes && change({ what: 'notes', notes, was: info.notes })
          }
        />
      </label>
      <h3 className="label mt-3 mb-1">Facts</h3>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
        {rows.map(([term, value]) => (
          <div key={term} className="contents">
            <dt className="text-muted">{term}</dt>
            <dd className="figure pt-px break-all whitespace-pre-line">{value}</dd>
          </div>
        ))}
      </dl>
      <button
        className="button mt-3 self-start"
        onClick={() =>
          void fetcher.submit({ intent: 'gather-again', footage: footage.id }, { method: 'post', action: '/?index' })
        }
      >
        Make the proxy anew
      </button>
      <h3 className="label mt-4 mb-1">Takes of it</h3>
      {takes.length === 0 && <p className="text-muted">None yet.</p>}
      {takes.map((t) => (
        <Link key={t.id} to={`/studio/${t.id}`} className="block truncate underline">
          {t.name}
        </Link>
      ))}
    </>
  );
}

function Relink({ id, files }: { id: string; files: string[] }) {
  const act = useFootageAct();
  const [path, setPath] = useState('');
  return (
    <form
      className="mt-3 border-2 border-ink p-2"
      onSubmit={(e) => {
        e.preventDefault();
        void act(id, { intent: 'relink', path });
      }}
    >
      <p>
        The original is not at <span className="figure break-all">{files[0]}</span> any more. The proxy still plays;
        exporting needs the original. If it was moved, say where it is now: it is known again by its content.
      </p>
      <div className="mt-2 flex gap-2">
        <input
          className="field min-w-0 flex-1"
          aria-label="Where the original is now"
          placeholder="Path of the file or its folder"
          value={path}
          onChange={(e) => setPath(e.target.value)}
        />
        <button className="button main" disabled={!path.trim()}>
          Find it there
        </button>
      </div>
    </form>
  );
}
