/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * Pasting onto other takes: they are offered once they are listed, and not before.
 */
import { afterEach, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, screen } from '@testing-library/react';
import { createRoutesStub } from 'react-router';
import { startHistory } from '@glimbo/core/document/history';
import { newTake } from '@glimbo/core/take/take';
import { OtherTakes } from '../studio/fields/OtherTakes';
import { createStudio, StudioContext } from '../studio/state/store';
import { halt } from './support/halt';

afterEach(cleanup);

/** The dialog, and what answers the question for takes. */
function asking() {
  let answer: (takes: object[]) => void = () => undefined;
  globalThis.fetch = jest.fn(
    () => new Promise((resolve) => (answer = (takes) => resolve(Response.json({ takes })))),
  ) as never;
  const store = createStudio(halt, startHistory(newTake('a.mp4', 10)), { station: 'path' });
  const Stub = createRoutesStub([
    {
      path: '/studio/:takeId',
      Component: () => (
        <StudioContext.Provider value={store}>
          <OtherTakes onClose={() => undefined} />
        </StudioContext.Provider>
      ),
    },
  ]);
  render(<Stub initialEntries={['/studio/here']} />);
  return (takes: object[]) => act(async () => answer(takes));
}

const take = (id: string) => ({ id, name: `Take ${id}`, footageName: 'Halt', projectName: 'Open day' });

test('before they are listed nothing can be ticked; then each, or all, but for the one that is open', async () => {
  const answer = asking();
  expect(screen.getByText('The takes are not listed yet.')).toBeTruthy();
  expect(screen.queryByRole('checkbox', { name: /^All \d/ })).toBeNull();
  await answer([take('here'), take('there'), take('away')]);
  expect(screen.getByRole('checkbox', { name: 'All 2' })).toBeTruthy();
  expect(screen.queryByText('Take here')).toBeNull();
  expect(screen.getByText('Take there')).toBeTruthy();
});

test('where there is no other take, that is said', async () => {
  const answer = asking();
  await answer([take('here')]);
  expect(screen.getByText('There is no other take to paste onto.')).toBeTruthy();
});
