import { expect, test } from '@jest/globals';
import { commit, startHistory, undo } from '@glimbo/core/take/history';
import { newTake } from '@glimbo/core/take/take';
import { difference } from '../studio/drafts';

const take = (n: number) => newTake(`${n}.mp4`, n + 1);

test('what is sent is what the server lacks', () => {
  const before = commit(commit(startHistory(take(0)), take(1)), take(2));
  const more = commit(before, take(3));
  expect(difference(before, more)).toEqual({ keep: 3, steps: [take(3)], at: 3 });
  expect(difference(before, undo(before))).toEqual({ keep: 3, steps: [], at: 1 });
  const branched = commit(undo(before), take(9));
  expect(difference(before, branched)).toEqual({ keep: 2, steps: [take(9)], at: 2 });
});
