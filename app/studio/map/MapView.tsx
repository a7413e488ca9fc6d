/** The Map: the whole sphere at the playhead, with graticule, the frame's outline and the path with its beads. */
import { geoGraticule10 } from 'd3';
import { viewKeysOf } from '@glimbo/core/path/edit';
import { refsOf } from '@glimbo/core/path/keys';
import { sightOf } from '@glimbo/core/view/view-of';
import { useBox } from '../axes/box';
import { Meridians } from '../axes/Meridians';
import { PointOutOnMap } from '../follow/PointOut';
import { ProposedOnMap } from '../follow/Proposed';
import { SubjectsOnMap } from '../follow/SubjectMarks';
import { FoundOnMap } from '../follow/found/FoundMarks';
import { HorizonOnMap } from '../level/HorizonLine';
import { SectorOnMap } from '../look/SectorOnMap';
import { useAsksForPlace, useStudio, useTake, useView } from '../state/store';
import { MapBeads } from './MapBeads';
import { PathOnMap, SeamOnMap } from './MapLines';
import { MapPicture } from './MapPicture';
import { useMapDrawing } from '../picture/map-projection';
import { useMapHandling } from './useMapHandling';

export function MapView({ width }: { width: number }) {
  const map = useMapDrawing(width);
  const { height, draw } = map;
  const { path } = useTake();
  const view = useView();
  const station = useStudio((s) => s.station);
  const asksForPlace = useAsksForPlace();
  const viewKeys = viewKeysOf(path);
  const hand = useMapHandling(map);
  const box = useBox(({ left, right, top, bottom }) =>
    viewKeys
      .filter((key) => {
        const [x, y] = map.placeOf(sightOf(key.view));
        return x >= left && x <= right && y >= top && y <= bottom;
      })
      .flatMap(refsOf),
  );
  return (
    <div className="relative bg-well" style={{ width, height }} data-testid="map">
      <MapPicture width={width} height={height} />
      <svg
        width={width}
        height={height}
        className="absolute inset-0 cursor-crosshair touch-none overflow-hidden"
        role="group"
        aria-label={`Map. The camera looks at heading ${Math.round(view.pan)}°, ${Math.round(view.tilt)}° up; ${viewKeys.length} keyframes.`}
        onPointerDown={(e) => {
          if (box.begin(e)) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          hand.press(e);
        }}
        onPointerMove={(e) => box.move(e) || hand.drag(e)}
        onPointerUp={() => box.end() || hand.release()}
        onPointerCancel={hand.release}
      >
        <path d={draw(geoGraticule10()) ?? ''} fill="none" stroke="#fff" strokeOpacity={0.1} />
        <Meridians width={width} height={height} ahead={0.45} others={0.25} />
        <line x1={0} x2={width} y1={height / 2} y2={height / 2} stroke="#fff" strokeOpacity={0.55} />
        <SeamOnMap map={map} />
        {station === 'level' && <HorizonOnMap width={width} />}
        <PathOnMap map={map} />
        <g pointerEvents={asksForPlace ? 'none' : undefined}>
          <MapBeads map={map} viewKeys={viewKeys} />
        </g>
        <SectorOnMap width={width} lineOf={map.lineOf} />
        <FoundOnMap lineOf={map.lineOf} />
        <SubjectsOnMap lineOf={map.lineOf} />
        <ProposedOnMap lineOf={map.lineOf} />
        {box.shape}
      </svg>
      <PointOutOnMap width={width} height={height} />
    </div>
  );
}
