import fs from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { countSketched, emptySketch, mergeSketch, sketch } from '../src/core/profile/distinct.ts';
import { countAbove, medianOf, Spread } from '../src/core/profile/spread.ts';
import { textShape } from '../src/core/profile/textShape.ts';
import { distinctOf, mostFrequent, ValueCounts } from '../src/core/profile/valueCounts.ts';
import { lumbrik, result, workspace, write } from './support/program.ts';

const model = {
  'lumbrik.yaml': 'workspace: Uhren\nlanguages: [de, en]\n',
  'model/types/uhr.yaml': `type: uhr
titled: name
fields:
  name: { kind: text, localized: true }
  nummer: { kind: text }
  gebaut: { kind: date }
  hoehe: { kind: decimal }
  teile: { kind: object, many: true, fields: { was: { kind: text }, zahl: { kind: integer } } }
  art: { kind: choice, choices: [{ choice: pendel, label: Pendeluhr }, turm] }
  stillSeit: { kind: date, when: 'entry.art == "turm"' }
  nie: { kind: text }
`,
  'content/uhr/a.yaml':
    'name: { de: Große Uhr, en: Great clock }\nnummer: U-001\ngebaut: 1790-01-01\nhoehe: 2.5\nteile: [{ was: Pendel, zahl: 1 }, { was: Rad }]\nart: pendel\n',
  'content/uhr/b.yaml':
    'status: draft\nname: { de: Kleine }\nnummer: U-002\ngebaut: 1800-01-01\nhoehe: 0.5\nteile: []\nart: turm\nstillSeit: 1900-01-01\n',
  'content/uhr/c.yaml': 'name: { de: Größte }\nnummer: U-1\ngebaut: 1850-06-01\nart: turm\nnie: ""\n',
};

const fieldsIn = async (folder: string, args: readonly string[], env?: Readonly<Record<string, string>>) => {
  const { types } = await result(folder, ['profile', ...args], env);
  return Object.fromEntries(types[0].fields.map((one: { address: string }) => [one.address.slice(4), one]));
};

describe('how fields are really used [J2, J3]', () => {
  test('filled, distinct, sizes, items, languages, statuses, shapes; an empty value is none', async () => {
    const fields = await fieldsIn(workspace(model), ['uhr']);
    expect(fields.name).toMatchObject({
      of: 3,
      filled: 3,
      values: 4,
      languages: [
        { language: 'de', filled: 3 },
        { language: 'en', filled: 1 },
      ],
      sizes: {
        of: 'characters',
        smallest: { size: 6, entry: 'uhr/b' },
        median: { size: 6 },
        largest: { size: 11, entry: 'uhr/a' },
      },
    });
    expect(fields.nummer).toMatchObject({
      distinct: { count: 3 },
      shapes: [
        { shape: 'A-999', count: 2 },
        { shape: 'A-9', count: 1 },
      ],
    });
    expect(fields.gebaut).toMatchObject({
      sizes: { of: 'values', smallest: { says: '1790-01-01' }, median: { says: '1800-01-01' } },
      statuses: [
        { status: 'draft', of: 1, filled: 1 },
        { status: 'published', of: 2, filled: 2 },
      ],
    });
    expect(fields.hoehe).toMatchObject({
      of: 3,
      filled: 2,
      sizes: { smallest: { size: 0.5 }, largest: { size: 2.5 } },
    });
    expect(fields.teile).toMatchObject({ of: 3, filled: 1, items: { smallest: 2, median: 2, largest: 2 } });
    expect(fields['teile.was']).toMatchObject({ of: 2, filled: 2, statuses: [] });
    expect(fields['teile.zahl']).toMatchObject({ of: 2, filled: 1 });
    expect(fields.art.frequent).toEqual([
      { value: 'turm', says: 'turm', count: 2 },
      { value: 'pendel', says: 'Pendeluhr (pendel)', count: 1 },
    ]);
    expect(fields.nie).toMatchObject({ of: 3, filled: 0, frequent: [] });
  });

  test('entries of what extends a type count in it, unless they are asked about themselves', async () => {
    const folder = workspace({
      ...model,
      'model/types/turmuhr.yaml': 'type: turmuhr\nextends: uhr\nfields:\n  glocken: { kind: integer }\n',
      'content/turmuhr/t.yaml': 'name: { de: Dom }\nglocken: 3\n',
    });
    expect((await result(folder, ['profile', 'uhr'])).types).toMatchObject([{ type: 'uhr', entries: 4 }]);
    expect((await fieldsIn(folder, ['uhr.name'])).name).toMatchObject({ of: 4, filled: 4 });
    const all = (await result(folder, ['profile'])).types.map(({ type, entries }: any) => [type, entries]);
    expect(all.sort()).toEqual([
      ['turmuhr', 1],
      ['uhr', 3],
    ]);
  });

  test('a field that applies to some entries alone is asked of these', async () => {
    const { stillSeit } = await fieldsIn(workspace(model), ['uhr']);
    expect(stillSeit).toMatchObject({ of: 2, filled: 1 });
  });

  test('against limits: those that fit the values, or those that are named', async () => {
    const folder = workspace(model);
    expect((await fieldsIn(folder, ['uhr.name'])).name.over).toEqual([
      { limit: 10, count: 1 },
      { limit: 20, count: 0 },
    ]);
    expect((await fieldsIn(folder, ['uhr.name', '--at', '8, 6,9'])).name.over).toEqual([
      { limit: 6, count: 2 },
      { limit: 8, count: 2 },
      { limit: 9, count: 1 },
    ]);
  });

  test('as text: a table of each type, all there is of one field', async () => {
    const folder = workspace(model);
    const { out } = await lumbrik(folder, ['profile']);
    expect(out).toContain('Uhrs  uhr  3 entries: 1 draft, 2 published');
    expect(out).toMatch(/nummer +━{8} +100 % +all 3 /u);
    expect(out).toMatch(/nie +·{8} +0 %/u);
    expect(out).toMatch(/name +━━━━ +100 % +━╸·· +33 %/u);
    const one = (await lumbrik(folder, ['profile', 'uhr.name'])).out;
    expect(one).toContain('Largest        11 characters  uhr/a');
    expect(one).toMatch(/10 characters {2}1 {2}longer, 25 %/u);
    expect(Math.max(...`${out}${one}`.split('\n').map(({ length }) => length))).toBeLessThanOrEqual(100);
  });

  test('what cannot be read is said, and not counted', async () => {
    const folder = workspace({ ...model, 'content/uhr/d.yaml': 'name: [\n' });
    expect(await result(folder, ['profile', 'uhr'])).toMatchObject({ unreadable: 1, types: [{ entries: 3 }] });
    expect((await lumbrik(folder, ['profile'])).out).toContain('1 file or line could not be read as an entry');
  });

  test.each([
    [['uhrr'], 'Did you mean `uhr`?'],
    [['uhr.namme'], 'Did you mean `name`?'],
    [['region:north'], 'There'],
    [['uhr/a'], 'Did you mean `uhr`?'],
    [['uhr.name', '--at', 'many'], '--at takes lengths'],
    [['uhr', '--at', '60'], 'Name a field of texts, such as uhr.name.'],
    [['uhr.hoehe', '--at', '60'], 'Name a field of texts, such as uhr.name.'],
    [['uhr', '--language', 'fr'], 'no language of the workspace'],
  ])('a wrong call is told: %j', async (args, told) => {
    const { err, code } = await lumbrik(workspace(model), ['profile', ...args]);
    expect([code, err]).toEqual([2, expect.stringContaining(told)]);
  });

  test('several threads count what one counts', async () => {
    const folder = workspace({ ...model, 'lumbrik.yaml': 'workspace: W\ncontent: [{ lines: content/uhr.ndjson }]\n' });
    fs.rmSync(path.join(folder, 'content/uhr'), { recursive: true });
    const line = (number: number): string =>
      `${JSON.stringify({
        id: `u${number}`,
        type: 'uhr',
        status: number % 3 === 0 ? 'draft' : 'published',
        nummer: `U-${number}`,
        hoehe: number % 7,
        teile: Array.from({ length: number % 4 }, () => ({ was: `Teil ${number % 11}` })),
        art: number % 5 === 0 ? 'turm' : 'pendel',
        nie: number % 2 === 0 ? 'x'.repeat(200) : undefined,
      })}\n`;
    write(folder, { 'content/uhr.ndjson': Array.from({ length: 12_000 }, (_, number) => line(number)).join('') });
    const [two, one] = [{ LUMBRIK_THREADS: '2' }, { LUMBRIK_THREADS: '1' }];
    const whole = await result(folder, ['profile'], one);
    expect(await result(folder, ['profile'], two)).toEqual(whole);
    const [{ fields, entries }] = whole.types;
    const { nummer, art, nie } = Object.fromEntries(fields.map((f: { address: string }) => [f.address.slice(4), f]));
    expect(entries).toBe(12_000);
    expect(art.frequent).toMatchObject([{ count: 9600 }, { count: 2400 }]);
    // More different values than are counted exactly: about, and how far off that may be.
    expect(nummer.distinct.error).toBeCloseTo(0.016, 3);
    expect(Math.abs(nummer.distinct.count / 12_000 - 1)).toBeLessThan(0.065);
    // Long values are counted, and never shown.
    expect(nie).toMatchObject({ filled: 6000, distinct: { count: 1 }, frequent: [] });
  });
});

const runs = { numRuns: Number(process.env.RUNS ?? 300) };

describe('counting', () => {
  test('the shape of a text', () => {
    expect(['2026-03-01', 'GS-12', 'Skerry Point', 'größe', 'Ü', 'x'.repeat(41)].map(textShape)).toEqual([
      '9999-99-99',
      'A-99',
      'Aa Aa',
      'a',
      'A',
      undefined,
    ]);
  });

  test('numbers: median and counts above are those of the sorted list, however they are cut into parts', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 1 }), fc.nat(), (numbers, cut) => {
        const [some, others, all] = [new Spread(), new Spread(), new Spread()];
        for (const [index, number] of numbers.entries()) (index < cut % numbers.length ? some : others).add(number);
        all.take(some.done());
        all.take(others.done());
        const sorted = [...numbers].sort((a, b) => a - b);
        expect(medianOf(all.done())).toBe(sorted[Math.ceil(sorted.length / 2) - 1]);
        expect(countAbove(all.done(), 3)).toBe(numbers.filter((number) => number > 3).length);
      }),
      runs,
    );
  });

  test('very many numbers are known to three digits', () => {
    const spread = new Spread();
    for (let number = 1; number <= 20_000; number += 1) spread.add(number);
    expect(spread.done().isRounded).toBe(true);
    expect(Math.abs((medianOf(spread.done()) ?? 0) / 10_000 - 1)).toBeLessThan(0.01);
  });

  test('values: no count is too high, none is too low by more than is said, the frequent ones are kept', () => {
    const [counts, other, exact] = [new ValueCounts(), new ValueCounts(), new Map<string, number>()];
    for (let number = 0; number < 60_000; number += 1) {
      const value = number % 4 === 0 ? `often ${number % 20}` : `once ${number}`;
      exact.set(value, (exact.get(value) ?? 0) + 1);
      (number % 2 === 0 ? counts : other).add(value);
    }
    counts.take(other.done());
    const done = counts.done();
    for (const [value, times] of exact) {
      const told = done.counts.get(value) ?? 0;
      expect(told).toBeLessThanOrEqual(times);
      expect(told + done.under).toBeGreaterThanOrEqual(times);
    }
    expect(mostFrequent(done, 5, () => true).map(([value]) => value.slice(0, 5))).toEqual(Array(5).fill('often'));
    const { count, isExact } = distinctOf(done);
    expect(isExact).toBe(false);
    expect(Math.abs(count / exact.size - 1)).toBeLessThan(0.065);
  });

  test('different texts: four standard errors hold for any number of them, and parts are joined', () => {
    for (const number of [10, 1000, 4000, 12_000, 100_000]) {
      const [some, others] = [emptySketch(), emptySketch()];
      for (let one = 0; one < number; one += 1) sketch(one % 2 ? some : others, `text ${one}`);
      mergeSketch(some, others);
      expect(Math.abs(countSketched(some) / number - 1)).toBeLessThan(0.065);
    }
  });
});
