import { describe, expect, test } from 'vitest';
import { edit, lumbrik, read, result, workspace, write } from './support/program.ts';

const light = 'model/types/light.yaml';
const fields =
  'fields:\n  name: { kind: text }\n  lit: { kind: date }\n  dark: { kind: date }\n  height: { kind: decimal }\n  steps: { kind: integer }\n  tags: { kind: text, many: true }\n';
const model = (...rules: readonly string[]): string =>
  `type: light\n${fields}rules:\n${rules.map((rule) => `  - ${rule}\n`).join('')}`;
const dark = '{ expect: "entry.dark >= entry.lit", say: A light cannot go dark before it is first lit., at: dark }';

describe('a rule across fields [C6]', () => {
  test('is checked on every entry, with its own message at the field it names', async () => {
    const folder = workspace({
      [light]: model(dark, '{ expect: "entry.status != \'published\' || size(entry.tags) > 0", say: Give it a tag. }'),
      'content/light/a.yaml': 'name: A\nlit: 1858-10-01\ndark: 1800-01-01\ntags: [x]\n',
      'content/light/b.yaml': 'name: B\nlit: 1858-10-01\n',
      'content/light/c.yaml': 'name: C\nstatus: draft\nlit: 1858-10-01\ndark: 1800-01-01\n',
      'content/light/d.yaml': 'name: D\nlit: 12\ndark: 1800-01-01\n',
      'content/light/e.yaml': 'name: E\nlit: 1800-01-01\ndark: 1800-01-01\ntags: [x]\n',
    });
    const { findings, mistakes } = await result(folder, ['check']);
    expect(mistakes).toEqual([]);
    const broken = findings.filter(({ finding }: { finding: string }) => finding === 'rule-broken');
    expect(broken.map(({ entry, severity, pointer, says }: any) => [entry, severity, pointer, says])).toEqual([
      ['light/a', 'error', '/dark', 'breaks a rule: A light cannot go dark before it is first lit.'],
      ['light/c', 'warning', '/dark', 'breaks a rule: A light cannot go dark before it is first lit.'],
    ]);
    expect(broken[0]).toMatchObject({ line: 3, column: 7, limit: 'entry.dark >= entry.lit' });
  });

  test('numbers of both kinds may be compared and reckoned with', async () => {
    const folder = workspace({
      [light]: model(
        '{ expect: entry.height * 2 >= entry.steps / 2.0 && round(entry.height) < 100, say: Odd stairs. }',
      ),
      'content/light/a.yaml': 'height: 2.5\nsteps: 100\n',
      'content/light/b.yaml': 'height: 40\nsteps: 100\n',
    });
    expect((await result(folder, ['check'])).findings).toEqual([
      expect.objectContaining({ entry: 'light/a', finding: 'rule-broken' }),
    ]);
  });

  test.each<[string, string, string, number | undefined]>([
    ['a misspelt field', '{ expect: "entry.dark >= entry.lt", say: x }', 'there is no field `lt`', 36],
    [
      'a date and a number',
      '{ expect: "entry.dark >= 3", say: x }',
      '`>=` does not go between a text and a whole number',
      undefined,
    ],
    ['no condition at all', '{ expect: "entry.name", say: x }', 'it gives string, not true or false', undefined],
    ['an unknown function', '{ expect: "entry.name.shout()", say: x }', 'in the rule', undefined],
    ['a broken expression', '{ expect: "entry.name ==", say: x }', 'unexpected', undefined],
    ['something outside the entry', '{ expect: "process.env.HOME == \'x\'", say: x }', 'in the rule', undefined],
    ['no message', '{ expect: "true" }', '`say` is missing', undefined],
    ['an unknown key', '{ expect: "true", say: x, where: y }', 'there is no option `where`', undefined],
    [
      'a field to show it at that is not there',
      '{ expect: "true", say: x, at: nam }',
      'there is no field `nam`',
      undefined,
    ],
    ['an endless one', `{ expect: "${'('.repeat(200)}true${')'.repeat(200)}", say: x }`, 'in the rule', undefined],
  ])('%s is a mistake in the model, with its place', async (_, rule, says, column) => {
    const { mistakes } = await result(workspace({ [light]: model(rule) }), ['check']);
    expect(mistakes).toHaveLength(1);
    expect(mistakes[0]).toMatchObject({ line: 10, says: expect.stringContaining(says) });
    if (column !== undefined) expect(mistakes[0].column).toBe(column);
  });

  const inside = `type: light
fields:
  hours: { kind: object, fields: { opens: { kind: time }, closes: { kind: time }, places: { kind: integer } } }
  days: { kind: object, many: true, fields: { steps: { kind: integer }, at: { kind: object, fields: { x: { kind: integer } } } } }
  about: { kind: object, localized: true, fields: { short: { kind: text } } }
  where: { kind: point }
`;

  test.each<[string, string, string]>([
    ['entry.hours.opns == "x"', 'there is no field `opns`', 'Did you mean `opens`?'],
    ['entry.hours.opens < 5', '`<` does not go between a text and a whole number', 'Let both sides be of one kind'],
    ['entry.hours.opens == null', '`==` does not go between a text and nothing', 'has('],
    ['entry.hours.opens', 'it gives string, not true or false', 'Write a condition'],
    ['entry.days.all(d, d.stps > 0)', 'there is no field `stps`', 'Did you mean `steps`?'],
    ['entry.days[0].at.depth > 0', 'there is no field `depth`', 'There are'],
    ['entry.about.en.shrt != ""', 'there is no field `shrt`', 'Did you mean `short`?'],
    ['entry.where.lng > 0.0', 'there is no field `lng`', 'There are lat and lon.'],
  ])('is judged inside values that are made of others: %s', async (rule, says, mend) => {
    const folder = workspace({ [light]: `${inside}rules:\n  - { expect: '${rule}', say: x }\n` });
    const { mistakes } = await result(folder, ['check']);
    expect(mistakes).toEqual([
      expect.objectContaining({ line: 8, says: expect.stringContaining(says), mend: expect.stringContaining(mend) }),
    ]);
  });

  test.each([
    'entry.hours.opens < entry.hours.closes && entry.hours.places > 2',
    'entry.days.all(d, d.steps > 0 && d.at.x > 1) && entry.days[0].steps > 1',
    'entry.about.en.short != "" && entry.about["en"].short != "no"',
    'entry.where.lat > 40.5',
    'size(entry.hours) == 3 && "opens" in entry.hours && entry.hours != entry.days[0]',
    'has(entry.hours.opens) && entry.hours.exists(name, name == "opens")',
  ])('goes inside values that are made of others: %s', async (rule) => {
    const folder = workspace({
      [light]: `${inside}rules:\n  - { expect: '${rule}', say: x }\n  - { expect: '!(${rule})', say: not x }\n`,
      'content/light/a.yaml': `hours: { opens: "10:00", closes: "11:00", places: 3 }
days: [{ steps: 2, at: { x: 2 } }]
about: { en: { short: yes } }
where: { lat: 58.5, lon: -3 }
`,
    });
    const { mistakes, findings } = await result(folder, ['check']);
    expect(mistakes).toEqual([]);
    expect(findings.map(({ says }: { says: string }) => says)).toEqual(['breaks a rule: not x']);
  });

  test('that is new is counted on the entries, and its migration asks what becomes of them [G4]', async () => {
    const folder = workspace({
      [light]: `type: light\n${fields}`,
      'content/light/a.yaml': 'lit: 1858-10-01\ndark: 1800-01-01\n',
      'content/light/b.yaml': 'lit: 1858-10-01\n',
    });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { [light]: model(dark) });
    const [change] = (await result(folder, ['diff'])).changes;
    expect(change).toMatchObject({
      address: 'light',
      option: 'rules',
      says: 'rules + entry.dark >= entry.lit',
      entries: 'migrate',
      readers: 'unaffected',
      impact: { hits: 1, of: 2, says: '1 of 2 entries breaks the new rule, for example light/a' },
    });
    const { file, openQuestions } = await result(folder, ['migration', 'draft']);
    expect(openQuestions).toBe(1);
    edit(
      folder,
      file,
      /^ {4}open: .*\n/mu,
      '  - set: light.dark\n    cel: entry.lit\n    where: entry.dark < entry.lit\n',
    );
    // The condition cannot be computed where the field has no value: that has to be asked for.
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({
      code: 2,
      error: { code: 'step-does-not-fit' },
    });
    edit(folder, file, 'where: entry.dark', 'where: has(entry.dark) && entry.dark');
    expect(await result(folder, ['migration', 'rehearse'])).toMatchObject({ ok: true, errorsAfter: 0 });
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/light/a.yaml')).toBe('lit: 1858-10-01\ndark: 1858-10-01\n');
  });

  test('is shown with its type', async () => {
    const folder = workspace({ [light]: model(dark) });
    expect((await result(folder, ['show', 'light'])).rules).toEqual([
      { expect: 'entry.dark >= entry.lit', say: 'A light cannot go dark before it is first lit.', at: 'dark' },
    ]);
    expect((await lumbrik(folder, ['show', 'light'])).out).toContain(
      'A light cannot go dark before it is first lit.  dark\n    entry.dark >= entry.lit\n',
    );
  });

  test('that is dropped asks nothing of entries', async () => {
    const folder = workspace({ [light]: model(dark) });
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, { [light]: `type: light\n${fields}` });
    expect((await result(folder, ['diff'])).changes).toEqual([
      expect.objectContaining({ entries: 'valid', readers: 'unaffected' }),
    ]);
  });

  test('follows a field that is renamed, wherever its expression names it', async () => {
    const rule = (name: string): string =>
      `{ expect: "!has(entry.${name}) || entry.${name} >= entry.lit || entry['${name}'] == entry.name && entry.name == 'dark'", say: x, at: ${name} }`;
    const folder = workspace({ [light]: model(rule('dark')), 'content/light/a.yaml': 'dark: 1858-10-01\n' });
    await lumbrik(folder, ['seal', '-m', 'one']);
    const renamed = model(rule('darkSince')).replace('  dark:', '  darkSince:');
    write(folder, { [light]: renamed.replace("['darkSince']", '[\\"darkSince\\"]') });
    const { changes } = await result(folder, ['diff', '--renamed', 'light.dark=darkSince']);
    expect(changes.map(({ change, address }: any) => `${change} ${address}`)).toEqual(['renamed light.dark']);
  });
});
