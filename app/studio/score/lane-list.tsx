/** The lanes that can stand beside the Sweep. Another one is another entry here. */
import type { ComponentType } from 'react';
import { LaneCurve, type DialScale } from './curves';
import type { Axis } from './lanes';
import { MotionLane } from './MotionLane';
import { SoundLane } from './SoundLane';

interface Lane {
  id: string;
  name: string;
  /** What stands over it from left to right. */
  scale: readonly string[];
  Draw: ComponentType<Axis>;
}

/** A lane of one of the path's dials. */
const dial = (id: DialScale['channel'], name: string, unit: string, min: number, max: number, least = min): Lane => {
  const scale: DialScale = { channel: id, name, unit, min, max, least };
  return {
    id,
    name,
    scale: [min, max].map((v) => `${v}${unit}`.replace('-', '−')),
    Draw: (axis) => <LaneCurve {...axis} scale={scale} />,
  };
};

export const LANES: readonly Lane[] = [
  dial('tilt', 'Tilt', '°', -90, 90),
  dial('roll', 'Roll', '°', -90, 90),
  dial('fov', 'Field of view', '°', 0, 350, 5),
  dial('bend', 'Bend', '', 0, 4),
  { id: 'motion', name: 'Motion', scale: ['pan', 'tilt', 'roll'], Draw: MotionLane },
  { id: 'sound', name: 'Sound', scale: ['quiet', 'loud'], Draw: SoundLane },
];

/** A lane by its id; the first where there is none of that id any more. */
export const laneOf = (id: string): Lane => LANES.find((l) => l.id === id) ?? LANES[0]!;
