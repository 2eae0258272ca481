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
  notiz: { kind: longText }
`
    .replaceAll('maße', 'masse')
    .replaceAll('höhe', 'hoehe'),
  'model/types/winzer.yaml': 'type: winzer\ntitled: familie\nfields:\n  familie: { kind: text }\n',
  'model/taxonomies/farbe.yaml':
    'taxonomy: farbe\nterms:\n  - { term: rot, label: Rot, terms: [{ term: dunkel, label: Tiefrot }] }\n  - { term: weiss, label: Weiß }\n',
  'content/winzer/muster.yaml': 'familie: Muster & Söhne\n',
  'content/wein/a.yaml':
    'name: { de: "Roter, alter", fr: Rouge }\njahrgang: 2001\nwinzer: muster\nfarbe: dunkel\nlager: [{ keller: Nord, flaschen: 3 }, { keller: Süd }]\nmasse: { hoehe: 30 }\ndauer: PT90M\n',
  'content/wein/b.yaml': 'status: draft\nname: { de: Weißer }\njahrgang: 1999\nfarbe: weiss\ndauer: PT2H\n',
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

  test('CSV is read again as it was', async () => {
    const folder = workspace(files);
    const { out } = await lumbrik(folder, ['list', 'wein', '--format', 'csv']);
    expect(out.split('\r\n')[0]).toBe(
      'type,id,status,name.de,name.fr,jahrgang,winzer,farbe,lager,masse.hoehe,dauer,notiz',
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
    const lines = out.split('\n').filter((line) => line.startsWith('  '));
    expect(Math.max(...lines.map(({ length }) => length))).toBeLessThanOrEqual(100);
  });

  test('what cannot be read is said', async () => {
    const folder = workspace({ ...files, 'content/wein/d.yaml': 'name: [\n' });
    expect((await lumbrik(folder, ['list', 'wein'])).out).toContain('1 file or line could not be read as an entry');
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
  ])('a wrong call is told: %j', async (args, told) => {
    const { err, code, out } = await lumbrik(workspace(files), ['list', ...args]);
    expect([code, err + out]).toEqual([2, expect.stringContaining(told)]);
  });
});
