#!/usr/bin/env node
// Makes every picture in docs/screenshots/ anew: real terminal windows of the built program on the demo.
// Needs Xvfb, xterm, ImageMagick and Chromium (Debian: apt-get install xvfb xterm imagemagick fonts-dejavu-core chromium).
import { spawn, spawnSync } from 'node:child_process';
import {
  chmodSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { answers, changeOfMind, edit, newestMigration } from './story.mjs';

const root = fileURLToPath(new URL('../', import.meta.url));
const pictures = join(root, 'docs/screenshots');
const display = ':87';
const size = { width: 1280, height: 800 };

for (const tool of ['Xvfb', 'xterm', 'import', 'chromium'])
  if (spawnSync('which', [tool]).status !== 0) {
    console.error(`${tool} is missing: apt-get install xvfb xterm imagemagick fonts-dejavu-core chromium`);
    process.exit(2);
  }

const work = mkdtempSync(join(tmpdir(), 'lumbrik-shots-'));
const bin = join(work, 'bin');
const coast = join(work, 'coast');
mkdirSync(bin);
writeFileSync(join(bin, 'lumbrik'), `#!/bin/sh\nexec node ${join(root, 'dist/cli.js')} "$@"\n`);
chmodSync(join(bin, 'lumbrik'), 0o755);
const environment = {
  ...process.env,
  PATH: `${bin}:${process.env.PATH}`,
  DISPLAY: display,
  LANG: 'C.UTF-8',
  SOURCE_DATE_EPOCH: '1772323200',
};
// Without a reset: a window that opens while the one before is closing would be lost in it.
const screen = spawn(
  'Xvfb',
  [display, '-screen', '0', `${size.width}x${size.height}x24`, '-nolisten', 'tcp', '-noreset'],
  {
    stdio: 'ignore',
  },
);

try {
  await setTimeout(1500);
  rmSync(pictures, { recursive: true, force: true });
  mkdirSync(pictures, { recursive: true });
  lumbrik(['new', 'coast', '--starter', 'lighthouses'], work);
  await shoot('show', 'lumbrik show');
  await shoot(
    'list',
    'lumbrik list lighthouse',
    'lumbrik list tour --columns name,minutes,difficulty --sort "minutes desc" --where "entry.minutes > 300"',
    'lumbrik advice',
  );
  await shoot('profile', 'lumbrik profile keeper', 'lumbrik profile lighthouse.summary');
  drawMap();
  await shoot(
    'trace',
    'lumbrik trace lighthouse/skerry-point',
    'lumbrik trace departure/light-and-lens-10-10 --publishing',
  );
  await shoot('terms', 'lumbrik terms', 'lumbrik terms topic', 'lumbrik terms topic --alike');
  await shoot(
    'add',
    'lumbrik add field lighthouse "Fog signal" --kind choice --with "choices=[bell, horn]" --with group=Technical',
    'lumbrik add term region "Holm Skerry" --under skerries',
    'lumbrik entry new lighthouse --title "Holm Skerry"',
    'head -16 content/lighthouse/holm-skerry.md',
  );
  lumbrik(['new', 'fresh', '--starter', 'lighthouses'], work);
  rmSync(coast, { recursive: true });
  renameSync(join(work, 'fresh'), coast);
  await shoot(
    'explain',
    'lumbrik explain duration',
    "lumbrik try 'entry.name.en.upper()' lighthouse",
    'lumbrik text page/about-us#/text --to markdown',
  );
  await shoot('check', 'lumbrik check');
  lumbrik(['seal', '-m', 'The first model']);
  for (const { file, edits } of changeOfMind) edit(coast, file, edits);
  await shoot('diff', 'lumbrik diff');
  await shoot('check-since', 'lumbrik check --since 1');
  await shoot('migration-draft', 'lumbrik migration draft');
  edit(coast, newestMigration(coast), answers);
  await shoot('migration-rehearse', 'lumbrik migration rehearse');
  lumbrik(['report']);
  photograph('report', join(coast, 'report.html'), { width: 1280, height: 1500 });
  await shoot(
    'migration-run',
    'lumbrik migration run',
    'lumbrik seal -m "Focal heights, and how to get there"',
    'lumbrik migration list',
    'lumbrik history',
  );
  edit(coast, 'content/lighthouse/holm-head.md', [[/^range: .*$/mu, 'range: 24']]);
  await shoot(
    'migration-undo',
    'lumbrik migration undo',
    'grep -n "range\\|height" content/lighthouse/holm-head.md',
    'lumbrik migration journals',
    'lumbrik migration list',
  );
  rmSync(coast, { recursive: true });
  lumbrik(['new', 'coast', '--starter', 'lighthouses'], work);
  lumbrik(['seal', '-m', 'The first model']);
  await shoot(
    'rename',
    'lumbrik rename lighthouse.height focalHeight',
    'lumbrik move tour.season tour.when.season',
    'tail -7 model/types/tour.yaml',
    'lumbrik diff',
  );
  rmSync(coast, { recursive: true });
  lumbrik(['new', 'coast', '--starter', 'lighthouses'], work);
  addSightings();
  await shoot('check-fix', 'tail -2 lumbrik.yaml; cat content/sightings.csv', 'lumbrik check --fix');
  leaveTables();
  await shoot('learn', 'head -3 content/visits.csv', 'lumbrik learn --no-ask');
} finally {
  screen.kill();
  rmSync(work, { recursive: true, force: true });
}

function lumbrik(args, folder = coast) {
  const { status, stderr } = spawnSync(join(bin, 'lumbrik'), args, { cwd: folder, env: environment, encoding: 'utf8' });
  if (status !== 0) throw new Error(`lumbrik ${args.join(' ')} ended with ${status}: ${stderr}`);
}

/** The map as a picture of a browser, a little smaller than it is. */
function drawMap() {
  const { stdout } = spawnSync(join(bin, 'lumbrik'), ['map', '--format', 'svg'], { cwd: coast, env: environment });
  writeFileSync(join(work, 'map.svg'), stdout);
  const page = join(work, 'map.html');
  writeFileSync(page, '<body style="margin:0;background:#faf8f3"><img src="map.svg" style="width:1280px">');
  photograph('map', page, { width: 1280, height: 740 });
}

/** A page as a browser shows it. */
function photograph(name, page, { width, height }) {
  const look = ['--headless', '--no-sandbox', '--disable-gpu', '--hide-scrollbars', `--window-size=${width},${height}`];
  const { status } = spawnSync('chromium', [
    ...look,
    `--screenshot=${join(pictures, `${name}.png`)}`,
    `file://${page}`,
  ]);
  if (status !== 0) throw new Error(`no picture of ${name}`);
  console.log(`docs/screenshots/${name}.png`);
}

/** Puts entries into the workspace that are rows of a table, most of them misspelt. */
function addSightings() {
  const settings = join(coast, 'lumbrik.yaml');
  writeFileSync(
    settings,
    `${readFileSync(settings, 'utf8')}content:\n  - folder: content\n  - { csv: content/sightings.csv, type: sighting, keys: { id: no } }\n`,
  );
  writeFileSync(
    join(coast, 'model/types/sighting.yaml'),
    'type: sighting\ntitled: what\nfields:\n  what: { kind: text, required: true, max: 40 }\n  day: { kind: date, required: true }\n  lasted: { kind: duration }\n  weather: { kind: choice, choices: [{ choice: clear, label: Clear }, { choice: mist, label: Sea mist }] }\n  from: { kind: reference, to: lighthouse, required: true }\n',
  );
  const rows = [
    'no;what;day;lasted;weather;from',
    's-1;Gannets, some forty of them;2026-02-11;1:30;Clear;skerry-point',
    's-2;"A porpoise; and her calf";2026-02-28;PT20M;mist;gull-stak',
    's-3;The aurora;2026-02-30;90 minutes;cleer;far-aldra',
  ];
  writeFileSync(join(coast, 'content/sightings.csv'), rows.map((row) => `${row}\n`).join(''));
}

/** Leaves of the workspace no more than two tables: of tours, and of who came along. */
function leaveTables() {
  const ids = readdirSync(join(coast, 'content/tour')).map((file) => file.replace('.md', ''));
  rmSync(coast, { recursive: true });
  mkdirSync(join(coast, 'content'), { recursive: true });
  const write = (file, names, rows) =>
    writeFileSync(join(coast, 'content', file), [names, ...rows].map((row) => `${row.join(';')}\n`).join(''));
  write(
    'tours.csv',
    ['id', 'Name', 'Minutes'],
    ids.map((id, at) => [id, id.replaceAll('-', ' '), 60 + 15 * at]),
  );
  write(
    'visits.csv',
    ['No.', 'Tour', 'Day', 'People (all)', 'Came by', 'Stars'],
    Array.from({ length: 60 }, (_, at) => [
      at + 1,
      ids[(at * 5) % ids.length],
      `2025-0${4 + (at % 6)}-${10 + (at % 18)}`,
      1 + (at % 9),
      ['boat', 'bus', 'on foot'][at % 3],
      at === 40 ? 'none' : 4 + (at % 2),
    ]),
  );
}

/** Types commands into a terminal window and takes its picture once they have ended. */
async function shoot(name, ...commands) {
  const done = join(work, `${name}.done`);
  const typed = commands
    .map((command) => `printf '\\033[2m$\\033[0m %s\\n\\n' '${command.replaceAll("'", `'\\''`)}'; ${command}`)
    .join('; echo; ');
  const script = `${typed}; touch ${done}; sleep 60`;
  const look = [
    '-fa',
    'DejaVu Sans Mono',
    '-fs',
    '11',
    '-geometry',
    '140x47+0+0',
    '-bg',
    '#10151c',
    '-fg',
    '#d8dee6',
    '-b',
    '14',
    '+sb',
    '-xrm',
    'xterm*cursorColor:#10151c',
  ];
  const terminal = spawn('xterm', [...look, '-e', 'bash', '-c', script], {
    cwd: coast,
    env: environment,
    stdio: 'ignore',
  });
  for (let waited = 0; waited < 30_000; waited += 200) {
    await setTimeout(200);
    if (spawnSync('test', ['-e', done]).status === 0) break;
  }
  const picture = join(pictures, `${name}.png`);
  const isTaken = await picturedWithin(50, picture);
  terminal.kill();
  if (!isTaken) throw new Error(`no picture of ${name}`);
  console.log(`docs/screenshots/${name}.png`);
}

/** Takes a picture of the screen, some times over until something is drawn on it: a busy machine draws late. */
async function picturedWithin(times, picture) {
  for (let time = 0; time < times; time += 1) {
    await setTimeout(400);
    const { status } = spawnSync('import', ['-window', 'root', picture], { env: environment });
    const colours = spawnSync('identify', ['-format', '%k', picture], { encoding: 'utf8' }).stdout;
    if (status === 0 && Number(colours) > 2) return true;
  }
  return false;
}
