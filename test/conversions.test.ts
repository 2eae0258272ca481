import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { checkField } from '../src/core/check/field.ts';
import { kinds } from '../src/core/kinds/index.ts';
import { asks, converter } from '../src/core/model/convertValue.ts';
import { link, linkField, type Model } from '../src/core/model/link.ts';
import { readField } from '../src/core/model/readField.ts';
import type { Json } from '../src/core/plain/json.ts';
import { loadConversion } from '../src/core/text/conversion.ts';

beforeAll(loadConversion);

const model: Model = link({
  languages: ['en', 'fr'],
  types: { lighthouse: { fields: {} }, keeper: { fields: {} } },
  taxonomies: {
    region: {
      terms: { skerries: { label: 'The Skerries' }, north: {} },
      tree: [{ term: 'north', terms: [{ term: 'skerries' }] }],
    },
  },
});

/** A field of a kind with the options of its own example. */
function fieldOf(kind: string, more: Record<string, Json> = {}) {
  // Numbers that are listed are a limit, which what is carried may break.
  const { values: _, ...options } = kinds.get(kind)?.example.options ?? {};
  const { definition, mistakes } = (() => {
    const read = readField({ kind, ...options, ...more });
    return { definition: read.field, mistakes: read.mistakes };
  })();
  const field = definition && linkField({ type: 'lighthouse' }, 'x', definition);
  if (!field) throw new Error(`${kind}: ${JSON.stringify(mistakes)}`);
  return field;
}

const complaints = (field: ReturnType<typeof fieldOf>, value: Json | undefined): readonly string[] => {
  const found: string[] = [];
  checkField(field, model.context)(value, 'published', (_path, { message }) => found.push(message.split(':')[0] ?? ''));
  return found;
};

const shapes = new Set([
  'wrong-shape',
  'number-in-quotes',
  'not-whole',
  'not-a-date',
  'not-a-time',
  'not-a-date-time',
  'not-a-duration',
  'not-a-choice',
  'malformed-slug',
  'not-an-email',
  'not-a-web-address',
  'not-a-colour',
  'not-a-point',
  'unknown-term',
  'malformed-reference',
  'not-rich-text',
]);

describe('carrying a value to another kind [H2]', () => {
  const pairs = [...kinds.values()].flatMap((to) => Object.keys(to.from).map((from) => [from, to.name] as const));

  test.each(pairs)('from %s to %s gives a value of that kind, or says why not', (from, to) => {
    expect(kinds.has(from)).toBe(true);
    const [was, is] = [fieldOf(from), fieldOf(to)];
    const value = kinds.get(from)?.example.value ?? null;
    const { value: carried, lost } = converter(was, is, model.context)(value);
    if (carried === undefined) expect(lost).toEqual([{ item: value, why: expect.stringMatching(/\S/u) }]);
    // What stands under the keys of a map is looked at when the step is taken.
    else if (!is.kind.maps) expect(complaints(is, carried).filter((finding) => shapes.has(finding))).toEqual([]);
  });

  test('from any kind to any other loses nothing in silence', () => {
    const kind = fc.constantFrom(...kinds.keys());
    const value = fc.oneof(
      fc.string({ maxLength: 12 }),
      fc.integer(),
      fc.boolean(),
      fc.constantFrom<Json>(
        '1:30',
        'PT1H',
        '2026-03-01',
        'The Skerries',
        'north',
        'easy',
        '#fff',
        'a@b.example',
        'https://a.example',
      ),
    );
    const shape = fc.record({ many: fc.boolean(), localized: fc.boolean() });
    fc.assert(
      fc.property(
        kind,
        kind,
        shape,
        shape,
        fc.array(value, { minLength: 1, maxLength: 3 }),
        (from, to, was, is, items) => {
          const options = ({ many, localized }: typeof was, name: string): Record<string, Json> => ({
            ...(many && name !== 'json' ? { many: true } : {}),
            ...(localized ? { localized: true } : {}),
          });
          const [source, target] = [fieldOf(from, options(was, from)), fieldOf(to, options(is, to))];
          const inOneLanguage: Json = source.common.many ? items : (items[0] ?? '');
          const whole: Json = source.common.localized ? { en: inOneLanguage, fr: inOneLanguage } : inOneLanguage;
          if (inOneLanguage === '') return;
          const { value: carried, lost } = converter(source, target, model.context)(whole);
          const before = (source.common.localized ? 2 : 1) * (source.common.many ? items.length : 1);
          const size = (one: Json | undefined): number => {
            if (one === undefined) return 0;
            return Array.isArray(one) && target.common.many ? one.length : 1;
          };
          const after =
            target.common.localized && carried !== undefined
              ? Object.values(carried as Record<string, Json>).reduce<number>((sum, one) => sum + size(one), 0)
              : size(carried);
          const gone = lost.reduce((sum, { item }) => sum + (Array.isArray(item) ? item.length : 1), 0);
          expect(after + gone).toBe(before);
        },
      ),
      { numRuns: 2000 },
    );
  });

  /** A field, `is` where it is an object of such that holds it. */
  const text = { kind: 'text' };
  const partly: readonly [string, Record<string, Json>, Record<string, Json>, Json, Json, readonly string[]][] = [
    ['one to one', text, {}, 'A', { p: 'A' }, []],
    ['one to many', text, { many: true }, 'A', [{ p: 'A' }], []],
    ['one to one or many', text, { many: { orOne: true } }, 'A', { p: 'A' }, []],
    ['each of many', { ...text, many: true }, { many: true }, ['A', 'B'], [{ p: 'A' }, { p: 'B' }], []],
    ['the first of many', { ...text, many: true }, {}, ['A', 'B'], { p: 'A' }, ['B']],
    [
      'each language, in all of them',
      { ...text, localized: true },
      { many: true },
      { en: 'A', fr: 'B' },
      [{ p: 'A' }],
      ['B'],
    ],
  ];
  test.each(partly)('into a field inside objects, and back: %s', (_what, was, is, value, into, lost) => {
    const part = fieldOf('object', { ...is, fields: { p: text, q: { kind: 'integer' } } });
    const source = fieldOf('text', was);
    const there = converter(source, part, model.context, { inside: 'p' })(value);
    expect([there.value, there.lost.map(({ item }) => item)]).toEqual([into, lost]);
    const back = converter(part, source, model.context, { inside: 'p' })(into);
    expect(back.lost).toEqual([]);
    if (lost.length === 0) expect(back.value).toEqual(value);
  });

  test('a field inside objects is converted on the way, and what stands beside it is named', () => {
    const part = fieldOf('object', {
      many: true,
      fields: { at: { kind: 'date' }, n: { kind: 'text', localized: true } },
    });
    const there = converter(fieldOf('text', { many: true }), part, model.context, { inside: 'at' });
    expect(there(['2026-03-01', 'soon'])).toEqual({
      value: [{ at: '2026-03-01' }],
      lost: [{ item: 'soon', why: expect.stringMatching(/\S/u) }],
    });
    const items = [{ n: { en: 'A', fr: 'B' } }, { at: '2026-03-01' }, { at: '2026-04-01', n: { en: 'C' } }];
    expect(
      converter(part, fieldOf('text', { many: true, localized: true }), model.context, { inside: 'at' })(items),
    ).toEqual({
      value: { en: ['2026-03-01', '2026-04-01'] },
      lost: [items[0], items[2]].map((item) => ({ item, why: 'only `at` of it is kept' })),
    });
    expect(
      converter(part, fieldOf('text', { localized: true }), model.context, { inside: 'n' })(items.slice(0, 1)),
    ).toEqual({
      value: { en: 'A', fr: 'B' },
      lost: [],
    });
  });

  test('a field asks for a value by its status', () => {
    const always = fieldOf('text', { required: true });
    const published = fieldOf('text', { required: 'published' });
    expect([
      asks(always, 'draft'),
      asks(published, 'draft'),
      asks(published, 'published'),
      asks(fieldOf('text'), 'published'),
    ]).toEqual([true, false, true, false]);
    expect([complaints(always, undefined), complaints(published, ''), complaints(fieldOf('text'), null)]).toEqual([
      ['required-missing'],
      ['required-missing'],
      [],
    ]);
  });

  test('every kind passes its own example and refuses what is of no shape it knows', () => {
    for (const { name, example } of kinds.values()) {
      expect([name, complaints(fieldOf(name), example.value)]).toEqual([name, []]);
      if (name !== 'json')
        expect([name, complaints(fieldOf(name), { no: { such: 'thing' } }).length > 0]).toEqual([name, true]);
      expect([name, kinds.get(name)?.gist(fieldOf(name).options)]).toEqual([name, expect.any(String)]);
    }
  });
});
