import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isName, isSlug, parseAddress } from '../src/core/definition/address.ts';
import { compareDurations, parseDuration, sayDuration, unitNames, writeDuration } from '../src/core/plain/duration.ts';
import {
  equal,
  isObject,
  type Json,
  type JsonObject,
  pointer,
  renameKey,
  withKey,
  withoutKey,
} from '../src/core/plain/json.ts';
import { nearest } from '../src/core/plain/nearest.ts';
import { slugify } from '../src/core/plain/slugify.ts';
import { count, groupThousands, humanize, list, pluralize, quote, range } from '../src/core/plain/words.ts';
import { lengthInWords } from '../src/core/writing/length.ts';
import { fromTo } from '../src/view/difference.ts';
import { clip, lookFor, sayPointer, table, wrap } from '../src/view/look.ts';

const look = {
  width: 100,
  paint: { strong: String, soft: String, name: String, good: String, warn: String, bad: String },
};

/** Optimal string alignment, as its definition says it: letters put in, left out, changed, or two neighbours swapped. */
function alignment(a: string, b: string, known = new Map<string, number>()): number {
  if (a === '' || b === '') return a.length + b.length;
  const key = `${a.length} ${b.length}`;
  const before = known.get(key);
  if (before !== undefined) return before;
  const ways = [
    alignment(a.slice(1), b.slice(1), known) + (a[0] === b[0] ? 0 : 1),
    alignment(a.slice(1), b, known) + 1,
    alignment(a, b.slice(1), known) + 1,
  ];
  if (a.length > 1 && a[0] === b[1] && a[1] === b[0]) ways.push(alignment(a.slice(2), b.slice(2), known) + 1);
  known.set(key, Math.min(...ways));
  return Math.min(...ways);
}

describe('the nearest word', () => {
  test.each<[string, readonly string[], string | undefined]>([
    ['requird', ['required', 'group'], 'required'],
    ['tpye', ['type', 'taxonomy'], 'type'],
    ['Type', ['type'], 'type'],
    ['x', ['required'], undefined],
    ['note', ['name', 'date'], undefined],
    ['lighthuose', ['lighthouse', 'keeper'], 'lighthouse'],
    ['', ['a'], 'a'],
  ])('to %j among %j', (meant, words, wanted) => {
    expect(nearest(meant, words)).toBe(wanted);
  });

  test('of a long series of numbers no one is meant more than the next; a word beside it is', () => {
    const ids = [...Array.from({ length: 200 }, (_, number) => `boat-${number}`), 'harbour'];
    expect(nearest('boat-1234', ids)).toBeUndefined();
    expect(nearest('Boat-x7', ids)).toBe('boat-7');
    expect(nearest('harbor', ids)).toBe('harbour');
  });

  test('is the one that comparing every pair finds, the first of several', () => {
    const word = fc.string({ unit: fc.constantFrom('a', 'b', 'C', '-'), maxLength: 9 });
    fc.assert(
      fc.property(word, fc.array(word, { maxLength: 30 }), (meant, words) => {
        const limit = meant.length < 5 ? 1 : Math.min(3, Math.ceil(meant.length / 3));
        const far = words.map((one) => alignment(meant.toLowerCase(), one.toLowerCase()));
        const least = Math.min(...far, 4);
        const wanted = least <= limit ? words[far.indexOf(least)] : undefined;
        expect(nearest(meant, words)).toBe(wanted);
        expect(nearest(meant, new Map(words.map((one) => [one, true])))).toBe(wanted);
      }),
      { numRuns: 2_000 },
    );
  });
});

describe('addresses: one grammar everywhere', () => {
  test.each<[string, unknown]>([
    ['lighthouse', { what: 'type', type: 'lighthouse' }],
    ['lighthouse.focalHeight', { what: 'field', type: 'lighthouse', field: 'focalHeight' }],
    ['lighthouse.character:fixed', { what: 'choice', type: 'lighthouse', field: 'character', choice: 'fixed' }],
    ['region:', { what: 'taxonomy', taxonomy: 'region' }],
    ['region:north/skerries', { what: 'term', taxonomy: 'region', term: 'skerries', above: ['north'] }],
    ['lighthouse/skerry-point', { what: 'entry', type: 'lighthouse', id: 'skerry-point' }],
    [
      'lighthouse/skerry-point#/keepers/0',
      { what: 'entry', type: 'lighthouse', id: 'skerry-point', pointer: '/keepers/0' },
    ],
    [
      'lighthouse.hours.season:summer',
      { what: 'choice', type: 'lighthouse', field: 'hours', inside: ['season'], choice: 'summer' },
    ],
    ['lighthouse.hours.opens', { what: 'inner', type: 'lighthouse', field: 'hours', inside: ['opens'] }],
  ])('%s', (text, address) => {
    expect(parseAddress(text)).toEqual(address);
  });

  test.each([
    '',
    'Lighthouse',
    'light house',
    'lighthouse.',
    '.name',
    'lighthouse/',
    '/x',
    'lighthouse/ Big',
    'lighthouse/"Big',
    'a.b.',
    'region:north/',
    'a/b/c',
    '__proto__',
    'a\n',
  ])('%j is none', (text) => {
    expect(parseAddress(text)).toBeUndefined();
  });

  test('whatever text a slug is made from, it is an identifier or nothing', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (text) => {
        const slug = slugify(text);
        expect(slug === '' || isSlug(slug)).toBe(true);
        expect(slugify(slug)).toBe(slug);
      }),
    );
    expect(slugify('Pointe des Écueils!')).toBe('pointe-des-ecueils');
    expect([isName('constructor'), isName('__proto__'), isSlug('a--b'), isSlug('a'.repeat(129))]).toEqual([
      true,
      false,
      false,
      false,
    ]);
  });
});

describe('data', () => {
  const json = fc.jsonValue() as fc.Arbitrary<Json>;
  const object = fc.dictionary(fc.oneof(fc.constant('__proto__'), fc.string({ maxLength: 4 })), json, {
    noNullPrototype: true,
  }) as fc.Arbitrary<JsonObject>;

  test('is equal to itself in any order of keys, and to nothing else', () => {
    fc.assert(
      fc.property(object, (value) => {
        expect(equal(value, Object.fromEntries(Object.entries(value).reverse()))).toBe(true);
        expect(equal(value, withKey(value, 'one more key', 1))).toBe(false);
        for (const key of Object.keys(value)) expect(equal(value, withoutKey(value, key))).toBe(false);
      }),
    );
    expect([equal([], {}), equal(null, {}), equal(0, -0), equal([1], [1, 2])]).toEqual([false, false, true, false]);
  });

  test('is changed by copy: the old stays, a key called __proto__ is a key like any other', () => {
    fc.assert(
      fc.property(object, fc.constantFrom('__proto__', 'a'), json, (value, key, put) => {
        const before = JSON.stringify(value);
        const after = withKey(value, key, put);
        expect(Object.hasOwn(after, key)).toBe(true);
        expect(Object.getPrototypeOf(after)).toBe(Object.prototype);
        expect(Object.keys(renameKey(after, key, 'renamed')).length).toBe(
          Object.keys(after).length - (Object.hasOwn(after, 'renamed') ? 1 : 0),
        );
        expect(JSON.stringify(value)).toBe(before);
        expect(isObject(after)).toBe(true);
      }),
    );
  });

  test('has pointers by RFC 6901', () => {
    expect(pointer([])).toBe('');
    expect(pointer(['a/b', 0, '~', ''])).toBe('/a~1b/0/~0/');
    expect(sayPointer('/about/1')).toBe('about, item 2');
    expect(sayPointer('/hours/a~1b')).toBe('hours.a/b');
  });
});

describe('lengths of time', () => {
  const part = fc.integer({ min: 1, max: 40 });
  const iso = fc.subarray([...unitNames], { minLength: 1 }).chain((units) =>
    fc.tuple(...units.map(() => part)).map((numbers) => {
      const letter = (unit: string): string => unit[0]?.toUpperCase() ?? '';
      const pieces = units.map((unit, index) => ({ unit, text: `${numbers[index]}${letter(unit)}` }));
      const clock = pieces.filter(({ unit }) => ['hours', 'minutes', 'seconds'].includes(unit)).map(({ text }) => text);
      const dates = pieces
        .filter(({ unit }) => !['hours', 'minutes', 'seconds'].includes(unit))
        .map(({ text }) => text);
      return `P${dates.join('')}${clock.length > 0 ? `T${clock.join('')}` : ''}`;
    }),
  );

  test('are read, said in words, and compared the same both ways round', () => {
    fc.assert(
      fc.property(iso, iso, (a, b) => {
        const [left, right] = [parseDuration(a), parseDuration(b)];
        if (!left || !right) throw new Error(`${a} or ${b} was not read`);
        const [there, back] = [compareDurations(left, right), compareDurations(right, left)];
        expect(there === undefined).toBe(back === undefined);
        if (there !== undefined && back !== undefined) expect(Math.sign(there) + Math.sign(back)).toBe(0);
        expect(compareDurations(left, left)).toBe(0);
        expect(sayDuration(a)).toMatch(/^\d/u);
      }),
    );
  });

  test('never contradict the calendar: a comparison that is made holds for every month there is', () => {
    const days = (months: number, start: number): number =>
      (Date.UTC(2001, start + months, 1) - Date.UTC(2001, start, 1)) / 86_400_000;
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 30 }),
        fc.integer({ min: 1, max: 1000 }),
        fc.integer({ min: 0, max: 47 }),
        (months, other, start) => {
          const [a, b] = [parseDuration(`P${months}M`), parseDuration(`P${other}D`)];
          const order = a && b ? compareDurations(a, b) : 0;
          if (order !== undefined) expect(Math.sign(order)).toBe(Math.sign(days(months, start) - other));
        },
      ),
    );
  });

  test.each<[string, string | undefined]>([
    ['4 days', 'P4D'],
    ['1 h 30 min', 'PT1H30M'],
    ['2 weeks and 3 days', 'P2W3D'],
    ['30 min 1 h', undefined],
    ['soon', undefined],
    ['4', undefined],
    ['4 parsecs', undefined],
  ])('%j in words is %s', (text, wanted) => {
    expect(lengthInWords(text, ['en'])).toBe(wanted);
  });

  test('are written', () => {
    expect(unitNames.map((unit) => writeDuration(3, unit))).toEqual([
      'P3Y',
      'P3M',
      'P3W',
      'P3D',
      'PT3H',
      'PT3M',
      'PT3S',
    ]);
  });
});

describe('English', () => {
  test('counts, lists and names', () => {
    expect([count(1, 'entry', 'entries'), count(1204, 'entry', 'entries'), count(0, 'step')]).toEqual([
      '1 entry',
      '1,204 entries',
      '0 steps',
    ]);
    expect([groupThousands(1234567.891), groupThousands(-1000)]).toEqual(['1,234,567.891', '-1,000']);
    expect([list([]), list(['a']), list(['a', 'b'], 'or'), list(['a', 'b', 'c'])]).toEqual([
      '',
      'a',
      'a or b',
      'a, b and c',
    ]);
    expect([
      humanize('focalHeight'),
      humanize('north-tongue'),
      pluralize('Story'),
      pluralize('Bus'),
      pluralize('Day'),
    ]).toEqual(['Focal height', 'North tongue', 'Stories', 'Buses', 'Days']);
    expect([quote('a\n b'), quote('x'.repeat(50), 10), quote([1, 2]), quote(undefined)]).toEqual([
      '“a b”',
      `“${'x'.repeat(8)}…”`,
      '[1,2]',
      'nothing',
    ]);
    expect([range(1, 2), range(1, undefined), range(undefined, 2), range(undefined, undefined)]).toEqual([
      '1–2',
      '≥ 1',
      '≤ 2',
      '',
    ]);
  });
});

describe('setting text', () => {
  const words = fc
    .array(fc.constantFrom('a', 'light', 'lighthouse', '灯台', '👩‍🚀', 'été'), { maxLength: 30 })
    .map((all) => all.join(' '));

  test('wraps between words and loses none', () => {
    fc.assert(
      fc.property(words, fc.integer({ min: 12, max: 60 }), (text, width) => {
        const wrapped = wrap(text, width, '  ');
        expect(wrapped.replace(/\n {2}/gu, ' ')).toBe(text);
      }),
    );
  });

  test('clips to what the eye sees', () => {
    expect([clip('灯台灯台', 5), clip('light', 5), clip('lights', 5)]).toEqual(['灯台…', 'light', 'ligh…']);
  });

  test('sets tables without lines, numbers on the right, the last column broken', () => {
    const rows = [
      [
        'skerry',
        '1,204',
        'one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen',
      ],
      ['灯台', '3', 'x'],
    ];
    const set = table([{ title: 'Name' }, { title: 'No', align: 'right' }, { title: 'About', flex: true }], rows, look);
    expect(set.split('\n')).toEqual([
      '  Name       No  About',
      '  skerry  1,204  one two three four five six seven eight nine ten eleven twelve thirteen fourteen',
      '                 fifteen sixteen',
      '  灯台        3  x',
    ]);
  });

  test('shows of two long texts what differs', () => {
    const start = 'The outermost light of the Skerries, built on a rock';
    const look = lookFor({}, false);
    expect(fromTo(`${start} in the sea`, `${start} on land`, 60, look)).toBe(
      '… built on a rock [in the sea → on land]',
    );
    const long = (end: string): string => `${start}. ${end}`;
    expect(fromTo(long('a '.repeat(60).trim()), long('b'), 60, look)).toBe(
      '… built on a rock. [a a a a a a a a a a a a a a a a a… → b]',
    );
    expect(fromTo(undefined, 3, 40, look)).toBe('nothing → 3');
    expect(fromTo('', ['a', 'b'], 40, look)).toBe('"" → [a, b]');
  });
});
