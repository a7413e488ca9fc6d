/** The lanes that can stand beside the Sweep. Another one is another entry here. */
import type { ComponentType } from 'react';
import type { KeyRef } from '@glimbo/core/path/keys';
import { keysOf, type CurveName, type Curves, type TurnName } from '@glimbo/core/path/path';
import { curvesOf } from '@glimbo/core/edit/curves';
import type { Take } from '@glimbo/core/take/take';
import { CutsLane } from '../lookouts/CutsLane';
import { GRADE_DIALS, type GradeDial } from '../look/grade-dials';
import type { Box } from '../axes/box';
import { keysInLane, LaneCurve, type DialScale } from './curves';
import type { Axis } from '../axes/lanes';
import { METER_SPAN, MeterLane } from './MeterLane';
import { MotionLane } from './MotionLane';
import { PaceLane } from './PaceLane';
import { SoundLane } from './SoundLane';
import { FASTEST, SpeedLane } from './SpeedLane';

export interface Lane {
  id: string;
  name: string;
  /** What it is called where there is little room. */
  short?: string;
  /** What stands over it from left to right. */
  scale: readonly string[];
  Draw: ComponentType<Axis>;
  /** Whether it is worth offering for a take; always when absent. */
  offered?: (take: Take) => boolean;
  /** The keyframes in a box in it; none for a lane without any. */
  keysIn?: (path: Curves, box: Box) => KeyRef[];
}

/** A lane of one of the path's dials. */
const dial = (of: Omit<DialScale, 'least'> & { least?: number }, short = of.name): Lane => {
  const scale: DialScale = { least: of.min, ...of };
  const { channel, name, min, max, unit } = scale;
  return {
    id: channel,
    name,
    short,
    scale: [min, max].map((v) => `${v}${unit}`.replace('-', '−')),
    Draw: (axis) => <LaneCurve {...axis} scale={scale} />,
    keysIn: (path, box) => keysInLane(path, scale, box),
  };
};

/** A lane that is offered while its dial is keyed. */
const whileKeyed = (lane: Lane, channel: CurveName): Lane => ({
  ...lane,
  offered: (take) => keysOf(curvesOf(take), channel).length > 0,
});

const gradeLane = ({ channel, name, unit, least, most }: GradeDial): Lane =>
  whileKeyed(dial({ channel, name, unit, min: least, max: most }), channel);

const turnLane = (channel: TurnName, name: string, most: number): Lane =>
  whileKeyed(dial({ channel, name, unit: '°', min: -most, max: most, wraps: most === 180 }), channel);

export const LANES: readonly Lane[] = [
  dial({ channel: 'tilt', name: 'Tilt', unit: '°', min: -90, max: 90 }),
  dial({ channel: 'roll', name: 'Roll', unit: '°', min: -90, max: 90 }),
  dial({ channel: 'fov', name: 'Field of view', unit: '°', min: 0, max: 350, least: 5 }, 'Fov'),
  dial({ channel: 'bend', name: 'Bend', unit: '', min: 0, max: 4 }),
  { id: 'speed', name: 'Speed', scale: ['0', `${FASTEST}°/s`], Draw: SpeedLane },
  { id: 'pace', name: 'Pace', scale: ['0.1×', '16×'], Draw: PaceLane },
  { id: 'cuts', name: 'On air', scale: [], Draw: CutsLane, offered: (take) => take.lookouts !== undefined },
  { id: 'motion', name: 'Motion', scale: ['pan', 'tilt', 'roll'], Draw: MotionLane },
  { id: 'sound', name: 'Sound', scale: ['quiet', 'loud'], Draw: SoundLane },
  {
    id: 'meter',
    name: 'Meter',
    scale: [`−${METER_SPAN} EV`, `+${METER_SPAN}`],
    Draw: MeterLane,
    offered: (take) => take.look?.meter !== undefined,
  },
  ...GRADE_DIALS.map(gradeLane),
  turnLane('turnPan', 'Turn: pan', 180),
  turnLane('turnTilt', 'Turn: tilt', 90),
  turnLane('turnRoll', 'Turn: roll', 180),
];

/** A lane by its id; the first where there is none of that id any more. */
export const laneOf = (id: string): Lane => LANES.find((l) => l.id === id) ?? LANES[0]!;
