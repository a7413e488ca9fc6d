/** The left side of the Studio: the Map and, on the same heading axis, the Score, with the rulers between them. */
import { headingAt, MERIDIANS } from '~/ui/chart';
import { useSize } from '~/ui/useSize';
import { MapView } from '../map/MapView';
import { LightByHeading } from '../look/LightByHeading';
import { useStudio } from '../state/store';
import { type Lane } from './lane-list';
import { useLanesInRoom } from './lanes-in-room';
import { GUTTER, LANE_WIDTH } from '../axes/lanes';
import { LaneSwitch, SweepSwitch } from './LaneSwitch';
import { Score } from './Score';

export function Sheet() {
  const [ref, size] = useSize<HTMLDivElement>();
  const lanes = useLanesInRoom(size.width);
  const station = useStudio((s) => s.station);
  const width = Math.max(0, size.width - GUTTER - LANE_WIDTH * lanes.length);
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
            <div className="overflow-auto border-l border-edge bg-sheet" style={{ width: LANE_WIDTH * lanes.length }}>
              <SweepSwitch />
              <p className="label border-t border-rule px-2 leading-[14px]">Lane</p>
              <LaneSwitch />
            </div>
          </div>
          {station === 'look' && (
            <div className="flex border-b border-edge bg-sheet">
              <span className="label shrink-0 pt-0.5 pl-2 leading-[12px]" style={{ width: GUTTER }}>
                Light by heading
              </span>
              <LightByHeading width={width} />
            </div>
          )}
          <div className="figure flex h-5 shrink-0 items-center border-b border-edge bg-sheet text-[10px] text-muted">
            <span style={{ width: GUTTER }} className="pl-2">
              time ↓
            </span>
            <span className="relative h-full flex-1">
              {MERIDIANS.map((lon) => (
                <span key={lon} className="absolute top-1/2 -translate-1/2" style={{ left: `${headingAt(lon, 100)}%` }}>
                  {lon}°
                </span>
              ))}
            </span>
            {lanes.map((lane) => (
              <LaneScale key={lane.id} lane={lane} />
            ))}
          </div>
          <Score
            lanes={lanes}
            width={size.width}
            height={Math.max(40, size.height - width / 2 - 21 - (station === 'look' ? 47 : 0))}
          />
        </>
      )}
    </div>
  );
}

/** What a lane's width means, under its head; with several open, its name as well. */
function LaneScale({ lane: { name, scale } }: { lane: Lane }) {
  return (
    <span
      className={`flex border-l border-rule px-1.5 ${scale.length > 2 ? 'justify-around' : 'justify-between'}`}
      style={{ width: LANE_WIDTH }}
      title={name}
    >
      {scale.map((word) => (
        <span key={word}>{word}</span>
      ))}
    </span>
  );
}
