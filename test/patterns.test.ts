import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findExponential } from '../src/core/patterns/exponential.ts';
import { result, workspace } from './support/program.ts';

const safe = [
  '^[A-Z]',
  '^[a-z0-9]+(?:-[a-z0-9]+)*$',
  '^\\d{4}-\\d{2}-\\d{2}$',
  '^(?:[01]\\d|2[0-3]):[0-5]\\d$',
  '^[^@\\s]+@[^@\\s]+\\.[a-z]{2,}$',
  '^(?:foo|bar)+$',
  'a*b*c*',
  '^[a-z]{3,63}$',
  '^(?:[a-z]+ )*[a-z]+$',
  '^(?=.*\\d)[a-z\\d]{8,}$',
  '^\\p{Lu}\\p{L}*(?: \\p{L}+)*$',
  '(?<year>\\d+)/(?<month>\\d+)',
  '^(?:a|b|ab)$',
  '^#[0-9a-f]{6}$',
  '^[\\]\\[a-z]+$',
  'x?y?z?',
  '^(?:ab?)+$',
] as const;

const harmful = [
  '(a+)+$',
  '(a*)*$',
  '^(a|a)*$',
  '^(a|aa)+$',
  '^(?:[a-z]+)*\\d$',
  '^(\\w+\\s?)*$',
  '(x+x+)+y',
  '^(?:a?b?)*$',
  '^(([a-z])+.)+[A-Z]([a-z])+$',
  '(?=(a+)+b)',
  '^(\\d{1,30}){1,30}$',
  '^(?:.*,)*$',
  '^(a|b|ab)*c$',
  '^(?:é|\\p{L})+!$',
  '([a-c]|[b-d])+e',
] as const;

describe('a pattern that can take exponential time [M2]', () => {
  test.each(safe)('%s is not one', (pattern) => {
    expect(findExponential(pattern)).toBeUndefined();
  });

  test.each(harmful)('%s is one, and what hurts is named', (pattern) => {
    const { pump = '' } = findExponential(pattern) ?? {};
    expect(pump).not.toBe('');
    // A few repetitions are still quick; that text is one that the pattern has to give up on.
    const stuck = `${pump.repeat(Math.max(2, Math.floor(10 / pump.length)))}\u0000`;
    expect(new RegExp(pattern, 'u').exec(stuck)?.[0] ?? '').not.toBe(stuck);
  });

  test('is refused when the model is read, with the kind of text that would hurt', () => {
    const folder = workspace({
      'model/types/light.yaml':
        "type: light\nfields:\n  name: { kind: text, pattern: '^(a+)+$' }\n  code: { kind: text, pattern: '(a)\\1' }\n",
      'content/light/a.yaml': `name: ${'a'.repeat(40)}!\n`,
    });
    const { mistakes } = result(folder, ['check']);
    expect(mistakes).toEqual([
      expect.objectContaining({
        line: 3,
        column: 32,
        says: expect.stringContaining('can take exponential time: a text such as “aaaaaaaaaaaa”'),
      }),
      expect.objectContaining({ line: 4, says: expect.stringContaining('refers back to a group') }),
    ]);
  });

  test('what is passed as safe is done with long hostile texts', () => {
    const hostile = fc
      .array(fc.constantFrom('a', 'b', 'ab', '-', ' ', '1', '@', '.'), { minLength: 1, maxLength: 4 })
      .map((parts) => `${parts.join('').repeat(400)}\u0000`);
    fc.assert(
      // An exponential pattern would not come back from this before the sun goes out.
      fc.property(
        fc.constantFrom(...safe),
        hostile,
        (pattern, text) => typeof new RegExp(pattern, 'u').test(text) === 'boolean',
      ),
      { numRuns: 200 },
    );
  });

  test('is refused in an expression too, where it must be written out', () => {
    const rule = (expect: string): string =>
      `type: light\nfields:\n  name: { kind: text }\nrules:\n  - { expect: "${expect}", say: x }\n`;
    const mistakesOf = (expression: string) =>
      result(workspace({ 'model/types/light.yaml': rule(expression) }), ['check']).mistakes;
    expect(mistakesOf("entry.name.matches('^[a-z]+$')")).toEqual([]);
    expect(mistakesOf("entry.name.matches('^(a+)+$')")).toEqual([
      expect.objectContaining({ says: expect.stringContaining('can take exponential time') }),
    ]);
    expect(mistakesOf('entry.name.matches(entry.name)')).toEqual([
      expect.objectContaining({ says: expect.stringContaining('is not written out') }),
    ]);
    expect(mistakesOf("entry.name.matches('(')")).toEqual([
      expect.objectContaining({ says: expect.stringContaining('no regular expression') }),
    ]);
  });
});
