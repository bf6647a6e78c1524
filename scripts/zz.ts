import { launchChromium } from './chromium';
const browser = await launchChromium();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
page.on('pageerror', e => console.log('ERR', e.message));
await page.goto('http://localhost:4180');
await page.getByRole('link', { name: 'Clockwork tide' }).click();
await page.getByTestId('cut-overlay').waitFor();
await page.getByText('Drawing the spectrogram').waitFor({ state: 'detached' });
if (!(await page.getByTestId('note-roll').isVisible().catch(() => false))) {
  await page.getByRole('button', { name: 'Measure the cut' }).click().catch(() => {});
  await page.waitForTimeout(300);
  await page.keyboard.press('Enter');
}
await page.waitForURL('**/read', { timeout: 60000 }).catch(async () => { await page.keyboard.press('Enter'); await page.waitForURL('**/read'); });
await page.locator('[aria-label=Ledger] [aria-busy=false]').waitFor({ timeout: 60000 });
await page.keyboard.press('3');
await page.waitForTimeout(1500);
await page.screenshot({ path: '/tmp/build1.png' });
const nav = page.getByRole('navigation', { name: 'Layer' });
await nav.locator('select').first().selectOption({ index: 1 });
await page.waitForTimeout(500);
await page.screenshot({ path: '/tmp/build2.png' });
// add effects
const menus = nav.getByLabel(/Add an effect|effect/i);
console.log(await menus.count(), await nav.locator('select').evaluateAll(els => els.map(e => e.getAttribute('aria-label'))));
await nav.locator('select[aria-label*="effect" i]').first().selectOption('delay');
await page.waitForTimeout(300);
const by = page.getByLabel('Left by'); await by.selectOption('1/8');
await page.waitForTimeout(600);
await page.screenshot({ path: '/tmp/build3.png' });
await nav.locator('select[aria-label*="effect" i]').first().selectOption('multiband');
await page.waitForTimeout(600);
await page.screenshot({ path: '/tmp/build4.png' });
await nav.locator('select[aria-label*="effect" i]').first().selectOption('reverb');
await page.waitForTimeout(900);
await page.screenshot({ path: '/tmp/build5.png' });
await browser.close();
