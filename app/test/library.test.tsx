/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * The Library's list, and recordings on their way into it from the browser: what is asked, said and kept.
 */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createRoutesStub } from 'react-router';
import { addArrived, addFiles, addPath, gather } from '../library/adding';
import { adding, find, onAdded, setPrefix } from '../library/adding-store';
import { FootageList } from '../library/FootageList';
import type { LibraryFootage } from '~/model/footage';
import { answering } from './support/server';

/** What the server says, by the path and the intent that it is asked with. */
let answers: Record<string, object | (() => object)>;
const asked: { path: string; fields: Record<string, string> }[] = [];

beforeEach(() => {
  answers = {};
  asked.length = 0;
  localStorage.clear();
  adding.setState({ items: [], prefix: '', speed: 0 });
  onAdded(() => {});
  answering((to, how) => {
    const fields = Object.fromEntries(how?.body instanceof URLSearchParams ? how.body : []);
    const [path] = to.split('?') as [string];
    asked.push({ path: to, fields });
    const answer = answers[fields.intent ? `${path} ${fields.intent}` : path] ?? {};
    return typeof answer === 'function' ? (answer as () => object)() : answer;
  });
  // As large as it is said to be: a list draws what is in sight alone.
  Object.defineProperties(HTMLElement.prototype, {
    clientHeight: { configurable: true, value: 600 },
    clientWidth: { configurable: true, value: 900 },
  });
});
afterEach(cleanup);

const entry = (n: number, more: Partial<LibraryFootage> = {}): LibraryFootage => ({
  id: `f${n}`,
  name: `HALT_${n}`,
  kind: 'sphere',
  version: 1,
  favourite: false,
  tags: [],
  notes: '',
  created: n,
  variableRate: false,
  deleted: null,
  inPlace: true,
  width: 3840,
  height: 1920,
  duration: 10,
  rate: 30,
  codec: 'h264',
  size: 1e6,
  thumbnails: 0,
  reach: 10,
  marks: 0,
  job: null,
  ...more,
});

function list(footage: LibraryFootage[], deleted = false) {
  const Stub = createRoutesStub([
    { path: '/', Component: () => <FootageList footage={footage} takes={[]} deleted={deleted} /> },
  ]);
  render(<Stub />);
  return userEvent.setup();
}
const rows = () => screen.getAllByTestId('footage').map((row) => row.getAttribute('aria-label'));

describe('the list', () => {
  test('draws what is in sight, says how much there is, and asks for originals of what it shows alone', async () => {
    localStorage.setItem('glimbo-library', '{"layout":"list","sort":"oldest"}');
    const footage = Array.from({ length: 500 }, (_, n) => entry(n));
    answers['/footage/missing'] = () => ({ missing: [rows()[0]!.replace('HALT_', 'f')] });
    list(footage);
    expect(screen.getByTestId('footage-count').textContent).toBe('500');
    await waitFor(() => expect(asked.length).toBeGreaterThan(0));
    expect(rows().length).toBeLessThan(40);
    const ids = new URL(asked.at(-1)!.path, 'http://here').searchParams.get('of')!.split(',');
    expect(ids).toEqual(rows().map((name) => name!.replace('HALT_', 'f')));
    expect(await screen.findByText('original missing')).toBeTruthy();
  });

  test('is searched, and comes back as it was looked at', async () => {
    const footage = [entry(1), entry(2, { notes: 'The heron', favourite: true }), entry(3, { tags: ['pole'] })];
    const user = list(footage);
    await user.type(screen.getByRole('searchbox'), 'heron');
    expect(rows()).toEqual(['HALT_2']);
    expect(screen.getByTestId('footage-count').textContent).toBe('1 of 3');
    await user.clear(screen.getByRole('searchbox'));
    await user.selectOptions(screen.getByRole('combobox', { name: 'Tag' }), 'pole');
    expect(rows()).toEqual(['HALT_3']);
    await user.click(screen.getByRole('radio', { name: 'List' }));
    cleanup();
    list(footage);
    expect(screen.getByRole('radio', { name: 'List' }).getAttribute('aria-checked')).toBe('true');
    // What was searched for does not come back.
    expect(rows()).toHaveLength(3);
  });

  test('what a browser keeps and nobody can read is passed over', () => {
    localStorage.setItem('glimbo-library', '{"sort":"by the moon","layout":');
    list([entry(1)]);
    expect(rows()).toEqual(['HALT_1']);
  });

  test('deleted footage is not looked for', async () => {
    list([entry(1, { deleted: 1 })], true);
    await act(async () => {});
    expect(asked).toEqual([]);
  });
});

describe('adding', () => {
  const file = (name: string, bytes = 'x') => new File([bytes], name);
  const states = () => adding.getState().items.map(({ name, state }) => [name, state]);

  test('an empty file is told at once and never sent; what is no video is left out', () => {
    addFiles([file('empty.mp4', ''), file('notes.txt')]);
    expect(states()).toEqual([['empty', 'problem']]);
    expect(adding.getState().items[0]!.text).toMatch(/empty \(0 bytes\).*Nothing was added/);
    expect(asked).toEqual([]);
  });

  test('by path: named with the prefix, and the Library is looked at again', async () => {
    const again = jest.fn();
    onAdded(again);
    setPrefix('Day 1 ');
    answers['/gather path'] = [{ footageId: 'f1', name: 'Day 1 pond', path: '/card/pond.mp4' }];
    await addPath('/card/pond.mp4');
    expect(asked[0]!.fields).toMatchObject({ path: '/card/pond.mp4', prefix: 'Day 1 ', accepted: 'no' });
    expect(states()).toEqual([]);
    expect(again).toHaveBeenCalled();
  });

  test('doubts are asked about, and taken on the user’s word', async () => {
    answers['/gather path'] = () =>
      asked.length === 1
        ? [{ doubts: [{ kind: 'not-2:1', sentence: 'It is 1920 × 1080.' }], name: 'pond.mp4', path: '/pond.mp4' }]
        : [{ footageId: 'f1', name: 'pond', path: '/pond.mp4' }];
    await addPath('/pond.mp4');
    const { key, state, text } = adding.getState().items[0]!;
    expect([state, text]).toEqual(['asking', 'It is 1920 × 1080.']);
    await gather(key, true);
    expect(asked[1]!.fields).toMatchObject({ accepted: 'yes' });
    expect(states()).toEqual([]);
  });

  test('two files that are no pair after all become two recordings', async () => {
    answers['/gather upload'] = () => (asked.length === 1 ? { pair: 'Two files.', name: 'x' } : { known: 'Old' });
    addArrived([
      { id: 'upload-a', name: 'ride_a.mp4', size: 1 },
      { id: 'upload-b', name: 'ride_b.mp4', size: 1 },
    ]);
    await waitFor(() => expect(states()).toEqual([['ride', 'pair']]));
    await act(() => gather(adding.getState().items[0]!.key, false, 'apart'));
    await waitFor(() =>
      expect(states()).toEqual([
        ['ride_a', 'known'],
        ['ride_b', 'known'],
      ]),
    );
    expect(asked.slice(1).map((a) => a.fields.uploads)).toEqual(['upload-a', 'upload-b']);
  });

  test('without an answer the copy is kept and can be tried again', async () => {
    addArrived([{ id: 'upload-a', name: 'ride.mp4', size: 1 }]);
    answering(() => Promise.reject(new Error('away')));
    const { key } = adding.getState().items[0]!;
    await act(() => gather(key, false));
    expect(find(key)).toMatchObject({ state: 'problem', uploads: ['upload-a'] });
    expect(find(key)!.text).toMatch(/The copy is kept/);
  });
});
