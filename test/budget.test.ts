import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { link } from '../src/core/model/link.ts';
import type { Json } from '../src/core/plain/json.ts';
import { usualLimits } from '../src/core/plain/limits.ts';
import { expressionsOver } from '../src/core/rules/expression.ts';
import { edit, result, workspace } from './support/program.ts';

const items = Array.from({ length: 200 }, (_, index) => index);
const all = (depth: number, body: string, loop = 'all'): string =>
  depth === 0 ? body : `entry.steps.${loop}(x${depth}, ${all(depth - 1, body, loop)})`;

const model = (expect: string, more = ''): string =>
  `type: light\nfields:\n  name: { kind: text }\n  steps: { kind: integer, many: true }\n${more}rules:\n  - { expect: ${JSON.stringify(expect)}, say: x }\n`;

describe('an expression is bounded in steps [M2]', () => {
  test.each([
    ['loops in loops', all(4, 'x1 + x2 + x3 + x4 >= 0')],
    ['that end early by an error', all(4, 'x1 / (x2 - x2) > 0', 'exists')],
    ['that make lists', `size(${all(4, 'x1', 'map')}) > 0`],
    ['lists that are written out', `${'[0,1,2,3,4,5,6,7,8,9].all(a, '.repeat(12)}true${')'.repeat(12)}`],
    [
      'lists that double',
      `${Array.from({ length: 24 }, (_, n) => `cel.bind(x${n + 1}, x${n} + x${n}, `).join('')}size(x24) > 0${')'.repeat(24)}`.replace(
        'x0 + x0',
        '[1] + [1]',
      ),
    ],
    [
      'texts that double',
      `${Array.from({ length: 24 }, (_, n) => `cel.bind(x${n + 1}, x${n} + x${n}, `).join('')}size(x24) > 0${')'.repeat(24)}`.replace(
        'x0 + x0',
        '"ab" + "ab"',
      ),
    ],
    ['long texts looked through', all(2, 'entry.name.contains("x")', 'exists')],
  ])('%s: a finding with the place of the rule', async (_name, expression) => {
    const folder = workspace({
      'model/types/light.yaml': model(expression),
      'content/light/a.json': JSON.stringify({ name: 'a'.repeat(5000), steps: items }),
      'content/light/b.json': JSON.stringify({ name: 'b', steps: [1] }),
    });
    const { findings, code, mistakes } = await result(folder, ['check']);
    expect(mistakes).toEqual([]);
    expect(code).toBe(1);
    expect(findings[0]).toMatchObject({
      finding: 'too-costly',
      severity: 'error',
      entry: 'light/a',
      origin: 'model/types/light.yaml:6:5',
      limit: 100_000,
      says: expect.stringContaining('takes more than 100,000 steps'),
      mend: expect.stringContaining('expressionSteps'),
    });
  });

  test('which the workspace may raise, and which is said of computed fields and eligible targets too', async () => {
    const folder = workspace({
      'model/types/light.yaml': model(
        'true',
        `  sum: { kind: boolean, computed: { cel: ${JSON.stringify(all(3, 'x1 >= 0'))} } }\n`,
      ),
      'model/types/tour.yaml': `type: tour\nfields:\n  light: { kind: reference, to: light, eligible: ${JSON.stringify(all(3, 'x1 >= 0').replaceAll('entry', 'target'))} }\n`,
      'content/light/a.json': JSON.stringify({ sum: true, steps: items.slice(0, 60), status: 'published' }),
      'content/tour/t.yaml': 'light: a\n',
    });
    const { findings } = await result(folder, ['check']);
    expect(
      findings
        .filter(({ finding }: any) => finding === 'too-costly')
        .map(({ origin }: any) => origin)
        .sort(),
    ).toEqual([
      expect.stringMatching(/^model\/types\/light\.yaml:5:/u),
      expect.stringMatching(/^model\/types\/tour\.yaml:3:/u),
    ]);
    edit(folder, 'lumbrik.yaml', 'languages', 'limits: { expressionSteps: 2000000 }\nlanguages');
    expect((await result(folder, ['check'])).findings).toEqual([]);
    edit(folder, 'lumbrik.yaml', '2000000', '1');
    expect((await result(folder, ['check'])).error.says).toContain('expressionSteps');
  });

  test('of a migration’s step it stops the rehearsal, with the step', async () => {
    const folder = workspace({
      'model/types/light.yaml': 'type: light\nfields:\n  steps: { kind: integer, many: true }\n',
      'content/light/a.json': JSON.stringify({ steps: items }),
    });
    await result(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', /$/u, '  open: { kind: boolean, required: true }\n');
    const { file } = await result(folder, ['migration', 'draft']);
    edit(folder, file, /^ {4}open: .*\n/mu, `    cel: ${all(4, 'x1 >= 0')}\n`);
    const { error, code } = await result(folder, ['migration', 'rehearse']);
    expect([code, error.code]).toEqual([2, 'step-does-not-fit']);
    expect(error.says).toContain('steps');
    expect(error.mend).toContain('expressionSteps');
  });
});

describe('the limit of steps that lumbrik.yaml states holds in every command [M2]', () => {
  // A loop in a loop over forty items: above the lowest limit, below the usual one.
  const loop = all(2, 'x1 + x2 >= 0');
  const folderWith = (limit: string): string =>
    workspace({
      'lumbrik.yaml': `workspace: A\n${limit}`,
      'model/types/light.yaml': model('true', '  more: { kind: text }\n').replace('"true"', JSON.stringify(loop)),
      'content/light/a.json': JSON.stringify({ steps: items.slice(0, 40) }),
    });
  const low = 'limits: { expressionSteps: 1000 }\n';

  test.each<[string, readonly string[]]>([
    ['check', ['check']],
    ['list', ['list', 'light', '--where', loop]],
    ['export entries', ['export', 'entries', '--as', 'json', '--where', loop, '--out', 'out.json']],
    ['try', ['try', loop, 'light']],
    [
      'try without an entry',
      [
        'try',
        '[1,2,3,4,5,6,7,8,9,10].all(a, [1,2,3,4,5,6,7,8,9,10].all(b, [1,2,3,4,5,6,7,8,9,10].all(c, a + b + c > 0)))',
      ],
    ],
  ])('%s', async (_command, call) => {
    const outcome = async (limit: string): Promise<string> => JSON.stringify(await result(folderWith(limit), call));
    expect(await outcome('')).not.toMatch(/more than 1000 steps|too-costly/u);
    expect(await outcome(low)).toMatch(/more than 1000 steps|too-costly/u);
  });

  test('a step of a migration', async () => {
    const folder = folderWith('');
    await result(folder, ['seal', '-m', 'one']);
    edit(folder, 'model/types/light.yaml', 'more: { kind: text }', 'more: { kind: boolean, required: true }');
    const { file } = await result(folder, ['migration', 'draft']);
    edit(folder, file, /^ {4}open: .*\n/mu, `    cel: ${loop}\n`);
    expect((await result(folder, ['migration', 'rehearse'])).error).toBeUndefined();
    edit(folder, 'lumbrik.yaml', 'workspace', `${low}workspace`);
    expect((await result(folder, ['migration', 'rehearse'])).error.says).toContain('more than 1000 steps');
  });
});

describe('counting changes nothing', () => {
  const definition = link({
    languages: ['en'],
    types: {
      light: {
        fields: {
          name: { kind: 'text' },
          steps: { kind: 'integer', many: true },
          days: {
            kind: 'object',
            many: true,
            fields: { note: { kind: 'text' }, hours: { kind: 'integer', many: true } },
          },
        },
      },
    },
    taxonomies: {},
  }).types.get('light');
  const values = {
    name: 'Skerry Point',
    steps: [3, 1, 2],
    days: [{ note: 'a', hours: [1, 2] }, { note: 'b', hours: [] }, { hours: [5] }],
  };

  /** Expressions with loops around everything else that an expression may hold. */
  const body = fc.constantFrom(
    ...[
      'x > 1',
      'x - (1 - x) > 0',
      '!(x == 2)',
      'x in entry.steps',
      'entry.name.contains("S") && x > 0',
      '-x < 0',
      'x * 2 - 1 > x || x == 1',
    ],
    ...[
      '[x, 1, 2].exists(y, y > x)',
      '{"a": x}.a == x',
      'x > 1 ? true : false',
      'entry.days.exists(d, has(d.note) && d.note == "a")',
    ],
    ...[
      'entry.days[0].hours.all(h, h >= x)',
      'entry.name.matches("^S") == (x > 1)',
      'string(x).size() == 1',
      'cel.bind(q, x + 1, q > x)',
    ],
    ...[
      'entry.days[7].hours.size() > 0',
      'x / 0 > 1',
      'has(entry.name) && entry.steps[0] == x',
      'size(entry.steps + [x]) > 3',
      '(x > 1 ? "b" : "a") == "a"',
    ],
  );
  const loop = fc.constantFrom('all', 'exists', 'exists_one', 'filter', 'map');
  const expression = fc
    .tuple(loop, body, fc.boolean())
    .map(([name, inner, isNested]) =>
      isNested
        ? `entry.steps.${name}(z, entry.steps.exists(x, (${inner}) && z > 0))`
        : `entry.steps.${name}(x, ${inner})`,
    );

  test('in what an expression gives, or why it cannot', () => {
    if (!definition) throw new Error('no type');
    const compile = expressionsOver(definition);
    const outcome = (source: string, steps: number): Json => {
      const compiled = compile(source);
      if ('problem' in compiled) return `problem: ${compiled.problem}`;
      try {
        return [compiled.evaluate({ id: 'a', type: 'light', status: 'draft', fields: values, expressionSteps: steps })];
      } catch (error) {
        return `fails: ${String(error)}`;
      }
    };
    const plain = (source: string): Json => {
      // The same in an expression without a loop of ours around it is computed by the package alone.
      return outcome(source, usualLimits.expressionSteps);
    };
    fc.assert(
      fc.property(expression, (source) => {
        const value = plain(source);
        expect([source, outcome(source, 1_000_000)]).toEqual([source, value]);
        expect(typeof value === 'string' && value.includes('steps')).toBe(false);
        expect(String(outcome(source, 1))).toMatch(/more than 1 steps|problem|fails/u);
      }),
      { numRuns: 300 },
    );
  });
});
