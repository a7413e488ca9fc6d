/** @jest-environment jsdom */
/** A drag is one gesture, its end included, however slow the machine is. */
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { amend, commit, present, startHistory } from '@glimbo/core/document/history';
import { isPressed } from '../studio/state/pressing';

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());
const send = (name: string) => window.dispatchEvent(new Event(name));

test('where a drag is let go belongs to it: it is one undo step, whoever hears of the end last', () => {
  let history = startHistory(0);
  const edit = (n: number, begins: boolean) =>
    (history = isPressed() && !begins ? amend(history, n) : commit(history, n));
  let begins = true;
  const moved = (n: number) => () => {
    edit(n, begins);
    begins = false;
  };
  send('pointerdown');
  moved(1)();
  const last = moved(2);
  window.addEventListener('pointerup', last, { once: true });
  send('pointerup');
  expect([history.steps, present(history)]).toEqual([[0, 2], 2]);
  jest.runAllTimers();
  expect(isPressed()).toBe(false);
});

test('a field that loses the focus ends no press, the window does', () => {
  const field = document.body.appendChild(document.createElement('input'));
  send('pointerdown');
  field.focus();
  field.blur();
  jest.runAllTimers();
  expect(isPressed()).toBe(true);
  send('blur');
  jest.runAllTimers();
  expect(isPressed()).toBe(false);
});

test('a press that follows at once is not ended by the one before it', () => {
  send('pointerdown');
  send('pointerup');
  send('pointerdown');
  jest.runAllTimers();
  expect(isPressed()).toBe(true);
  send('blur');
  jest.runAllTimers();
  expect(isPressed()).toBe(false);
});
