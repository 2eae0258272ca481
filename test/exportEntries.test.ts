import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { coast, lumbrik, read, result, temporary, workspace, write } from './support/program.ts';

/** Everything that stands in the entries of a workspace, by address. */
async function all(folder: string): Promise<Readonly<Record<string, unknown>>> {
  const { types } = await result(folder, ['show']);
  const rows: [string, unknown][] = [];
  for (const { name } of types)
    for (const { entry, values } of (await result(folder, ['list', name])).rows) rows.push([entry, values]);
  return Object.fromEntries(rows.sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** What reads each form back. */
const stores: Readonly<Record<string, (types: readonly string[]) => string>> = {
  ndjson: () => '[{ lines: content/all.ndjson }]',
  json: () => '[{ json: content/all.json }]',
  csv: (types) => `[${types.map((type) => `{ csv: content/all/${type}.csv, type: ${type} }`).join(', ')}]`,
  markdown: () => '[{ folder: content/all }]',
};
const placeOf = (form: string): string => (form === 'csv' || form === 'markdown' ? 'all' : `all.${form}`);

/** The same workspace with its entries in another form. */
async function carried(from: string, form: string): Promise<string> {
  const to = temporary();
  fs.cpSync(from, to, { recursive: true });
  fs.rmSync(path.join(to, 'content'), { recursive: true });
  const { types } = await result(from, ['show']);
  // A table of one type is one file.
  const isOneTable = form === 'csv' && types.length === 1;
  const out = path.join(to, 'content', placeOf(form), isOneTable ? `${types[0].name}.csv` : '');
  const { code, err } = await lumbrik(from, ['export', 'entries', '--as', form, '--out', out]);
  expect([code, err]).toEqual([0, '']);
  const settings = read(from, 'lumbrik.yaml').replace(/^content:.*\n/mu, '');
  const store = stores[form]?.(types.map(({ name }: { name: string }) => name)) ?? '';
  write(to, { 'lumbrik.yaml': `${settings}content: ${store}\n` });
  for (const file of fs.readdirSync(path.join(from, 'content')).filter((name) => name.endsWith('.terms.yaml')))
    fs.copyFileSync(path.join(from, 'content', file), path.join(to, 'content', file));
  return to;
}

const recipes = {
  'lumbrik.yaml': 'workspace: Küche\nlanguages: [de, it]\ncontent: [{ lines: content/a.ndjson }]\n',
  'model/types/gericht.yaml': `type: gericht
fields:
  name: { kind: text, localized: true, required: true }
  zutaten: { kind: text, many: true }
  zeit: { kind: object, fields: { min: { kind: integer }, text: { kind: text, localized: true } } }
  schritte: { kind: object, many: true, fields: { was: { kind: longText }, fertig: { kind: boolean } } }
  zu: { kind: reference, to: gericht, many: true, inverse: passt zu }
  text: { kind: markdown, body: true }
  preis: { kind: decimal }
  scharf: { kind: boolean }
`,
  'content/a.ndjson': [
    {
      type: 'gericht',
      id: 'Knödel "groß" & ähnlich?',
      status: 'draft',
      name: { de: 'Knödel; groß', it: 'canederli, "grandi"' },
      zutaten: ['Brot', 'Milch; warm', ''],
      zeit: { min: 30, text: { de: 'halbe\nStunde' } },
      schritte: [{ was: 'a', fertig: true }, { was: '[b]' }],
      text: '# Knödel\n\n---\n\nkochen',
      preis: 7.5,
      scharf: false,
    },
    { type: 'gericht', id: 'suppe', name: { de: '007' }, zu: ['Knödel "groß" & ähnlich?', 'geheim'], preis: 1e21 },
    { type: 'gericht', id: 'geheim', status: 'archived', name: { de: 'x' }, zu: ['suppe'] },
  ]
    .map((one) => `${JSON.stringify(one)}\n`)
    .join(''),
};

describe('entries go out, and come in again as they were', () => {
  test.each(Object.keys(stores))('of the demo as %s', async (form) => {
    const folder = coast();
    const after = await carried(folder, form);
    expect(await all(after)).toEqual(await all(folder));
    expect((await lumbrik(after, ['check'])).code).toBe((await lumbrik(folder, ['check'])).code);
  });

  test.each(Object.keys(stores))('of another field with awkward texts as %s', async (form) => {
    const folder = workspace(recipes);
    expect(await all(await carried(folder, form))).toEqual(await all(folder));
  });

  test('from each form into each other one', async () => {
    const folder = workspace(recipes);
    const was = await all(folder);
    for (const first of Object.keys(stores)) {
      const between = await carried(folder, first);
      for (const second of Object.keys(stores)) expect(await all(await carried(between, second))).toEqual(was);
    }
  });
});

describe('as readers see them', () => {
  const told = async (folder: string, ...args: readonly string[]): Promise<readonly any[]> => {
    const { out, err } = await lumbrik(folder, ['export', 'entries', '--as', 'json', ...args]);
    expect(err).toBe('');
    return JSON.parse(out);
  };

  test('in a language, with what stands in for it', async () => {
    const [first, second] = await told(workspace(recipes), '--language', 'it');
    expect(first).toMatchObject({ name: 'canederli, "grandi"', zeit: { min: 30, text: 'halbe\nStunde' } });
    expect(second.name).toBe('007');
  });

  test('only what is public, and references to that alone', async () => {
    const all = await told(workspace(recipes), '--public');
    expect(all.map(({ id, zu }) => [id, zu])).toEqual([['suppe', []]]);
  });

  test('what is pointed at in its place, as deep as is asked', async () => {
    const folder = workspace(recipes);
    const [, soup] = await told(folder, '--depth', '1');
    expect(soup.zu.map(({ type, id, zu }: any) => [type, id, zu])).toEqual([
      ['gericht', 'Knödel "groß" & ähnlich?', undefined],
      ['gericht', 'geheim', ['suppe']],
    ]);
    // What leads back to where it stands stays a reference, however deep.
    const [, deeper] = await told(folder, '--depth', '5');
    expect(deeper.zu[1].zu).toEqual(['suppe']);
  });

  test('only those that meet a condition, and how many do not', async () => {
    const folder = workspace(recipes);
    const asked = ['export', 'entries', '--as', 'ndjson', '--where', 'entry.preis > 5.0', '--out', 'out.ndjson'];
    expect(await result(folder, asked)).toMatchObject({ entries: 2, leftOut: 1, files: 1, lost: [], code: 0 });
    const again = await lumbrik(folder, [...asked.slice(0, -1), 'other.ndjson']);
    expect(again.out).toBe('✓ other.ndjson is written: 2 entries of 1 type as ndjson; 1 entry left out as requested\n');
  });
});

describe('what cannot go along is said', () => {
  test('by its place, with how many entries have it and one of them', async () => {
    const folder = workspace({
      ...recipes,
      'content/a.ndjson':
        '{"type":"gericht","id":"a","name":{"de":"a"},"neu":1,"zeit":{"sek":3},"text":"\\n x \\n"}\n{"type":"gericht","id":"b","name":"nur so","neu":2}\n{"type":"gericht","id":"a","name":{"de":"zwei"}}\nkein json\n',
    });
    const csv = await result(folder, ['export', 'entries', '--as', 'csv', '--out', 'a.csv']);
    expect([csv.lost, csv.unreadable, csv.code]).toEqual([
      [
        { says: 'neu is in no column', entries: 2, example: 'gericht/a' },
        { says: 'zeit.sek is in no column', entries: 1, example: 'gericht/a' },
        { says: 'name has no keys, and its columns are of such', entries: 1, example: 'gericht/b' },
      ],
      1,
      1,
    ]);
    const first = await result(folder, ['export', 'entries', '--as', 'markdown', '--losses']);
    const markdown = await result(folder, ['export', 'entries', '--as', 'markdown', '--out', 'files']);
    expect([first.lost, first.code, first.out]).toEqual([markdown.lost, 1, undefined]);
    expect(markdown).toMatchObject({
      entries: 2,
      files: 2,
      lost: [
        { says: 'text has blank lines or blanks around it, or ends of lines as on Windows', example: 'gericht/a' },
        { says: 'another entry has the same address', example: 'gericht/a' },
      ],
    });
    expect(read(folder, 'files/gericht/a.md')).toContain('name: { de: a }');
  });
});

test('what would be left out is listed before anything is written, where that is asked for', async () => {
  const folder = workspace(recipes);
  const before = fs.readdirSync(folder, { recursive: true });
  for (const form of [...Object.keys(stores), 'sql']) {
    const { code, out, err } = await lumbrik(folder, ['export', 'entries', '--as', form, '--losses', '--out', 'x']);
    expect([code, out, err]).toEqual([
      0,
      expect.stringMatching(new RegExp(`^✓ ${form} holds all of \\d+ entr`, 'u')),
      '',
    ]);
  }
  expect(fs.readdirSync(folder, { recursive: true })).toEqual(before);
  expect((await lumbrik(folder, ['export', 'zod', '--losses'])).err).toContain('--losses says nothing of zod');
});

test('entries and what is told of them do not go the same way', async () => {
  const { code, out } = await lumbrik(workspace(recipes), ['export', 'entries', '--as', 'json', '--format', 'json']);
  expect([code, JSON.parse(out).error.mend]).toEqual([2, 'Say --out <file>, or leave --format json out.']);
});

describe('a wrong call says what to do, and harms nothing', () => {
  test.each([
    [['--as', 'ndjsn'], 2, /ndjson/u],
    [[], 2, /Say --as ndjson, json, csv, markdown or sql/u],
    [['gericht', 'x', '--as', 'csv'], 2, /There is no type `x`/u],
    [['--as', 'markdown'], 2, /Say --out <folder>/u],
    [['--as', 'json', '--depth', 'deep'], 2, /Use --depth 1/u],
    [['--as', 'json', '--language', 'fr'], 2, /no language of the workspace/u],
    [['--as', 'sql', '--public'], 2, /take --as ndjson/u],
    [['--as', 'json', '--where', 'entry.x >'], 2, /entry\.x/u],
    [['--as', 'json', '--out', 'lumbrik.yaml'], 3, /There is something already/u],
    [['--as', 'csv', '--out', 'model'], 3, /There is something already/u],
    [['--as', 'json', '--check', '--out', 'x'], 2, /lumbrik check/u],
  ] as const)('%j', async (args, code, says) => {
    const folder = workspace(recipes);
    const before = fs.readdirSync(folder).sort();
    const ran = await lumbrik(folder, ['export', 'entries', ...args]);
    expect(ran).toMatchObject({ code, err: expect.stringMatching(says) });
    expect(fs.readdirSync(folder).sort()).toEqual(before);
  });
});
