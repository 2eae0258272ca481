import { describe, expect, test } from 'vitest';
import { lumbrik, result, workspace } from './support/program.ts';

const files = {
  'lumbrik.yaml': 'workspace: Weine\nlanguages: [de, fr]\n',
  'model/types/wein.yaml': `type: wein
titled: name
fields:
  name: { kind: text, localized: true }
  jahrgang: { kind: integer }
  winzer: { kind: reference, to: winzer }
  farbe: { kind: term, taxonomy: farbe }
  lager: { kind: object, many: true, fields: { keller: { kind: text }, flaschen: { kind: integer } } }
  maße: { kind: object, fields: { höhe: { kind: integer } } }
  dauer: { kind: duration }
  lage: { kind: point }
  preise: { kind: map, keys: { kind: text }, value: { kind: integer } }
  frei: { kind: json }
  art: { kind: choice, choices: [trocken, edel] }
  notiz: { kind: longText }
`
    .replaceAll('maße', 'masse')
    .replaceAll('höhe', 'hoehe'),
  'model/types/winzer.yaml': 'type: winzer\ntitled: familie\nfields:\n  familie: { kind: text }\n',
  'model/taxonomies/farbe.yaml':
    'taxonomy: farbe\nterms:\n  - { term: rot, label: Rot, terms: [{ term: dunkel, label: Tiefrot }] }\n  - { term: weiss, label: Weiß }\n',
  'content/winzer/muster.yaml': 'familie: Muster & Söhne\n',
  'content/wein/a.yaml':
    'name: { de: "Roter, alter", fr: Rouge }\njahrgang: 2001\nwinzer: muster\nfarbe: dunkel\nlager: [{ keller: Nord, flaschen: 3 }, { keller: Süd }]\nmasse: { hoehe: 30 }\ndauer: PT90M\nlage: { lat: 49.5, lon: 8 }\npreise: { klein: 12, gross: 20 }\nfrei: { a: 1, b: [x] }\nart: edel\n',
  'content/wein/b.yaml':
    'status: draft\nname: { de: Weißer }\njahrgang: 1999\nfarbe: weiss\ndauer: PT2H\nart: trocken\n',
  'content/wein/c.yaml': 'name: { de: "=1+1" }\nwinzer: fort\nnotiz: |\n  Zeile eins\n  "zwei"\n',
};

const rowsOf = async (args: readonly string[]): Promise<readonly string[]> =>
  (await result(workspace(files), ['list', ...args])).rows.map(({ entry }: { entry: string }) => entry);

describe('entries in rows and columns [J1]', () => {
  test('of a type, in the columns that tell most, in words', async () => {
    const { out } = await lumbrik(workspace(files), ['list', 'wein']);
    expect(out).toContain('3 entries  wein');
    expect(out).toMatch(/Entry +Name +.*Farbe/u);
    expect(out).toMatch(/wein\/a +Roter, alter .*Tiefrot/u);
    expect(out).toContain('Muster & Söhne');
    expect(out).not.toContain('Notiz');
  });

  test('exact for programs: values as they are stored, and in words', async () => {
    const { columns, rows, entries, of } = await result(workspace(files), ['list', 'wein']);
    expect([entries, of]).toEqual([3, 3]);
    expect(columns.map(({ name }: { name: string }) => name)).toEqual([
      'status',
      'name',
      'jahrgang',
      'winzer',
      'farbe',
      'lager',
      'masse',
      'dauer',
      'lage',
      'preise',
      'frei',
      'art',
      'notiz',
    ]);
    expect(rows[0].values).toMatchObject({ status: 'published', winzer: 'muster', masse: { hoehe: 30 } });
    expect(rows[0].says).toMatchObject({ winzer: 'Muster & Söhne', farbe: 'Tiefrot', dauer: '90 Minuten' });
    expect(rows[2].says.winzer).toBe('fort');
  });

  test.each<[readonly string[], readonly string[]]>([
    [['farbe:rot'], ['wein/a']],
    [['entry.jahrgang > 2000'], ['wein/a']],
    [
      ['wein', '--where', 'entry.status == "draft" || !has(entry.jahrgang)'],
      ['wein/b', 'wein/c'],
    ],
    [['farbe:rot', '--where', 'entry.status == "draft"'], []],
    [
      ['wein', '--sort', 'jahrgang'],
      ['wein/b', 'wein/a', 'wein/c'],
    ],
    // What has no value stands last, whichever way.
    [
      ['wein', '--sort', 'jahrgang desc'],
      ['wein/a', 'wein/b', 'wein/c'],
    ],
    // By how long it is, not by its letters.
    [
      ['wein', '--sort', '-dauer'].map((one) => (one === '-dauer' ? 'dauer desc' : one)),
      ['wein/b', 'wein/a', 'wein/c'],
    ],
    [
      ['wein', '--sort', 'name', '--limit', '2'],
      ['wein/c', 'wein/a'],
    ],
    // In the order in which choices and terms are listed, and as people who read a language order its words.
    [
      ['wein', '--sort', 'art'],
      ['wein/b', 'wein/a', 'wein/c'],
    ],
    [
      ['wein', '--sort', 'farbe'],
      ['wein/a', 'wein/b', 'wein/c'],
    ],
    [
      ['wein', '--sort', 'name', '--language', 'fr'],
      ['wein/c', 'wein/a', 'wein/b'],
    ],
    [['entry.status == "draft"'], ['wein/b']],
    [[], ['wein/a', 'wein/b', 'wein/c', 'winzer/muster']],
  ])('%j', async (args, entries) => {
    expect(await rowsOf(args)).toEqual(entries);
  });

  test('columns of one’s own: facts, fields inside objects, all that stands in a list', async () => {
    const args = ['list', 'wein', '--columns', 'id, lager.keller,masse.hoehe,name', '--language', 'fr'];
    const { rows } = await result(workspace(files), args);
    expect(rows[0].says).toEqual({ id: 'a', 'lager.keller': 'Nord, Süd', 'masse.hoehe': '30', name: 'Rouge' });
    // A language without a value falls back.
    expect(rows[1].says.name).toBe('Weißer');
  });

  test('a condition that is a word alone; entries of what extends a type; umlauts where people look for them', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: W\nlanguages: [de]\n',
      'model/types/stueck.yaml':
        'type: stueck\ntitled: name\nfields:\n  name: { kind: text }\n  schlag: { kind: boolean }\n',
      'model/types/uhr.yaml': 'type: uhr\nextends: stueck\n',
      'content/stueck/a.yaml': 'name: Zange\n',
      'content/uhr/b.yaml': 'name: Äpfel\nschlag: true\n',
      'content/uhr/c.yaml': 'name: Birne 10\n',
      'content/uhr/d.yaml': 'name: Birne 9\n',
    });
    const listed = async (...args: readonly string[]) =>
      (await result(folder, ['list', ...args])).rows.map(({ entry }: { entry: string }) => entry);
    expect(await listed('entry.schlag')).toEqual(['uhr/b']);
    expect(await listed('stueck', '--sort', 'name')).toEqual(['uhr/b', 'uhr/d', 'uhr/c', 'stueck/a']);
  });

  test('CSV is read again as it was', async () => {
    const folder = workspace(files);
    const { out } = await lumbrik(folder, ['list', 'wein', '--format', 'csv']);
    expect(out.split('\r\n')[0]).toBe(
      'type,id,status,name.de,name.fr,jahrgang,winzer,farbe,lager,masse.hoehe,dauer,lage,preise,frei,art,notiz',
    );
    const content = Object.entries(files).filter(([name]) => !name.startsWith('content/'));
    const again = workspace({
      ...Object.fromEntries(content),
      'lumbrik.yaml': `${files['lumbrik.yaml']}content:\n  - { csv: content/weine.csv }\n  - { csv: content/winzer.csv, type: winzer }\n`,
      'content/weine.csv': out,
      'content/winzer.csv': 'id,familie\nmuster,Muster & Söhne\n',
    });
    const [was, is] = [await result(folder, ['list', 'wein']), await result(again, ['list', 'wein'])];
    expect(is.rows).toEqual(was.rows);
  });

  test('Markdown: a table in which everything means itself', async () => {
    const { out } = await lumbrik(workspace(files), [
      'list',
      'wein',
      '--format',
      'markdown',
      '--columns',
      'name,notiz',
    ]);
    expect(out.split('\n').slice(0, 2)).toEqual(['| Entry | Name | Notiz |', '| --- | --- | --- |']);
    expect(out).toContain('| `wein/c` | =1+1 | Zeile eins "zwei" |');
  });

  test('a width of a hundred holds, however many columns are asked for', async () => {
    const columns = 'id,type,status,name,jahrgang,winzer,farbe,lager,masse,dauer,notiz';
    const { out } = await lumbrik(workspace(files), ['list', 'wein', '--columns', columns]);
    // A command that is to be typed again is never broken.
    const lines = out.split('\n').filter((line) => !line.startsWith('›'));
    expect(lines.length).toBeGreaterThan(3);
    expect(Math.max(...lines.map(({ length }) => length))).toBeLessThanOrEqual(100);
  });

  test('what cannot be read is said, whatever the form, and is no success', async () => {
    const folder = workspace({ ...files, 'content/wein/d.yaml': 'name: [\n' });
    const told = '1 file or line could not be read as an entry, and is not counted';
    expect(await lumbrik(folder, ['list', 'wein'])).toMatchObject({ code: 1, out: expect.stringContaining(told) });
    const csv = await lumbrik(folder, ['list', 'wein', '--format', 'csv']);
    expect(csv).toMatchObject({ code: 1, err: expect.stringContaining(told) });
    expect(csv.out).not.toContain('could not be read');
    for (const args of [['profile'], ['advice'], ['map']])
      expect(await lumbrik(folder, args)).toMatchObject({ code: 1, out: expect.stringContaining(told) });
    expect((await lumbrik(folder, ['map', '--format', 'svg'])).err).toContain(told);
    expect((await result(folder, ['list', 'wein'])).unreadable).toBe(1);
  });

  test.each<[readonly string[], string]>([
    [['weinn'], 'Did you mean `wein`?'],
    [['farbe:rott'], 'Did you mean `rot`?'],
    [['wein', '--columns', 'jahrgan'], 'Did you mean `jahrgang`?'],
    [['wein', '--sort', 'nam'], 'Did you mean `name`?'],
    [['wein', '--where', 'entry.jahr > 1'], 'there is no field `jahr`'],
    [['wein', '--where', '-x'], '--where is followed by no value'],
    [['wein', '--limit', 'all'], '--limit all is no number'],
    [['wein', '--language', 'en'], '`en` is no language of the workspace'],
    [['wein', '--format', 'xml'], 'format'],
    [['wein', '--format', 'csv', '--language', 'fr'], 'in all languages'],
    [['wein/a'], 'is no type, no term and no condition'],
  ])('a wrong call is told: %j', async (args, told) => {
    const { err, code, out } = await lumbrik(workspace(files), ['list', ...args]);
    expect([code, err + out]).toEqual([2, expect.stringContaining(told)]);
  });
});
