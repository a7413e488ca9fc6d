/** Over each format's picture its guides, and where there are several, its name; the one that is worked on has a rim. */
import { useTake } from '../state/store';
import type { FormatPane } from '../picture/format-layout';
import { Guides } from './Guides';
import { Overlays } from './Overlays';

interface Props {
  width: number;
  height: number;
  panes: FormatPane[];
  all: boolean;
}

export function FormatMarks({ width, height, panes, all }: Props) {
  const { aspect: now } = useTake().frame;
  return (
    <div className="pointer-events-none absolute" style={{ width, height }}>
      {panes.map((p, i) => (
        <div
          key={i}
          className={`absolute ${all && p.aspect === now ? 'outline-2 outline-camera' : ''}`}
          style={{ left: p.left * width, width: p.width * width, top: p.top * height, height: p.height * height }}
        >
          <Overlays width={p.width * width} height={p.height * height} />
          <Guides width={p.width * width} height={p.height * height} aspect={p.aspect} />
          {all && <span className="figure absolute bottom-1 left-1 bg-black/70 px-1 text-white">{p.aspect}</span>}
        </div>
      ))}
    </div>
  );
}
