import { launchChromium } from './chromium';
const url = 'http://localhost:4191';
const browser = await launchChromium();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
page.on('console', (m) => {
  if (m.type() === 'error') console.log('console', m.text());
});
page.on('pageerror', (e) => console.log('pageerror', e.message));
await page.goto(url);
await page.getByRole('link', { name: process.argv[2] ?? 'Lantern stairs' }).click();
await page.getByTestId('cut-overlay').waitFor();
await page.waitForTimeout(2500);
await page.keyboard.press('5');
if (await page.getByRole('button', { name: 'Match the cut' }).count()) {
  await page.getByRole('button', { name: 'Match the cut' }).click();
  await page.getByLabel('Candidates').waitFor();
  await page.keyboard.press('Space');
  await page.keyboard.press('5');
}
await page.getByRole('slider', { name: 'Moment of the note' }).waitFor({ timeout: 30000 });
await page.waitForTimeout(2500);
const s = (await page.getByRole('slider', { name: 'Moment of the note' }).boundingBox())!;
await page.mouse.move(s.x + 150, s.y + 40);
await page.waitForTimeout(200);
await page.screenshot({ path: '/tmp/shots/p1.png' });
// frames a second while the pointer moves
const fps = (await page.evaluate(
  `new Promise(r=>{let n=0,long=0;const t=performance.now();let last=t;const el=document.querySelector('[aria-label="Moment of the note"]'); const b=el.getBoundingClientRect(); let k=0; const iv=setInterval(()=>{k++; el.dispatchEvent(new PointerEvent('pointermove',{clientX:b.left+40+(k*7)%380,clientY:b.top+20,bubbles:true})); if(k>130) clearInterval(iv);},15); const f=()=>{n++;const now=performance.now();long=Math.max(long,now-last);last=now; if(now-t>2000) r(Math.round(n/2)*1000+Math.min(999,long)); else requestAnimationFrame(f);}; requestAnimationFrame(f);})`,
)) as number;
console.log('fps', Math.floor(fps / 1000), 'longest frame ms', Math.round(fps % 1000));
await page.getByLabel('Smoothed as the ear does').check();
await page.mouse.move(s.x + 700, s.y + 120);
await page.waitForTimeout(300);
await page.screenshot({ path: '/tmp/shots/p2.png' });
await browser.close();
