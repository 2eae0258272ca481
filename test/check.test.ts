import fs from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { coast, edit, lumbrik, result, started, temporary, workspace, write } from './support/program.ts';

const type = (field: string): string => `type: light\nfields:\n  name: { kind: text }\n  x: ${field}\n`;
const regions = 'taxonomy: region\nterms:\n  - { term: north, terms: [skerries] }\n  - south\n';
const keepers = 'type: keeper\nfields:\n  name: { kind: text }\n';

/** The findings of one entry `light/a` whose field x is defined and filled in some way. */
async function findings(field: string, value: string, status = 'published') {
  const folder = workspace({
    'model/types/light.yaml': type(field),
    'model/types/keeper.yaml': keepers,
    'model/taxonomies/region.yaml': regions,
    'content/light/a.yaml': `status: ${status}\nname: A\n${value === '' ? '' : `x: ${value}\n`}`,
    'content/keeper/ada.yaml': 'name: Ada\n',
  });
  const { findings: found, mistakes } = await result(folder, ['check']);
  expect(mistakes).toEqual([]);
  return found;
}

describe('one value against its field [I1, C1, C2]', () => {
  test.each<[string, string, string]>([
    ['{ kind: text, max: 3 }', 'abcd', 'too-long'],
    ['{ kind: text, min: 3 }', 'ab', 'too-short'],
    ['{ kind: text }', '"a\\nb"', 'line-break'],
    ['{ kind: text }', '12', 'wrong-shape'],
    ['{ kind: text }', '[a]', 'single-value-expected'],
    ["{ kind: text, pattern: { match: '^[A-Z]', say: Start with a capital. } }", 'abc', 'pattern'],
    ['{ kind: longText, max: 2 }', 'abc', 'too-long'],
    ['{ kind: markdown, min: 9 }', 'abc', 'too-short'],
    ['{ kind: integer }', '"12"', 'number-in-quotes'],
    ['{ kind: integer }', '1.5', 'not-whole'],
    ['{ kind: integer }', '9007199254740993', 'not-whole'],
    ['{ kind: integer, min: 3 }', '2', 'too-small'],
    ['{ kind: integer, max: 3 }', '4', 'too-large'],
    ['{ kind: decimal }', '.nan', 'wrong-shape'],
    ['{ kind: decimal, max: 1.5 }', '1.6', 'too-large'],
    ['{ kind: boolean }', 'yes', 'wrong-shape'],
    ['{ kind: date }', '2025-02-29', 'not-a-date'],
    ['{ kind: date }', '1.3.2026', 'not-a-date'],
    ['{ kind: date, min: 1700-01-01 }', '1699-12-31', 'too-early'],
    ['{ kind: date, max: 1700-01-01 }', '1700-01-02', 'too-late'],
    ['{ kind: choice, choices: [easy, hard] }', 'eassy', 'not-a-choice'],
    ['{ kind: slug, from: name }', 'Not A Slug', 'malformed-slug'],
    ['{ kind: term, taxonomy: region }', 'nort', 'unknown-term'],
    ['{ kind: reference, to: keeper }', 'bob', 'dangling-reference'],
    ['{ kind: reference, to: keeper }', 'light/a', 'wrong-target'],
    ['{ kind: reference, to: keeper }', '"A/B/"', 'malformed-reference'],
    ['{ kind: reference, to: [keeper, light] }', 'ada', 'malformed-reference'],
    ['{ kind: integer, many: true }', '3', 'list-expected'],
    ['{ kind: integer, many: { min: 2 } }', '[3]', 'too-few-items'],
    ['{ kind: integer, many: { max: 1 } }', '[3, 4]', 'too-many-items'],
    ['{ kind: text, required: true }', '', 'required-missing'],
    ['{ kind: text, required: true }', "''", 'required-missing'],
    ['{ kind: text, required: true, many: true }', '[]', 'required-missing'],
  ])('%s with %s is %s', async (field, value, finding) => {
    const [first, ...others] = await findings(field, value);
    expect(others).toEqual([]);
    expect(first).toMatchObject({ finding, severity: 'error', entry: 'light/a', file: 'content/light/a.yaml' });
    expect(first.mend).not.toBe('');
  });

  test.each<[string, string]>([
    ['{ kind: text, max: 3 }', '"👩‍🚀👩‍🚀é"'],
    ['{ kind: date }', '2024-02-29'],
    ['{ kind: integer }', '-9007199254740991'],
    ['{ kind: decimal }', '3'],
    ['{ kind: term, taxonomy: region, many: true }', '[skerries, south]'],
    ['{ kind: reference, to: [keeper, light], many: true }', '[keeper/ada, light/a]'],
    ['{ kind: reference, to: keeper }', 'ada'],
    ['{ kind: text, required: published }', 'x'],
  ])('%s with %s is fine', async (field, value) => {
    expect(await findings(field, value)).toEqual([]);
  });

  test('a value, its limit, its place and a way to mend it', async () => {
    expect(await findings('{ kind: text, max: 3 }', '"abcdef"   # long')).toEqual([
      {
        finding: 'too-long',
        message: 'too-long',
        data: { size: 6, bound: 3 },
        severity: 'error',
        entry: 'light/a',
        file: 'content/light/a.yaml',
        line: 3,
        column: 4,
        end: { line: 3, column: 12 },
        pointer: '/x',
        says: 'has 6 characters, at most 3 are allowed',
        value: 'abcdef',
        limit: 3,
        mend: 'Shorten it by 3.',
      },
    ]);
    expect((await findings('{ kind: integer, max: 3, many: true }', '\n  - 1\n  - 9'))[0]).toMatchObject({
      pointer: '/x/1',
      line: 5,
      column: 5,
      value: 9,
      limit: 3,
    });
  });

  test('a number in quotes says what was meant', async () => {
    expect((await findings('{ kind: integer }', '"12"'))[0].mend).toBe('Remove the quotes: 12');
  });
});

describe('drafts are held to less [I3]', () => {
  test.each<[string, string, string | undefined]>([
    ['published', 'published', 'error'],
    ['published', 'draft', 'warning'],
    ['published', 'archived', 'warning'],
    ['true', 'draft', 'error'],
  ])('required: %s in an entry that is %s', async (required, status, severity) => {
    expect(
      (await findings(`{ kind: text, required: ${required} }`, '', status)).map(
        (one: { severity: string }) => one.severity,
      ),
    ).toEqual([severity]);
  });

  test('an entry that says no status counts as published', async () => {
    const folder = workspace({
      'model/types/light.yaml': type('{ kind: text, required: published }'),
      'content/light/a.yaml': 'name: A\n',
    });
    expect((await result(folder, ['check'])).findings[0]).toMatchObject({
      finding: 'required-missing',
      severity: 'error',
    });
  });
});

describe('entries together [E1, E5, C2]', () => {
  test('unique values, slugs without being asked [C3], two entries with one id', async () => {
    const folder = workspace({
      'model/types/light.yaml':
        'type: light\nfields:\n  name: { kind: text, unique: true }\n  slug: { kind: slug, from: name }\n',
      'content/light/a.yaml': 'name: A\nslug: a\n',
      'content/light/b.yaml': 'name: A\nslug: a\n',
      'content/light/more/b.md': '---\nname: B\n---\n',
    });
    const found = (await result(folder, ['check'])).findings.map(({ finding, file, line }: Record<string, unknown>) => [
      finding,
      file,
      line,
    ]);
    expect(found).toEqual([
      ['not-unique', 'content/light/b.yaml', 1],
      ['not-unique', 'content/light/b.yaml', 2],
      ['duplicate-entry', 'content/light/more/b.md', 2],
    ]);
  });

  test('a published entry that points at a draft, and a target that is nearly there', async () => {
    const folder = coast();
    edit(folder, 'content/tour/harbour-lights.md', '- heron-mole', '- heron-mol');
    edit(folder, 'content/keeper/elin-marsh.yaml', 'published', 'draft');
    const { findings: found } = await result(folder, ['check']);
    expect(found).toContainEqual(
      expect.objectContaining({
        finding: 'dangling-reference',
        severity: 'error',
        pointer: '/lights/1',
        line: 8,
        mend: 'Did you mean lighthouse/heron-mole?',
      }),
    );
    expect(found).toContainEqual(
      expect.objectContaining({ finding: 'target-not-published', severity: 'warning', entry: 'lighthouse/heron-mole' }),
    );
  });

  test('the summary counts by kind of finding, errors first', async () => {
    const folder = coast();
    edit(folder, 'content/keeper/ada-rook.yaml', 'born: 1839-02-11', 'born: then');
    expect(
      (await result(folder, ['check'])).summary.map(({ finding, count }: Record<string, unknown>) => [finding, count]),
    ).toEqual([
      ['not-a-date', 1],
      ['required-missing', 4],
      ['target-not-published', 1],
    ]);
  });
});

describe('entries that cannot be what they should be [M2]', () => {
  const model = { 'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n' };
  const only = async (files: Record<string, string | Buffer>) => {
    const { findings: found, code } = await result(workspace({ ...model, ...files }), ['check']);
    expect(found).toHaveLength(1);
    expect(code).toBe(1);
    return found[0];
  };

  test.each<[string, string, string | Buffer, Record<string, unknown>]>([
    [
      'an unknown type',
      'content/ligth/a.yaml',
      'name: A\n',
      { finding: 'unknown-type', mend: 'Did you mean `light`?' },
    ],
    ['no type at all', 'content/a.yaml', 'name: A\n', { finding: 'unknown-type' }],
    [
      'a key that is no field',
      'content/light/a.yaml',
      'nam: A\n',
      { finding: 'unknown-field', line: 1, mend: 'Did you mean `name`?' },
    ],
    [
      'a key of the language it is written in',
      'content/light/a.yaml',
      '__proto__: { x: 1 }\n',
      { finding: 'unknown-field', pointer: '/__proto__' },
    ],
    ['the same in JSON', 'content/light/a.json', '{ "__proto__": 1 }\n', { finding: 'unknown-field' }],
    ['an inherited name', 'content/light/a.yaml', 'constructor: x\n', { finding: 'unknown-field' }],
    ['a malformed id', 'content/light/a.yaml', 'id: " Big"\nname: A\n', { finding: 'malformed-identifier' }],
    [
      'an unknown status',
      'content/light/a.yaml',
      'status: publishd\n',
      { finding: 'unknown-status', mend: expect.stringContaining('Did you mean `published`?') },
    ],
    ['a malformed time', 'content/light/a.yaml', 'publicFrom: tomorrow\n', { finding: 'malformed-time' }],
    ['a day that is not', 'content/light/a.yaml', 'created: 2024-02-31\n', { finding: 'malformed-time' }],
    [
      'an offset that is not',
      'content/light/a.yaml',
      'created: 2024-02-01T10:00:00+25:00\n',
      { finding: 'malformed-time' },
    ],
    ['an empty file', 'content/light/a.yaml', '', { finding: 'unreadable-file', says: 'is empty' }],
    ['YAML that does not parse', 'content/light/a.yaml', 'name: "A\nx: 1\n', { finding: 'unreadable-file', line: 3 }],
    ['a key twice', 'content/light/a.yaml', 'name: A\nname: B\n', { finding: 'unreadable-file', line: 2 }],
    ['a list instead of keys', 'content/light/a.yaml', '- A\n', { finding: 'unreadable-file', says: 'holds no keys' }],
    [
      'JSON with a comma too many',
      'content/light/a.json',
      '{ "name": "A", }\n',
      { finding: 'unreadable-file', says: 'is not JSON', line: 1, column: 16 },
    ],
    ['front matter that is never closed', 'content/light/a.md', '---\nname: A\n', { finding: 'unreadable-file' }],
    [
      'front matter that does not parse',
      'content/light/a.md',
      '---\nname: [A\n---\n',
      { finding: 'unreadable-file', line: 3 },
    ],
    ['text that no field takes', 'content/light/a.md', '---\nname: A\n---\n\nText\n', { finding: 'body-not-expected' }],
    [
      'invalid UTF-8',
      'content/light/a.yaml',
      Buffer.from('name: A\n# \u00e9\nx: \xff\n', 'latin1'),
      { finding: 'unreadable-file', says: 'is not in UTF-8', line: 2, column: 3 },
    ],
    [
      'an alias bomb',
      'content/light/a.yaml',
      bomb(),
      { finding: 'unreadable-file', says: expect.stringContaining('aliases') },
    ],
    ['an abyss of brackets', 'content/light/a.yaml', `name: ${'['.repeat(50_000)}\n`, { finding: 'unreadable-file' }],
    [
      'a tag that would run code',
      'content/light/a.yaml',
      'name: !!js/function "function () {}"\n',
      { finding: 'unreadable-file' },
    ],
  ])('%s', async (_, file, content, expected) => {
    expect(await only({ [file]: content })).toMatchObject(expected);
  });

  function bomb(): string {
    const lines = ['a0: &a0 [x, x, x, x, x, x, x, x, x]'];
    for (let i = 1; i < 9; i += 1)
      lines.push(
        `a${i}: &a${i} [${Array(9)
          .fill(`*a${i - 1}`)
          .join(', ')}]`,
      );
    return `${lines.join('\n')}\n`;
  }

  test('a byte-order mark and Windows line ends are fine', async () => {
    const folder = workspace({
      'model/types/light.yaml':
        '\uFEFFtype: light\r\nfields:\r\n  name: { kind: text, max: 3 }\r\n  text: { kind: markdown, body: true }\r\n',
      'content/light/a.md': '\uFEFF---\r\nname: A\r\n---\r\n\r\nText\r\n',
      'content/light/b.yaml': '\uFEFFname: long\r\n',
      'content/light/c.json': '\uFEFF{ "name": "C" }\r\n',
    });
    expect((await result(folder, ['check'])).findings).toEqual([
      expect.objectContaining({ finding: 'too-long', entry: 'light/b', line: 1 }),
    ]);
  });

  test('a line of many megabytes is read, a file of many more is refused', async () => {
    const long = `name: ${'x'.repeat(9_000_000)}\n`;
    expect(await only({ 'content/light/a.yaml': `${long}nam: y\n` })).toMatchObject({ finding: 'unknown-field' });
    expect(await only({ 'content/light/a.yaml': Buffer.alloc(100_000_000, 'x') })).toMatchObject({
      finding: 'unreadable-file',
      says: expect.stringContaining('96 megabytes'),
    });
  });

  test('links are never followed, wherever they lead', async () => {
    const outside = temporary();
    write(outside, { 'secret.yaml': 'name: secret\n' });
    const folder = workspace({ ...model, 'content/light/a.yaml': 'name: A\n' });
    fs.symlinkSync(path.join(outside, 'secret.yaml'), path.join(folder, 'content/light/b.yaml'));
    fs.symlinkSync(outside, path.join(folder, 'content/light/all'));
    fs.symlinkSync('..', path.join(folder, 'content/light/round.yaml'));
    fs.symlinkSync('nowhere', path.join(folder, 'content/light/gone.yaml'));
    const { findings: found, entries } = await result(folder, ['check']);
    expect(entries).toBe(1);
    expect(found.map(({ finding }: Record<string, unknown>) => finding)).toEqual(Array(4).fill('symbolic-link'));
    expect((await lumbrik(folder, ['check'])).out).not.toContain('name: secret');
  });

  test('a file and a folder that may not be read', async () => {
    const folder = workspace({ ...model, 'content/light/a.yaml': 'name: A\n' });
    fs.chmodSync(folder, 0o755);
    fs.chmodSync(path.join(folder, 'content/light/a.yaml'), 0);
    const asNobody = process.getuid?.() === 0 ? { uid: 65534 } : {};
    const { code, out } = started(folder, ['check', '--format', 'json'], asNobody);
    expect(JSON.parse(out).findings[0]).toMatchObject({
      finding: 'unreadable-file',
      says: 'may not be read or written',
    });
    expect(code).toBe(1);
  });
});
