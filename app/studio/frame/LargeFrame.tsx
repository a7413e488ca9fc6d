/** The Frame alone over the whole window, with transport and time; by the browser's own means over the whole screen. */
import { Maximize, Minimize, Minimize2 } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import { Transport } from '../transport/Transport';
import { useStudio, useStudioStore } from '../state/store';

export function LargeFrame({ children }: { children: ReactNode }) {
  const store = useStudioStore();
  const large = useStudio((s) => s.large);
  const root = useRef<HTMLDivElement>(null);
  const [whole, setWhole] = useState(false);
  useEffect(() => {
    const changed = () => {
      const on = document.fullscreenElement !== null;
      setWhole(on);
      // Esc leaves the whole screen by the browser's own hand: it comes back to where one was before.
      if (!on) store.getState().enlarge(false);
    };
    document.addEventListener('fullscreenchange', changed);
    return () => document.removeEventListener('fullscreenchange', changed);
  }, [store]);
  useEffect(() => {
    if (!large && document.fullscreenElement) void document.exitFullscreen();
  }, [large]);
  const fill = () =>
    whole
      ? document.exitFullscreen()
      : root.current!.requestFullscreen().catch(() => toast.error('This browser does not give the whole screen.'));
  return (
    <div
      ref={root}
      className={large ? 'fixed inset-0 z-30 flex flex-col bg-well' : 'size-full'}
      data-testid="frame-room"
      data-large={large}
    >
      <div className={large ? 'min-h-0 flex-1' : 'size-full'}>{children}</div>
      {large && (
        <div className="flex items-center bg-sheet">
          <div className="min-w-0 flex-1">
            <Transport />
          </div>
          <div className="flex h-10 items-center gap-1 border-b border-rule px-3">
            <button className="button" onClick={() => void fill()}>
              {whole ? <Minimize size={14} /> : <Maximize size={14} />} {whole ? 'Window' : 'Whole screen'}
            </button>
            <button className="button" onClick={() => store.getState().enlarge(false)}>
              <Minimize2 size={14} /> Back <span className="figure text-muted">Esc</span>
            </button>
          </div>
        </div>
      )}
    </div>
  );
}
