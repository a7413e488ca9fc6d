/** Tracks as somebody gets them, through the whole recording: whether they claim somebody who is not there any more. */
import { isSeen, type SubjectTrack } from '@glimbo/core/follow/subject';
import { followSubject } from '@glimbo/media/follow';
import { boxAt, FRAMES, marks, RATE, type RigName } from './walkers.js';
import { motionOf, percent, type Watched } from './watched.js';

/** Follows somebody through all of it, drawn round in the middle of the marks. */
function wholeTrack(file: string, rig: RigName, name: string, { besideAt, strangers }: Watched): Promise<SubjectTrack> {
  const looks = marks.people[name]!;
  const look = looks[looks.length >> 1]!;
  const { direction, width, height } = boxAt(rig, look);
  const order = { frame: look[0], direction, size: { width, height } };
  return followSubject(file, { rate: RATE, frames: FRAMES }, order, { motion: motionOf(rig), besideAt, strangers });
}

const isWithin = (frame: number, stretches: readonly [number, number][]) =>
  stretches.some(([from, to]) => frame >= from && frame <= to);

export async function reportWholeTracks(
  file: string,
  rig: RigName,
  names: readonly string[],
  known: Watched,
  choosing: boolean,
) {
  let [claimed, gone] = [0, 0];
  for (const name of names) {
    const away = marks.away[name];
    if (!away) continue;
    const { looks } = await wholeTrack(file, rig, name, known);
    const there = looks.map((look, n) => ({ seen: isSeen(look), gone: isWithin(n, away) }));
    if (choosing) console.log(`  ${name}: ${inLetters(there)}`);
    gone += there.filter((look) => look.gone).length;
    claimed += there.filter((look) => look.gone && look.seen).length;
  }
  console.log(`${rig}, whole tracks: claimed while surely away in ${percent(claimed / gone)} of ${gone} frames`);
}

/** A letter for every half second: x seen, O seen while away, . not seen. */
const inLetters = (there: readonly { seen: boolean; gone: boolean }[]) =>
  there
    .filter((_, n) => n % 5 === 0)
    .map(({ seen, gone }) => (seen ? (gone ? 'O' : 'x') : '.'))
    .join('');
