/** Videos that go along with the playhead: which are open, where they are sent, and when they show what is wanted. */
import { beforeEach, expect, test } from '@jest/globals';
import { SideVideos, type OpenVideo, type Wanted } from '../preview/side-videos';

let told: string[];
let arrive: Record<string, (time: number) => void>;
let came: string[];
const open: OpenVideo = ({ address }, shown) => {
  told.push(`open ${address}`);
  arrive[address] = (time) => shown({} as never, time);
  return { seek: (time) => void told.push(`${address} to ${time}`), dispose: () => void told.push(`close ${address}`) };
};
let videos: SideVideos;
beforeEach(() => {
  [told, arrive, came] = [[], {}, []];
  videos = new SideVideos((id) => void came.push(id), open);
});
const wanted = (id: string, time: number, address = `${id}.mp4`): Wanted => ({
  id,
  address,
  rate: 30,
  frames: 300,
  time,
});

test('each is opened when it is first wanted, sent where it is wanted, and closed once nobody wants it', () => {
  videos.want([wanted('a', 1)]);
  videos.want([wanted('a', 2), wanted('b', 5)]);
  videos.want([wanted('a', 2), wanted('b', 5)]);
  videos.want([wanted('b', 6)]);
  expect(told).toEqual([
    'open a.mp4',
    'a.mp4 to 1',
    'a.mp4 to 2',
    'open b.mp4',
    'b.mp4 to 5',
    'close a.mp4',
    'b.mp4 to 6',
  ]);
  videos.dispose();
  expect(told.at(-1)).toBe('close b.mp4');
});

test('they are settled when each shows its moment, within a frame', () => {
  expect(videos.settled).toBe(true);
  videos.want([wanted('a', 1), wanted('b', 5)]);
  expect(videos.settled).toBe(false);
  arrive['a.mp4']!(1);
  arrive['b.mp4']!(4);
  expect(videos.settled).toBe(false);
  arrive['b.mp4']!(5 - 0.5 / 30);
  expect([videos.settled, came]).toEqual([true, ['a', 'b', 'b']]);
  videos.want([wanted('a', 1.2), wanted('b', 5)]);
  expect(videos.settled).toBe(false);
});

test('another file under the same name is opened anew; what the old one still brings is passed over', () => {
  videos.want([wanted('a', 1)]);
  videos.want([wanted('a', 1, 'other.mp4')]);
  arrive['a.mp4']!(1);
  expect([videos.settled, came]).toEqual([false, []]);
  arrive['other.mp4']!(1);
  expect([videos.settled, came]).toEqual([true, ['a']]);
});
