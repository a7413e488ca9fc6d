/**
 * @jest-environment ./app/test/support/browser.mjs
 *
 * The Look station's bench: what people see, and what becomes of the take.
 */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { createRoutesStub } from 'react-router';
import { USUAL_SECTOR, USUAL_TWIN } from '@glimbo/core/look/sector';
import { LIGHT, lightOf } from '@glimbo/core/look/light';
import { startHistory } from '@glimbo/core/document/history';
import { withGrade } from '@glimbo/core/edit/look';
import type { Look } from '@glimbo/core/look/look';
import { newTake, type Take } from '@glimbo/core/take/take';
import { readTake } from '@glimbo/core/take/validate';
import * as edit from '../studio/commands/path-edits';
import { CameraPart } from '../studio/look/CameraPart';
import { ColourPart } from '../studio/look/ColourPart';
import { DetailPart } from '../studio/look/DetailPart';
import { LightPart } from '../studio/look/LightPart';
import { LookBench } from '../studio/look/LookBench';
import { OverlaysPart } from '../studio/look/OverlaysPart';
import { SpherePart } from '../studio/look/SpherePart';
import { putPatch } from '../studio/look/place-patch';
import { LaneSwitch } from '../studio/score/LaneSwitch';
import { createStudio, shownBeforeAfter, StudioContext } from '../studio/state/store';
import { framePanes } from '../studio/picture/frame-panes';
import { halt } from './support/halt';

/** What the server says: nothing kept, and the light of an even footage. */
const answered = (address: string) =>
  address.endsWith('/light')
    ? new Response(new Uint8Array(10 * LIGHT.rate * LIGHT.width * LIGHT.height).fill(60))
    : Response.json({ items: [] });
afterEach(cleanup);
beforeEach(() => {
  localStorage.clear();
  globalThis.fetch = jest.fn((address: string) => Promise.resolve(answered(address))) as never;
});

function inStudio(children: ReactNode, look?: Look) {
  const take: Take = { ...newTake('a.mp4', 10), ...(look ? { look } : {}) };
  const store = createStudio(halt, startHistory(take), { station: 'look' });
  const Stub = createRoutesStub([
    { path: '/', Component: () => <StudioContext.Provider value={store}>{children}</StudioContext.Provider> },
  ]);
  render(<Stub />);
  const lookNow = () => {
    const now = store.getState().take();
    // Whatever a bench does, the document can be read.
    readTake(structuredClone(now));
    return now.look;
  };
  return { store, lookNow, user: userEvent.setup() };
}

async function type(user: ReturnType<typeof userEvent.setup>, name: string, value: string) {
  const field = screen.getByRole('textbox', { name });
  await user.clear(field);
  await user.type(field, `${value}{Enter}`);
}

describe('light and colour', () => {
  test('dials are typed, keyed at the playhead, and reset', async () => {
    const { store, lookNow, user } = inStudio(<LightPart />);
    await type(user, 'Exposure value', '1.5');
    expect(lookNow()).toEqual({ grade: { exposure: 1.5 } });
    await user.click(screen.getByRole('button', { name: 'Key of exposure here' }));
    act(() => store.getState().setTime(4));
    await type(user, 'Exposure value', '0.5');
    expect(lookNow()!.grade!.exposure).toEqual([
      { time: 0, value: 1.5, ease: 'smooth' },
      { time: 4, value: 0.5, ease: 'smooth' },
    ]);
    await user.click(screen.getByRole('button', { name: 'Previous key of exposure' }));
    expect(store.getState().time).toBe(0);
    await user.click(screen.getByRole('button', { name: 'Reset light' }));
    expect(lookNow()).toBeUndefined();
  });

  test('keys of the look are deleted, copied and nudged like the path’s, and leave the path alone', () => {
    const { store, lookNow } = inStudio(<LightPart />);
    act(() => {
      store.getState().edit((t) =>
        withGrade(t, {
          tint: [
            { time: 1, value: 10 },
            { time: 2, value: 20 },
          ],
        }),
      );
      store.getState().pick([{ channel: 'tint', time: 2 }], 'only');
      edit.nudgeKeys(store, 30);
    });
    expect(lookNow()!.grade!.tint).toEqual([
      { time: 1, value: 10 },
      { time: 3, value: 20 },
    ]);
    act(() => {
      edit.copyKeys(store);
      store.getState().setTime(6);
      edit.pasteKeys(store);
    });
    expect((lookNow()!.grade!.tint as { time: number }[]).map((k) => k.time)).toEqual([1, 3, 6]);
    act(() => edit.removeHere(store));
    expect((lookNow()!.grade!.tint as { time: number }[]).map((k) => k.time)).toEqual([1, 3]);
    expect(store.getState().take().path).toEqual(newTake('a.mp4', 10).path);
  });

  test('a keyed dial has a lane to open', async () => {
    const { store, user } = inStudio(<LaneSwitch />);
    expect(screen.queryByRole('button', { name: 'Saturation' })).toBeNull();
    act(() => store.getState().edit((t) => withGrade(t, { saturation: [{ time: 1, value: 10 }] })));
    await user.click(screen.getByRole('button', { name: 'Saturation' }));
    expect(store.getState().lanes).toContain('saturation');
  });

  test('a LUT has an amount and is taken out; what is missing is told', async () => {
    const { store, lookNow, user } = inStudio(<ColourPart />, { lut: { file: 'Dusk.0123456789ab.cube', amount: 100 } });
    expect(screen.getByTestId('lut-name').textContent).toBe('Dusk.cube');
    await type(user, 'Amount of the LUT', '40');
    expect(lookNow()!.lut).toMatchObject({ amount: 40 });
    act(() => store.getState().missLut(true));
    expect(screen.getByRole('alert').textContent).toMatch(/Dusk\.cube is missing/);
    await user.click(screen.getByRole('button', { name: 'Take the LUT out' }));
    expect(lookNow()).toBeUndefined();
  });

  test('grey is picked once, and not when the part is left', async () => {
    const { store, user } = inStudio(<ColourPart />);
    await user.click(screen.getByRole('button', { name: 'Pick grey' }));
    expect(store.getState().pickingGrey).toBe(true);
    cleanup();
    expect(store.getState().pickingGrey).toBe(false);
  });
});

describe('seeing it', () => {
  test('before and after stand on both sides of a line, at this station alone', async () => {
    const { store, user } = inStudio(<LightPart />, { grade: { exposure: 1 } });
    await user.click(screen.getByRole('button', { name: 'Before and after' }));
    expect(shownBeforeAfter(store.getState())).toBe('split');
    const shown = framePanes(store.getState());
    expect([shown.panes[0]!.plain, shown.before!.panes[0]!.plain]).toEqual([undefined, true]);
    expect(shown.treatment!.grade.exposure).toBe(1);
    act(() => store.getState().goTo('path'));
    expect(framePanes(store.getState()).before).toBeNull();
  });

  test('held, before is alone; the waveform stands in place of the curve', async () => {
    const { store, user } = inStudio(<LightPart />, { grade: { exposure: 1 } });
    act(() => store.getState().showAsFilmed(true));
    expect(framePanes(store.getState()).panes[0]!.plain).toBe(true);
    await user.click(screen.getByRole('button', { name: 'Waveform' }));
    expect(store.getState().seeing.scope).toBe('waveform');
    await user.click(screen.getByRole('button', { name: 'Clipped' }));
    expect(store.getState().seeing.clipped).toBe(true);
  });
});

describe('moods', () => {
  test('are laid over with an amount, changed for another, and taken off', async () => {
    const { lookNow, user } = inStudio(<LookBench />);
    const moods = within(screen.getByRole('group', { name: 'Moods' }));
    await user.click(moods.getByRole('button', { name: 'Brass' }));
    expect(lookNow()!.mood).toMatchObject({ name: 'Brass', amount: 100 });
    await type(user, 'Amount of the mood', '30');
    await user.click(moods.getByRole('button', { name: 'Slate' }));
    expect(lookNow()!.mood).toMatchObject({ name: 'Slate', amount: 30 });
    await user.click(moods.getByRole('button', { name: 'Slate' }));
    expect(lookNow()).toBeUndefined();
  });

  test('light and colour are kept as one of one’s own', async () => {
    const { store, user } = inStudio(<LookBench />);
    const keep = screen.getByRole<HTMLButtonElement>('button', { name: 'Keep light and colour as a mood' });
    expect(keep.disabled).toBe(true);
    act(() => store.getState().gradeDial('contrast', 20));
    await user.click(keep);
    const sent = (globalThis.fetch as jest.Mock).mock.calls.map(([, init]) =>
      String((init as RequestInit | undefined)?.body),
    );
    expect(sent.some((body) => body.includes('"glimbo-mood"') && body.includes('"contrast":20'))).toBe(true);
  });
});

test('detail: a radius that is turned first is meant to be seen, and nothing is left of what is reset', async () => {
  const { lookNow, user } = inStudio(<DetailPart />);
  await type(user, 'Radius value', '2');
  expect(lookNow()!.detail).toEqual({ sharpen: { amount: 60, radius: 2, threshold: 2 } });
  await type(user, 'Clarity value', '-20');
  expect(lookNow()!.detail!.clarity).toBe(-20);
  await user.click(screen.getByRole('button', { name: 'Reset clarity' }));
  await user.click(screen.getByRole('button', { name: 'Reset sharpening' }));
  expect(lookNow()).toBeUndefined();
});

describe('camera', () => {
  test('shutter and shake are typed; another hand is another seed', async () => {
    const { lookNow, user } = inStudio(<CameraPart />);
    await type(user, 'Motion blur value', '180');
    await type(user, 'Shake value', '1.5');
    expect(lookNow()).toMatchObject({ shutter: 180, shake: { position: 1.5, seed: 1 } });
    await user.click(screen.getByRole('button', { name: 'Another hand' }));
    expect(lookNow()!.shake!.seed).toBe(2);
  });

  test('the Meter keeps the mean as it was, is locked, and becomes keyframes', async () => {
    const { store, lookNow, user } = inStudio(<CameraPart />);
    await user.click(screen.getByRole('checkbox', { name: /^Meter/ }));
    await screen.findByTestId('meter-now');
    expect(Math.abs(store.getState().metering()!(5))).toBeLessThan(0.1);
    expect(store.getState().lanes).toContain('meter');
    await type(user, 'Target value', '0');
    expect(store.getState().metering()!(5)).toBeGreaterThan(1);
    act(() => store.getState().setTime(3));
    await user.click(screen.getByRole('button', { name: 'Lock here' }));
    expect(lookNow()!.meter!.lock).toBe(3);
    await user.click(screen.getByRole('button', { name: 'To keyframes' }));
    expect(lookNow()!.meter).toBeUndefined();
    expect(lookNow()!.grade!.exposure).toHaveLength(2);
  });

  test('the Meter is computed anew for what it depends on, and not for another dial', async () => {
    const { store, user } = inStudio(<CameraPart />);
    await user.click(screen.getByRole('checkbox', { name: /^Meter/ }));
    await screen.findByTestId('meter-now');
    const before = store.getState().metering();
    act(() => store.getState().gradeDial('contrast', 10));
    expect(store.getState().metering()).toBe(before);
    act(() => store.getState().dial({ pan: 40 }));
    expect(store.getState().metering()).not.toBe(before);
  });

  test('without an answer the Meter stays off', async () => {
    globalThis.fetch = jest.fn(() =>
      Promise.resolve(Response.json({ problem: 'No proxy yet.' }, { status: 404 })),
    ) as never;
    const { lookNow, user } = inStudio(<CameraPart />);
    await user.click(screen.getByRole('checkbox', { name: /^Meter/ }));
    await screen.findByText('Meter');
    expect(lookNow()).toBeUndefined();
  });
});

describe('overlays', () => {
  test('a title is written, placed, keyed and timed', async () => {
    const { store, lookNow, user } = inStudio(<OverlaysPart />);
    expect(screen.getByText(/Nothing lies over the picture yet/)).toBeTruthy();
    act(() => store.getState().setTime(2));
    await user.click(screen.getByRole('button', { name: 'Title' }));
    fireEvent.change(screen.getByRole('textbox', { name: 'Text of the title' }), { target: { value: 'Brindle Halt' } });
    expect(lookNow()!.overlays).toMatchObject([{ kind: 'title', text: 'Brindle Halt', from: 2, to: 6 }]);
    await user.selectOptions(screen.getByRole('combobox', { name: 'Font' }), 'serif');
    await user.click(screen.getByRole('button', { name: 'Key of across here' }));
    act(() => store.getState().setTime(4));
    await type(user, 'Across value', '0.1');
    expect(lookNow()!.overlays![0]).toMatchObject({
      font: 'serif',
      x: [
        { time: 2, value: 0.5 },
        { time: 4, value: 0.1 },
      ],
    });
    await user.click(screen.getByRole('button', { name: 'To here' }));
    expect(screen.getByTestId('overlay-times').textContent).toBe('2.00 to 4.00 s');
    await user.click(screen.getByRole('button', { name: 'Remove Brindle Halt' }));
    expect(lookNow()).toBeUndefined();
  });

  test('bars are there once, of a ready ratio or an own one', async () => {
    const { lookNow, user } = inStudio(<OverlaysPart />);
    await user.click(screen.getByRole('button', { name: 'Bars' }));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Bars' }).disabled).toBe(true);
    await user.click(screen.getByRole('button', { name: '1.85' }));
    expect(lookNow()!.overlays).toEqual([{ kind: 'bars', ratio: 1.85 }]);
    await type(user, 'Ratio of the bars', '2.2');
    expect(lookNow()!.overlays).toEqual([{ kind: 'bars', ratio: 2.2 }]);
  });
});

describe('the patch', () => {
  test('lies over the nadir at first, is turned to the zenith, coloured and placed', async () => {
    const { store, lookNow, user } = inStudio(<SpherePart />);
    expect(store.getState().patchOutlined).toBe(true);
    await user.click(screen.getByRole('checkbox', { name: 'Patch over the tripod' }));
    expect(lookNow()!.patch).toMatchObject({ kind: 'fill', tilt: -90, to: 'rig' });
    await user.click(screen.getByRole('button', { name: 'Zenith' }));
    await user.click(screen.getByRole('radio', { name: 'Colour' }));
    await type(user, 'Size value', '30');
    expect(lookNow()!.patch).toMatchObject({ kind: 'colour', tilt: 90, size: 30 });
    act(() => putPatch(store, [0, 0, 1]));
    expect(lookNow()!.patch).toMatchObject({ pan: 0, tilt: 0 });
    await user.click(screen.getByRole('checkbox', { name: 'Patch over the tripod' }));
    expect(lookNow()).toBeUndefined();
    cleanup();
    expect(store.getState().patchOutlined).toBe(false);
  });
});

test('light that was fetched is kept for the next one who asks', () => {
  expect(lightOf(new Uint8Array(LIGHT.width * LIGHT.height + 5)).samples).toBe(1);
});

describe('sector', () => {
  test('is switched on, its dials typed, outside a colour or the twin of this or another footage', async () => {
    const others = [{ id: 'g', name: 'Ridge', file: 'ridge.mp4', rate: 30, frames: 600, proxy: '/p.mp4' }];
    globalThis.fetch = jest.fn((address: string) =>
      Promise.resolve(address === '/footage' ? Response.json({ footage: others }) : answered(address)),
    ) as never;
    const { lookNow, user } = inStudio(<SpherePart />);
    await user.click(screen.getByRole('checkbox', { name: 'Sector' }));
    await type(user, 'To value', '45');
    await type(user, 'Bottom value', '95');
    expect(lookNow()!.sector).toEqual({ ...USUAL_SECTOR, to: 45 });
    await user.click(screen.getByRole('radio', { name: 'Twin' }));
    await type(user, 'Later by value', '-2.5');
    await user.selectOptions(await screen.findByRole('combobox', { name: 'Of' }), 'Ridge');
    expect(lookNow()!.sector!.twin).toEqual({ ...USUAL_TWIN, time: -2.5, footage: 'ridge.mp4' });
    await user.click(screen.getByRole('radio', { name: 'Stands still' }));
    expect(lookNow()!.sector!.twin).toMatchObject({ runs: 'still', time: 0 });
    await user.click(screen.getByRole('radio', { name: 'Colour' }));
    expect(lookNow()!.sector!.twin).toBeUndefined();
    await user.click(screen.getByRole('checkbox', { name: 'Sector' }));
    expect(lookNow()).toBeUndefined();
  });

  test('says when the twin’s footage is not in the Library', async () => {
    globalThis.fetch = jest.fn((address: string) =>
      Promise.resolve(address === '/footage' ? Response.json({ footage: [] }) : answered(address)),
    ) as never;
    inStudio(<SpherePart />, { sector: { ...USUAL_SECTOR, twin: { ...USUAL_TWIN, footage: 'gone.mp4' } } });
    expect((await screen.findByRole('alert')).textContent).toContain('gone.mp4');
  });
});
