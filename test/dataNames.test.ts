import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { identifierPattern, isId, parseAddress, quotedId } from '../src/core/definition/address.ts';
import type { Operation } from '../src/core/migration/operation.ts';
import type { JsonObject } from '../src/core/plain/json.ts';
import { entryAfterOperation } from '../src/stores/applyOperation.ts';
import { fileNameOf, idOfFileName } from '../src/stores/folder/fileName.ts';
import { KeyNames } from '../src/stores/keys.ts';
import { edit, lumbrik, read, result, snapshot, workspace, write } from './support/program.ts';

const anyText = fc.string({ unit: 'grapheme', maxLength: 20 });
const id = anyText.filter(isId);

describe('identifiers as the data has them [A6, B4]', () => {
  test.each([
    'A',
    'No. 7',
    'a_b',
    'Ünïcode',
    '灯台',
    'x#1',
    '"q"',
    'a:b',
    'a=b',
    '%41',
    '50%',
    'CON',
    '.hidden',
    "l'île",
    'a\\b',
  ])('%s is one, in files, references, addresses and terms', async (name) => {
    const folder = workspace({
      'model/types/clock.yaml':
        'type: clock\nfields:\n  next: { kind: reference, to: clock }\n  part: { kind: term, taxonomy: part }\n  form: { kind: choice, choices: [x] }\n',
      'model/taxonomies/part.yaml': `taxonomy: part\nterms:\n  - ${JSON.stringify(name)}\n`,
      'content/clock/plain.yaml': `next: ${JSON.stringify(`clock/${name}`)}\npart: ${JSON.stringify(name)}\n`,
    });
    edit(folder, 'model/types/clock.yaml', '[x]', `[${JSON.stringify(name)}]`);
    expect((await result(folder, ['entry', 'new', 'clock', name])).error).toBeUndefined();
    const address = `clock/${quotedId(name)}`;
    expect((await result(folder, ['show', address])).address).toBe(`clock/${name}`);
    expect((await result(folder, ['check'])).findings).toEqual([
      expect.objectContaining({ finding: 'target-not-published' }),
    ]);
    const { pointedAtBy } = await result(folder, ['trace', address]);
    expect(pointedAtBy.next.map(({ node }: any) => node.entry)).toEqual(['clock/plain']);
    const { terms } = await result(folder, ['terms', 'part']);
    expect(terms.map(({ term, entries }: any) => [term, entries])).toEqual([[name, 1]]);
    await lumbrik(folder, ['seal', '-m', 'one']);
    expect((await result(folder, ['diff'])).changes).toEqual([]);
  });

  test.each(['', ' a', 'a ', 'a/b', 'a\nb', 'a\u0000', 'x'.repeat(201), '\u2028'])('%j is none', (name) => {
    expect(isId(name)).toBe(false);
  });

  test('the quick test and the regular expression of schemas agree', () => {
    const shape = new RegExp(identifierPattern, 'u');
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 8 }), (text) => {
        expect([text, isId(text)]).toEqual([text, shape.test(text)]);
      }),
      { numRuns: 3000 },
    );
  });

  test('whatever an identifier is, its file name and its address lead back to it', () => {
    fc.assert(
      fc.property(id, (one) => {
        const name = fileNameOf(one);
        expect([one, idOfFileName(name)]).toEqual([one, one.normalize('NFC')]);
        expect(name).not.toMatch(/^\.|[<>:"|?*\\/]|[. ]$/u);
        expect(parseAddress(`clock/${quotedId(one)}`)).toEqual({ what: 'entry', type: 'clock', id: one });
        expect(parseAddress(`clock/${quotedId(one)}#/a`)).toEqual({
          what: 'entry',
          type: 'clock',
          id: one,
          pointer: '/a',
        });
        expect(parseAddress(`region:${quotedId(one)}`)).toMatchObject({ what: 'term', term: one, above: [] });
        expect(parseAddress(`region:${quotedId(one)}/x`)).toMatchObject({ what: 'term', term: 'x', above: [one] });
      }),
      { numRuns: 1000 },
    );
  });

  test('two that one file system takes for one are refused', async () => {
    const folder = workspace({
      'model/types/clock.yaml': 'type: clock\nfields: {}\n',
      'content/clock/a.yaml': '{}\n',
      'content/clock/A.yaml': '{}\n',
      'content/clock/e\u0301.yaml': '{}\n',
      'content/clock/É.yaml': '{}\n',
    });
    const { findings } = await result(folder, ['check']);
    expect(findings.map(({ finding, entry }: any) => `${finding} ${entry}`)).toEqual([
      'duplicate-entry clock/A',
      'duplicate-entry clock/É',
    ]);
    const before = snapshot(folder);
    expect(await lumbrik(folder, ['entry', 'new', 'clock', 'É'])).toMatchObject({ code: 3 });
    expect(await lumbrik(folder, ['entry', 'new', 'clock', `${'x'.repeat(200)}é`])).toMatchObject({ code: 2 });
    expect(await lumbrik(folder, ['entry', 'new', 'clock', 'é'.repeat(190)])).toMatchObject({
      code: 2,
      err: expect.stringContaining('too long for the name of a file'),
    });
    expect(snapshot(folder)).toEqual(before);
  });
});

describe('fields as the data names them [A6]', () => {
  const folder = () =>
    workspace({
      'model/types/clock.yaml': `type: clock
titled: Name-of
fields:
  Name-of: { kind: text }
  $ref: { kind: text, required: true }
  serial_no: { kind: text, computed: "entry.Name_of + '/' + entry._ref" }
  in-side: { kind: object, fields: { a-b: { kind: integer, max: 3 } } }
rules:
  - { expect: has(entry.Name_of) && entry.in_side.a_b > 0, say: There is one. }
`,
      'content/clock/a.yaml': 'Name-of: A\n$ref: r\nserial_no: x\nin-side: { a-b: 0 }\n',
    });

  test('with capitals, underscores, hyphens and dollar signs; in expressions with underscores', async () => {
    const at = folder();
    expect((await result(at, ['check'])).findings.map(({ finding, says }: any) => `${finding} ${says}`)).toEqual([
      'rule-broken breaks a rule: There is one.',
      'not-computed is “x”, and the computed value is “A/r”',
    ]);
    expect((await result(at, ['show', 'clock.in-side.a-b'])).field.name).toBe('in-side.a-b');
  });

  test('get other names, in entries and expressions, and have them back', async () => {
    const at = folder();
    await lumbrik(at, ['seal', '-m', 'one']);
    edit(at, 'model/types/clock.yaml', '  Name-of: {', '  title-of: {');
    edit(at, 'model/types/clock.yaml', 'titled: Name-of', 'titled: title-of');
    edit(at, 'model/types/clock.yaml', /entry\.Name_of/gu, 'entry.title_of');
    const { changes } = await result(at, ['diff', '--renamed', 'clock.Name-of=title-of']);
    expect(changes.map(({ change }: any) => change)).toEqual(['renamed']);
    await lumbrik(at, ['migration', 'draft', '--renamed', 'clock.Name-of=title-of']);
    await lumbrik(at, ['migration', 'rehearse']);
    expect((await result(at, ['migration', 'run'])).error).toBeUndefined();
    expect(read(at, 'content/clock/a.yaml')).toContain('title-of: A\n$ref: r');
    await lumbrik(at, ['migration', 'undo']);
    expect(read(at, 'content/clock/a.yaml')).toContain('Name-of: A');
  });

  test.each([
    ['  a b: { kind: text }\n', 'is no name'],
    ['  1a: { kind: text }\n', 'is no name'],
    ['  -a: { kind: text }\n', 'is no name'],
    ['  __proto__: { kind: text }\n', 'is no name'],
    ['  a-b: { kind: text }\n  a_b: { kind: text }\n', 'are both called `a_b` in expressions'],
  ])('%j is a mistake', async (fields, says) => {
    const at = workspace({ 'model/types/clock.yaml': `type: clock\nfields:\n${fields}` });
    const { mistakes = [], error } = await result(at, ['check']);
    expect([...mistakes.map((one: any) => one.says), error?.says].join()).toContain(says);
  });
});

describe('fields that the data call as no field can be called [A6, K2]', () => {
  const names = 'fields: { name: Name of it, size: Größe (cm), tags: "Nr.", colour: "" , kind: kind }';
  const model = (fields: string): string => `type: part\nfields:\n${fields}`;
  const before = model(
    '  name: { kind: text, required: true }\n  size: { kind: integer, max: 40 }\n  tags: { kind: text, many: true }\n  colour: { kind: choice, choices: [red, blue] }\n  kind: { kind: text }\n',
  );
  const after = model(
    '  title: { kind: text, required: true }\n  size: { kind: decimal }\n  tags: { kind: text, many: true }\n  more: { kind: object, fields: { colour: { kind: choice, choices: [red, blue] } } }\n',
  );
  const stored = (size: number) => ({
    'Name of it': `Part ${size}`,
    'Größe (cm)': size,
    'Nr.': ['x', 'y'],
    '': 'red',
    kind: 'k',
  });
  const ids = ['a', 'b', 'c'];
  const json = (value: unknown): string => JSON.stringify(value, undefined, 1);
  const withId = ids.map((id, index) => ({ id, ...stored(index + 1) }));

  test.each([
    [
      'a folder',
      'folder: content',
      Object.fromEntries(ids.map((id, at) => [`content/part/${id}.json`, json(stored(at + 1))])),
    ],
    [
      'files of YAML',
      'folder: content',
      Object.fromEntries(
        ids.map((id, at) => [
          `content/part/${id}.yaml`,
          `# ${id}\n'Name of it': P ${at}\nGröße (cm): ${at} # about\nNr.: [x]\n"": red\nkind: k\n`,
        ]),
      ),
    ],
    [
      'lines',
      'lines: content/part.ndjson, type: part',
      { 'content/part.ndjson': withId.map((one) => `${JSON.stringify(one)}\n`).join('') },
    ],
    ['a list', 'json: content/part.json, type: part', { 'content/part.json': json(withId) }],
    [
      'a map',
      'json: content/part.json, type: part',
      { 'content/part.json': json(Object.fromEntries(ids.map((id, at) => [id, stored(at + 1)]))) },
    ],
  ])('are read, checked, migrated and taken back in %s', async (_what, store, files) => {
    const at = workspace({
      'lumbrik.yaml': `workspace: A\ncontent: [{ ${store}, ${names} }]\n`,
      'model/types/part.yaml': before,
      ...files,
    });
    expect(await result(at, ['check'])).toMatchObject({ ok: true, findings: [], mistakes: [] });
    await lumbrik(at, ['seal', '-m', 'one']);
    const unchanged = snapshot(at, 'content');
    write(at, { 'model/types/part.yaml': after });
    const renamed = ['--renamed', 'part.name=title', '--moved', 'part.colour=part.more.colour'];
    const draft = await result(at, ['migration', 'draft', ...renamed]);
    expect(draft.error).toBeUndefined();
    await lumbrik(at, ['migration', 'answer', '--step', '4', '--yes']);
    expect((await result(at, ['migration', 'rehearse', '--prove'])).error).toBeUndefined();
    expect((await result(at, ['migration', 'run'])).error).toBeUndefined();
    expect(await result(at, ['check'])).toMatchObject({ ok: true, findings: [] });
    const [file = ''] = Object.keys(files);
    const text = read(at, file);
    expect([
      text.includes('Name of it'),
      text.includes('title'),
      text.includes('Größe (cm)'),
      text.includes('Nr.'),
    ]).toEqual([false, true, true, true]);
    await lumbrik(at, ['migration', 'undo']);
    expect(snapshot(at, 'content')).toEqual(unchanged);
  });

  test('columns of a table, whose names may have dots', async () => {
    const table =
      'id,Name of it,Größe (cm),Nr.,Hours.opens,Tel. no.,.. ,Hours..x\na,Part 1,1,x; y,10:00,5,,6\nb,"Part, 2",2,,11:00,,,\n';
    const at = workspace({
      'lumbrik.yaml':
        'workspace: A\ncontent: [{ csv: content/part.csv, type: part, fields: { name: Name of it, size: Größe (cm), tags: "Nr.", hours: Hours, tel: Tel. no., odd: Hours..x } }]\n',
      'model/types/part.yaml': model(
        '  name: { kind: text }\n  size: { kind: integer, max: 1 }\n  tags: { kind: text, many: true }\n  hours: { kind: object, fields: { opens: { kind: time } } }\n  tel: { kind: integer }\n  odd: { kind: integer }\n',
      ),
      'content/part.csv': table,
    });
    const { findings } = await result(at, ['check']);
    expect(findings.map(({ finding, pointer, line, column }: any) => [finding, pointer, line, column])).toEqual([
      ['too-large', '/size', 3, 13],
    ]);
    edit(at, 'model/types/part.yaml', 'max: 1', 'max: 9');
    await lumbrik(at, ['seal', '-m', 'one']);
    edit(at, 'model/types/part.yaml', '  size:', '  extent:');
    edit(at, 'model/types/part.yaml', '  tags: { kind: text, many: true }', '  tags: { kind: text }');
    edit(at, 'model/types/part.yaml', 'opens:', 'from:');
    await lumbrik(at, [
      'migration',
      'draft',
      '--renamed',
      'part.size=extent',
      '--renamed',
      'part.hours.opens=hours.from',
    ]);
    await lumbrik(at, ['migration', 'answer', '--step', '3', '--value', 'z']);
    await lumbrik(at, ['migration', 'rehearse']);
    expect((await result(at, ['migration', 'run'])).error).toBeUndefined();
    expect(read(at, 'content/part.csv')).toMatch(
      /^id,Name of it,extent,Nr\.,Hours\.from,Tel\. no\.,\.\. ,Hours\.\.x\na,Part 1,1,z,10:00,5,,6\n/u,
    );
    await lumbrik(at, ['migration', 'undo']);
    expect(read(at, 'content/part.csv')).toBe(table);
  });

  test('keep their keys where a field, or their type, gets another name by `rename`', async () => {
    const at = workspace({
      'lumbrik.yaml':
        '# Where parts are.\nworkspace: A\ncontent:\n  - { lines: content/part.ndjson, type: part, fields: { size: Größe (cm) } } # old\n  - { folder: content, fields: { size: Größe (cm) } }\n',
      'model/types/part.yaml': model('  size: { kind: integer }\n'),
      'model/types/tool.yaml': 'type: tool\nfields:\n  size: { kind: integer }\n',
      'content/part.ndjson': '{"id":"a","Größe (cm)":3}\n',
      'content/part/b.yaml': 'Größe (cm): 4\n',
      'content/tool/c.yaml': 'Größe (cm): 5\n',
    });
    await lumbrik(at, ['seal', '-m', 'one']);
    expect((await result(at, ['rename', 'part.size', 'length'])).files.map(({ file }: any) => file)).toEqual([
      'model/types/part.yaml',
      'lumbrik.yaml',
    ]);
    expect((await result(at, ['rename', 'part', 'piece'])).error).toBeUndefined();
    // In the folder the key is that of tools, too.
    expect(read(at, 'lumbrik.yaml')).toBe(
      '# Where parts are.\nworkspace: A\ncontent:\n  - { lines: content/part.ndjson, type: piece, fields: { length: Größe (cm) } } # old\n  - { folder: content, fields: { size: Größe (cm) } }\n',
    );
    await lumbrik(at, ['migration', 'draft']);
    await lumbrik(at, ['migration', 'rehearse']);
    expect((await result(at, ['migration', 'run'])).error).toBeUndefined();
    expect(await result(at, ['check'])).toMatchObject({ ok: true, findings: [], entries: 3 });
    const kept = [...snapshot(at, 'content').keys()].filter((file) => !file.includes('revision'));
    expect(kept.map((file) => [file, read(at, file)])).toEqual([
      ['content/part.ndjson', '{"id":"a","Größe (cm)":3}\n'],
      ['content/piece/b.yaml', 'length: 4\n'],
      ['content/tool/c.yaml', 'Größe (cm): 5\n'],
    ]);
  });

  test('and where types inherit the field, for all of them at once', async () => {
    const at = workspace({
      'lumbrik.yaml': 'workspace: A\ncontent: [{ folder: content, fields: { size: Größe (cm) } }]\n',
      'model/types/thing.yaml': 'type: thing\nfields:\n  size: { kind: integer }\n',
      'model/types/part.yaml': 'type: part\nextends: thing\nfields:\n  note: { kind: text }\n',
      'content/thing/a.yaml': 'Größe (cm): 3\n',
      'content/part/b.yaml': 'Größe (cm): 4\nnote: N\n',
    });
    const before = snapshot(at, 'content');
    await lumbrik(at, ['seal', '-m', 'one']);
    expect((await result(at, ['rename', 'thing.size', 'length'])).error).toBeUndefined();
    expect(read(at, 'lumbrik.yaml')).toContain('fields: { length: Größe (cm) } }');
    expect(await result(at, ['check'])).toMatchObject({ ok: true, findings: [] });
    for (const step of ['draft', 'rehearse', 'run']) await lumbrik(at, ['migration', step]);
    for (const [file, bytes] of before) expect(snapshot(at, 'content').get(file)).toBe(bytes);
    expect(await result(at, ['check'])).toMatchObject({ ok: true, findings: [] });
  });

  test('in the JSON Schema of entries that are files, and in new ones', async () => {
    const at = workspace({
      'lumbrik.yaml': `workspace: A\ncontent: [{ folder: content, ${names} }]\n`,
      'model/types/part.yaml': before,
    });
    await lumbrik(at, ['schemas']);
    const { properties, required } = JSON.parse(read(at, 'schemas/entries/part.json'));
    expect([Object.keys(properties).slice(-5), required]).toEqual([
      ['Name of it', 'Größe (cm)', 'Nr.', '', 'kind'],
      ['Name of it'],
    ]);
    expect((await result(at, ['entry', 'new', 'part', 'd', '--title', 'D'])).error).toBeUndefined();
    expect(read(at, 'content/part/d.yaml')).toContain('Name of it: ');
  });

  test.each([
    ['{ fields: { a: x, b: x } }', 'the same key holds two things'],
    ['{ keys: { id: x }, fields: { a: x } }', 'the same key holds two things'],
    ['{ fields: { "a b": x } }', 'the name of a field is made of'],
  ])('%s is a mistake', async (says, message) => {
    const at = workspace({ 'lumbrik.yaml': `workspace: A\ncontent: [{ folder: content, ${says.slice(1, -1)} }]\n` });
    const { mistakes = [], error } = await result(at, ['check']);
    expect(JSON.stringify([mistakes, error])).toContain(message);
  });

  test('an entry that has both keys is told, and nothing of it lost', async () => {
    const at = workspace({
      'lumbrik.yaml': `workspace: A\ncontent: [{ folder: content, ${names} }]\n`,
      'model/types/part.yaml': before,
      'content/part/a.yaml': 'Name of it: A\nname: B\n',
    });
    expect((await result(at, ['check'])).findings).toEqual([
      expect.objectContaining({ finding: 'unreadable-file', line: 2, says: expect.stringContaining('`name`') }),
    ]);
  });

  test('what is done to what is stored is what is done to what it stands for', () => {
    const keys = new KeyNames({ keys: { status: 'state' }, fields: { a: 'A a', b: 'c', c: 'b', d: '' } });
    const word = fc.constantFrom('a', 'b', 'c', 'd', 'e', 'status');
    const value = fc.oneof(fc.integer(), fc.dictionary(word, fc.integer(), { maxKeys: 3 }));
    const inside = fc.constantFrom<string[]>([], [], ['a'], ['e'], ['b']);
    const way = fc.array(word, { minLength: 1, maxLength: 2 });
    const operation = fc.oneof(
      fc.record({ do: fc.constant('rename' as const), inside, key: word, to: word }),
      fc.record({ do: fc.constant('remove' as const), inside, key: word }),
      fc.record({ do: fc.constant('set' as const), path: way, value: fc.integer(), after: fc.array(word) }),
      fc.record({ do: fc.constant('carry' as const), inside, from: way, to: way, after: fc.array(word) }),
    );
    fc.assert(
      fc.property(fc.dictionary(word, value), operation, (values, does) => {
        const done = (of: JsonObject, what: Operation): JsonObject =>
          entryAfterOperation({ type: 'part', id: 'x', values: of }, what)?.values ?? {};
        expect(keys.usual(keys.stored(values))).toEqual(values);
        expect(keys.usual(done(keys.stored(values), keys.operation(does)))).toEqual(done(values, does));
      }),
      { numRuns: 2000 },
    );
  });
});
