/** The Studio: the screen in which one take is edited. */
import { useEffect, useMemo, type ComponentType } from 'react';
import { Panel, PanelGroup, PanelResizeHandle } from 'react-resizable-panels';
import { Kept as Boundary } from '~/ui/Kept';
import { Shortcuts } from './commands/Shortcuts';
import { ExportBench } from './export/ExportBench';
import { useLiveCuts } from './lookouts/live-cut';
import { FrameRoom } from './frame/FrameRoom';
import { Picture, PictureContext } from './picture/picture';
import { LevelBench } from './level/LevelBench';
import { useSteadyNext } from './level/steadying';
import { useMotion } from './level/useMotion';
import type { StudioOpened } from './saving/opened';
import { GrowingTracks } from './follow/GrowingTracks';
import { useSubjects } from './follow/subjects';
import { useFound } from './follow/found/useFound';
import { useLight, useOthers } from './look/useLight';
import { LookBench } from './look/LookBench';
import { PathBench } from './path/PathBench';
import { usePointerFocus } from './state/pointer-focus';
import { OpenDrafts, SaveConflict } from './saving/Conflict';
import { useSaving } from './saving/useSaving';
import { Sheet } from './score/Sheet';
import { SourceBench } from './source/SourceBench';
import type { Station } from './state/stations';
import { StudioHeader } from './StudioHeader';
import { useStudio, useStudioStore } from './state/store';
import { PlayerProvider } from './player/player-context';
import { Transport } from './transport/Transport';

const BENCHES: Record<Station, ComponentType> = {
  source: SourceBench,
  level: LevelBench,
  path: PathBench,
  look: LookBench,
  export: ExportBench,
};

export function Studio({ record, kept, drafts }: StudioOpened) {
  const store = useStudioStore();
  const picture = useMemo(() => new Picture(), []);
  const station = useStudio((s) => s.station);
  const Bench = BENCHES[station];
  useSaving(store, record.id, kept);
  useLiveCuts();
  useAddress();
  useMotion();
  useLight();
  useOthers();
  useSubjects();
  useFound();
  useSteadyNext();
  usePointerFocus();

  return (
    <PictureContext.Provider value={picture}>
      <PlayerProvider>
        <div className="flex h-screen min-w-[1000px] flex-col overflow-hidden">
          <StudioHeader record={record} />
          <GrowingTracks />
          <SaveConflict take={record.id} />
          <OpenDrafts take={record.id} drafts={drafts} />
          <main className="flex min-h-0 flex-1">
            <PanelGroup direction="horizontal" autoSaveId="glimbo-studio">
              <Panel defaultSize={46} minSize={30}>
                <Boundary name="The Map and the Score" of={record.id}>
                  <Sheet />
                </Boundary>
              </Panel>
              <PanelResizeHandle className="w-1 bg-rule hover:bg-edge" aria-label="Width of the Map and the Score" />
              <Panel minSize={35}>
                <PanelGroup direction="vertical" autoSaveId="glimbo-studio-rooms">
                  <Panel minSize={30} className="relative">
                    <FrameRoom take={record.id} />
                  </Panel>
                  <PanelResizeHandle className="h-1 bg-rule hover:bg-edge" aria-label="Height of the Frame" />
                  <Panel defaultSize={44} minSize={24} className="flex flex-col bg-sheet">
                    <Transport />
                    <div className="min-h-0 flex-1">
                      <Boundary name="The bench" of={station}>
                        <Bench />
                      </Boundary>
                    </div>
                  </Panel>
                </PanelGroup>
              </Panel>
            </PanelGroup>
          </main>
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
