import { describe, expect, test } from 'vitest';
import { edit, type Files, lumbrik, read, result, workspace, write } from './support/program.ts';

/** Tours that look into the boats and the keepers they point at. */
const tours: Files = {
  'lumbrik.yaml': 'workspace: A\nlanguages: [en, fr]\n',
  'model/types/boat.yaml': `type: boat
fields:
  seats: { kind: integer }
  name: { kind: text, localized: true }
`,
  'model/types/ferry.yaml': 'type: ferry\nextends: boat\n',
  'model/types/tour.yaml': `type: tour
fields:
  boat: { kind: reference, to: boat }
  boats: { kind: reference, to: [boat, tour], many: true }
  guests: { kind: integer }
  places: { kind: integer, computed: 'lookUp(entry.boat, "boat.seats") - entry.guests' }
rules:
  - { expect: 'entry.guests <= lookUp(entry.boat, "boat.seats")', say: Too many guests., at: guests }
  - { expect: 'entry.boats.all(b, lookUp(b, "boat.seats", 0) > 0)', say: A boat without seats., at: boats }
`,
  'content/boat/gull.yaml': 'seats: 8\nname: { en: Gull, fr: Goéland }\n',
  'content/boat/none.yaml': 'name: { en: None }\n',
  'content/ferry/tern.yaml': 'seats: 80\n',
  'content/tour/a.yaml': 'boat: gull\nguests: 9\nplaces: 3\n',
  'content/tour/b.yaml': 'boat: ferry/tern\nguests: 9\nplaces: 71\n',
  'content/tour/c.yaml': 'boat: none\nguests: 9\nplaces: 1\n',
  'content/tour/d.yaml': 'guests: 9\nboats: [boat/gull, boat/none]\n',
  'content/tour/e.yaml': 'status: draft\nboat: gull\nguests: 10\n',
};
const trust = (more: Files = {}) => workspace({ ...tours, ...more });
const findings = async (folder: string): Promise<string[]> =>
  (await result(folder, ['check'])).findings.map(
    ({ finding, entry, pointer, severity }: any) => `${severity} ${finding} ${entry}${pointer}`,
  );

describe('expressions look into the entries that are pointed at [D2, B3]', () => {
  test('rules and computed fields are judged once all entries are known; what is not there says nothing', async () => {
    expect((await findings(trust())).sort()).toEqual([
      'error rule-broken tour/a/guests',
      'error rule-broken tour/d/boats',
      'warning not-computed tour/a/places',
      'warning rule-broken tour/e/guests',
    ]);
  });

  test('try shows what is looked up, for some entries or without any', async () => {
    const rows = async (...args: string[]) =>
      (await result(trust(), ['try', ...args])).rows.map(({ value, failed }: any) => value ?? failed);
    expect(await rows('lookUp(entry.boat, "boat.seats") + 1', 'tour/a', 'tour/b')).toEqual([9, 81]);
    expect(await rows('lookUp(entry.boat, "boat.name")["fr"]', 'tour/a')).toEqual(['Goéland']);
    expect(await rows('entry.boats.map(b, lookUp(b, "boat.seats", -1))', 'tour/d')).toEqual([[8, -1]]);
    expect(await rows('lookUp("gone", "boat.seats")')).toEqual(['boat/gone has no value in boat.seats']);
  });

  test.each([
    ['lookUp(entry.boat, "boat.seat") > 1', 'there is no field `boat.seat` to look up'],
    ['lookUp(entry.boat, "bot.seats") > 1', 'there is no type `bot` to look in'],
    ['lookUp(entry.boat, entry.guests) > 1', '`lookUp` does not take string, int'],
    ['lookUp(entry.boat, "boat" + ".seats") > 1', 'is not written out'],
    ['lookUp(entry.boat, "boat") > 1', 'there is no field `boat` to look up'],
  ])('%s is a mistake in the model, with its place', async (expression, says) => {
    const folder = trust();
    edit(folder, 'model/types/tour.yaml', 'entry.guests <= lookUp(entry.boat, "boat.seats")', expression);
    const [mistake] = (await result(folder, ['check'])).mistakes;
    expect([mistake.says, mistake.file, mistake.line]).toEqual([
      expect.stringContaining(says),
      'model/types/tour.yaml',
      8,
    ]);
  });

  test.each([
    ['guests: { kind: integer', 'guests: { kind: integer, when: \'lookUp(entry.boat, "boat.seats") > 1\''],
    [
      '{ kind: reference, to: boat }',
      '{ kind: reference, to: boat, eligible: \'lookUp(target.id, "boat.seats") > 1\' }',
    ],
  ])('where entries are looked at alone, it is refused: %s', async (before, after) => {
    const folder = trust();
    edit(folder, 'model/types/tour.yaml', before, after);
    expect((await result(folder, ['check'])).mistakes[0].says).toContain('other entries cannot be looked at here');
  });

  test('a new rule is counted on the entries that it reaches', async () => {
    const folder = trust();
    const file = 'model/types/tour.yaml';
    const rule = read(folder, file).match(/^ {2}- \{ expect: 'entry.guests.*\n/mu)?.[0] ?? '';
    edit(folder, file, rule, '');
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, file, 'rules:\n', `rules:\n${rule}`);
    const [change] = (await result(folder, ['diff'])).changes;
    expect(change).toMatchObject({ entries: 'migrate', impact: { hits: 2, of: 5 } });
  });

  test('what they name keeps its way when a type, a field, a taxonomy or a term gets another name', async () => {
    const folder = workspace({
      ...tours,
      'model/taxonomies/region.yaml': 'taxonomy: region\nterms:\n  - { term: north, terms: [skerries] }\n',
      'model/types/pier.yaml': `type: pier
fields:
  region: { kind: term, taxonomy: region }
  boat: { kind: reference, to: boat, when: 'entry.region.under("region:north")', eligible: 'termLabel("region", "north") == "North"' }
  next: { kind: reference, to: pier, eligible: 'target.region.under("region:north/skerries")' }
`,
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/boat.yaml', 'type: boat', 'type: vessel');
    edit(folder, 'model/types/boat.yaml', 'seats:', 'berths:');
    edit(folder, 'model/types/ferry.yaml', 'boat', 'vessel');
    edit(folder, 'model/types/tour.yaml', /boat\.seats/gu, 'vessel.berths');
    edit(folder, 'model/types/tour.yaml', /to: boat/gu, 'to: vessel');
    edit(folder, 'model/types/tour.yaml', '[boat, tour]', '[vessel, tour]');
    edit(folder, 'model/types/pier.yaml', 'to: boat', 'to: vessel');
    edit(folder, 'model/types/pier.yaml', /region:north/gu, 'area:nord');
    edit(folder, 'model/types/pier.yaml', '"region", "north"', '"area", "nord"');
    edit(folder, 'model/types/pier.yaml', 'taxonomy: region', 'taxonomy: area');
    edit(folder, 'model/taxonomies/region.yaml', 'taxonomy: region', 'taxonomy: area');
    edit(folder, 'model/taxonomies/region.yaml', 'north', 'nord');
    const renames = ['boat=vessel', 'boat.seats=berths', 'region:=area', 'region:north=nord'];
    const { changes } = await result(folder, ['diff', ...renames.flatMap((one) => ['--renamed', one])]);
    expect(changes.filter(({ change }: any) => change !== 'renamed')).toEqual([]);
  });

  test('a migration takes values over from what is pointed at, as that was before', async () => {
    const folder = trust();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/boat.yaml', 'seats:', 'berths:');
    edit(folder, 'model/types/tour.yaml', /boat\.seats/gu, 'boat.berths');
    edit(folder, 'model/types/tour.yaml', '  guests:', '  seats: { kind: integer }\n  guests:');
    const { file } = await result(folder, ['migration', 'draft', '--renamed', 'boat.seats=berths']);
    const drafted = read(folder, file).replaceAll(/^ +open: .*\n/gmu, '');
    const filling = drafted.replace(
      'add: tour.seats',
      'add: tour.seats\n    cel: \'has(entry.boat) ? lookUp(entry.boat, "boat.seats", null) : null\'',
    );
    write(folder, { [file]: filling });
    // The field has its new name by now, and other entries are seen as they were: both have to be there.
    expect((await lumbrik(folder, ['migration', 'rehearse'])).err).toContain('boat.seats');
    const early = filling.split('  - ').sort((a, b) => Number(b.startsWith('add')) - Number(a.startsWith('add')));
    write(folder, {
      [file]: [
        early.find((one) => !/^(?:add|rename)/u.test(one)),
        ...early.filter((one) => /^(?:add|rename)/u.test(one)),
      ].join('  - '),
    });
    expect((await lumbrik(folder, ['migration', 'rehearse'])).err).toBe('');
    await lumbrik(folder, ['migration', 'run']);
    expect([read(folder, 'content/tour/a.yaml'), read(folder, 'content/tour/b.yaml')]).toEqual([
      expect.stringContaining('seats: 8\n'),
      expect.stringContaining('seats: 80\n'),
    ]);
    expect(read(folder, 'content/tour/c.yaml')).not.toContain('seats');
    await lumbrik(folder, ['migration', 'undo']);
    expect(read(folder, 'content/tour/a.yaml')).toBe(tours['content/tour/a.yaml']);
  });
});
