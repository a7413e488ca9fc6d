/** Adding footage: dropped or chosen in the browser, by its path on the machine that runs Glimbo, or from a card. */
import { FolderInput, FolderUp, HardDrive, Pause, Play, Upload } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, useRevalidator } from 'react-router';
import { bytes, left } from '~/ui/format';
import { addArrived, addFiles, addPath, cancel, gather, pause, pauseAll, resume, resumeAll } from './adding';
import { dismiss, loadPrefix, onAdded, setPrefix, useAdding, type Adding } from './adding-store';
import { droppedFiles } from './dropped';
import { sendFields, stopJob } from '~/ui/send';
import type { Unfinished } from '~/model/gathering';

export function AddFootage({ empty, unfinished }: { empty: boolean; unfinished: Unfinished[] }) {
  const items = useAdding((s) => s.items);
  const prefix = useAdding((s) => s.prefix);
  const [over, setOver] = useState(false);
  const [path, setPath] = useState('');
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const { revalidate } = useRevalidator();
  useEffect(() => {
    loadPrefix();
    onAdded(() => void revalidate());
  }, [revalidate]);
  const chosen = (e: React.ChangeEvent<HTMLInputElement>) => {
    addFiles([...(e.target.files ?? [])]);
    e.target.value = '';
  };

  return (
    <section
      aria-label="Add footage"
      className={`border border-dashed ${over ? 'border-ink bg-sheet' : 'border-edge'} ${empty ? 'py-16' : 'py-3'} px-4`}
      onDragOver={(e) => (e.preventDefault(), setOver(true))}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void droppedFiles(e.dataTransfer).then(addFiles);
      }}
    >
      <div className={`flex flex-wrap items-center gap-2 ${empty ? 'justify-center' : ''}`}>
        {empty && (
          <p className="mb-2 w-full text-center text-lg">
            Nothing is gathered yet. Add a spherical recording to begin: stitched, or as the lenses left it.
          </p>
        )}
        <button className={`button ${empty ? 'main' : ''}`} onClick={() => files.current?.click()}>
          <Upload size={14} /> Add footage
        </button>
        <button className="button" onClick={() => folder.current?.click()}>
          <FolderUp size={14} /> Add a folder
        </button>
        <Link className="button" to="/card">
          <HardDrive size={14} /> From a card
        </Link>
        <span className="text-muted">or drop files and folders here</span>
        <input
          ref={files}
          type="file"
          accept="video/*,.mkv,.mxf"
          multiple
          hidden
          data-testid="file-input"
          onChange={chosen}
        />
        <input
          ref={folder}
          type="file"
          multiple
          hidden
          data-testid="folder-input"
          onChange={chosen}
          {...{ webkitdirectory: '' }}
        />
        <form
          className={`flex items-center gap-2 ${empty ? '' : 'ml-auto'}`}
          onSubmit={(e) => {
            e.preventDefault();
            void addPath(path.trim());
            setPath('');
          }}
        >
          <label className="flex items-center gap-2 text-muted">
            Name prefix
            <input
              className="field w-24"
              value={prefix}
              maxLength={60}
              placeholder="none"
              onChange={(e) => setPrefix(e.target.value)}
            />
          </label>
          <FolderInput size={15} className="text-muted" />
          <input
            className="field w-60"
            aria-label="Path on this machine"
            placeholder="Path of a file or folder on this machine"
            value={path}
            onChange={(e) => setPath(e.target.value)}
          />
          <button className="button" disabled={!path.trim()}>
            Add by path
          </button>
        </form>
      </div>
      <Queue items={items} />
      <BrokenOff uploads={unfinished} items={items} />
    </section>
  );
}

function Queue({ items }: { items: Adding[] }) {
  const speed = useAdding((s) => s.speed);
  if (!items.length) return null;
  const moving = items.filter((i) => ['waiting', 'sending', 'paused'].includes(i.state));
  const total = moving.reduce((sum, i) => sum + i.size, 0);
  const sent = moving.reduce((sum, i) => sum + i.sent, 0);
  return (
    <div className="mt-3 max-h-80 overflow-auto border-t border-edge">
      {moving.length > 1 && (
        <div className="flex items-center gap-3 py-2" role="status" data-testid="adding-total">
          <span className="w-52 font-semibold">{moving.length} recordings to copy</span>
          <div className="bar flex-1">
            <div style={{ width: `${(sent / Math.max(1, total)) * 100}%` }} />
          </div>
          <span className="figure text-muted">
            {bytes(sent)} of {bytes(total)} {speed > 0 && left((total - sent) / speed)}
          </span>
          {moving.some((i) => i.state !== 'paused') ? (
            <button className="button" onClick={pauseAll}>
              <Pause size={13} /> Pause all
            </button>
          ) : (
            <button className="button" onClick={resumeAll}>
              <Play size={13} /> Go on with all
            </button>
          )}
          <button className="button" onClick={() => moving.forEach((i) => cancel(i.key))}>
            Cancel all
          </button>
        </div>
      )}
      {items.map((item) => (
        <Row key={item.key} item={item} />
      ))}
    </div>
  );
}

function Row({ item }: { item: Adding }) {
  const { key, state } = item;
  const moving = state === 'sending' || state === 'waiting' || state === 'paused';
  return (
    <div className="flex items-center gap-3 border-t border-rule py-2" role="status" data-testid="adding">
      <span className="w-52 truncate font-medium" title={item.name}>
        {item.name}
        {item.files.length > 1 && <span className="text-muted"> (two lenses)</span>}
      </span>
      {moving ? (
        <>
          <div className="bar flex-1">
            <div style={{ width: `${(item.sent / Math.max(1, item.size)) * 100}%` }} />
          </div>
          <span className="figure text-muted">
            {state === 'waiting'
              ? 'waiting'
              : `${bytes(item.sent)} of ${bytes(item.size)}${state === 'paused' ? ', paused' : ''}`}
          </span>
          {state === 'paused' ? (
            <button className="button" onClick={() => resume(key)}>
              <Play size={13} /> Go on
            </button>
          ) : (
            <button className="button" onClick={() => pause(key)}>
              <Pause size={13} /> Pause
            </button>
          )}
          <button className="button" onClick={() => cancel(key)}>
            Cancel
          </button>
        </>
      ) : (
        <>
          <span className={`flex-1 ${state === 'problem' ? 'text-error' : ''}`}>{item.text}</span>
          {state === 'asking' && (
            <button className="button main" onClick={() => void gather(key, true)}>
              Take it all the same
            </button>
          )}
          {state === 'pair' && (
            <>
              <button
                className="button main"
                title="Their circles are set by hand in the Source station"
                onClick={() => void gather(key, true, 'lenses')}
              >
                Two lenses
              </button>
              <button className="button" onClick={() => void gather(key, false, 'apart')}>
                Two recordings
              </button>
            </>
          )}
          {state === 'looking' && item.job && (
            <>
              <div className="bar w-48">
                <div style={{ width: `${(item.share ?? 0) * 100}%` }} />
              </div>
              <button className="button" onClick={() => void stopJob(item.job!)}>
                Stop
              </button>
            </>
          )}
          {state === 'problem' && item.size > 0 && (
            <button className="button" onClick={() => resume(key)}>
              Try again
            </button>
          )}
          {state !== 'checking' && state !== 'looking' && (
            <button
              className="button"
              onClick={() => (['asking', 'pair', 'problem'].includes(state) ? cancel(key) : dismiss(key))}
            >
              {state === 'asking' || state === 'pair' ? 'Leave it out' : 'Close'}
            </button>
          )}
        </>
      )}
    </div>
  );
}

/** Copies from before that never came to an end: the browser needs the file again to go on with one. */
function BrokenOff({ uploads, items }: { uploads: Unfinished[]; items: Adding[] }) {
  const { revalidate } = useRevalidator();
  const busy = new Set(items.flatMap((i) => i.arrived ?? i.files.map((f) => f.name)));
  const shown = uploads.filter((u) => !busy.has(u.name));
  if (!shown.length) return null;
  const discard = async (id: string) => {
    await sendFields('/gather', { intent: 'discard', upload: id });
    void revalidate();
  };
  const whole = shown.filter((u) => u.sent === u.size);
  return (
    <div className="mt-3 border-t border-edge">
      {whole.length > 0 && (
        <button className="button mt-2" onClick={() => addArrived(whole)}>
          Take in what was copied whole
        </button>
      )}
      {shown.map((u) => (
        <div key={u.id} className="flex items-center gap-3 border-b border-rule py-2" data-testid="broken-off">
          <span className="w-52 truncate font-medium">{u.name}</span>
          <span className="flex-1 text-muted">
            {u.sent === u.size
              ? 'It was copied whole, and never taken into the Library.'
              : `${bytes(u.sent)} of ${bytes(u.size)} were copied before it was broken off. Choose the file again to go on from there.`}
          </span>
          <button className="button" onClick={() => void discard(u.id)}>
            Throw away
          </button>
        </div>
      ))}
    </div>
  );
}
