/** Every page, station and sheet for people who use a keyboard or a screen reader: axe, and walks without a pointer. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from './test';
import { footage, gather, openTake, saved, scratch, station, still } from './helpers';
import { join } from 'node:path';

const NAME = 'reached';

test.beforeEach(async ({ page }) => {
  await page.goto('/');
  if (await page.getByTestId('footage').filter({ hasText: NAME }).count()) return;
  footage(`${NAME}.mp4`, 2, 2);
  await gather(page, join(scratch, `${NAME}.mp4`));
});

/** What axe finds on a page as it is, in words. */
async function findings(page: Page, rules?: string[]): Promise<string[]> {
  const axe = new AxeBuilder({ page });
  const { violations } = await (rules ? axe.withRules(rules) : axe.withTags(TAGS)).analyze();
  return violations.flatMap((v) =>
    v.nodes.map((n) => `${v.id}: ${n.target.join(' ')} (${n.failureSummary?.split('\n')[1]})`),
  );
}

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'];

/** Looks at all on the day sheet; the night sheet differs in its colours alone. */
async function bothSheets(page: Page, what: string) {
  const turn = (sheet: string) => page.evaluate((s) => void (document.documentElement.dataset.sheet = s), sheet);
  expect.soft(await findings(page), what).toEqual([]);
  await turn('night');
  expect.soft(await findings(page, ['color-contrast']), `${what}, night sheet`).toEqual([]);
  await turn('day');
}

test('no page breaks a rule of WCAG 2.2 AA that a program can see', async ({ page }) => {
  for (const address of ['/', '/?deleted', '/card', '/exports', '/settings', '/sign-in', '/nowhere']) {
    await page.goto(address);
    await page.waitForLoadState('networkidle');
    await bothSheets(page, address);
  }
  await page.goto('/');
  await page.getByRole('button', { name: `About ${NAME}` }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await bothSheets(page, 'the information sheet');
});

test('no station, part of one, or sheet over the Studio does either', async ({ page }) => {
  await openTake(page, NAME);
  await page.keyboard.press('Enter');
  await page.keyboard.press('m');
  for (const name of ['Source', 'Level', 'Path', 'Look', 'Export']) {
    await station(page, name);
    const tabs = page.getByRole('tab');
    for (let i = 0; i < Math.max(1, await tabs.count()); i++) {
      if (await tabs.count()) await tabs.nth(i).click();
      await bothSheets(page, `${name}, part ${i + 1}`);
    }
  }
  for (const keys of ['Shift+?', 'Control+k']) {
    await page.keyboard.press(keys);
    await expect(page.getByRole('dialog')).toBeVisible();
    await bothSheets(page, keys);
    await page.keyboard.press('Escape');
  }
  expect(await page.getByRole('main').count()).toBe(1);
  expect(await page.getByRole('heading', { level: 1 }).count()).toBe(1);
});

test('a path is laid, moved and exported without a pointer', async ({ page }) => {
  await openTake(page, NAME);
  await page.keyboard.press('Enter');
  await page.keyboard.press('Shift+ArrowRight');
  for (let i = 0; i < 12; i++) await page.keyboard.press('d');
  await saved(page);
  const bead = page.getByTestId('sweep').getByRole('button', { name: /^Keyframe 2/ });
  await expect(bead).toHaveAccessibleName(/at 0:01\.00, pan 12°/);
  await bead.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('ArrowUp');
  await expect(bead).toHaveAccessibleName(/at 0:00\.97, pan 22°/);
  const onMap = page.getByTestId('map').getByRole('button', { name: /^Keyframe 2/ });
  await onMap.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect(onMap).toHaveAccessibleName(/pan 22°, tilt 10°/);
  await page.keyboard.press('+');
  await expect(page.getByRole('scrollbar', { name: 'Shown part of the footage' })).toBeVisible();
  await page.keyboard.press('-');
  // To the Export station and through its form by Tab alone.
  await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: 'Export' }).focus();
  await page.keyboard.press('Enter');
  await still(page);
  await page.getByRole('combobox', { name: 'Size class' }).focus();
  await page.keyboard.press('End');
  await page.getByRole('textbox', { name: 'Width' }).fill('320');
  await page.keyboard.press('Tab');
  await page.keyboard.type('180');
  await page.keyboard.press('Tab');
  const send = page.getByRole('button', { name: 'Export clip' });
  for (let i = 0; i < 8 && !(await send.evaluate((b) => b === document.activeElement)); i++)
    await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Exports of this take' }).getByText(/finished/)).toBeVisible({
    timeout: 240_000,
  });
});
