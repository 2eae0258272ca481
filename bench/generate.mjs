// Makes a lighthouse trust of any size: the demo's model, and N entries that obey it, the same for the same seed.
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const starter = fileURLToPath(new URL('../starters/lighthouses/', import.meta.url));
const words = 'gannet skerry lamp stair tide rock keeper harbour winter boat lens storm bridge island flag bread'.split(
  ' ',
);
const regions = ['north', 'skerries', 'holm-bay', 'sound', 'inner-sound', 'outer-sound', 'south', 'islands'];
const characters = ['fixed', 'flashing', 'occulting', 'isophase'];

/** Mulberry32: a small generator of numbers from 0 to 1 that is the same everywhere for the same seed. */
function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * Writes a workspace with `count` entries: a third each keepers (YAML), lighthouses (Markdown) and departures (JSON).
 * With `misspelt`, every lighthouse names keepers that there are not.
 */
export function generate(folder, count, { seed = 1, misspelt = false } = {}) {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  for (const name of ['lumbrik.yaml', 'model']) cpSync(join(starter, name), join(folder, name), { recursive: true });
  const next = random(seed);
  const pick = (list) => list[Math.floor(next() * list.length)];
  const prose = (length) => Array.from({ length }, () => pick(words)).join(' ');
  for (const type of ['keeper', 'lighthouse', 'tour', 'departure'])
    mkdirSync(join(folder, 'content', type), { recursive: true });
  const put = (type, file, text) => writeFileSync(join(folder, 'content', type, file), text);

  put(
    'tour',
    'round.md',
    `---\nname: The Round\nslug: round\nsummary: All of them.\nlights: [light-0]\nminutes: 60\ndifficulty: easy\n---\n`,
  );
  const keeper = misspelt ? 'keper' : 'keeper';
  const third = Math.ceil((count - 1) / 3);
  for (let i = 0; i < third; i += 1) {
    put(
      'keeper',
      `keeper-${i}.yaml`,
      `name: Keeper ${i}\nslug: keeper-${i}\nstatus: published\nborn: 18${10 + (i % 90)}-0${1 + (i % 9)}-1${i % 10}\nserved: 1904–1931\nlife: ${prose(30)}.\n`,
    );
    const light = `name: { en: Light ${i}, fr: Feu ${i} }\nslug: light-${i}\nstatus: published\nsummary: ${prose(25)}.\nregion: ${pick(regions)}\ncharacter: ${pick(characters)}\nfirstLit: 1858-10-01\nheight: ${(next() * 100).toFixed(1)}\nrange: ${1 + Math.floor(next() * 39)}\nkeepers:\n  - ${keeper}-${Math.floor(next() * third)}\n  - ${keeper}-${Math.floor(next() * third)}\nvisitable: true\n`;
    put('lighthouse', `light-${i}.md`, `---\n${light}---\n\n${prose(120)}\n`);
    put(
      'departure',
      `departure-${i}.json`,
      `${JSON.stringify({ status: 'published', tour: 'round', day: '2026-05-09', guide: `keeper-${Math.floor(next() * third)}`, places: 12 }, undefined, 2)}\n`,
    );
  }
  return 1 + 3 * third;
}

/** Writes a workspace whose entries are departures, as JSON: each a file, or each a line of one file. */
export function generateJson(folder, count, { inLines = false } = {}) {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'content/departure'), { recursive: true });
  mkdirSync(join(folder, 'model/types'), { recursive: true });
  const where = inLines ? 'content: [{ lines: content/departures.ndjson, type: departure }]\n' : '';
  writeFileSync(join(folder, 'lumbrik.yaml'), `workspace: Gannet Sound\nlanguages: [en]\n${where}`);
  writeFileSync(
    join(folder, 'model/types/departure.yaml'),
    'type: departure\nfields:\n  day: { kind: date, required: true }\n  after: { kind: reference, to: departure }\n  places: { kind: integer, min: 1, max: 60 }\n  notes: { kind: text, many: true }\n',
  );
  const next = random(1);
  const entry = () => ({
    status: 'published',
    day: `2026-0${1 + Math.floor(next() * 9)}-1${Math.floor(next() * 10)}`,
    after: `departure-${Math.floor(next() * count)}`,
    places: 1 + Math.floor(next() * 59),
    notes: Array.from({ length: 8 }, () => words[Math.floor(next() * words.length)]),
  });
  if (!inLines) {
    for (let i = 0; i < count; i += 1)
      writeFileSync(
        join(folder, `content/departure/departure-${i}.json`),
        `${JSON.stringify(entry(), undefined, 2)}\n`,
      );
    return;
  }
  const lines = [];
  for (let i = 0; i < count; i += 1) lines.push(JSON.stringify({ id: `departure-${i}`, ...entry() }));
  writeFileSync(join(folder, 'content/departures.ndjson'), `${lines.join('\n')}\n`);
}

/** The paths of all entries below a generated workspace. */
export const entryFiles = (folder) =>
  readdirSync(join(folder, 'content'), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name));

export const readEntry = (file) => readFileSync(file, 'utf8');
