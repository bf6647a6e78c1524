import { launchChromium } from './chromium';
const url = 'http://localhost:4191';
const browser = await launchChromium();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
for (const title of ['Lantern stairs', 'Clockwork tide', 'Harbour in fog', 'Gull over rail']) {
  await page.goto(url);
  await page.getByRole('link', { name: title }).click();
  await page.getByTestId('cut-overlay').waitFor();
  await page.waitForTimeout(5000);
  const t = Date.now();
  await page.keyboard.press('Enter');
  await page.waitForURL('**/match');
  await page.getByRole('button', { name: 'Stop' }).waitFor({ timeout: 60000 });
  console.log(title, ((Date.now() - t) / 1000).toFixed(2), await page.getByTestId('best-jnd').innerText());
}
await browser.close();
