import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { identifierPattern, isId, parseAddress, quotedId } from '../src/core/definition/address.ts';
import { fileNameOf, idOfFileName } from '../src/stores/folder/fileName.ts';
import { edit, lumbrik, read, result, snapshot, workspace } from './support/program.ts';

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
      'not-computed is “x”, and “A/r” is what it comes to',
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
