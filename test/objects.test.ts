import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace } from './support/program.ts';

const model = {
  'model/types/keeper.yaml': 'type: keeper\nfields:\n  name: { kind: text }\n',
  'model/taxonomies/season.yaml': 'taxonomy: season\nterms: [spring, summer, winter]\n',
  'model/kinds/clock.yaml': "kind: clock\non: time\noptions: { min: '06:00' }\n",
  'model/types/lighthouse.yaml': `
type: lighthouse
fields:
  hours:
    kind: object
    many: { max: 3 }
    fields:
      season: { kind: term, taxonomy: season, required: true }
      opens: { kind: clock, required: true }
      guide: { kind: reference, to: keeper }
      places: { kind: object, fields: { adults: { kind: integer, max: 20 }, label: { kind: text, localized: true } } }
`,
};
const content = {
  'content/keeper/ada-rook.yaml': 'name: Ada Rook\n',
  'content/lighthouse/a.yaml': `# the hours
hours:
  - { season: summer, opens: '09:00', guide: ada-rook, places: { adults: 12, label: { en: Few } } }
  - season: winter
    opens: '10:30'
`,
};
const trust = (more: Record<string, string> = {}) => workspace({ ...model, ...content, ...more });

describe('a nested object [C1]', () => {
  test('is checked field by field, with the place of each value', () => {
    const folder = trust({
      'content/lighthouse/b.yaml': `hours:
  - { season: autumn, opens: '05:00', guide: nobody, places: { adults: 40, label: { it: X } } }
  - { opnes: '10:00' }
  - four
  - {}
`,
    });
    const found = result(folder, ['check']).findings.map((one: any) => `${one.line} ${one.pointer} ${one.finding}`);
    expect(found).toEqual([
      '2 /hours too-many-items',
      '2 /hours/0/season unknown-term',
      '2 /hours/0/opens too-early',
      '2 /hours/0/guide dangling-reference',
      '2 /hours/0/places/adults too-large',
      '2 /hours/0/places/label/it unknown-language',
      '3 /hours/1/season required-missing',
      '3 /hours/1/opens required-missing',
      '3 /hours/1/opnes unknown-field',
      '4 /hours/2 wrong-shape',
      '5 /hours/3/season required-missing',
      '5 /hours/3/opens required-missing',
    ]);
  });

  test('its references and terms count like any other', () => {
    expect(result(trust(), ['trace', 'keeper/ada-rook']).pointedAtBy.next).toMatchObject([
      { pointer: '/hours/0/guide', node: { entry: 'lighthouse/a' } },
    ]);
    const [season] = result(trust(), ['show']).taxonomies;
    expect(season).toMatchObject({ uses: 2 });
  });

  test('show finds a field inside it by its address, with where it comes from', () => {
    expect(result(trust(), ['show', 'lighthouse.hours.opens'])).toMatchObject({ field: { kind: 'time' }, filled: 1 });
    expect(result(trust(), ['show', 'clock']).reaches).toEqual(['lighthouse.hours.opens']);
    expect(lumbrik(trust(), ['show', 'lighthouse.hours.opnes']).err).toContain('Did you mean `opens`?');
    expect(lumbrik(trust(), ['show', 'keeper.name.first']).err).toContain('has no fields inside it');
  });

  test.each([
    ['made of nothing', '{ kind: object, fields: {} }', /made of nothing/u],
    ['without fields', '{ kind: object }', /`fields` is missing/u],
    ['with a field of no kind', '{ kind: object, fields: { a: { max: 3 } } }', /says no kind/u],
    ['with a wrong option inside', '{ kind: object, fields: { a: { kind: text, mx: 3 } } }', /no option `mx`/u],
    [
      'with bounds that nothing passes inside',
      '{ kind: object, fields: { a: { kind: text, min: 3, max: 2 } } }',
      /no text could/u,
    ],
    [
      'with something unique inside',
      '{ kind: object, fields: { a: { kind: text, unique: true } } }',
      /means nothing inside/u,
    ],
    ['with a slug inside', '{ kind: object, fields: { a: { kind: slug, from: name } } }', /cannot stand inside/u],
    [
      'with a default that breaks it',
      '{ kind: object, fields: { a: { kind: integer } }, default: { a: x } }',
      /\/a is/u,
    ],
  ])('%s is a mistake in the model', (_name, field, says) => {
    const mistakes = result(trust({ 'model/types/b.yaml': `type: b\nfields:\n  x: ${field}\n` }), ['check']).mistakes;
    expect(mistakes).toMatchObject([{ file: 'model/types/b.yaml', line: 3, says: expect.stringMatching(says) }]);
  });

  test('rules see what stands in it', () => {
    const rule =
      'rules:\n  - { expect: \'entry.hours.all(h, h.opens < "10:00")\', say: Open before ten., at: hours }\n';
    const folder = trust({ 'model/types/lighthouse.yaml': model['model/types/lighthouse.yaml'] + rule });
    expect(result(folder, ['check']).findings).toMatchObject([{ finding: 'rule-broken' }]);
  });
});

describe('a change inside an object [G1] [H4]', () => {
  const sealed = () => {
    const folder = trust();
    lumbrik(folder, ['seal', '-m', 'First']);
    return folder;
  };
  test.each<[string, string, string, string, string, number]>([
    ['a field that is gone', ', label: { kind: text, localized: true }', '', 'places: - label', 'migrate', 1],
    ['tighter', 'max: 20', 'max: 10', 'places: adults: max 20 → 10', 'migrate', 1],
    ['wider', 'max: 20', 'max: 30', 'places: adults: max 20 → 30', 'valid', 0],
    ['a field more', '{ adults:', '{ seats: { kind: text }, adults:', 'places: + seats', 'valid', 0],
  ])('%s is said, rated and counted', (_name, from, to, says, entries, hits) => {
    const folder = sealed();
    edit(folder, 'model/types/lighthouse.yaml', from, to);
    const [change] = result(folder, ['diff']).changes;
    expect(change).toMatchObject({ address: 'lighthouse.hours', says, entries });
    expect(change.impact?.hits ?? 0).toBe(hits);
  });

  test('a term and a type that get another name take the values inside along, and back', () => {
    const folder = sealed();
    const before = read(folder, 'content/lighthouse/a.yaml');
    edit(folder, 'model/taxonomies/season.yaml', 'summer', 'summer-time');
    const { file } = result(folder, ['migration', 'draft', '--renamed', 'season:summer=summer-time']);
    expect(read(folder, file)).toContain('rename: season:summer');
    expect(lumbrik(folder, ['migration', 'rehearse']).code).toBe(0);
    expect(lumbrik(folder, ['migration', 'run']).code).toBe(0);
    expect(read(folder, 'content/lighthouse/a.yaml')).toBe(before.replace('season: summer', 'season: summer-time'));
    expect(lumbrik(folder, ['migration', 'undo']).code).toBe(0);
    expect(read(folder, 'content/lighthouse/a.yaml')).toBe(before);
  });
});
