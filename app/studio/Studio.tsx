/** The Studio: the screen in which one take is edited. */
import { Copy, Redo2, Undo2 } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Panel, PanelGroup, PanelResizeHandle } from 'react-resizable-panels';
import { toast } from 'sonner';
import { canRedo, canUndo } from '@glimbo/core/take/history';
import type { StudioData } from '~/routes/studio';
import { SheetSwitch } from '~/ui/Header';
import { Kept as Boundary } from '~/ui/Kept';
import { left } from '~/ui/format';
import { useJobs } from '~/ui/useJobs';
import { ExportBench } from './ExportBench';
import { FrameView } from './FrameView';
import { LargeFrame } from './LargeFrame';
import { LevelBench } from './LevelBench';
import { useSteadyNext } from './level/SteadyPart';
import { useMotion } from './level/useMotion';
import { MapView } from './MapView';
import { PathBench } from './PathBench';
import { Picture, PictureContext } from './picture';
import { usePointerFocus } from './pointer-focus';
import { PlayerProvider } from './player-context';
import { Score } from './Score';
import { GUTTER, LANE_RANGES, LANE_WIDTH } from './score/lanes';
import { LaneSwitch, SweepSwitch } from './score/LaneSwitch';
import { OpenDrafts, SaveConflict } from './Conflict';
import type { Draft, Kept } from './drafts';
import type { SaveState } from './saver';
import { useSaving } from './saving';
import { Shortcuts } from './shortcuts';
import { SourceBench } from './SourceBench';
import { Transport } from './Transport';
import { STATIONS, useStudio, useStudioStore, type Station } from './store';
import { useSize } from './useSize';

const STATION_NAMES: Record<Station, string> = {
  source: 'Source',
  level: 'Level',
  path: 'Path',
  export: 'Export',
};
/** How it stands with saving, in a few words. */
const saveWords = (save: SaveState): string => {
  if (save.kind === 'saved') return 'saved';
  if (save.kind === 'saving' || save.kind === 'unsaved') return 'saving…';
  if (save.kind === 'offline') return `not saved: ${save.sentence ?? 'no answer from the server, trying again'}`;
  return 'not saved';
};

interface StudioProps {
  loaded: StudioData;
  /** What the server had when the Studio was opened, and what from before does not fit it. */
  kept: Kept;
  drafts: Draft[];
}

export function Studio({ loaded, kept, drafts }: StudioProps) {
  const store = useStudioStore();
  const picture = useMemo(() => new Picture(), []);
  const events = useJobs();
  const station = useStudio((s) => s.station);
  const gathered = useStudio((s) => s.footage.gathered);
  useSaving(store, loaded.record.id, kept);
  useAddress();
  useMotion();
  useSteadyNext();
  usePointerFocus();

  const gathering = loaded.gathering && events.get(loaded.gathering.id);
  return (
    <PictureContext.Provider value={picture}>
      <PlayerProvider>
        <div className="flex h-screen min-w-[1000px] flex-col overflow-hidden">
          <Header loaded={loaded} />
          <SaveConflict take={loaded.record.id} />
          <OpenDrafts take={loaded.record.id} kept={kept} drafts={drafts} />
          <PanelGroup direction="horizontal" autoSaveId="glimbo-studio" className="min-h-0 flex-1">
            <Panel defaultSize={46} minSize={30}>
              <Boundary name="The Map and the Score" of={loaded.record.id}>
                <Sheet />
              </Boundary>
            </Panel>
            <PanelResizeHandle className="w-1 bg-rule hover:bg-edge" />
            <Panel minSize={35}>
              <PanelGroup direction="vertical" autoSaveId="glimbo-studio-rooms">
                <Panel minSize={30} className="relative">
                  <LargeFrame>
                    <Boundary name="The Frame" of={loaded.record.id}>
                      <FrameView />
                    </Boundary>
                  </LargeFrame>
                  {!gathered && (
                    <Waiting
                      problem={loaded.gathering?.state === 'failed' ? loaded.gathering.error : null}
                      progress={gathering?.progress ?? loaded.gathering?.progress ?? 0}
                      seconds={gathering?.left ?? null}
                    />
                  )}
                </Panel>
                <PanelResizeHandle className="h-1 bg-rule hover:bg-edge" />
                <Panel defaultSize={44} minSize={24} className="flex flex-col bg-sheet">
                  <Transport />
                  <div className="min-h-0 flex-1">
                    <Boundary name="The bench" of={station}>
                      {station === 'source' && <SourceBench />}
                      {station === 'level' && (
                        <LevelBench analysing={loaded.analysing} sidecar={loaded.sidecar} events={events} />
                      )}
                      {station === 'path' && <PathBench />}
                      {station === 'export' && (
                        <ExportBench
                          takeId={loaded.record.id}
                          jobs={loaded.exports}
                          events={events}
                          ratios={loaded.ratios}
                        />
                      )}
                    </Boundary>
                  </div>
                </Panel>
              </PanelGroup>
            </Panel>
          </PanelGroup>
        </div>
        <Shortcuts />
      </PlayerProvider>
    </PictureContext.Provider>
  );
}

/** Station and time are in the address, so that a reload comes back to the same place. */
function useAddress() {
  const store = useStudioStore();
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const write = () => {
      const { station, time } = store.getState();
      history.replaceState(history.state, '', `?station=${station}&t=${time.toFixed(3)}`);
    };
    const unsubscribe = store.subscribe((now, before) => {
      if (now.station === before.station && now.time === before.time) return;
      clearTimeout(timer);
      timer = setTimeout(write, 250);
    });
    return () => {
      clearTimeout(timer);
      unsubscribe();
    };
  }, [store]);
}

/** The left side: the Map and, on the same heading axis, the Score. */
function Sheet() {
  const [ref, size] = useSize<HTMLDivElement>();
  const width = Math.max(0, size.width - GUTTER - LANE_WIDTH);
  return (
    <div ref={ref} className="flex size-full flex-col overflow-hidden">
      {size.width > 0 && (
        <>
          <div className="flex border-b border-edge" style={{ height: width / 2 }}>
            <div className="figure relative shrink-0 text-muted" style={{ width: GUTTER }}>
              {[90, 45, 0, -45, -90].map((lat) => (
                <span
                  key={lat}
                  className="absolute right-1.5 leading-none"
                  style={{ top: `calc(${(0.5 - lat / 180) * 92 + 4}% - 5px)` }}
                >
                  {lat}°
                </span>
              ))}
            </div>
            <MapView width={width} />
            <div className="overflow-auto border-l border-edge bg-sheet" style={{ width: LANE_WIDTH }}>
              <p className="label px-2 pt-1">Sweep</p>
              <SweepSwitch />
              <p className="label px-2 pt-1">Lane</p>
              <LaneSwitch />
            </div>
          </div>
          <div className="figure flex h-5 shrink-0 items-center border-b border-edge bg-sheet text-[10px] text-muted">
            <span style={{ width: GUTTER }} className="pl-2">
              time ↓
            </span>
            <span className="relative h-full flex-1">
              {[-135, -90, -45, 0, 45, 90, 135].map((lon) => (
                <span
                  key={lon}
                  className="absolute top-1/2 -translate-1/2"
                  style={{ left: `${(lon / 360 + 0.5) * 100}%` }}
                >
                  {lon}°
                </span>
              ))}
            </span>
            <LaneScale />
          </div>
          <Score width={size.width} height={Math.max(40, size.height - width / 2 - 21)} />
        </>
      )}
    </div>
  );
}

function LaneScale() {
  const lane = useStudio((s) => s.lane);
  if (lane === 'motion')
    return (
      <span className="flex justify-around" style={{ width: LANE_WIDTH }}>
        <span>pan</span>
        <span>tilt</span>
        <span>roll</span>
      </span>
    );
  const range = lane === 'sound' ? null : LANE_RANGES[lane];
  const [low, high] = range
    ? [`${range.min}${range.unit}`.replace('-', '−'), `${range.max}${range.unit}`]
    : ['quiet', 'loud'];
  return (
    <span className="flex justify-between px-1.5" style={{ width: LANE_WIDTH }}>
      <span>{low}</span>
      <span>{high}</span>
    </span>
  );
}

function Header({ loaded }: { loaded: StudioData }) {
  const store = useStudioStore();
  const station = useStudio((s) => s.station);
  const history = useStudio((s) => s.history);
  const save = useStudio((s) => s.save);
  const navigate = useNavigate();
  const [name, setName] = useState(loaded.record.name);
  const post = (body: object) =>
    fetch(`/takes/${loaded.record.id}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  const duplicate = async () => {
    const made = (await (await post({ intent: 'duplicate' })).json()) as { id: string; name: string };
    toast(`Now in “${made.name}”. The take you came from is as you left it.`);
    void navigate(`/studio/${made.id}`);
  };
  return (
    <header className="flex h-12 shrink-0 items-center gap-3 border-b border-edge px-3">
      <Link to="/" className="flex items-center gap-2" aria-label="To the Library" title="To the Library">
        <img src="/mark.svg" alt="" width={22} height={22} />
      </Link>
      <span className="min-w-0 truncate">
        <span className="text-muted">{loaded.record.projectName} / </span>
        <input
          aria-label="Name of the take"
          className="w-56 border-b border-transparent bg-transparent font-semibold hover:border-rule"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onBlur={() =>
            name.trim()
              ? name !== loaded.record.name && void post({ intent: 'rename', name })
              : setName(loaded.record.name)
          }
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      </span>
      <button
        className="icon-button"
        onClick={() => void duplicate()}
        title="Duplicate this take to try another version"
        aria-label="Duplicate this take"
      >
        <Copy size={14} />
      </button>
      <nav className="mx-auto flex items-center" aria-label="Stations">
        {STATIONS.map((s, i) => (
          <span key={s} className="flex items-center">
            {i > 0 && <span className="h-px w-6 bg-edge" />}
            <button
              className="flex items-center gap-1.5 px-2 py-2"
              aria-current={station === s ? 'step' : undefined}
              onClick={() => store.getState().set({ station: s })}
            >
              <span
                className={`size-2.5 rounded-full border-2 ${station === s ? 'border-camera bg-camera' : 'border-edge'}`}
              />
              <span className={station === s ? 'font-semibold' : 'text-muted'}>{STATION_NAMES[s]}</span>
            </button>
          </span>
        ))}
      </nav>
      <button
        className="icon-button"
        disabled={!canUndo(history)}
        onClick={() => store.getState().undo()}
        title="Undo (Ctrl Z)"
        aria-label="Undo"
      >
        <Undo2 size={15} />
      </button>
      <button
        className="icon-button"
        disabled={!canRedo(history)}
        onClick={() => store.getState().redo()}
        title="Redo (Ctrl Shift Z)"
        aria-label="Redo"
      >
        <Redo2 size={15} />
      </button>
      <span
        className={`figure max-w-80 min-w-14 truncate ${['saved', 'saving', 'unsaved'].includes(save.kind) ? 'text-muted' : 'text-camera'}`}
        title={saveWords(save)}
        role="status"
        data-testid="save-state"
      >
        {saveWords(save)}
      </span>
      <SheetSwitch />
    </header>
  );
}

function Waiting({ problem, progress, seconds }: { problem: string | null; progress: number; seconds: number | null }) {
  return (
    <div className="absolute inset-0 grid place-items-center bg-well text-white">
      {problem ? (
        <p className="max-w-sm text-center">{problem}</p>
      ) : (
        <div className="w-64 text-center">
          <p>The proxy is being made.</p>
          <div className="my-2 h-[3px] bg-white/20">
            <div className="h-full bg-white" style={{ width: `${progress * 100}%` }} />
          </div>
          <p className="figure opacity-80">
            {Math.round(progress * 100)} % {left(seconds)}
          </p>
        </div>
      )}
    </div>
  );
}
