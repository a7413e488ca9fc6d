/** Adding footage: dropped or chosen in the browser, or by its path on the machine that runs Glimbo. */
import { FolderInput, Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { useRevalidator } from 'react-router';
import { Upload as TusUpload } from 'tus-js-client';
import type { GatherResult } from '~/server/gathering';
import { bytes } from '~/ui/format';

interface Entry {
  key: string;
  name: string;
  size: number;
  sent: number;
  state: 'sending' | 'checking' | 'asking' | 'problem';
  text: string;
  /** The finished upload, or the path, for the answer to a question. */
  source: { upload: string } | { path: string } | null;
  stop?: () => void;
}

async function post(fields: Record<string, string>): Promise<GatherResult> {
  const answer = await fetch('/gather', { method: 'POST', body: new URLSearchParams(fields) });
  if (!answer.ok) throw new Error(String(answer.status));
  return (await answer.json()) as GatherResult;
}

export function AddFootage({ empty }: { empty: boolean }) {
  const [entries, setEntries] = useState<Entry[]>([]);
  const [over, setOver] = useState(false);
  const [path, setPath] = useState('');
  const input = useRef<HTMLInputElement>(null);
  const { revalidate } = useRevalidator();
  const change = (key: string, to: Partial<Entry>) =>
    setEntries((all) => all.map((e) => (e.key === key ? { ...e, ...to } : e)));
  const drop = (key: string) => setEntries((all) => all.filter((e) => e.key !== key));

  async function gather(entry: Pick<Entry, 'key' | 'name'>, source: NonNullable<Entry['source']>, accepted: boolean) {
    change(entry.key, { state: 'checking', text: 'Looking at the file', source });
    try {
      const result = await post(
        'upload' in source
          ? { intent: 'upload', upload: source.upload, name: entry.name, accepted: accepted ? 'yes' : 'no' }
          : { intent: 'path', path: source.path, accepted: accepted ? 'yes' : 'no' },
      );
      if ('problem' in result) change(entry.key, { state: 'problem', text: result.problem });
      else if ('doubts' in result)
        change(entry.key, { state: 'asking', text: result.doubts.map((d) => d.sentence).join(' ') });
      else drop(entry.key);
      void revalidate();
    } catch {
      change(entry.key, { state: 'problem', text: 'The server did not answer. Nothing was added; try again.' });
    }
  }

  function send(file: File) {
    const entry: Entry = {
      key: crypto.randomUUID(),
      name: file.name,
      size: file.size,
      sent: 0,
      state: 'sending',
      text: '',
      source: null,
    };
    if (file.size === 0) {
      setEntries((all) => [
        ...all,
        {
          ...entry,
          state: 'problem',
          text: `${file.name} is empty (0 bytes). Copy it from the card again. Nothing was added.`,
        },
      ]);
      return;
    }
    const upload = new TusUpload(file, {
      endpoint: '/uploads',
      retryDelays: [0, 1000, 3000, 5000, 10000],
      removeFingerprintOnSuccess: true,
      metadata: { filename: file.name },
      onProgress: (sent) => change(entry.key, { sent }),
      onError: (error) => {
        const told = 'originalResponse' in error ? error.originalResponse?.getBody() : '';
        change(entry.key, {
          state: 'problem',
          text:
            told ||
            `${file.name} could not be copied: the connection was lost. Choose it again to go on where it stopped.`,
        });
      },
      onSuccess: () => void gather(entry, { upload: upload.url!.split('/').at(-1)! }, false),
    });
    setEntries((all) => [...all, { ...entry, stop: () => void upload.abort(true) }]);
    void upload.findPreviousUploads().then((earlier) => {
      if (earlier[0]) upload.resumeFromPreviousUpload(earlier[0]);
      upload.start();
    });
  }

  const leave = (e: Entry) => {
    e.stop?.();
    if (e.source && 'upload' in e.source) void post({ intent: 'discard', upload: e.source.upload });
    drop(e.key);
  };
  const addPath = (e: React.FormEvent) => {
    e.preventDefault();
    const entry: Entry = {
      key: crypto.randomUUID(),
      name: path.split('/').at(-1)!,
      size: 0,
      sent: 0,
      state: 'checking',
      text: '',
      source: { path },
    };
    setEntries((all) => [...all, entry]);
    void gather(entry, { path }, false).then(() => setPath(''));
  };

  return (
    <section
      aria-label="Add footage"
      className={`border border-dashed ${over ? 'border-camera bg-sheet' : 'border-edge'} ${empty ? 'py-16' : 'py-3'} px-4`}
      onDragOver={(e) => (e.preventDefault(), setOver(true))}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        [...e.dataTransfer.files].forEach(send);
      }}
    >
      <div className={`flex flex-wrap items-center gap-x-4 gap-y-2 ${empty ? 'justify-center' : ''}`}>
        {empty && (
          <p className="w-full text-center text-lg">Nothing is gathered yet. Add a spherical recording to begin.</p>
        )}
        <button className={`button ${empty ? 'main' : ''}`} onClick={() => input.current?.click()}>
          <Upload size={14} /> Add footage
        </button>
        <span className="text-muted">or drop stitched equirectangular video here</span>
        <input
          ref={input}
          type="file"
          accept="video/*,.mkv,.mxf"
          multiple
          hidden
          data-testid="file-input"
          onChange={(e) => ([...(e.target.files ?? [])].forEach(send), (e.target.value = ''))}
        />
        <form className={`flex items-center gap-2 ${empty ? '' : 'ml-auto'}`} onSubmit={addPath}>
          <FolderInput size={15} className="text-muted" />
          <input
            className="field w-72"
            aria-label="Path on this machine"
            placeholder="Path on the machine that runs Glimbo"
            value={path}
            onChange={(e) => setPath(e.target.value)}
          />
          <button className="button" disabled={!path.trim()}>
            Add by path
          </button>
        </form>
      </div>
      {entries.map((e) => (
        <div
          key={e.key}
          className="mt-2 flex items-center gap-3 border-t border-rule pt-2"
          role="status"
          data-testid="adding"
        >
          <span className="w-52 truncate font-medium">{e.name}</span>
          {e.state === 'sending' ? (
            <>
              <div className="bar flex-1">
                <div style={{ width: `${(e.sent / e.size) * 100}%` }} />
              </div>
              <span className="figure text-muted">
                {bytes(e.sent)} of {bytes(e.size)}
              </span>
              <button className="button" onClick={() => leave(e)}>
                Cancel
              </button>
            </>
          ) : (
            <>
              <span className={`flex-1 ${e.state === 'problem' ? 'text-camera' : ''}`}>{e.text}</span>
              {e.state === 'asking' && (
                <button className="button main" onClick={() => e.source && void gather(e, e.source, true)}>
                  Take it all the same
                </button>
              )}
              {e.state !== 'checking' && (
                <button className="button" onClick={() => leave(e)}>
                  {e.state === 'asking' ? 'Leave it out' : 'Close'}
                </button>
              )}
            </>
          )}
        </div>
      ))}
    </section>
  );
}
