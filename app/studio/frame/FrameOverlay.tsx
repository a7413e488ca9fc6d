/** What lies over the Frame: the seam, the line between before and after, and a word when it shows a glance. */
import { useMemo } from 'react';
import { apply } from '@glimbo/core/geometry/rotation';
import { BeforeAfterLine } from './BeforeAfterLine';
import { PatchOutline } from '../look/PatchOutline';
import { HorizonLine } from '../level/HorizonLine';
import { SplitLine } from './SplitLine';
import { OverPanes, SeenLine } from '../picture/OverPanes';
import { useCorrection, useStudio, useStudioStore } from '../state/store';

interface Size {
  width: number;
  height: number;
}

/** `pane`: the part of the Frame that one picture takes, where two stand beside each other. */
export function FrameOverlay({ width, height, pane }: Size & { pane: Size }) {
  const station = useStudio((s) => s.station);
  return (
    <div className="@container pointer-events-none absolute overflow-hidden" style={{ width, height }}>
      <PatchOutline width={width} height={height} />
      <Seam width={width} height={height} />
      <Split width={width} height={height} />
      <BeforeAfterLine width={width} height={height} />
      {station === 'level' && (
        <div className="absolute inset-y-0 right-0" style={{ width: pane.width }}>
          <HorizonLine width={pane.width} height={pane.height} />
        </div>
      )}
      <Glance />
      <Tried />
      <Performing />
    </div>
  );
}

function Seam({ width, height }: Size) {
  const seam = useStudio((s) => s.seam);
  const correction = useCorrection();
  const time = useStudio((s) => s.time);
  const line = useMemo(() => {
    const c = correction.at(time);
    return seam?.map((direction) => apply(c, direction));
  }, [seam, correction, time]);
  if (!line) return null;
  return (
    <OverPanes width={width} height={height}>
      {(draw) => <SeenLine d={draw(line)} strokeDasharray="7 4" data-testid="seam-in-frame" />}
    </OverPanes>
  );
}

/** The line between a stitch as it is kept and as it is tried. */
function Split({ width, height }: Size) {
  const store = useStudioStore();
  const compare = useStudio((s) => s.compare);
  if (!compare) return null;
  return (
    <SplitLine
      label="Line between before and after"
      width={width}
      height={height}
      at={compare.at}
      onMove={(at) => store.getState().compareStills({ ...compare, at })}
    />
  );
}

/** A path that is tried: the Frame shows it, and it is kept or thrown away with one key. */
function Tried() {
  const store = useStudioStore();
  const tried = useStudio((s) => s.tried !== null);
  const words = useStudio((s) => s.triedWords);
  if (!tried) return null;
  return (
    <div
      className="pointer-events-auto absolute top-2 left-2 flex items-center gap-2 bg-black/75 px-2 py-1 text-white"
      data-testid="tried"
    >
      <span>
        Tried, not taken yet. <span className="hidden @sm:inline">{words}</span>
      </span>
      <button className="underline" onClick={() => store.getState().keepTried()}>
        Keep (Enter)
      </button>
      <button className="underline" onClick={() => store.getState().tryPath(null)}>
        Throw away (Esc)
      </button>
    </div>
  );
}

/** The countdown, and that what is steered is taken down. */
function Performing() {
  const performing = useStudio((s) => s.performing);
  if (!performing) return null;
  return performing.count > 0 ? (
    <div className="absolute inset-0 grid place-items-center" data-testid="countdown">
      <span className="figure bg-black/60 px-6 py-3 text-[64px] leading-none text-white">{performing.count}</span>
    </div>
  ) : (
    <div className="absolute top-2 left-2 bg-black/75 px-2 py-1 text-white" data-testid="performing">
      <span className="mr-1.5 inline-block size-2 rounded-full bg-camera" /> Performing. Enter stops.
    </div>
  );
}

function Glance() {
  const store = useStudioStore();
  const glance = useStudio((s) => s.glance);
  if (!glance) return null;
  return (
    <div
      className="pointer-events-auto absolute bottom-2 left-2 flex items-center gap-2 bg-black/75 px-2 py-1 text-white"
      data-testid="glance"
    >
      <span>
        Glancing at <span className="figure">{Math.round(glance.pan)}°</span>; the path is as it was. Enter sets a
        keyframe.
      </span>
      <button className="underline" onClick={() => store.getState().glanceAt(null)}>
        Back to the path
      </button>
    </div>
  );
}
