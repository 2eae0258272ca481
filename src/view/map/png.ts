import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import type { MapResult } from '../../tasks/map.ts';
import { browserPrograms, fileAddress } from '../../workspace/platform.ts';
import { temporaryFolder } from '../../workspace/temporaryFolder.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { sizeOf, svg } from './svg.ts';

/** More pixels than this are drawn one for one; else twice as fine, for screens and print that can show it. */
const mostForFine = 8_000_000;

/** A map as a picture of pixels: what a browser on this machine makes of the other one. @throws {Trouble} */
export function* png(result: MapResult): Iterable<Uint8Array> {
  if (process.stdout.isTTY)
    throw new Trouble('unusable-call', 'a picture in pixels is nothing for a terminal', {
      mend: 'Send it to a file: lumbrik map --format png > map.png',
    });

  const folder = temporaryFolder('map');
  try {
    const { width, height } = sizeOf(result);
    const [page, picture] = [path.join(folder, 'map.html'), path.join(folder, 'map.png')];
    const drawn = [...svg(result)].join('');
    fs.writeFileSync(page, `<!doctype html><meta charset="utf-8"><body style="margin:0">${drawn}`);
    photograph([
      '--headless',
      '--disable-gpu',
      '--hide-scrollbars',
      `--user-data-dir=${path.join(folder, 'profile')}`,
      `--force-device-scale-factor=${width * height > mostForFine ? 1 : 2}`,
      `--window-size=${width},${height}`,
      `--screenshot=${picture}`,
      // A browser that belongs to the administrator has no sandbox; what it opens is our own picture.
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      fileAddress(page),
    ]);
    if (!fs.existsSync(picture)) throw noPicture();
    yield fs.readFileSync(picture);
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

/** Starts the first browser that there is. @throws {Trouble} where there is none. */
function photograph(args: readonly string[]): void {
  const wished = process.env.LUMBRIK_BROWSER;
  for (const browser of wished === undefined ? browserPrograms() : [wished]) {
    const { error } = spawnSync(browser, args, { stdio: 'ignore', timeout: 60_000 });
    if (!error) return;
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw noPicture();
  }

  throw new Trouble('no-browser', 'a picture in pixels is drawn by a browser, and none was found here', {
    mend: 'Install Chromium, or say where one is in LUMBRIK_BROWSER. --format svg needs none.',
  });
}

const noPicture = (): Trouble =>
  new Trouble('no-browser', 'the browser made no picture of it', {
    mend: 'Say another one in LUMBRIK_BROWSER, or take --format svg, which needs none.',
  });
