import { spawnSync } from 'node:child_process';
import { pathToFileURL } from 'node:url';
import { type Browser, type BrowserContextOptions, chromium, type Page } from 'playwright-core';

/** Where a browser is on this machine; where `LUMBRIK_TEST_BROWSER` is `needed` as in CI, its absence is a failure. */
const found = ['chromium', 'chromium-browser', 'google-chrome']
  .map((name) => spawnSync('which', [name], { encoding: 'utf8' }).stdout.trim())
  .find(Boolean);

export const hasBrowser = found !== undefined || process.env.LUMBRIK_TEST_BROWSER === 'needed';

let browser: Promise<Browser> | undefined;

/** Ends the browser that pages were opened in. */
export async function closeBrowser(): Promise<void> {
  await (await browser)?.close();
  browser = undefined;
}

/** What a page did that it should not: what it asked for, and what its script complained of. */
export interface Watched {
  readonly page: Page;
  readonly asked: string[];
  readonly complaints: string[];
}

/** Opens a file in a real browser. */
export async function opened(file: string, options: BrowserContextOptions = {}): Promise<Watched> {
  browser ??= chromium.launch({ executablePath: found ?? 'chromium', args: ['--no-sandbox'] });
  const context = await (await browser).newContext({ viewport: { width: 1280, height: 800 }, ...options });
  const page = await context.newPage();
  const url = pathToFileURL(file).href;
  const watched: Watched = { page, asked: [], complaints: [] };
  page.on('request', (request) => {
    if (request.url().split('#')[0] !== url) watched.asked.push(request.url());
  });
  page.on('console', (message) => watched.complaints.push(message.text()));
  page.on('pageerror', (error) => watched.complaints.push(error.message));
  page.on('dialog', (dialog) => {
    watched.complaints.push(`dialog: ${dialog.message()}`);
    return dialog.dismiss();
  });
  await page.goto(url);
  return watched;
}
