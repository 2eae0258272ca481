import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { edit, lumbrik, result, workspace, write } from './support/program.ts';

const files = {
  'lumbrik.yaml': 'workspace: Weinkeller\nlanguages: [de, fr]\n',
  'model/types/wein.yaml':
    'type: wein\nlabel: { one: { de: Wein, fr: Vin }, many: { de: Weine, fr: Vins } }\nabout: Was im Keller liegt.\ntitled: name\nfields:\n  name: { kind: text, required: true, max: 40, help: { de: Wie auf der Flasche., fr: Comme sur la bouteille. } }\n  jahrgang: { kind: integer, min: 1900 }\n  winzer: { kind: reference, to: winzer, inverse: weine }\n  farbe: { kind: term, taxonomy: farbe }\n  lage: { kind: object, fields: { hang: { kind: text, help: Wo die Sonne steht. } } }\n',
  'model/types/winzer.yaml': 'type: winzer\nfields:\n  name: { kind: text, required: true }\n',
  'model/taxonomies/farbe.yaml': 'taxonomy: farbe\nterms: [rot, weiss]\n',
  'content/wein/a.yaml': 'name: Kabinett\njahrgang: 2019\nwinzer: w\nfarbe: weiss\n',
  'content/wein/b.yaml': 'name: Spätburgunder\njahrgang: 1850\nfarbe: rot\nlage: { hang: Süd }\n',
  'content/winzer/w.yaml': 'name: Weingut "Wöhr & Söhne"\n',
};

/** What a command tells, without the code that it ends with. */
const told = async (folder: string, ...args: readonly string[]) => {
  const { code: _, ...all } = await result(folder, args);
  return all as Record<string, any>;
};

const pageOf = async (folder: string, args: readonly string[] = []): Promise<string> =>
  (await lumbrik(folder, ['report', ...args, '--format', 'html'])).out;

describe('everything on one page [J5]', () => {
  test('tells what the commands tell, and nothing else', async () => {
    const folder = workspace(files);
    const all = await told(folder, 'report');
    for (const name of ['check', 'advice', 'profile', 'map']) expect(all[name]).toEqual(await told(folder, name));
    expect(all.overview).toEqual(await told(folder, 'show'));
    expect(all.taxonomies).toEqual([await told(folder, 'show', 'farbe:')]);
    const wein = await told(folder, 'show', 'wein');
    expect(all.types[0]).toMatchObject({ ...wein, fields: expect.arrayContaining(wein.fields) });
    // What is inside of objects is there as well.
    expect(all.types[0].fields.map(({ name }: { name: string }) => name)).toContain('lage.hang');
  });

  test('is written beside where one stands, and made anew there', async () => {
    const folder = workspace(files);
    const first = await lumbrik(folder, ['report']);
    expect(first).toMatchObject({ code: 0, err: '' });
    expect(first.out).toMatch(
      /^✓ report\.html [\d,]+ KB; one file that needs nothing beside it\n {2}2 types, 1 taxonomy, how 3 entries use them, 1 finding and \d/u,
    );
    write(folder, { 'content/wein/c.yaml': 'name: Neu\n' });
    await lumbrik(folder, ['report']);
    expect(fs.readFileSync(path.join(folder, 'report.html'), 'utf8')).toContain('4</b> entries');
    expect(fs.readdirSync(folder).filter((name) => name.includes('report'))).toEqual(['report.html']);
    await lumbrik(folder, ['report', '--out', 'fuer/alle.html']);
    expect(fs.existsSync(path.join(folder, 'fuer/alle.html'))).toBe(true);
  });

  test('never takes the place of something else', async () => {
    const folder = workspace({ ...files, 'report.html': '<p>My own</p>' });
    const { code, err } = await lumbrik(folder, ['report']);
    expect([code, err]).toEqual([3, expect.stringContaining('There is something else already, which no report wrote')]);
    expect(fs.readFileSync(path.join(folder, 'report.html'), 'utf8')).toBe('<p>My own</p>');
    expect((await lumbrik(folder, ['report', '--out', 'content'])).code).toBe(3);
    expect((await lumbrik(folder, ['report', '--out', 'x.html', '--format', 'html'])).err).toContain(
      '--format html is printed, and --out names a file',
    );
  });

  test('in the language that is asked for', async () => {
    const folder = workspace(files);
    expect(await pageOf(folder, ['--language', 'fr'])).toContain('Comme sur la bouteille.');
    expect(await pageOf(folder)).toContain('Wie auf der Flasche.');
    expect((await lumbrik(folder, ['report', '--language', 'it'])).code).toBe(2);
  });

  test('what changed, with values before and after where a migration waits', async () => {
    const folder = workspace(files);
    await lumbrik(folder, ['seal', '-m', 'Eins']);
    expect((await result(folder, ['report'])).change).toBeUndefined();
    edit(
      folder,
      'model/types/wein.yaml',
      'jahrgang: { kind: integer, min: 1900 }',
      'alter: { kind: integer, min: 1800 }',
    );
    edit(folder, 'model/types/wein.yaml', 'max: 40', 'max: 10');
    const drafted = await result(folder, ['report']);
    expect(drafted.change).toEqual(await told(folder, 'diff'));
    expect(drafted.rehearsal).toBeUndefined();
    await lumbrik(folder, ['migration', 'draft', '--renamed', 'wein.jahrgang=alter']);
    await lumbrik(folder, ['migration', 'answer', '--answer', '2=entry.name.substring(0, 10)']);
    const all = await result(folder, ['report', '1']);
    expect(all.rehearsal.steps.length).toBeGreaterThan(1);
    const page = await pageOf(folder, ['1']);
    expect(page).toContain('The migration, rehearsed');
    expect(page).toContain('moves to alter');
    // Nobody was shown it before a run.
    expect((await lumbrik(folder, ['migration', 'run'])).code).not.toBe(0);
    expect(page).toMatch(/revision 1 to the working files/u);
  });

  test('what cannot be read is said, and the page is no success', async () => {
    const folder = workspace({ ...files, 'content/wein/x.yaml': 'name: [\n' });
    const { code, out } = await lumbrik(folder, ['report']);
    expect(code).toBe(1);
    expect(out).toContain('1 file or line could not be read as an entry');
    expect(await pageOf(folder)).toContain('unreadable-file');
  });
});
