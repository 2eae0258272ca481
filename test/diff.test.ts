import { describe, expect, test } from 'vitest';
import { coast, edit, lumbrik, result, workspace, write } from './support/program.ts';

const light = 'model/types/lighthouse.yaml';
const region = 'model/taxonomies/region.yaml';

/** The demo, sealed, with a change made to its model. */
async function changed(
  ...changes: readonly (readonly [file: string, from: string | RegExp, to: string])[]
): Promise<string> {
  const folder = coast();
  await lumbrik(folder, ['seal', '-m', 'one']);
  for (const [file, from, to] of changes) edit(folder, file, from, to);
  return folder;
}

describe('lumbrik diff counts on the entries that exist [G4, H7]', () => {
  test('a tighter limit: how many, the worst, and examples', async () => {
    const { changes } = await result(await changed([light, 'max: 300', 'max: 200']), ['diff']);
    expect(changes).toHaveLength(1);
    expect(changes[0]).toMatchObject({
      change: 'field-changed',
      address: 'lighthouse.summary',
      says: 'max 300 → 200',
      entries: 'migrate',
      readers: 'unaffected',
      option: 'max',
      before: 300,
      after: 200,
    });
    expect(changes[0].impact).toMatchObject({
      hits: 4,
      of: 11,
      worst: { entry: 'lighthouse/skerry-point', size: 287 },
    });
    expect(changes[0].impact.says).toBe('4 of 11 entries are longer; the longest, lighthouse/skerry-point, has 287');
    expect(changes[0].impact.examples).toHaveLength(3);
  });

  test.each<[string, readonly [string, string | RegExp, string], string]>([
    [
      'a required field is new',
      [light, 'fields:\n', 'fields:\n  access: { kind: text, required: true }\n'],
      '11 of 11 entries have no value',
    ],
    [
      'one that is required once published',
      [light, 'fields:\n', 'fields:\n  access: { kind: text, required: published }\n'],
      '9 of 11 entries have no value',
    ],
    [
      'a field becomes required [H2]',
      [light, 'steps:     { kind: integer', 'steps:     { kind: integer, required: true'],
      '2 of 11 entries have no value',
    ],
    ['a field is gone', [light, / {2}steps:.*\n/u, ''], '9 of 11 entries have a value, which would be lost'],
    [
      'a lower bound rises',
      [light, 'min: 1700-01-01, group: Technical }', 'min: 1800-01-01, group: Technical }'],
      '1 of 11 entries is earlier: lighthouse/old-holm has 1790-01-01',
    ],
    [
      'a list may hold less',
      [light, 'max: 20', 'max: 1'],
      '4 of 11 entries are longer; the longest, lighthouse/far-aldra, has 2',
    ],
    [
      'a choice is gone',
      ['model/types/tour.yaml', '      - { choice: hard, label: Hard }\n', ''],
      '2 of 8 entries break it, for example tour/north-and-back (“hard”)',
    ],
    [
      'values must be unique',
      ['model/types/departure.yaml', 'places: {', 'places: { unique: true,'],
      '14 of 24 entries have a value that another has too',
    ],
    [
      'one of several targets is gone',
      ['model/types/notice.yaml', 'to: [lighthouse, tour]', 'to: [lighthouse]'],
      '4 of 10 entries break it',
    ],
    ['many become one', [light, ', many: { max: 20 }', ''], '4 of 11 entries have a value that cannot be carried over'],
    [
      'text becomes a date',
      ['model/types/keeper.yaml', 'served: { kind: text, max: 40', 'served: { kind: date'],
      '14 of 14 entries have a value that cannot be carried over',
    ],
    ['a type is gone', ['model/types/notice.yaml', 'type: notice', 'type: announcement'], ''],
    [
      'a term is gone',
      [region, '  - { term: south, label: { en: South Shore, fr: Rive sud } }\n', ''],
      '1 entry uses it',
    ],
    ['a wider limit', [light, 'max: 300', 'max: 400'], ''],
  ])('%s', async (_, change, says) => {
    const [first] = (await result(await changed(change), ['diff'])).changes;
    expect(first.impact?.says ?? '').toContain(says);
  });

  test('entries that do not obey the older model are not counted, and that is said', async () => {
    const folder = await changed([light, 'max: 300', 'max: 400']);
    await lumbrik(folder, ['seal', '-m', 'two']);
    const { counted } = await result(folder, ['diff', '1', '2']);
    expect(counted).toBe(false);
    expect((await lumbrik(folder, ['diff', '1', '2'])).out).toContain(
      'Not counted on the entries: they do not obey revision 1',
    );
  });
});

describe('renames are recognised [G2]', () => {
  test.each<[string, readonly [string, string | RegExp, string], string, string]>([
    ['a field', [light, '  height: ', '  focalHeight: '], 'lighthouse.height', 'focalHeight'],
    ['a term', [region, 'term: islands', 'term: far-islands'], 'region:islands', 'far-islands'],
    ['a choice', ['model/types/tour.yaml', 'choice: hard', 'choice: very-hard'], 'tour.difficulty:hard', 'very-hard'],
    ['a type', ['model/types/notice.yaml', 'type: notice', 'type: announcement'], 'notice', 'announcement'],
  ])('%s, with how sure it is and why', async (_, change, address, to) => {
    const { changes } = await result(await changed(change), ['diff']);
    expect(changes.filter((one: any) => one.change === 'renamed')).toEqual([
      expect.objectContaining({ address, says: `renamed to ${to}` }),
    ]);
    expect(changes[0].sure).toBeGreaterThan(0.55);
    expect(changes[0].sure).toBeLessThan(1);
    expect(changes[0].reasons.length).toBeGreaterThan(0);
  });

  test('a taxonomy, and the fields that use it are no change', async () => {
    const folder = await changed(
      [region, 'taxonomy: region', 'taxonomy: coastRegion'],
      [light, 'taxonomy: region', 'taxonomy: coastRegion'],
    );
    expect((await result(folder, ['diff'])).changes.map(({ address, says }: any) => [address, says])).toEqual([
      ['region:', 'renamed to coastRegion'],
    ]);
  });

  test('what has little in common is no rename', async () => {
    const folder = await changed([light, / {2}steps: .*\n/u, '  motto: { kind: text, max: 90 }\n']);
    expect((await result(folder, ['diff'])).changes.map(({ change }: any) => change).sort()).toEqual([
      'field-added',
      'field-removed',
    ]);
  });

  test('can be stated, and can be denied', async () => {
    const folder = await changed(
      [light, / {2}steps: .*\n/u, '  motto: { kind: text, max: 90 }\n'],
      [light, '  height: ', '  focalHeight: '],
    );
    const stated = await result(folder, [
      'diff',
      '--renamed',
      'lighthouse.steps=motto',
      '--not-renamed',
      'lighthouse.height',
    ]);
    expect(stated.changes.map(({ change, address }: any) => `${change} ${address}`)).toEqual([
      'renamed lighthouse.steps',
      'field-added lighthouse.focalHeight',
      'field-removed lighthouse.height',
      'field-reshaped lighthouse.motto',
    ]);
    expect(stated.changes[0].sure).toBe(1);
    for (const text of ['lighthouse.steps', 'lighthouse.steps=a=b', 'Light House=x', 'lighthouse/x=y'])
      expect((await lumbrik(folder, ['diff', '--renamed', text])).code).toBe(2);
    expect(await lumbrik(folder, ['diff', '--renamed', 'lighthouse.step=motto'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Did you mean `steps`?'),
    });
    expect(await lumbrik(folder, ['diff', '--renamed', 'lighthouse.steps=mottto'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('Did you mean `motto`?'),
    });
  });
});

describe('the two models', () => {
  test('are revisions, the newest, or the working files', async () => {
    const folder = await changed([light, 'max: 300', 'max: 400']);
    await lumbrik(folder, ['seal', '-m', 'two']);
    expect((await result(folder, ['diff', '2', '1'])).changes[0].says).toBe('max 400 → 300');
    expect((await result(folder, ['diff', '1'])).changes[0].says).toBe('max 300 → 400');
    expect((await result(folder, ['diff', 'sealed', 'working'])).changes).toEqual([]);
    expect(await lumbrik(folder, ['diff', '3'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('there is no revision 3'.slice(1)),
    });
    expect(await lumbrik(coast(), ['diff'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('No revision is recorded yet'),
    });
  });

  test('each kind of change is said with what it does to entries and to readers', async () => {
    const folder = workspace({
      'model/types/a.yaml': 'type: light\nlabel: { one: A, many: B }\nfields:\n  x: { kind: text, label: X }\n',
      'model/taxonomies/r.yaml': 'taxonomy: region\nterms: [north, { term: south, label: S }]\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'lumbrik.yaml': 'workspace: x\nlanguages: [en, fr]\n',
      'model/types/a.yaml':
        'type: light\nlabel: { one: A, many: As }\nfields:\n  x: { kind: text, label: Y, many: { max: 3 } }\n',
      'model/types/b.yaml': 'type: keeper\n',
      'model/taxonomies/r.yaml':
        'taxonomy: region\nabout: Where.\nterms: [{ term: south, label: South }, north, west]\n',
      'model/taxonomies/t.yaml': 'taxonomy: topic\n',
    });
    const { changes } = await result(folder, ['diff']);
    expect(changes.map(({ change, address, entries, readers }: any) => [change, address, entries, readers])).toEqual([
      ['languages-changed', 'languages', 'valid', 'notice'],
      ['taxonomy-changed', 'region:', 'valid', 'unaffected'],
      ['term-changed', 'region:south', 'valid', 'notice'],
      ['term-added', 'region:west', 'valid', 'notice'],
      ['terms-rearranged', 'region:', 'valid', 'notice'],
      ['taxonomy-added', 'topic:', 'valid', 'notice'],
      ['type-added', 'keeper', 'valid', 'notice'],
      ['type-changed', 'light', 'valid', 'unaffected'],
      ['field-reshaped', 'light.x', 'migrate', 'break'],
    ]);
    const { out } = await lumbrik(folder, ['diff']);
    for (const line of out.split('\n')) expect(line.length).toBeLessThanOrEqual(100);
  });
});

describe('a diff for builds and reviews [G1, G5]', () => {
  const folder = async () => {
    const made = workspace({
      'lumbrik.yaml': 'workspace: A\nlanguages: [en, fr]\n',
      'model/types/light.yaml':
        'type: light\nabout: { en: A light on the coast., fr: Un phare. }\nfields:\n  name: { kind: text, max: 9, help: Write it as it is on the chart. }\n',
      'content/light/a.yaml': 'name: Skerry\n',
    });
    await lumbrik(made, ['seal', '-m', 'one']);
    return made;
  };

  test.each([
    ['max: 9', 'max: 12', { migrate: 0, lose: 0, notice: 1, break: 0 }, '1.1.0'],
    ['max: 9', 'max: 3', { migrate: 1, lose: 0, notice: 0, break: 0 }, '1.1.0'],
    [
      '  name: { kind: text, max: 9, help: Write it as it is on the chart. }\n',
      '',
      { migrate: 1, lose: 1, notice: 1, break: 1 },
      '2.0.0',
    ],
    ['on the chart', 'on the map', { migrate: 0, lose: 0, notice: 0, break: 0 }, '1.0.1'],
  ])('%j → %j fails where it was said to, and tells the version that follows', async (from, to, codes, version) => {
    const made = await folder();
    edit(made, 'model/types/light.yaml', from, to);
    for (const [what, code] of Object.entries(codes))
      expect([what, (await lumbrik(made, ['diff', '--fail-on', what])).code]).toEqual([what, code]);
    expect((await lumbrik(made, ['diff'])).code).toBe(0);
    expect(await result(made, ['diff'])).toMatchObject({ version });
    expect((await lumbrik(made, ['diff'])).out).toContain(`the next version is ${version}`);
  });

  test('texts that changed stand side by side, word by word and in each language', async () => {
    const made = await folder();
    edit(made, 'model/types/light.yaml', 'A light on the coast.', 'A light on the whole coast.');
    edit(made, 'model/types/light.yaml', 'Write it as it is on the chart.', 'Write it as on the chart.');
    const { out } = await lumbrik(made, ['diff', '--words']);
    expect(out).toContain('    - en A light on the coast.\n    + en A light on the whole coast.\n');
    expect(out).toContain('    - Write it as it is on the chart.\n    + Write it as on the chart.\n');
    expect(out).not.toContain('Un phare');
    expect((await lumbrik(made, ['diff'])).out).not.toContain('+ en');
    const coloured = await lumbrik(made, ['diff', '--words', '--color']);
    // biome-ignore lint/suspicious/noControlCharactersInRegex: colours are made of them
    expect(coloured.out).toMatch(/\u001b\[32mwhole \u001b\[39mcoast/u);
  });

  test('as Markdown it is a table that says the same, whatever stands in it', async () => {
    const made = await folder();
    edit(
      made,
      'model/types/light.yaml',
      'max: 9, help: Write it as it is on the chart.',
      'max: 3, pattern: "^(a|b)*`?$"',
    );
    const { out } = await lumbrik(made, ['diff', '--markdown']);
    const rows = out.split('\n').filter((line) => line.startsWith('|'));
    expect(rows).toHaveLength(2 + 3);
    for (const row of rows) expect(row.replaceAll(String.raw`\|`, '').split('|')).toHaveLength(6);
    expect(out).toMatch(/^\*\*3 changes\*\* \(revision 1 → the working files\): entries need a migration/u);
    expect(out).toContain('`light.name` max 9 → 3');
    await lumbrik(made, ['seal', '-m', 'two']);
    expect((await lumbrik(made, ['diff', '--markdown'])).out).toMatch(/^\*\*No change\*\*/u);
  });
});
