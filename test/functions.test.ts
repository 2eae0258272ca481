import { describe, expect, test } from 'vitest';
import { celFunctions } from '../src/core/rules/functions.ts';
import { lumbrik, result, workspace } from './support/program.ts';

const folder = () =>
  workspace({
    'model/types/light.yaml': 'type: light\nfields:\n  name: { kind: text }\n  height: { kind: decimal }\n',
    'model/taxonomies/region.yaml':
      'taxonomy: region\nterms:\n  - { term: north, terms: [skerries, { term: holm-bay, label: Holm bay }] }\n  - south\n',
    'model/types/keeper.yaml': 'type: keeper\nfields: { name: { kind: text } }\n',
    'content/keeper/ada-rook.yaml': 'name: Ada Rook\n',
    'content/light/a.yaml': 'name: Île\nheight: 38.46\n',
    'content/light/b.yaml': 'name: B\n',
  });

describe('what expressions can call [D2, H2]', () => {
  test.each(celFunctions.map((one) => [one.name, one] as const))('%s does what its example says', async (name, one) => {
    const [expression, gives] = one.example;
    expect((await result(folder(), ['try', expression])).rows).toEqual([{ value: gives }]);
    expect(expression).toContain(name);
    const { topics } = await result(folder(), ['explain', name]);
    expect(topics.some(({ what }: any) => what === 'function')).toBe(true);
  });

  test('a length of time is counted in each unit exactly, and cut off below it', async () => {
    const expressions = {
      "inUnits('P2W', 'weeks')": 2,
      "inUnits('P2W', 'days')": 14,
      "inUnits('P1DT1H', 'days')": 1,
      "inUnits('PT100H', 'hours')": 100,
      "inUnits('PT1H59M59S', 'hours')": 1,
      "inUnits('PT1H30M', 'minutes')": 90,
      "inUnits('PT2H', 'seconds')": 7200,
      "inUnits('P2Y6M', 'months')": 30,
      "inUnits('P2Y6M', 'years')": 2,
    };
    for (const [expression, value] of Object.entries(expressions))
      expect([expression, (await result(folder(), ['try', expression])).rows]).toEqual([expression, [{ value }]]);
  });

  test.each([
    ['[].first()', 'the list is empty'],
    ["parseDate('31.2.2026', 'D.M.YYYY')", 'is no day written as'],
    ["inUnits('P1M', 'days')", 'depends on the calendar'],
    ["inUnits('1:30', 'hours')", 'is no length of time'],
    ["durationOf(1, 'fortnights')", 'is no unit'],
    ['format(1.0, 99)', 'decimal places'],
    [`parseDate('${'1'.repeat(60)}x', '${'DM'.repeat(30)}')`, 'twice'],
    [
      "'x'.replace('x', 'yyyyyyyyyy'.replace('y', 'zzzzzzzzzz'.replace('z', '1234567890')).replace('1', 'aaaaaaaaaa'.replace('a', '0123456789')).replace('0', 'bbbbbbbbbb'.replace('b', '0123456789')).replace('0', 'cccccccccc'.replace('c', '0123456789')))",
      'more than',
    ],
  ])('%s fails in words', async (expression, says) => {
    const { rows, code } = await result(folder(), ['try', expression]);
    expect([code, rows[0].failed]).toEqual([1, expect.stringContaining(says)]);
  });

  test('a pattern that could hang others is quick here', async () => {
    const { rows } = await result(folder(), ['try', `'${'a'.repeat(5000)}!'.replacePattern('(a+)+$', 'x')`]);
    expect(rows[0].value).toContain('!');
  });
});

describe('try [D2]', () => {
  test('computes for entries side by side, and says what fails for which', async () => {
    const at = folder();
    expect((await result(at, ['try', 'entry.name.fold().lower()', 'light/a', 'light/b'])).rows).toEqual([
      { entry: 'light/a', value: 'ile' },
      { entry: 'light/b', value: 'b' },
    ]);
    const { rows, code } = await result(at, ['try', 'round(entry.height, 1)', 'light']);
    expect([code, rows]).toEqual([
      1,
      [
        { entry: 'light/a', value: 38.5 },
        { entry: 'light/b', failed: expect.any(String) },
      ],
    ]);
    expect((await lumbrik(at, ['try', 'entry.name', 'light'])).out).toMatch(/light\/a +Île\n/u);
    const part = await result(at, ['try', 'entry.name', 'light', '--limit', '1']);
    expect([part.rows.length, part.more]).toEqual([1, ['light']]);
    expect((await lumbrik(at, ['try', 'entry.name', 'light', '--limit', '1'])).out).toContain('light --limit 0');
    expect((await result(at, ['try', 'entry.name', 'light', '--limit', '0'])).more).toEqual([]);
  });

  test.each([
    [['entry.nam', 'light'], 'Did you mean `name`?'],
    [["'a' + 1"], 'does not go between'],
    [['entry.name', 'light/z'], 'no entry'],
    [['entry.name', 'light.name'], 'no address of an entry or a type'],
    [['entry.name', 'lihgt'], 'Did you mean `light`?'],
  ])('%j is refused', async (args, says) => {
    const { code, err } = await lumbrik(folder(), ['try', ...args]);
    expect([code, err.replaceAll(/\s+/gu, ' ')]).toEqual([2, expect.stringContaining(says)]);
  });
});

describe('explain knows the words of outputs and files [I4]', () => {
  test.each([
    'status',
    'entry',
    'expect',
    'seal',
    'languages',
    'functions',
    'kinds',
    'steps',
    'rehearse',
    'dangl',
    'types',
    'not-applicable',
  ])('%s', async (word) => {
    expect((await lumbrik(folder(), ['explain', word])).code).toBe(0);
  });
});
