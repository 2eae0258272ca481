import { describe, expect, test } from 'vitest';
import { coast, edit, lumbrik, read, result, workspace } from './support/program.ts';

const keepers = {
  'model/types/keeper.yaml':
    'type: keeper\ntitled: name\nfields:\n  name: { kind: text }\n  retired: { kind: boolean }\n',
  'content/keeper/ada-rook.yaml': 'name: Ada\nretired: false\n',
  'content/keeper/bo-strand.yaml': 'name: Bo\nretired: true\n',
  'content/keeper/ida-fell.yaml': 'name: Ida\n',
  'content/keeper/tam-birch.yaml': 'name: Tam\nretired: false\nstatus: draft\n',
};
const lights = (field: string, more: Record<string, string> = {}) =>
  workspace({
    ...keepers,
    'model/types/light.yaml': `type: light\nfields:\n  keepers: { kind: reference, to: keeper, ${field} }\n`,
    ...more,
  });
const found = async (folder: string) =>
  (await result(folder, ['check'])).findings.map(
    (one: any) => `${one.severity} ${one.entry}${one.pointer} ${one.finding}`,
  );

describe('cardinality, said on one side and checked from both [E1] [E2]', () => {
  const two = {
    'content/light/a.yaml': 'keepers: [ada-rook, bo-strand]\n',
    'content/light/b.yaml': 'keepers: [ada-rook]\n',
  };
  const one = { 'content/light/a.yaml': 'keepers: ada-rook\n', 'content/light/b.yaml': 'keepers: ada-rook\n' };
  test.each<[string, string, Record<string, string>, readonly string[]]>([
    ['many to many', 'many: true, inverse: lights', two, []],
    ['one to many', 'many: true, inverse: { name: light, max: 1 }', two, ['error light/b/keepers/0 too-many-pointing']],
    ['many to one', 'inverse: lights', one, []],
    ['one to one', 'inverse: { name: light, max: 1 }', one, ['error light/b/keepers too-many-pointing']],
    [
      'at least one each',
      'many: true, inverse: { name: lights, min: 1 }',
      two,
      ['error keeper/ida-fell too-few-pointing', 'warning keeper/tam-birch too-few-pointing'],
    ],
    [
      'the same target twice',
      'many: true, inverse: { name: light, max: 1 }',
      { 'content/light/a.yaml': 'keepers: [ada-rook, ada-rook]\n' },
      ['error light/a/keepers/1 too-many-pointing'],
    ],
  ])('%s', async (_name, field, content, findings) => {
    expect(await found(lights(field, content))).toEqual(findings);
  });

  test('the finding names the other entry and the limit, and show says it of the field', async () => {
    const folder = lights('inverse: { name: light, max: 1 }', one);
    const [finding] = (await result(folder, ['check'])).findings;
    expect(finding).toMatchObject({
      says: 'points at keeper/ada-rook, as light/a does; at most 1 may by light.keepers',
      limit: 1,
    });
    expect((await lumbrik(folder, ['show', 'light'])).out).toContain('→ keeper (⇄ light ≤ 1)');
    expect((await result(folder, ['trace', 'keeper/ada-rook'])).pointedAtBy.next[0].name).toBe('light');
  });

  test('hundreds that point where one may are each told in a line', async () => {
    const content = Array.from({ length: 300 }, (_, index) => [`content/light/l${index}.yaml`, 'keepers: ada-rook\n']);
    const folder = lights('inverse: { name: light, max: 5 }', Object.fromEntries(content));
    const { findings } = await result(folder, ['check']);
    expect(findings).toHaveLength(295);
    expect(findings.at(-1).says).toBe(
      'points at keeper/ada-rook, as light/l0, light/l1, light/l10 and 2 more do; at most 5 may by light.keepers',
    );
  });

  test('bounds that nothing passes are a mistake', async () => {
    expect((await result(lights('inverse: { name: a, min: 3, max: 2 }'), ['check'])).mistakes).toMatchObject([
      { line: 3, says: expect.stringContaining('no target could pass') },
    ]);
  });

  test('a bound that becomes tighter is counted, and one that is lifted is not', async () => {
    const folder = lights('inverse: { name: light, max: 2 }', one);
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', 'max: 2', 'max: 1');
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      {
        option: 'inverse',
        entries: 'migrate',
        impact: { hits: 1, of: 2, says: '1 of 2 entries breaks it, for example light/b' },
      },
    ]);
    edit(folder, 'model/types/light.yaml', 'inverse: { name: light, max: 1 }', 'inverse: light');
    expect(await result(folder, ['diff'])).toMatchObject({ entries: 'valid' });
  });
});

describe('which targets are eligible [E3]', () => {
  const all = { 'content/light/a.yaml': 'keepers: [ada-rook, bo-strand, ida-fell, tam-birch]\n' };
  test.each<[string, string, readonly string[]]>([
    ['by any field, and what cannot be shown is not', 'target.retired == false', ['bo-strand 1', 'ida-fell 2']],
    ['by what is absent, when it is asked', '!has(target.retired) || !target.retired', ['bo-strand 1']],
    ['by status', 'target.status == "published"', ['tam-birch 3']],
    ['by the name', 'target.id.startsWith("a")', ['bo-strand 1', 'ida-fell 2', 'tam-birch 3']],
  ])('%s', async (_name, condition, ineligible) => {
    const folder = lights(`many: true, eligible: '${condition}'`, all);
    const named = (await result(folder, ['check'])).findings
      .filter(({ finding }: any) => finding === 'not-eligible')
      .map(({ value, pointer, says }: any) => `${value ?? /keeper\/([a-z-]+)/u.exec(says)?.[1]} ${pointer.at(-1)}`);
    expect(named).toEqual(ineligible);
  });

  test('by whether they are public now: their time has come and has not gone', async () => {
    const at = (times: string) => `name: A\n${times}`;
    const folder = lights("many: true, eligible: 'target.isPublic'", {
      'content/keeper/ada-rook.yaml': at('publicFrom: 2026-02-01\npublicUntil: 2026-12-01\n'),
      'content/keeper/bo-strand.yaml': at('publicFrom: 2026-03-02\n'),
      'content/keeper/ida-fell.yaml': at('publicUntil: 2026-02-28T12:00:00Z\n'),
      ...all,
    });
    // The clock of these tests stands at 2026-03-01.
    expect(await found(folder)).toEqual([
      'error light/a/keepers/1 not-eligible',
      'error light/a/keepers/2 not-eligible',
      'error light/a/keepers/3 not-eligible',
    ]);
  });

  test.each([
    ['a field that is misspelt', 'target.retird', 'Did you mean `retired`?'],
    ['no condition', 'target.name', 'Write a condition'],
    ['a text that does not parse', 'target.name ==', 'Correct the expression'],
  ])('%s is a mistake with its place', async (_name, condition, mend) => {
    const [mistake, ...more] = (await result(lights(`eligible: '${condition}'`), ['check'])).mistakes;
    expect(more).toEqual([]);
    expect(mistake).toMatchObject({ file: 'model/types/light.yaml', line: 3 });
    expect(mistake.mend).toContain(mend);
  });

  test('a condition that is new is counted, and follows a field of the target that gets another name', async () => {
    const folder = lights('many: true', { 'content/light/a.yaml': 'keepers: [bo-strand]\n' });
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/light.yaml', 'many: true', "many: true, eligible: 'target.retired == false'");
    expect((await result(folder, ['diff'])).changes).toMatchObject([
      { entries: 'migrate', impact: { hits: 1, of: 1 } },
    ]);
    await lumbrik(folder, ['seal', '-m', 'Second']);
    edit(folder, 'model/types/keeper.yaml', 'retired:', 'hasRetired:');
    edit(folder, 'model/types/light.yaml', 'target.retired', 'target.hasRetired');
    const { changes } = await result(folder, ['diff', '2', 'working', '--renamed', 'keeper.retired=hasRetired']);
    expect(changes.map(({ change }: any) => change)).toEqual(['renamed']);
  });
});

describe('values that follow from others [C7]', () => {
  const tours = (fields: string, content: Record<string, string>) =>
    workspace({
      'model/types/tour.yaml': `type: tour\nfields:\n${fields}`,
      'model/types/departure.yaml': 'type: departure\nfields:\n  tour: { kind: reference, to: tour }\n',
      ...content,
    });
  const counted = '  departures: { kind: integer, computed: { count: departure.tour } }\n';
  const departures = {
    'content/departure/a.yaml': 'tour: short\n',
    'content/departure/b.yaml': 'tour: short\n',
  };

  test('a stored count that is no longer true is found, with both numbers', async () => {
    const folder = tours(counted, {
      ...departures,
      'content/tour/short.yaml': 'departures: 5\n',
      'content/tour/long.yaml': 'departures: 0\n',
      'content/tour/none.yaml': '{}\n',
    });
    expect((await result(folder, ['check'])).findings).toMatchObject([
      {
        entry: 'tour/short',
        finding: 'not-computed',
        says: 'is 5, and the computed value is 2',
        value: 5,
        limit: 2,
        line: 1,
      },
    ]);
  });

  test('an expression is computed for each entry that has what it names', async () => {
    const folder = tours(
      '  adults: { kind: integer }\n  price: { kind: decimal }\n  total: { kind: decimal, places: 2, computed: entry.adults * entry.price }\n',
      {
        'content/tour/right.yaml': 'adults: 3\nprice: 1.1\ntotal: 3.3\n',
        'content/tour/wrong.yaml': 'adults: 3\nprice: 1.1\ntotal: 3.4\n',
        'content/tour/part.yaml': 'adults: 3\ntotal: 3.4\n',
      },
    );
    expect((await result(folder, ['check'])).findings).toMatchObject([{ entry: 'tour/wrong', pointer: '/total' }]);
  });

  test.each([
    [
      'a count of nothing',
      '  a: { kind: integer, computed: { count: departure.tuor } }\n',
      'Did you mean `departure.tour`?',
    ],
    [
      'a count in a text',
      '  a: { kind: text, computed: { count: departure.tour } }\n',
      'Give the field the kind `integer`',
    ],
    ['a text in a number', '  a: { kind: integer, computed: entry.id }\n', 'Round it'],
    ['a misspelt field', '  abc: { kind: text }\n  b: { kind: text, computed: entry.abd }\n', 'Did you mean `abc`?'],
  ])('%s is a mistake', async (_name, fields, mend) => {
    expect((await result(tours(fields, {}), ['check'])).mistakes[0].mend).toContain(mend);
  });

  test('the diff counts what a new computation contradicts, and renames follow into it', async () => {
    const folder = tours('  departures: { kind: integer }\n', {
      ...departures,
      'content/tour/short.yaml': 'departures: 5\n',
    });
    await lumbrik(folder, ['seal', '-m', 'First']);
    edit(folder, 'model/types/tour.yaml', '  departures: { kind: integer }\n', counted);
    expect((await result(folder, ['diff'])).changes).toMatchObject([{ option: 'computed', impact: { hits: 1 } }]);
    await lumbrik(folder, ['seal', '-m', 'Second']);
    edit(folder, 'model/types/departure.yaml', '  tour:', '  walk:');
    edit(folder, 'model/types/tour.yaml', 'departure.tour', 'departure.walk');
    const { changes } = await result(folder, ['diff', '2', 'working', '--renamed', 'departure.tour=walk']);
    expect(changes.map(({ change }: any) => change)).toEqual(['renamed']);
    expect(read(folder, 'content/tour/short.yaml')).toBe('departures: 5\n');
  });
});

describe('a bare identifier where several types may stand [E1, I3]', () => {
  test('is told the address that was meant, where there is such an entry', async () => {
    const folder = workspace({
      'model/types/a.yaml': 'type: a\nfields:\n  to: { kind: reference, to: [b, c], many: true }\n',
      'model/types/b.yaml': 'type: b\nfields: {}\n',
      'model/types/c.yaml': 'type: c\nfields: {}\n',
      'content/a/one.yaml': 'to: [here, nowhere, c/here]\n',
      'content/c/here.yaml': '{}\n',
    });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ pointer, mend, fix }: any) => [pointer, mend, fix])).toEqual([
      ['/to/0', 'Write c/here: with several types, a value says which it is.', { set: 'c/here' }],
      ['/to/1', expect.stringContaining('for example b/skerry-point'), undefined],
    ]);
  });

  test('a term is shown with what is said about it', async () => {
    const { asked } = await result(coast(), ['show', 'region:skerries']);
    expect(asked).toMatchObject({ term: 'skerries', labels: expect.any(Object), places: expect.any(Array) });
  });
});
