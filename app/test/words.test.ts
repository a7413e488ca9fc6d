/** Times, sizes and rates as people read them; what the Frame draws. */
import { describe, expect, test } from '@jest/globals';
import { IDENTITY } from '@glimbo/core/geometry/rotation';
import { cameraOf, directionAt } from '@glimbo/core/lens/view';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import { selectTakes } from '../library/select';
import { framePanes } from '../studio/picture/frame-panes';
import { lookRoundPanes } from '../studio/picture/look-round';
import { createStudio } from '../studio/state/store';
import { bytes, clock, left, rateText } from '../ui/format';
import { facts } from './world';
import type { Footage } from '~/model/footage';

describe('words', () => {
  test('of time', () => {
    expect([clock(0), clock(65.5), clock(-3), clock(59.999, 0), clock(3600, 0)]).toEqual([
      '0:00.00',
      '1:05.50',
      '0:00.00',
      '1:00',
      '60:00',
    ]);
    expect([left(null), left(0.2), left(45), left(300)]).toEqual(['', '1 s left', '45 s left', '5 min left']);
  });
  test('of size and rate', () => {
    expect([bytes(0), bytes(10), bytes(2500), bytes(3.4e6), bytes(1.25e9)]).toEqual([
      '0 kB',
      '1 kB',
      '3 kB',
      '3.4 MB',
      '1.25 GB',
    ]);
    expect([rateText(30), rateText(30000 / 1001)]).toEqual(['30 fps', '29.97 fps']);
  });
});

describe('takes', () => {
  const take = (name: string, footage: string, changed: number, favourite = false) => ({
    name,
    footage,
    changed,
    favourite,
  });
  const takes = [take('Ridge 10', 'Ridge', 3), take('Ridge 2', 'Ridge', 1, true), take('Pond', 'Carry', 2)];
  const names = (search: string, favourites: boolean, sort: 'changed' | 'name' | 'footage') =>
    selectTakes(takes, { search, favourites, sort }).map((t) => t.name);
  test('are sorted as people count, searched by every word, in their footage’s name too', () => {
    expect(names('', false, 'changed')).toEqual(['Ridge 10', 'Pond', 'Ridge 2']);
    expect(names('', false, 'name')).toEqual(['Pond', 'Ridge 2', 'Ridge 10']);
    expect(names('', false, 'footage')).toEqual(['Pond', 'Ridge 2', 'Ridge 10']);
    expect(names('RIDGE 1', false, 'name')).toEqual(['Ridge 10']);
    expect(names('carry', false, 'name')).toEqual(['Pond']);
    expect(names('', true, 'name')).toEqual(['Ridge 2']);
  });
});

describe('the Frame', () => {
  const footage = { id: 'f', facts: facts(), marks: [], ranges: [], gathered: {}, motion: null } as unknown as Footage;
  const studio = (start: object = {}) => createStudio(footage, startHistory(newTake('a.mp4', 4)), start);

  test('draws what the virtual camera sees; at the Level station before and after as they were asked for', () => {
    const s = studio({ station: 'path' });
    s.getState().dial({ pan: 33 });
    expect(framePanes(s.getState())).toMatchObject({ panes: [{ view: { pan: 33 }, width: 1 }], before: null });
    s.getState().showBeforeAfter('split');
    s.getState().splitFrameAt(0.3);
    expect(framePanes(s.getState()).before).toBeNull();
    s.getState().goTo('level');
    expect(framePanes(s.getState()).before).toMatchObject({
      until: 0.3,
      panes: [{ view: { pan: expect.closeTo(33, 6) } }],
    });
    s.getState().showBeforeAfter('beside');
    expect(framePanes(s.getState()).panes.map((p) => [p.left, p.width])).toEqual([
      [0, 0.5],
      [0.5, 0.5],
    ]);
  });

  test('draws a lens that is only looked at', () => {
    const s = studio();
    s.getState().tryLens({ fov: 270, bend: 1, tilt: -90 });
    expect(framePanes(s.getState()).panes[0]!.view).toMatchObject({ fov: 270, tilt: -90 });
  });

  test('looking all round leaves out no heading', () => {
    const cameras = lookRoundPanes(0, IDENTITY).map((p) => cameraOf(p.view, 800, 450));
    for (let heading = 0; heading < 360; heading += 3) {
      const seen = cameras.some((camera) => {
        const [l, r] = [directionAt(camera, 0, 225)!, directionAt(camera, 800, 225)!].map(
          (d) => (Math.atan2(d[0], d[2]) * 180) / Math.PI,
        );
        return (((heading - l!) % 360) + 360) % 360 <= (((r! - l!) % 360) + 360) % 360;
      });
      expect([heading, seen]).toEqual([heading, true]);
    }
  });
});
