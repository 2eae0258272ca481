import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parse, stringify } from 'yaml';
import {
  at,
  changedAt,
  isObject,
  type Json,
  type JsonObject,
  renameKey,
  withKey,
  withoutKey,
} from '../src/core/plain/json.ts';
import { editByPieces, editText } from '../src/core/source/edit.ts';
import { editOneLine, isOneLine } from '../src/core/source/editOneLine.ts';
import type { Edit } from '../src/core/source/editOperation.ts';
import { proseOf, splitFrontMatter, withProse } from '../src/core/source/frontMatter.ts';
import { inOneLine } from '../src/core/source/writeValue.ts';

const yaml = (text: string, ...edits: readonly Edit[]): string => editText(text, edits, 'yaml');
const json = (text: string, ...edits: readonly Edit[]): string => editText(text, edits, 'json');

const light = `# the first light
name: "Skerry Point"   # as on the chart
height: 38.5   # measured again in 2019

keepers: # in order
  - ada-rook   # the first
  - 'tobias-fenn'
# below stands the region
region: skerries
`;

describe('an edit of YAML keeps what it does not concern [A1, H5]', () => {
  test.each<[string, Edit, string, string]>([
    [
      'a key is renamed in place',
      { do: 'rename', key: 'height', to: 'focalHeight' },
      'height: 38.5',
      'focalHeight: 38.5',
    ],
    [
      'a number is replaced, its comment stays',
      { do: 'set', path: ['height'], value: 40 },
      'height: 38.5 ',
      'height: 40 ',
    ],
    ['quotes stay as they were', { do: 'set', path: ['name'], value: 'Holm Head' }, '"Skerry Point"', '"Holm Head"'],
    [
      'an item of a list is replaced alone',
      { do: 'set', path: ['keepers', 1], value: 'greta-vane' },
      "'tobias-fenn'",
      "'greta-vane'",
    ],
    [
      'a plain text is quoted where it must be',
      { do: 'set', path: ['region'], value: 'yes: no' },
      'region: skerries',
      'region: "yes: no"',
    ],
    [
      'a text that looks like a number is quoted',
      { do: 'set', path: ['region'], value: '12' },
      'region: skerries',
      'region: "12"',
    ],
    [
      'a key is removed with its line and nothing else',
      { do: 'remove', key: 'height' },
      'height: 38.5   # measured again in 2019\n',
      '',
    ],
    [
      'a list is removed, the comment of the next key stays',
      { do: 'remove', key: 'keepers' },
      "keepers: # in order\n  - ada-rook   # the first\n  - 'tobias-fenn'\n",
      '',
    ],
    [
      'a new key finds its place',
      { do: 'set', path: ['range'], value: 21, after: ['nothing', 'height'] },
      'in 2019\n',
      'in 2019\nrange: 21\n',
    ],
    [
      'a new key goes to the end',
      { do: 'set', path: ['open'], value: true },
      'region: skerries\n',
      'region: skerries\nopen: true\n',
    ],
    [
      'a new list is written in lines',
      { do: 'set', path: ['tags'], value: ['a', 'b'] },
      'region: skerries\n',
      'region: skerries\ntags:\n  - a\n  - b\n',
    ],
  ])('%s', (_, edit, from, to) => {
    expect(yaml(light, edit)).toBe(light.replace(from, to));
  });

  test('folded and literal blocks keep their style', () => {
    const text = 'summary: >-\n  A light on a rock that the sea\n  covers twice a year.\nname: x\n';
    expect(
      yaml(text, {
        do: 'set',
        path: ['summary'],
        value: 'A light that no one ever kept but for the gannets and the sea.',
      }),
    ).toBe('summary: >-\n  A light that no one ever kept but for\n  the gannets and the sea.\nname: x\n');
    const literal = 'note: |\n  one\n  two\nname: x\n';
    expect(yaml(literal, { do: 'set', path: ['note'], value: 'one\nthree\n' })).toBe(
      'note: |\n  one\n  three\nname: x\n',
    );
  });

  test('Windows line ends and a byte-order mark stay', () => {
    expect(yaml('\uFEFFname: x\r\nregion: y\r\n', { do: 'set', path: ['tags'], value: ['a'], after: ['name'] })).toBe(
      '\uFEFFname: x\r\ntags:\r\n  - a\r\nregion: y\r\n',
    );
  });

  test('a file without an end of line, an empty one, and one in brackets', () => {
    expect(yaml('name: x', { do: 'set', path: ['open'], value: true })).toBe('name: x\nopen: true\n');
    expect(yaml('', { do: 'set', path: ['open'], value: true })).toBe('open: true\n');
    expect(yaml('# only a comment\n', { do: 'set', path: ['open'], value: true })).toBe(
      '# only a comment\nopen: true\n',
    );
    expect(
      yaml(
        '{ name: x, height: 3 }\n',
        { do: 'rename', key: 'height', to: 'focalHeight' },
        { do: 'remove', key: 'name' },
      ),
    ).toBe('{ focalHeight: 3 }\n');
    expect(yaml('{ name: x }\n', { do: 'set', path: ['open'], value: 'a, b' })).toBe('{ name: x, open: "a, b" }\n');
  });

  test('a value that is shared through an alias is not edited behind its back', () => {
    expect(() => yaml('a: &x one\nb: *x\n', { do: 'remove', key: 'a' })).toThrow(/cannot be read|would not read back/u);
  });
});

describe('an edit of JSON keeps its layout', () => {
  const departure = '{\n  "tour": "harbour-lights",\n  "places": 20,\n  "guides": ["elin-marsh"]\n}\n';
  test.each<[string, Edit, string, string]>([
    ['rename', { do: 'rename', key: 'places', to: 'seats' }, '"places"', '"seats"'],
    ['set', { do: 'set', path: ['places'], value: 12 }, '20', '12'],
    ['set in a list', { do: 'set', path: ['guides', 0], value: 'ida-fell' }, 'elin-marsh', 'ida-fell'],
    ['remove', { do: 'remove', key: 'places' }, ',\n  "places": 20', ''],
    [
      'add',
      { do: 'set', path: ['note'], value: 'a "b"', after: ['tour'] },
      'lights",\n',
      'lights",\n  "note": "a \\"b\\"",\n',
    ],
    [
      'add a list',
      { do: 'set', path: ['days'], value: ['x'] },
      '"elin-marsh"]',
      '"elin-marsh"],\n  "days": [\n    "x"\n  ]',
    ],
  ])('%s', (_, edit, from, to) => {
    const edited = json(departure, edit);
    expect(edited).toBe(departure.replace(from, to));
    JSON.parse(edited);
  });

  const big = { a: 'one two', b: [1, { c: 'x, y: {z}' }], d: {}, e: [] };
  test.each<[string, Edit, string]>([
    [
      '{"id":"a","o":1}',
      { do: 'set', path: ['o'], value: big },
      '{"id":"a","o":{"a":"one two","b":[1,{"c":"x, y: {z}"}],"d":{},"e":[]}}',
    ],
    [
      '{"id": "a", "o": 1}',
      { do: 'set', path: ['n'], value: big, after: ['id'] },
      '{"id": "a", "n": {"a": "one two", "b": [1, {"c": "x, y: {z}"}], "d": {}, "e": []}, "o": 1}',
    ],
    ['{ "id": "a" }', { do: 'set', path: ['n'], value: { b: 1 } }, '{ "id": "a", "n": { "b": 1 } }'],
    ['{"id":"a","o":{}}', { do: 'set', path: ['o', 'b'], value: [1, 2] }, '{"id":"a","o":{"b":[1,2]}}'],
    ['{"a\\"b":{"c":[]}}', { do: 'append', path: ['a"b', 'c'], items: [{ d: 1 }] }, '{"a\\"b":{"c":[{"d":1}]}}'],
    ['{"a":{}}', { do: 'insert', path: ['a'], key: 'b', value: { c: [] } }, '{"a":{"b":{"c":[]}}}'],
  ])('what stands on one line stays there: %s', (before, edit, after) => {
    expect(json(before, edit)).toBe(after);
  });

  test('an empty object', () => {
    expect(json('{}\n', { do: 'set', path: ['a'], value: 1 })).toBe('{\n  "a": 1\n}\n');
  });
});

describe('any edit of any text reads back as it was meant', () => {
  const text = fc.oneof(
    fc.string({ maxLength: 30 }),
    fc.constantFrom(
      'a: b',
      '- x',
      '# y',
      '"',
      "'",
      'null',
      '~',
      '1e3',
      '0x1F',
      'line\nbreak',
      ' lead',
      'trail ',
      '',
      '{',
      '[a',
      '&x',
      '*y',
      '!t',
      '%d',
      '@',
      '`',
      '|',
      '>',
      '2026-01-01',
      '\u2028',
      'é',
      '👩‍🚀',
    ),
  );
  const value = fc.oneof(text, fc.integer(), fc.boolean(), fc.constant(1.5), fc.array(text, { maxLength: 3 }));
  const key = fc.constantFrom('name', 'height', 'region', 'keepers', 'summary');
  const edit: fc.Arbitrary<Edit> = fc.oneof(
    fc.record({
      do: fc.constant('set' as const),
      path: key.map((name) => [name]),
      value,
      after: fc.array(key, { maxLength: 2 }),
    }),
    fc.record({ do: fc.constant('remove' as const), key }),
    fc.record({
      do: fc.constant('append' as const),
      path: key.map((name) => [name]),
      items: fc.array(value, { minLength: 1, maxLength: 3 }),
    }),
    fc.record({ do: fc.constant('insert' as const), path: key.map((name) => [name]), key, value }),
  );
  const data = fc.dictionary(key, value, { noNullPrototype: true });

  const style = fc.record({ isJson: fc.boolean(), isOneLine: fc.boolean() });

  test('written as YAML or as JSON', () => {
    fc.assert(
      fc.property(data, fc.array(edit, { maxLength: 4 }), style, (before, edits, { isJson, isOneLine }) => {
        const format = isJson ? 'json' : 'yaml';
        const start = isJson ? `${JSON.stringify(before, undefined, isOneLine ? 0 : 2)}\n` : stringify(before);
        let now: Record<string, unknown> = { ...before };
        let written = start;
        for (const one of edits) {
          if (one.do === 'remove' && !Object.hasOwn(now, one.key)) continue;
          if (one.do === 'remove') now = Object.fromEntries(Object.entries(now).filter(([name]) => name !== one.key));
          if (one.do === 'set') now = { ...now, [String(one.path[0])]: one.value };
          const old = 'path' in one ? now[String(one.path[0])] : undefined;
          if (one.do === 'append') {
            if (old !== undefined && !Array.isArray(old)) continue;
            now = { ...now, [String(one.path[0])]: [...(old ?? []), ...one.items] };
          }
          if (one.do === 'insert') {
            const isGroup = typeof old === 'object' && !Array.isArray(old);
            if (old !== undefined && (!isGroup || Object.hasOwn(old ?? {}, one.key))) continue;
            now = { ...now, [String(one.path[0])]: { ...(old ?? {}), [one.key]: one.value } };
          }
          // The edit itself refuses to give back a text that reads as anything else.
          written = editText(written, [one], format);
        }
        if (isJson) expect(JSON.parse(written)).toEqual(now);
        const isNeverEmpty = !edits.some(({ do: what }) => what === 'remove') && Object.keys(before).length > 0;
        if (isJson && isOneLine && isNeverEmpty) expect(written.trimEnd()).not.toContain('\n');
      }),
      { numRuns: 1500 },
    );
  });
});

test('an item of a list gives way to any other, whatever form either has', () => {
  const text = fc.constantFrom('x', 'two words', 'ü: "q"', '- a', '# b', 'two\nlines\n', '');
  const one: fc.Arbitrary<Json> = fc.oneof(
    text,
    fc.integer(),
    fc.array(text, { maxLength: 2 }),
    fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.oneof(text, fc.array(text, { maxLength: 2 })), {
      noNullPrototype: true,
    }),
  );
  const style = fc.constantFrom('block', 'flow', 'json');
  fc.assert(
    fc.property(
      fc.array(one, { minLength: 1, maxLength: 3 }),
      fc.nat({ max: 2 }),
      one,
      style,
      (items, at, item, how) => {
        const index = at % items.length;
        const before = { first: 1, list: items, last: 'z' };
        const start =
          how === 'json'
            ? JSON.stringify(before, undefined, 2)
            : stringify(before, { collectionStyle: how as 'block' });
        const written = editText(
          start,
          [{ do: 'set', path: ['list', index], value: item }],
          how === 'json' ? 'json' : 'yaml',
        );
        expect(parse(written)).toEqual({ ...before, list: items.with(index, item) });
      },
    ),
    { numRuns: 1500 },
  );
});

test('JSON on one line is edited at once as it is edited piece by piece', () => {
  const key = fc.constantFrom('a', 'b', 'c', 'd', '1', 'é "x"');
  const value: fc.Arbitrary<Json> = fc.letrec<{ value: Json }>((tie) => ({
    value: fc.oneof(
      { maxDepth: 3 },
      fc.constantFrom<Json>('x', 'ü "q" \\ \n', '', 0, 1.5, -2, true, null, []),
      fc.array(tie('value'), { maxLength: 3 }),
      fc.dictionary(key, tie('value'), { maxKeys: 4, noNullPrototype: true }),
    ),
  })).value;
  const path = fc.array(fc.oneof(key, fc.nat({ max: 2 })), { minLength: 1, maxLength: 3 });
  const edit: fc.Arbitrary<Edit> = fc.oneof(
    fc.record({ do: fc.constant('set' as const), path, value, after: fc.array(key, { maxLength: 2 }) }),
    fc.record({ do: fc.constant('remove' as const), inside: fc.array(key, { maxLength: 2 }), key }),
    fc.record({ do: fc.constant('rename' as const), inside: fc.array(key, { maxLength: 2 }), key, to: key }),
    fc.record({
      do: fc.constant('carry' as const),
      inside: fc.array(fc.oneof(key, fc.nat({ max: 2 })), { maxLength: 2 }),
      from: fc.array(key, { minLength: 1, maxLength: 2 }),
      to: fc.array(key, { minLength: 1, maxLength: 2 }),
      after: fc.array(key, { maxLength: 2 }),
    }),
  );
  const data = fc.dictionary(key, value, { maxKeys: 5, noNullPrototype: true });
  const styles = [
    (one: Json) => JSON.stringify(one),
    (one: Json) => inOneLine(one, { gap: ' ', padding: '' }),
    (one: Json) => inOneLine(one, { gap: ' ', padding: ' ' }),
    (one: Json) => `${JSON.stringify(one)}\n`,
  ];
  /** The edits that find what they are about, and what they leave. */
  const applied = (before: Json, edits: readonly Edit[]) =>
    edits.reduce<{ readonly after: Json; readonly done: readonly Edit[] }>(
      ({ after, done }, one) => {
        const inside = 'inside' in one ? (one.inside ?? []) : [];
        const holder = one.do === 'set' ? at(after, one.path.slice(0, -1)) : at(after, inside);
        const last = one.do === 'set' ? one.path.at(-1) : undefined;
        const change = (how: (keys: JsonObject) => JsonObject) => ({
          after: changedAt(after, one.do === 'set' ? one.path.slice(0, -1) : inside, (keys) => how(keys as JsonObject)),
          done: [...done, one],
        });
        if (!isObject(holder ?? null)) return { after, done };
        const keys = holder as JsonObject;
        if (one.do === 'set' && typeof last === 'string') return change((all) => withKey(all, last, one.value));
        if (one.do === 'remove' && one.key in keys) return change((all) => withoutKey(all, one.key));
        if (one.do === 'rename' && one.key in keys && !(one.to in keys))
          return change((all) => renameKey(all, one.key, one.to));
        return { after, done };
      },
      { after: before, done: [] },
    );
  let atOnce = 0;
  let surely = 0;
  fc.assert(
    fc.property(
      data,
      fc.array(edit, { minLength: 1, maxLength: 4 }),
      fc.constantFrom(...styles),
      (before, edits, style) => {
        const text = style(before);
        // What is known to be possible is, and says what is meant.
        const { after, done } = applied(before, edits);
        if (isOneLine(text, before)) {
          surely += done.length;
          expect(JSON.parse(json(text, ...done))).toEqual(after);
        }
        const edited = editOneLine(text, edits);
        if (edited === undefined) return;
        atOnce += 1;
        expect(edited).toBe(editByPieces(text, edits, 'json'));
      },
    ),
    { numRuns: Number(process.env.RUNS ?? 5000) },
  );
  expect(Math.min(atOnce, surely)).toBeGreaterThan(100);
});

describe('the first key of an item of a list goes, and the next stands behind its hyphen [H5]', () => {
  test.each<[string, string, string]>([
    ['a line each', 's:\n  - a: 1 # one\n    b: 2\n  - a: 3\n', 's:\n  - b: 2\n  - a: 3\n'],
    ['what is said of the next stays', 's:\n- a: 1\n  # of b\n  b: 2 # two\n', 's:\n- # of b\n  b: 2 # two\n'],
    ['a blank line between', 's:\n  - a: 1\n\n    b: 2\n', 's:\n  - b: 2\n'],
    ['text over several lines', 's:\n  - a: |\n      x\n\n      y\n    b: 2\n', 's:\n  - b: 2\n'],
    ['Windows', 's:\r\n  - a: 1\r\n    b: 2\r\n', 's:\r\n  - b: 2\r\n'],
    ['the only one', 's:\n  - a: 1\n  - a: 3\n', 's:\n  - {}\n  - a: 3\n'],
    ['the only one at the end', 's:\n  - a: 1', 's:\n  - {}\n'],
    ['items in items', 's:\n  - - a: 1\n      b: 2\n', 's:\n  - - b: 2\n'],
  ])('%s', (name, text, edited) => {
    const inside = name === 'items in items' ? ['s', 0, 0] : ['s', 0];
    expect(editText(text, [{ do: 'remove', inside, key: 'a' }], 'yaml')).toBe(edited);
  });
});

describe('an addition to a file of the model keeps what stands there [A1]', () => {
  const added = (text: string, ...edits: readonly Edit[]) => editText(text, edits, 'yaml');

  test.each<[string, string, Edit, string]>([
    [
      'a key at the end of a group, before what follows',
      'fields:\n  a: { kind: text } # first\n\nrules: []\n',
      { do: 'insert', path: ['fields'], key: 'b', value: { kind: 'integer' } },
      'fields:\n  a: { kind: text } # first\n  b: { kind: integer }\n\nrules: []\n',
    ],
    [
      'a key of a group that is empty',
      'type: a\nfields:\ntitled: x\n',
      { do: 'insert', path: ['fields'], key: 'b', value: 1 },
      'type: a\nfields:\n  b: 1\ntitled: x\n',
    ],
    [
      'a key of a group in brackets',
      'fields: { a: 1 }\n',
      { do: 'insert', path: ['fields'], key: 'b', value: { kind: 'text' } },
      'fields: { a: 1, b: { kind: text } }\n',
    ],
    [
      'items of a list in lines',
      'terms:\n  # north to south\n  - a # first\nx: 1\n',
      { do: 'append', path: ['terms'], items: ['b', { term: 'c', label: 'See' }] },
      'terms:\n  # north to south\n  - a # first\n  - b\n  - { term: c, label: See }\nx: 1\n',
    ],
    [
      'items of a list in brackets',
      'terms: [a]\n',
      { do: 'append', path: ['terms'], items: ['b, c'] },
      'terms: [a, "b, c"]\n',
    ],
    ['items of no list', 'x: 1', { do: 'append', path: ['terms'], items: ['b'] }, 'x: 1\nterms:\n  - b\n'],
  ])('%s', (_name, before, edit, after) => {
    expect(added(before, edit)).toBe(after);
  });

  test('what is no group or no list is left alone', () => {
    expect(() => added('fields: 1\n', { do: 'insert', path: ['fields'], key: 'b', value: 1 })).toThrow('no group');
    expect(() => added('terms: 1\n', { do: 'append', path: ['terms'], items: [1] })).toThrow('no list');
  });
});

describe('front matter', () => {
  test('is split without losing a letter', () => {
    fc.assert(
      fc.property(fc.constantFrom('', '\uFEFF'), fc.constantFrom('\n', '\r\n'), fc.string(), (mark, eol, body) => {
        const text = `${mark}---${eol}name: x${eol}---${eol}${body}`;
        const parts = splitFrontMatter(text);
        expect(parts && parts.opening + parts.yaml + parts.closing + parts.body).toBe(text);
      }),
    );
  });

  test('the prose is replaced, the lines around it stay', () => {
    expect(withProse('\n\nOld text.\n\n', 'New text.')).toBe('\n\nNew text.\n\n');
    expect(withProse('\r\nOld\r\n', 'New\ntext')).toBe('\r\nNew\r\ntext\r\n');
    expect(proseOf('\n  indented code\n')).toBe('  indented code');
    expect(proseOf(' \n\n')).toBeUndefined();
  });
});
