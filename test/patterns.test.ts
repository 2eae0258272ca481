import vm from 'node:vm';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { compilePattern } from '../src/core/patterns/pattern.ts';
import { result, workspace } from './support/program.ts';

/** What patterns are made of: every construct that may stand in a model, in every place where it may. */
const atoms = [
  ...[
    'a',
    'b',
    '-',
    ' ',
    '.',
    '\\d',
    '\\D',
    '\\w',
    '\\W',
    '\\s',
    '\\S',
    '\\.',
    '\\/',
    '\\n',
    '\\t',
    '\\r',
    '\\0',
    '\\cJ',
  ],
  ...[
    '\\x61',
    '\\u0400',
    '\\u{1F600}',
    '\\ud83d\\ude00',
    '\\p{L}',
    '\\P{L}',
    '\\p{Lu}',
    '\\p{Letter}',
    '\\p{Script=Greek}',
  ],
  ...[
    '\\p{sc=Cyrillic}',
    '\\p{General_Category=Decimal_Number}',
    '\\p{Script_Extensions=Greek}',
    '\\p{ASCII}',
    '\\p{Any}',
  ],
  ...['\\p{White_Space}', '\\p{Emoji_Presentation}', '\\P{Alphabetic}'],
  ...[
    '[a-c]',
    '[^a-c]',
    '[\\s\\d]',
    '[^\\S]',
    '[\\W-]',
    '[\\]\\[^-]',
    '[\\u0400-\\u{4ff}]',
    '[\\p{Lu}\\p{Nd}]',
    '[^\\p{L}]',
    '[\\b]',
  ],
  ...['[]', '[^]', '[.$*|(){}+?]', '😀', 'é', '(?:)'],
] as const;
const anchors = ['^', '$', '\\b', '\\B'] as const;
const marks = ['', '', '*', '+', '?', '*?', '+?', '??', '{2}', '{0}', '{1,2}', '{0,3}?', '{2,}'] as const;

const pattern: fc.Arbitrary<string> = fc.letrec<{ all: string; sequence: string; part: string }>((tie) => ({
  all: fc.array(tie('sequence'), { minLength: 1, maxLength: 3 }).map((parts) => parts.join('|')),
  sequence: fc
    .array(fc.oneof(tie('part'), fc.constantFrom(...anchors)), { maxLength: 4 })
    .map((parts) => parts.join('')),
  part: fc
    .tuple(
      fc.oneof(
        { depthSize: 'small', withCrossShrink: true },
        fc.constantFrom(...atoms),
        fc.tuple(fc.constantFrom('(', '(?:'), tie('all')).map(([open, inner]) => `${open}${inner})`),
      ),
      fc.constantFrom(...marks),
    )
    .map(([one, mark]) => one + mark),
})).all;

const text = fc
  .array(
    fc.oneof(
      fc.constantFrom(...'abcABZ09_-. \n\t\r\0/\u00a0\u2028\u2029\ufeff\u0085éñßΑωЖж中あ😀[]^$*|(){}+?\b'),
      fc.string({ unit: 'grapheme', maxLength: 2 }),
    ),
    { maxLength: 8 },
  )
  .map((parts) => parts.join(''));

const context = vm.createContext({});
const script = new vm.Script('new RegExp(source, "u").test(text)');

/** Whether a pattern matches by the engine of the language; nothing where that does not come back. */
function nativeTest(source: string): (one: string) => boolean | undefined {
  return (one) => {
    try {
      Object.assign(context, { source, text: one });
      return script.runInContext(context, { timeout: 100 });
    } catch {
      return undefined;
    }
  };
}

describe('a pattern means what it means in ECMAScript, with flag u [C2]', () => {
  test('whatever the pattern and the text', () => {
    let matched = 0;
    fc.assert(
      fc.property(pattern, fc.array(text, { minLength: 1, maxLength: 6 }), (source, texts) => {
        const compiled = compilePattern(source);
        if ('problem' in compiled) throw new Error(`${source} ${compiled.problem.says}`);
        const native = nativeTest(source);
        for (const one of texts) {
          expect([source, one, compiled.value.test(one)]).toEqual([
            source,
            one,
            native(one) ?? compiled.value.test(one),
          ]);
          if (native(one)) matched += 1;
        }
      }),
      { numRuns: 800 },
    );
    expect(matched).toBeGreaterThan(400);
  });

  test.each([
    ['^[A-Z]', 'Skerry', true],
    ['^[a-z0-9]+(?:-[a-z0-9]+)*$', 'skerry-point', true],
    ['^\\d{4}-\\d{2}-\\d{2}$', '1858-10-01', true],
    ['^\\d{4}-\\d{2}-\\d{2}$', '1858-10-01\n', false],
    ['^.$', '\r', false],
    ['^.$', '😀', true],
    ['^\\p{Lu}\\p{L}*(?: \\p{L}+)*$', 'Gannet Sound', true],
    ['(?<year>\\d+)/(?<month>\\d+)', '1858/10', true],
    ['^[a-z]{3,63}$', 'ab', false],
    ['^a{1500}$', 'a'.repeat(1500), true],
    ['^a{1,1500}$', 'a'.repeat(1501), false],
  ])('%s on %j', (source, one, matches) => {
    const compiled = compilePattern(source);
    expect('value' in compiled && compiled.value.test(one)).toBe(matches);
  });
});

/** Patterns that take a backtracking engine exponential or polynomial time. */
const harmful = [
  ...['(a+)+$', '(a*)*$', '^(a|a)*$', '^(a|aa)+$', '^(?:[a-z]+)*\\d$', '^(\\w+\\s?)*$', '(x+x+)+y', '^(?:a?b?)*$'],
  ...[
    '^(([a-z])+.)+[A-Z]([a-z])+$',
    '^(\\d{1,30}){1,30}$',
    '^(?:.*,)*$',
    '^(a|b|ab)*c$',
    '^(?:é|\\p{L})+!$',
    '([a-c]|[b-d])+e',
  ],
  ...['(?:\\u0400|\\u0400)+!', '(?:\\p{L}|\\p{L})+!', '(?:\\x01|\\x01)+!', '(?:\\u{1F600}|[\\u{1F600}])+!'],
  ...['(?:(?:a|a){9}){9}!', `${'(?:a|a)'.repeat(45)}!`, `${'a?'.repeat(45)}${'a'.repeat(45)}!`],
  ...['\\s+$', '(.*)(.*)(.*)(.*)x!', '(.*,){9}x', '(?:a?){500}a{500}!', '[ab]*a[ab]{500}c'],
] as const;

describe('whatever the pattern, a long text takes no longer than its length [M2]', () => {
  const texts = [
    'a'.repeat(200_000),
    ' '.repeat(200_000),
    ',a'.repeat(100_000),
    '\u0400'.repeat(200_000),
    '\u0001'.repeat(200_000),
    '😀'.repeat(100_000),
  ];

  test.each(harmful)('%s', (source) => {
    const compiled = compilePattern(source);
    if ('problem' in compiled) throw new Error(compiled.problem.says);
    // Any of these keeps a backtracking engine busy for longer than a test may take.
    for (const one of texts) expect(typeof compiled.value.test(`${one}\n`)).toBe('boolean');
  });

  test('in a field, in an expression and in a JSON Schema of a model', async () => {
    const folder = workspace({
      'model/types/light.yaml': [
        'type: light',
        'fields:',
        "  name: { kind: longText, pattern: '^(a+)+$' }",
        "  data: { kind: json, max: 900000, schema: { pattern: '^(a+)+$' } }",
        "  keys: { kind: json, max: 900000, schema: { patternProperties: { '^(a+)+$': { type: integer } }, additionalProperties: false } }",
        'rules:',
        `  - { expect: "entry.name.matches('^(a|a)*$')", say: Write a and nothing else. }`,
        '',
      ].join('\n'),
      'content/light/a.json': JSON.stringify({
        status: 'published',
        name: `${'a'.repeat(100_000)}!`,
        data: `${'a'.repeat(100_000)}!`,
        keys: { [`${'a'.repeat(100_000)}!`]: 1, aaa: 'x', aa: 1, constructor: 2 },
      }),
    });
    const { findings } = await result(folder, ['check']);
    const names = findings.map(({ finding, limit }: any) => `${finding} ${limit}`).sort();
    expect(names).toEqual([
      'pattern ^(a+)+$',
      "rule-broken entry.name.matches('^(a|a)*$')",
      'schema-broken false',
      'schema-broken false',
      'schema-broken pattern',
      'schema-broken type',
    ]);
  });
});

describe('what no engine can do in linear time is refused when the model is read [M2]', () => {
  test.each([
    ['(?=a)b', 'looks ahead'],
    ['(?!a)b', 'looks ahead'],
    ['(?<=a)b', 'looks back'],
    ['(?<!a)b', 'looks back'],
    ['(a)\\1', 'refers back to a group'],
    ['(?<x>a)\\k<x>', 'refers back to a group'],
    ['\\ud800', 'names half of a character'],
    ['(?:a{100}){100}', 'is too large'],
    ['(?:(?:a{40}){40}){40}', 'is too large'],
    ['(', 'is no regular expression'],
    ['a{2,1}', 'is no regular expression'],
    ['\\p{Lighthouse}', 'is no regular expression'],
  ])('%s', async (source, says) => {
    const compiled = compilePattern(source);
    expect('problem' in compiled && compiled.problem.says).toContain(says);
    const yaml = (value: string) => JSON.stringify(value);
    const folder = workspace({
      'model/types/light.yaml': `type: light\nfields:\n  code: { kind: text, pattern: ${yaml(source)} }\n  data: { kind: json, schema: { pattern: ${yaml(source)} } }\nrules:\n  - { expect: ${yaml(`entry.code.matches(r'${source}')`)}, say: x }\n`,
    });
    const { mistakes, code } = await result(folder, ['check']);
    expect(code).toBe(1);
    expect(mistakes.map(({ line }: any) => line)).toEqual([3, 4, 6]);
    for (const mistake of mistakes) {
      expect(mistake.says).toContain(says);
      expect(mistake.mend).not.toBe('');
    }
  });

  test('a pattern in an expression must be written out', async () => {
    const folder = workspace({
      'model/types/light.yaml':
        'type: light\nfields:\n  name: { kind: text }\nrules:\n  - { expect: "entry.name.matches(entry.name)", say: x }\n',
    });
    const { mistakes } = await result(folder, ['check']);
    expect(mistakes).toEqual([expect.objectContaining({ says: expect.stringContaining('is not written out') })]);
  });

  test('a JSON Schema that goes round is given up on, and formats that no draft defines say nothing', async () => {
    const defs = Object.fromEntries(
      Array.from({ length: 40 }, (_, n) => [
        `d${n}`,
        { allOf: [{ $ref: `#/$defs/d${n + 1}` }, { $ref: `#/$defs/d${n + 1}` }] },
      ]),
    );
    const schemas = {
      wide: { $ref: '#/$defs/d0', $defs: { ...defs, d40: { type: 'integer' } } },
      deep: { items: { allOf: [{ $ref: '#' }, { $ref: '#' }] } },
      url: { type: 'string', format: 'url' },
    };
    const fields = Object.entries(schemas).map(
      ([name, schema]) => `  ${name}: ${JSON.stringify({ kind: 'json', schema })}`,
    );
    const nested = Array.from({ length: 60 }).reduce<unknown>((inner) => [inner], 1);
    const folder = workspace({
      'model/types/light.yaml': `type: light\nfields:\n${fields.filter((one) => !one.includes('wide')).join('\n')}\n`,
      'content/light/a.json': JSON.stringify({ deep: nested, url: `http://${'a'.repeat(5000)}!` }),
    });
    const { findings } = await result(folder, ['check']);
    expect(findings).toMatchObject([{ pointer: '/deep', says: expect.stringContaining('or too often') }]);
    const other = workspace({ 'model/types/light.yaml': `type: light\nfields:\n${fields[0]}\n` });
    expect((await result(other, ['check'])).mistakes).toMatchObject([
      { says: expect.stringContaining('refers to itself') },
    ]);
  });
});
