/** The curves of a take under one roof, so that whatever is keyed is edited alike. */
import { GRADE_NAMES } from '../look/channels.js';
import type { Channel } from '../curve/channel.js';
import { CHANNELS, TURN_NAMES, type Curves, type TurnName } from '../path/path.js';
import { withGrade } from './look.js';
import type { Take } from '../take/take.js';
import type { Turned } from '../take/turn.js';

/** A take is never changed: its curves are gathered once. */
const found = new WeakMap<Take, Curves>();

const TURNED: Readonly<Record<TurnName, Turned>> = { turnPan: 'pan', turnTilt: 'tilt', turnRoll: 'roll' };

export function curvesOf(take: Take): Curves {
  const known = found.get(take);
  if (known) return known;
  const turn = take.orientation?.turn;
  const turned = turn && Object.fromEntries(TURN_NAMES.flatMap((name) => memberOf(name, turn[TURNED[name]])));
  // Without anything else the path itself, so that what is known of it stays known.
  const curves = take.look?.grade || turned ? { ...take.path, ...take.look?.grade, ...turned } : take.path;
  found.set(take, curves);
  return curves;
}

const memberOf = <N extends string>(name: N, channel: Channel | undefined): [N, Channel][] =>
  channel === undefined || (typeof channel === 'object' && !channel.length) ? [] : [[name, channel]];

/** A take with other curves; its path and its orientation stay the same objects where none of their channels changed. */
export function withCurves(take: Take, curves: Curves): Take {
  const { path } = take;
  const same = path.turn === curves.turn && CHANNELS.every((name) => path[name] === curves[name]);
  const own = Object.fromEntries(CHANNELS.map((name) => [name, curves[name]]));
  const grade = Object.fromEntries(GRADE_NAMES.map((name) => [name, curves[name]]));
  return withGrade(withTurn(same ? take : { ...take, path: { ...path, ...own, turn: curves.turn } }, curves), grade);
}

function withTurn(take: Take, curves: Curves): Take {
  const { turn, ...rest } = take.orientation ?? {};
  if (TURN_NAMES.every((name) => turn?.[TURNED[name]] === curves[name])) return take;
  const members = TURN_NAMES.flatMap((name) => memberOf(TURNED[name], curves[name]));
  return { ...take, orientation: { ...rest, ...(members.length ? { turn: Object.fromEntries(members) } : {}) } };
}
