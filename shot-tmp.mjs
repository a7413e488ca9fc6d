import { chromium } from '@playwright/test';
const [url, out, ...steps] = process.argv.slice(2);
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
await p.goto(url);
for (const s of steps) {
  const [kind, ...rest] = s.split('=');
  const arg = rest.join('=');
  if (kind === 'click') await p.getByText(arg, { exact: true }).first().click();
  if (kind === 'button') await p.getByRole('button', { name: arg }).first().click();
  if (kind === 'tab') await p.getByRole('tab', { name: arg, exact: true }).click();
  if (kind === 'key') await p.keyboard.press(arg);
  if (kind === 'wait') await p.waitForTimeout(Number(arg));
  if (kind === 'still') await p.waitForSelector('[data-testid=frame][data-still=yes]', { timeout: 60000 });
  if (kind === 'eval') console.log(await p.evaluate(arg));
}
await p.screenshot({ path: out });
await b.close();
