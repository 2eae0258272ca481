import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace } from './support/program.ts';

const item = `type: item
titled: name.short
guide: Write for a visitor.
byline: false
builtIn: { status: { default: published } }
versions: true
previews: { site: "https://a.example/{id}", test: "https://b.example/{id}" }
fields:
  name: { kind: object, required: true, fields: { short: { kind: text, localized: true }, long: { kind: text } } }
  region: { kind: term, taxonomy: region }
`;
const shop = (clock = '') =>
  workspace({
    'lumbrik.yaml': 'workspace: A\nlanguages: [en, de]\n',
    'model/types/item.yaml': item,
    'model/types/clock.yaml': `type: clock\nextends: item\n${clock}fields:\n  next: { kind: reference, to: item, eligible: target.status == "published" && target.region.under("region:north") }\n`,
    'model/taxonomies/region.yaml': 'taxonomy: region\nterms:\n  - { term: north, terms: [skerries] }\n  - south\n',
  });

describe('what a base type says goes for what extends it, and can be said anew [B6]', () => {
  test('guidance, what new entries start with, previews, and the title: a path into an object', async () => {
    const folder = shop();
    expect(await result(folder, ['show', 'clock'])).toMatchObject({
      guide: 'Write for a visitor.',
      titled: 'name.short',
      byline: false,
      builtIn: { status: { default: 'published' } },
      versions: true,
      previews: [{ name: 'site' }, { name: 'test' }],
    });
    await lumbrik(folder, ['entry', 'new', 'clock', '--title', 'Old Clock']);
    const text = read(folder, 'content/clock/old-clock.yaml');
    expect(text).toContain('# Write for a visitor.\nstatus: published\n');
    expect(text).toContain('name: { short: { en: Old Clock');
    expect((await result(folder, ['show', 'clock/old-clock'])).title).toBe('Old Clock');
    expect((await result(folder, ['check'])).findings).toEqual([]);
  });

  test('said anew, key by key', async () => {
    const folder = shop(
      'guide: Briefly.\nbyline: true\nbuiltIn: { status: { default: draft } }\npreviews: { test: "https://c.example/{id}" }\n',
    );
    const { guide, byline, builtIn, versions, previews } = await result(folder, ['show', 'clock']);
    expect([guide, byline, builtIn, versions, previews.map(({ address }: any) => address)]).toEqual([
      'Briefly.',
      true,
      { status: { default: 'draft' } },
      true,
      ['https://a.example/{id}', 'https://c.example/{id}'],
    ]);
  });

  test.each([
    ['name.shrt', 'there is no field `name.shrt`'],
    ['name', 'cannot name an entry'],
  ])('a title by %s is a mistake', async (titled, says) => {
    const folder = shop();
    edit(folder, 'model/types/item.yaml', 'titled: name.short', `titled: ${titled}`);
    expect((await result(folder, ['check'])).mistakes[0].says).toContain(says);
  });

  test('a title by a path keeps its way when fields get other names', async () => {
    const folder = shop();
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/item.yaml', 'titled: name.short', 'titled: title.short');
    edit(folder, 'model/types/item.yaml', '  name: {', '  title: {');
    const all = ['--renamed', 'item.name=title', '--renamed', 'clock.name=title'];
    for (const said of [all.slice(0, 2), all, [...all.slice(2), ...all.slice(0, 2)]]) {
      const { changes } = await result(folder, ['diff', ...said]);
      expect(changes).toMatchObject([
        { change: 'renamed', address: 'item.name', arrives: expect.arrayContaining(['item.name', 'clock.name']) },
      ]);
    }
  });

  test('eligibility can ask for a branch, and a message says which part fails', async () => {
    const folder = shop();
    for (const [name, region, status] of [
      ['a', 'skerries', 'published'],
      ['b', 'south', 'published'],
      ['c', 'north', 'draft'],
    ] as const)
      await lumbrik(folder, ['entry', 'new', 'item', name, '--title', name]).then(() => {
        edit(folder, `content/item/${name}.yaml`, 'status: published', `status: ${status}\nregion: ${region}`);
        edit(folder, `content/item/${name}.yaml`, /^# region:.*\n/mu, '');
      });
    for (const name of ['a', 'b', 'c']) {
      await lumbrik(folder, ['entry', 'new', 'clock', `to-${name}`, '--title', name]);
      edit(folder, `content/clock/to-${name}.yaml`, /^# next:.*$/mu, `next: item/${name}`);
    }
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ entry, says }: any) => `${entry} ${says}`)).toEqual([
      'clock/to-b points at item/b, which does not meet the condition target.region.under("region:north")',
      'clock/to-c points at item/c, which does not meet the condition target.status == "published"',
    ]);
  });
});

describe('items that differ, and numbers that are listed [C2, C7]', () => {
  const model = (fields: string) => workspace({ 'model/types/light.yaml': `type: light\nfields:\n${fields}` });
  test('are checked, exported, and rated when they change', async () => {
    const folder = model(
      '  x: { kind: json, many: { distinct: true } }\n  n: { kind: integer, values: [1, 2, 5] }\n  d: { kind: decimal, values: [0.5, 1] }\n',
    );
    await lumbrik(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', '[1, 2, 5]', '[1, 2]');
    await lumbrik(folder, ['entry', 'new', 'light', 'a']);
    edit(folder, 'content/light/a.yaml', /# x:[\s\S]*$/u, 'x: [{ a: 1, b: 2 }, 1, { b: 2, a: 1 }]\nn: 5\nd: 0.75\n');
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding, pointer, mend }: any) => `${finding} ${pointer} ${mend}`)).toEqual([
      'repeated-item /x/2 Take one of the two out.',
      'not-a-choice /n Give 1 or 2.',
      'not-a-choice /d Give 0.5 or 1.',
    ]);
    expect((await result(folder, ['diff'])).changes).toMatchObject([{ option: 'values', entries: 'migrate' }]);
    await lumbrik(folder, ['schemas']);
    const schema = JSON.stringify(JSON.parse(read(folder, 'schemas/entries/light.json')).properties);
    expect(schema).toContain('"uniqueItems":true');
    expect(schema).toContain('"enum":[1,2]');
  });

  test.each([
    ['  n: { kind: integer, values: [1, 1] }\n', 'stands twice'],
    ['  n: { kind: integer, max: 3, values: [1, 4] }\n', '4 is beyond'],
  ])('%s is a mistake', async (fields, says) => {
    expect((await result(model(fields), ['check'])).mistakes[0].says).toContain(says);
  });
});
