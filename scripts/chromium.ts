import { existsSync } from 'node:fs';
import { type Browser, chromium } from 'playwright-core';

const PLACES = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];

/** Starts Debian's Chromium without a window and without looking for the internet. */
export async function launchChromium(): Promise<Browser> {
  const executablePath = process.env.CHROMIUM ?? PLACES.find(existsSync);
  if (!executablePath) throw new Error('Chromium is missing. Install it: apt-get install chromium-headless-shell');
  return chromium.launch({
    executablePath,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--autoplay-policy=no-user-gesture-required',
    ],
  });
}
