/** Everything that can be done by name or with a key, each once. */
import { nudgeTilt } from '@glimbo/core/lens/aim';
import { LENS_PRESETS } from '@glimbo/core/lens/presets';
import { nextMiddle } from '@glimbo/core/level/level';
import { neighbours } from '@glimbo/core/path/edit';
import { setIn, setOut } from '@glimbo/core/edit/range';
import { MOVES, usualValues } from '@glimbo/core/moves/moves';
import { centrePointed } from '../level/orient';
import { nextJolt } from '../level/useTurning';
import { MOST_LOOKOUTS } from '@glimbo/core/lookouts/lookouts';
import { only, putOnAir } from '../lookouts/live-cut';
import { placeMove } from './place-move';
import { takeOfRange, toggleMark, toggleRange } from '../state/marks';
import type { StudioStore } from '../state/store';
import { STATION_IDS, STATIONS } from '../state/stations';
import type { usePlayer } from '../player/player-context';
import * as edit from './path-edits';

export interface Command {
  id: string;
  /** What it is called and found by. */
  name: string;
  group: 'Play' | 'Time' | 'Keyframes' | 'Aim' | 'Frame' | 'Level' | 'Lens' | 'Lookouts' | 'Moves' | 'Stations';
  /** Its usual key as tinykeys writes it; none for what is found by name alone. */
  key?: string;
  run: () => void;
}

export function commandsOf(
  store: StudioStore,
  player: ReturnType<typeof usePlayer>,
  open: (takeId: string) => void,
): Command[] {
  return [
    ...playing(player),
    ...timing(store, open),
    ...keyframes(store),
    ...aiming(store),
    ...framing(store),
    ...LENS_PRESETS.map((p): Command => ({
      id: `lens-${p.id}`,
      name: `Lens: ${p.name}`,
      group: 'Lens',
      run: () => store.getState().usePreset(p),
    })),
    ...lookouts(store),
    ...MOVES.map((m): Command => ({
      id: `move-${m.id}`,
      name: `Move: ${m.name}`,
      group: 'Moves',
      run: () => placeMove(store, m, usualValues(m)),
    })),
    ...STATION_IDS.map((s): Command => ({
      id: `station-${s}`,
      name: `Station: ${STATIONS[s]}`,
      group: 'Stations',
      run: () => store.getState().goTo(s),
    })),
  ];
}

const playing = (player: ReturnType<typeof usePlayer>): Command[] => [
  { id: 'play', name: 'Play, pause', group: 'Play', key: 'Space', run: () => player.toggle() },
  {
    id: 'back',
    name: 'Play backwards, faster with each press',
    group: 'Play',
    key: 'j',
    run: () => player.shuttle(-1),
  },
  { id: 'stop', name: 'Stop', group: 'Play', key: 'k', run: () => player.pause() },
  { id: 'on', name: 'Play, faster with each press', group: 'Play', key: 'l', run: () => player.shuttle(1) },
];

function timing(store: StudioStore, open: (takeId: string) => void): Command[] {
  const s = store.getState;
  const { rate } = s().footage.facts;
  const step = (seconds: number) => s().setTime(s().time + seconds);
  const toKey = (which: 'previous' | 'next') => {
    const t = neighbours(s().take().path, s().time)[which];
    if (t === undefined) return;
    s().setTime(t);
    s().selectView(t);
  };
  const range = (which: 'in' | 'out') =>
    s().edit((t) => {
      const { facts } = s().footage;
      const { time } = s();
      const set =
        which === 'in' ? setIn(t.range, time, facts, 'yield') : setOut(t.range, time + 1 / rate, facts, 'yield');
      return { ...t, range: set };
    });
  return [
    { id: 'frame-back', name: 'One frame back', group: 'Time', key: 'ArrowLeft', run: () => step(-1 / rate) },
    { id: 'frame-on', name: 'One frame on', group: 'Time', key: 'ArrowRight', run: () => step(1 / rate) },
    { id: 'second-back', name: 'One second back', group: 'Time', key: 'Shift+ArrowLeft', run: () => step(-1) },
    { id: 'second-on', name: 'One second on', group: 'Time', key: 'Shift+ArrowRight', run: () => step(1) },
    { id: 'key-before', name: 'Previous keyframe', group: 'Time', key: 'ArrowUp', run: () => toKey('previous') },
    { id: 'key-after', name: 'Next keyframe', group: 'Time', key: 'ArrowDown', run: () => toKey('next') },
    { id: 'closer', name: 'Show less time, closer', group: 'Time', key: '+', run: () => s().zoomTime(0.5) },
    { id: 'wider', name: 'Show more time', group: 'Time', key: '-', run: () => s().zoomTime(2) },
    { id: 'in', name: 'In point here', group: 'Time', key: 'i', run: () => range('in') },
    { id: 'out', name: 'Out point after this frame', group: 'Time', key: 'o', run: () => range('out') },
    { id: 'mark', name: 'Mark here, or take it away', group: 'Time', key: 'm', run: () => toggleMark(store) },
    { id: 'range', name: 'Begin a range, end it', group: 'Time', key: 'r', run: () => toggleRange(store) },
    {
      id: 'take',
      name: 'Make a take of the range here',
      group: 'Time',
      key: 't',
      run: () => void takeOfRange(store, open),
    },
    { id: 'undo', name: 'Undo', group: 'Keyframes', key: '$mod+z', run: () => s().undo() },
    { id: 'redo', name: 'Redo', group: 'Keyframes', key: '$mod+Shift+z', run: () => s().redo() },
  ];
}

/** What one press of a key nudges selected keyframes by, degrees. */
const TENTH = 0.1;

function keyframes(store: StudioStore): Command[] {
  const all = (id: string, name: string, key: string | undefined, run: () => void): Command => ({
    id,
    name,
    group: 'Keyframes',
    key,
    run,
  });
  const tenth = (channel: 'pan' | 'tilt' | 'roll', by: number) => () =>
    edit.nudgeKeys(store, 0, { [channel]: by * TENTH });
  const chosen = () => edit.chosenKeys(store);
  return [
    all('set-key', 'Set a keyframe', 'Enter', () => edit.keyHere(store)),
    all('insert-key', 'Set a keyframe in between, the curve stays', 'Shift+Enter', () => edit.insertHere(store)),
    all('remove-key', 'Remove the keyframe', 'Delete', () => edit.removeHere(store)),
    all('select-all', 'Select all keyframes', '$mod+a', () => edit.selectAll(store)),
    all('copy', 'Copy the keyframes, or the view', '$mod+c', () => void edit.copyKeys(store)),
    all('cut', 'Cut the keyframes', '$mod+x', () => edit.cutKeys(store)),
    all('paste', 'Paste here', '$mod+v', () => edit.pasteKeys(store)),
    all('duplicate', 'Duplicate the selected keyframes here', '$mod+d', () => edit.duplicateHere(store)),
    all('keys-earlier', 'Keyframes one frame earlier', 'Alt+ArrowLeft', () => edit.nudgeKeys(store, -1)),
    all('keys-later', 'Keyframes one frame later', 'Alt+ArrowRight', () => edit.nudgeKeys(store, 1)),
    all('keys-left', 'Keyframes a tenth of a degree left', 'Shift+a', tenth('pan', -1)),
    all('keys-right', 'Keyframes a tenth of a degree right', 'Shift+d', tenth('pan', 1)),
    all('keys-up', 'Keyframes a tenth of a degree up', 'Shift+w', tenth('tilt', 1)),
    all('keys-down', 'Keyframes a tenth of a degree down', 'Shift+s', tenth('tilt', -1)),
    all('mirror', 'Mirror the keyframes: left for right', undefined, () => edit.mirrorSelected(store)),
    all('reverse', 'Reverse the keyframes in time', undefined, () => edit.reverseSelected(store)),
    all('smooth', 'Make the keyframes smooth', undefined, () => edit.smoothKeys(store, chosen())),
    all('ease-ends', 'Ease the ends of the keyframes', undefined, () => edit.easeKeyEnds(store, chosen())),
    all('even', 'Even speed over the selected keyframes', undefined, () => edit.evenKeys(store, 'selection', 'pan')),
    all('loop', 'Back to the first view at the end', undefined, () => edit.loopToFirst(store)),
    all('other-way', 'Turn the other way round', undefined, () => edit.goOtherWay(store)),
  ];
}

function aiming(store: StudioStore): Command[] {
  const s = store.getState;
  const nudge = (channel: 'pan' | 'tilt' | 'roll', by: number) => () =>
    s().dial(
      { [channel]: channel === 'tilt' ? nudgeTilt(s().view().tilt, by) : s().view()[channel] + by },
      `nudge-${channel}`,
    );
  return [
    { id: 'left', name: 'Pan left 1°', group: 'Aim', key: 'a', run: nudge('pan', -1) },
    { id: 'right', name: 'Pan right 1°', group: 'Aim', key: 'd', run: nudge('pan', 1) },
    { id: 'up', name: 'Tilt up 1°', group: 'Aim', key: 'w', run: nudge('tilt', 1) },
    { id: 'down', name: 'Tilt down 1°', group: 'Aim', key: 's', run: nudge('tilt', -1) },
    { id: 'anticlockwise', name: 'Roll anticlockwise 1°', group: 'Aim', key: 'q', run: nudge('roll', -1) },
    { id: 'clockwise', name: 'Roll clockwise 1°', group: 'Aim', key: 'e', run: nudge('roll', 1) },
  ];
}

function framing(store: StudioStore): Command[] {
  const s = store.getState;
  const middle = () => s().setTime(nextMiddle(s().take().level?.keys ?? [], s().take().range));
  const back = () => {
    if (s().tried) return s().tryPath(null);
    if (s().large) return s().enlarge(false);
    s().glanceAt(null);
    s().lookAllRound(false);
  };
  const reading = () => s().readSweepAs(s().sweepReading === 'sweep' ? 'activity' : 'sweep');
  return [
    { id: 'round', name: 'Look all round', group: 'Frame', key: 'g', run: () => s().lookAllRound(!s().lookRound) },
    { id: 'activity', name: 'Sweep or activity', group: 'Frame', key: 'v', run: reading },
    { id: 'large', name: 'The Frame alone, large', group: 'Frame', key: 'f', run: () => s().enlarge(!s().large) },
    {
      id: 'escape',
      name: 'Back from the large Frame, or from a glance to the path',
      group: 'Frame',
      key: 'Escape',
      run: back,
    },
    { id: 'jolt', name: 'Next jolt', group: 'Level', key: 'n', run: () => void nextJolt(store) },
    { id: 'middle', name: 'To the middle of the longest unlevelled stretch', group: 'Level', key: 'h', run: middle },
    {
      id: 'centre',
      name: 'What is under the pointer is ahead',
      group: 'Level',
      key: 'x',
      run: () => centrePointed(store),
    },
  ];
}

const lookouts = (store: StudioStore): Command[] => [
  ...Array.from({ length: MOST_LOOKOUTS }, (_, n): Command => ({
    id: `lookout-${n + 1}`,
    name: `Lookout ${n + 1} on air`,
    group: 'Lookouts',
    key: String(n + 1),
    run: () => putOnAir(store, only(n)),
  })),
  { id: 'lookout-path', name: 'The path on air', group: 'Lookouts', key: '0', run: () => putOnAir(store, null) },
];
