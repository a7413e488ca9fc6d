/** The Studio: the screen in which one take is edited. */
import { useEffect, useMemo } from 'react';
import { Panel, PanelGroup, PanelResizeHandle } from 'react-resizable-panels';
import type { StudioData } from '~/routes/studio';
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
import { useSaving } from './saving';
import { Shortcuts } from './shortcuts';
import { StudioHeader } from './StudioHeader';
import { SourceBench } from './SourceBench';
import { Transport } from './Transport';
import { useStudio, useStudioStore } from './store';
import { useSize } from './useSize';

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
          <StudioHeader loaded={loaded} />
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
