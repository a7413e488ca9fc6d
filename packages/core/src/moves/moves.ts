/**
 * Moves: ready pieces of path, put at the playhead on what is framed. Each says the views that it goes through, with times from
 * its beginning on; what comes of it are keyframes like any others.
 */
import { DEFAULT_VIEW, type View } from '../lens/view.js';
import type { Ease } from '../curve/ease.js';
import { VIEW_CHANNELS } from '../path/edit.js';
import { pasteClipping, type Clipping } from '../path/clipping.js';
import type { Selection } from '../path/keys.js';
import type { ChannelName, Path } from '../path/path.js';

/** A number that a move can be given. */
export interface MoveDial {
  id: string;
  name: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  /** What it is before anybody turns it. */
  usual: number;
}

/** A view on the way of a move: seconds from its beginning, what is other than in the view that is framed, and what leaves it. */
export interface MovePoint {
  time: number;
  view: Partial<View>;
  ease?: Ease;
}

export interface Move {
  id: string;
  name: string;
  about: string;
  /** Whether what is framed is the move's beginning, or its end. */
  framed: 'first' | 'last';
  dials: readonly MoveDial[];
  points(view: View, values: Readonly<Record<string, number>>): MovePoint[];
}

const length = (usual: number, least = 0.2): MoveDial => ({
  id: 'length',
  name: 'Length',
  unit: ' s',
  least,
  most: 30,
  step: 0.1,
  usual,
});
const degrees = (id: string, name: string, usual: number, least: number, most: number): MoveDial => ({
  id,
  name,
  unit: '°',
  least,
  most,
  step: 1,
  usual,
});

const planet = (tilt: number, fov: number) => ({ tilt, fov, bend: 1, roll: 0 });

/** What the dives have in common: how long, how far they turn, and from how far away. */
const fromAfar = (id: string, name: string, about: string, seconds: number, turn: number) => ({
  id,
  name,
  about,
  dials: [
    length(seconds),
    degrees('turn', 'Turning', turn, -360, 360),
    degrees('size', 'Field of view', 260, 180, 340),
  ],
});

export const MOVES: readonly Move[] = [
  {
    ...fromAfar('planet-dive', 'Planet dive', 'A tiny planet that opens into what is framed', 3, 60),
    framed: 'last',
    points: (view, { length, turn, size }) => [
      { time: 0, view: { ...planet(-90, size!), pan: view.pan - turn! }, ease: 'ease-in-out' },
      { time: length!, view: {} },
    ],
  },
  {
    ...fromAfar('planet-rise', 'Planet rise', 'Up from what is framed until the ground is a little ball', 3, 60),
    framed: 'first',
    points: (view, { length, turn, size }) => [
      { time: 0, view: {}, ease: 'ease-in-out' },
      { time: length!, view: { ...planet(-90, size!), pan: view.pan + turn! } },
    ],
  },
  {
    ...fromAfar('tunnel-dive', 'Tunnel dive', 'Out of the sky in the middle into what is framed', 2.5, 90),
    framed: 'last',
    points: (view, { length, turn, size }) => [
      { time: 0, view: { ...planet(90, size!), pan: view.pan - turn! }, ease: 'ease-in-out' },
      { time: length!, view: {} },
    ],
  },
  {
    id: 'marble',
    name: 'Marble',
    about: 'Back until the world is a ball seen from outside',
    framed: 'first',
    dials: [length(3), degrees('turn', 'Turning', 120, -720, 720), degrees('size', 'Field of view', 290, 200, 350)],
    points: (view, { length, turn, size }) => [
      { time: 0, view: {}, ease: 'ease-in-out' },
      { time: length!, view: { fov: size!, bend: 2.4, pan: view.pan + turn! } },
    ],
  },
  {
    id: 'whip',
    name: 'Whip',
    about: 'Round to another point in a moment',
    framed: 'first',
    dials: [length(0.4, 0.1), degrees('turn', 'To the right', 120, -360, 360), degrees('rise', 'Up', 0, -90, 90)],
    points: (view, { length, turn, rise }) => [
      { time: 0, view: {}, ease: 'whip' },
      { time: length!, view: { pan: view.pan + turn!, tilt: upTo(view.tilt + rise!) } },
    ],
  },
  {
    id: 'orbit',
    name: 'Orbit',
    about: 'Round what is framed in a circle, and back',
    framed: 'first',
    dials: [length(4), degrees('reach', 'Radius', 8, 1, 40)],
    points: (view, { length, reach }) =>
      Array.from({ length: 9 }, (_, i) => {
        const angle = (i / 8) * 2 * Math.PI;
        const across = (reach! * Math.sin(angle)) / Math.max(0.2, Math.cos((view.tilt * Math.PI) / 180));
        const tilt = upTo(view.tilt + reach! * (1 - Math.cos(angle)));
        return { time: (length! * i) / 8, view: { pan: view.pan + across, tilt } };
      }),
  },
  {
    id: 'push',
    name: 'Slow push',
    about: 'Closer, hardly noticed',
    framed: 'first',
    dials: [length(5), { id: 'closer', name: 'Closer', unit: ' %', least: -100, most: 80, step: 1, usual: 25 }],
    points: (view, { length, closer }) => [
      { time: 0, view: {}, ease: 'ease-in-out' },
      { time: length!, view: { fov: Math.max(5, Math.min(348, view.fov * (1 - closer! / 100))) } },
    ],
  },
  {
    id: 'banked-turn',
    name: 'Banked turn',
    about: 'A turn that leans into itself',
    framed: 'first',
    dials: [length(3), degrees('turn', 'To the right', 90, -360, 360), degrees('lean', 'Lean', 12, 0, 45)],
    points: (view, { length, turn, lean }) => {
      const side = Math.sign(turn!) * lean!;
      return [
        { time: 0, view: {} },
        { time: length! / 2, view: { pan: view.pan + turn! / 2, roll: view.roll + side } },
        { time: length!, view: { pan: view.pan + turn!, roll: view.roll } },
      ];
    },
  },
  {
    id: 'sway',
    name: 'Sway',
    about: 'Gently from side to side, and back to rest',
    framed: 'first',
    dials: [
      length(4),
      degrees('reach', 'Reach', 6, 1, 30),
      { id: 'times', name: 'Times', unit: '', least: 1, most: 8, step: 1, usual: 2 },
    ],
    points: (view, { length, reach, times }) => {
      const halves = Math.round(times!) * 2;
      return [
        { time: 0, view: {} },
        ...Array.from({ length: halves }, (_, i) => {
          const side = i % 2 ? -1 : 1;
          const time = (length! * (i + 0.5)) / halves;
          return { time, view: { pan: view.pan + side * reach!, roll: view.roll + (side * reach!) / 4 } };
        }),
        { time: length!, view: {} },
      ];
    },
  },
];

const upTo = (tilt: number) => Math.max(-90, Math.min(90, tilt));

/** The usual values of a move's dials. */
export const usualValues = (move: Move): Record<string, number> =>
  Object.fromEntries(move.dials.map((d) => [d.id, d.usual]));

/** The keyframes of a move on a framed view, all of the view's channels in each. */
export function clippingOfMove(move: Move, view: View, values: Readonly<Record<string, number>>): Clipping {
  const points = move.points(view, { ...usualValues(move), ...values });
  const of = (name: ChannelName) =>
    points.map(({ time, view: change, ease = 'smooth' }) => ({ time, value: change[name] ?? view[name], ease }));
  const shifted = (['shiftX', 'shiftY'] as const).filter((name) => view[name] !== DEFAULT_VIEW[name]);
  return Object.fromEntries([...VIEW_CHANNELS, ...shifted].map((name) => [name, of(name)]));
}

/** A path with a move put at a time on a framed view. It begins there whichever of its ends is the framed one. */
export const putMove = (
  path: Path,
  move: Move,
  at: number,
  { view, values, rate, end }: { view: View; values: Readonly<Record<string, number>>; rate: number; end?: number },
): { path: Path; selection: Selection } => pasteClipping(path, clippingOfMove(move, view, values), at, { rate, end });
