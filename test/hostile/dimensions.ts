import type { Files } from '../support/plain.ts';

/** One way in which a workspace may be large, and a command that meets it. */
export interface Dimension {
  readonly name: string;
  /** So large that a run takes a good part of a second. */
  readonly size: number;
  readonly files: (size: number) => Files;
  readonly args?: readonly string[];
  /** Commands that come before, and are not measured. */
  readonly before?: readonly (readonly string[])[];
  /** Files that are written after those. */
  readonly afterwards?: (size: number) => Files;
}

const many = <T>(size: number, one: (index: number) => T): readonly T[] =>
  Array.from({ length: size }, (_, index) => one(index));
const lines = (size: number, one: (index: number) => string): string => many(size, one).join('');
const json = (value: unknown): string => JSON.stringify(value);

const light = (fields: string, more = ''): Files => ({
  'model/types/light.yaml': `type: light\nfields:\n  name: { kind: longText }\n${fields}${more}`,
});
const oneEntry = (values: object): Files => ({ 'content/light/a.json': json(values) });
const nested = (depth: number, inner: unknown): unknown =>
  many(depth, (n) => n).reduce<unknown>((value) => ({ a: value }), inner);

/** Everything that a file of a workspace may have much of. */
export const dimensions: readonly Dimension[] = [
  {
    name: 'letters of a text',
    size: 2_000_000,
    files: (n) => ({ ...light('  more: { kind: longText, max: 10 }\n'), ...oneEntry({ more: 'a'.repeat(n) }) }),
  },
  {
    name: 'emoji of a text',
    size: 200_000,
    files: (n) => ({ ...light('  more: { kind: longText, max: 10 }\n'), ...oneEntry({ more: '😀'.repeat(n) }) }),
  },
  {
    name: 'emoji of a text, shown',
    size: 200_000,
    files: (n) => ({
      ...light('  more: { kind: longText }\n'),
      ...oneEntry({ name: '👩‍🔧'.repeat(n), more: '😀'.repeat(n) }),
    }),
    args: ['show', 'light/a'],
  },
  {
    name: 'spaces of a text',
    size: 2_000_000,
    files: (n) => ({ ...light(''), ...oneEntry({ name: `${' '.repeat(n)}x` }) }),
  },
  {
    name: 'lines of a text',
    size: 200_000,
    files: (n) => ({
      ...light('  story: { kind: markdown }\n'),
      'content/light/a.md': `---\nname: A\n---\n${'a line\n'.repeat(n)}`,
    }),
  },
  {
    name: 'blank lines below the front matter',
    size: 400_000,
    files: (n) => ({
      ...light('  story: { kind: markdown }\n'),
      'content/light/a.md': `---\nname: A\n---\n${'\n'.repeat(n)}x`,
    }),
  },
  {
    name: 'letters of a text with a pattern',
    size: 1_000_000,
    files: (n) => ({
      ...light("  more: { kind: longText, pattern: '^(a+)+$' }\n"),
      ...oneEntry({ more: `${'a'.repeat(n)}!` }),
    }),
  },
  {
    name: 'letters of a slug, a date, an address',
    size: 200_000,
    files: (n) => ({
      ...light(
        '  s: { kind: slug, from: name }\n  d: { kind: date }\n  w: { kind: webAddress }\n  e: { kind: email }\n  u: { kind: duration }\n',
      ),
      ...oneEntry({
        s: 'a-'.repeat(n),
        d: '1'.repeat(n),
        w: `https://${'a.'.repeat(n)}`,
        e: `${'a.'.repeat(n)}@${'a.'.repeat(n)}`,
        u: `P${'1'.repeat(n)}`,
      }),
    }),
  },
  {
    name: 'Markdown converted',
    size: 20_000,
    files: (n) => ({ ...light(''), 'a.md': lines(n, (i) => `a *line* ${i} [x](y)\n\n`) }),
    args: ['text', 'a.md', '--to', 'html'],
  },
  {
    name: 'brackets of Markdown',
    size: 6_000,
    files: (n) => ({ ...light(''), 'a.md': `${'['.repeat(n)}x` }),
    args: ['text', 'a.md', '--to', 'html'],
  },
  {
    name: 'emphasis of Markdown',
    size: 10_000,
    files: (n) => ({ ...light(''), 'a.md': '*a **b '.repeat(n) }),
    args: ['text', 'a.md', '--to', 'html'],
  },
  {
    name: 'unknown keys of an entry',
    size: 6_000,
    files: (n) => ({ ...light(''), ...oneEntry(Object.fromEntries(many(n, (i) => [`key${i}`, i]))) }),
  },
  {
    name: 'unknown keys of a type',
    size: 6_000,
    files: (n) =>
      light(
        '',
        lines(n, (i) => `key${i}: 1\n`),
      ),
  },
  {
    name: 'unknown keys of a kit',
    size: 6_000,
    files: (n) => ({
      ...light('', 'kits: [k]\n'),
      'model/kits/k.yaml': `kit: k\nfields:\n  a: { kind: text }\n${lines(n, (i) => `key${i}: 1\n`)}`,
    }),
  },
  {
    name: 'unknown keys of a taxonomy',
    size: 6_000,
    files: (n) => ({
      ...light(''),
      'model/taxonomies/t.yaml': `taxonomy: t\nterms: [a]\n${lines(n, (i) => `key${i}: 1\n`)}`,
    }),
  },
  {
    name: 'unknown options of fields',
    size: 3_000,
    files: (n) => light(lines(n, (i) => `  f${i}: { kind: text, mxa: 1 }\n`)),
  },
  {
    name: 'fields of a type',
    size: 5_000,
    files: (n) => ({
      ...light(lines(n, (i) => `  f${i}: { kind: text, max: 9 }\n`)),
      ...oneEntry(Object.fromEntries(many(n, (i) => [`f${i}`, 'x']))),
    }),
  },
  {
    name: 'fields of a type, shown',
    size: 5_000,
    files: (n) => light(lines(n, (i) => `  f${i}: { kind: text, max: 9 }\n`)),
    args: ['show', 'light'],
  },
  {
    name: 'choices of a field',
    size: 10_000,
    files: (n) => ({
      ...light(`  c: { kind: choice, choices: [${lines(n, (i) => `c${i}, `)}z] }\n`),
      ...oneEntry({ c: 'zz' }),
    }),
  },
  {
    name: 'rules of a type',
    size: 1_000,
    files: (n) => ({
      ...light('  n: { kind: integer }\n', `rules:\n${lines(n, (i) => `  - { expect: "entry.n > ${i}", say: x }\n`)}`),
      ...oneEntry({ n: 0, status: 'published' }),
    }),
  },
  {
    name: 'types',
    size: 800,
    files: (n) =>
      Object.fromEntries(
        many(n, (i) => [
          `model/types/t${i}.yaml`,
          `type: t${i}\nfields:\n  name: { kind: text }\n  next: { kind: reference, to: t${(i + 1) % n} }\n`,
        ]),
      ),
  },
  {
    name: 'types that extend each other',
    size: 300,
    files: (n) =>
      Object.fromEntries(
        many(n, (i) => [
          `model/types/t${i}.yaml`,
          `type: t${i}\n${i > 0 ? 'extends: t0\n' : ''}fields:\n  f${i}: { kind: text }\n`,
        ]),
      ),
  },
  {
    name: 'kits of a type',
    size: 1_000,
    files: (n) => ({
      ...light('', `kits: [${many(n, (i) => `k${i}`).join(', ')}]\n`),
      ...Object.fromEntries(
        many(n, (i) => [`model/kits/k${i}.yaml`, `kit: k${i}\nfields:\n  f${i}: { kind: text }\n`]),
      ),
    }),
  },
  {
    name: 'terms of a taxonomy',
    size: 10_000,
    files: (n) => ({
      ...light('  t: { kind: term, taxonomy: t, many: true }\n'),
      'model/taxonomies/t.yaml': `taxonomy: t\nterms:\n${lines(n, (i) => `  - term${i}\n`)}`,
      ...oneEntry({ t: many(n, (i) => `term${i}`) }),
    }),
  },
  {
    name: 'unknown terms',
    size: 3_000,
    files: (n) => ({
      ...light('  t: { kind: term, taxonomy: t, many: true }\n'),
      'model/taxonomies/t.yaml': `taxonomy: t\nterms:\n${lines(2_000, (i) => `  - known${i}\n`)}`,
      ...oneEntry({ t: many(n, (i) => `trem${i}`) }),
    }),
  },
  {
    name: 'terms listed',
    size: 10_000,
    files: (n) => ({
      ...light(''),
      'model/taxonomies/t.yaml': `taxonomy: t\nterms:\n${lines(n, (i) => `  - term${i}\n`)}`,
    }),
    args: ['terms', 't'],
  },
  {
    name: 'depth of terms',
    size: 60,
    files: (n) => ({
      ...light(''),
      'model/taxonomies/t.yaml': `taxonomy: t\nterms:\n${lines(n, (i) => `${'    '.repeat(i)}  - term: t${i}\n${'    '.repeat(i)}    terms:\n`)}${'    '.repeat(n)}  - end\n`,
    }),
  },
  {
    name: 'terms added from a list',
    size: 3_000,
    files: (n) => ({
      ...light(''),
      'model/taxonomies/t.yaml': 'taxonomy: t\nopen: true\n',
      'list.txt': lines(n, (i) => `Term ${i}\n`),
    }),
    args: ['terms', 't', '--add', 'list.txt'],
  },
  {
    name: 'items of a list',
    size: 40_000,
    files: (n) => ({ ...light('  l: { kind: integer, many: { max: 3 } }\n'), ...oneEntry({ l: many(n, (i) => i) }) }),
  },
  {
    name: 'items of a list that are wrong',
    size: 8_000,
    files: (n) => ({
      ...light('  l: { kind: integer, max: 0, many: true }\n'),
      ...oneEntry({ l: many(n, (i) => i + 1) }),
    }),
  },
  {
    name: 'items of a YAML list that are wrong',
    size: 8_000,
    files: (n) => ({
      ...light('  l: { kind: integer, max: 0, many: true }\n'),
      'content/light/a.yaml': `l:\n${lines(n, (i) => `  - ${i + 1}\n`)}`,
    }),
  },
  {
    name: 'objects of a list',
    size: 10_000,
    files: (n) => ({
      ...light('  o: { kind: object, many: true, fields: { a: { kind: integer, max: 1 } } }\n'),
      ...oneEntry({ o: many(n, (i) => ({ a: i })) }),
    }),
  },
  {
    name: 'keys of free JSON',
    size: 20_000,
    files: (n) => ({
      ...light('  j: { kind: json, max: 90000000 }\n'),
      ...oneEntry({ j: Object.fromEntries(many(n, (i) => [`k${i}`, i])) }),
    }),
  },
  {
    name: 'depth of free JSON',
    size: 300,
    files: (n) => ({
      ...light('  j: { kind: json, max: 90000000 }\n'),
      ...oneEntry({ j: many(60, () => nested(n, 1)) }),
    }),
  },
  {
    name: 'items against a JSON Schema',
    size: 20_000,
    files: (n) => ({
      ...light('  j: { kind: json, max: 90000000, schema: { items: { type: string } } }\n'),
      ...oneEntry({ j: many(n, (i) => (i % 2 === 0 ? 'x' : i)) }),
    }),
  },
  {
    name: 'nodes of structured text',
    size: 6_000,
    files: (n) => ({
      ...light('  r: { kind: richText, blocks: [list] }\n'),
      ...oneEntry({
        r: {
          type: 'root',
          children: many(n, () => ({
            type: 'paragraph',
            children: [
              { type: 'text', value: 'x' },
              { type: 'strong', children: [{ type: 'text', value: 'y' }] },
            ],
          })),
        },
      }),
    }),
  },
  {
    name: 'findings in one file',
    size: 8_000,
    files: (n) => ({
      ...light('  l: { kind: text, max: 1, many: true }\n'),
      'content/light/a.yaml': `l:\n${lines(n, (i) => `  - text${i}\n`)}`,
    }),
  },
  {
    name: 'findings that are shown',
    size: 8_000,
    files: (n) => ({
      ...light('  l: { kind: reference, to: light, many: true }\n'),
      ...oneEntry({ l: many(n, (i) => `none-${i}`) }),
    }),
  },
  {
    name: 'entries',
    size: 1_500,
    files: (n) => ({
      ...light('  next: { kind: reference, to: light }\n'),
      ...Object.fromEntries(
        many(n, (i) => [`content/light/e${i}.json`, json({ name: `E ${i}`, next: `e${(i + 1) % n}` })]),
      ),
    }),
  },
  {
    name: 'entries with the same identifier',
    size: 1_500,
    files: (n) => ({
      ...light(''),
      ...Object.fromEntries(many(n, (i) => [`content/light/e${i}.json`, json({ id: 'same', name: `E ${i}` })])),
    }),
  },
  {
    name: 'entries that share a unique value',
    size: 1_500,
    files: (n) => ({
      ...light('  u: { kind: text, unique: true }\n'),
      ...Object.fromEntries(many(n, (i) => [`content/light/e${i}.json`, json({ u: 'same' })])),
    }),
  },
  {
    name: 'references to one entry',
    size: 1_500,
    files: (n) => ({
      ...light('  next: { kind: reference, to: light, inverse: { name: others, max: 3 } }\n'),
      ...Object.fromEntries(many(n, (i) => [`content/light/e${i}.json`, json({ next: 'e0' })])),
    }),
  },
  {
    name: 'entries walked',
    size: 1_500,
    files: (n) => ({
      ...light('  next: { kind: reference, to: light }\n'),
      ...Object.fromEntries(many(n, (i) => [`content/light/e${i}.json`, json({ next: `e${(i + 1) % n}` })])),
    }),
    args: ['trace', 'light/e0', '--depth', '9'],
  },
  {
    name: 'entries that point at each other in a circle',
    size: 1_500,
    files: (n) => ({
      ...light('  next: { kind: reference, to: light }\n'),
      ...Object.fromEntries(
        many(n, (i) => [`content/light/e${i}.json`, json({ status: 'draft', next: `e${(i + 1) % n}` })]),
      ),
    }),
    args: ['trace', 'light/e0', '--publishing'],
  },
  {
    name: 'languages',
    size: 150,
    files: (n) => ({
      'lumbrik.yaml': `workspace: x\nlanguages: [${many(n, languageOf).join(', ')}]\n`,
      ...light('  t: { kind: text, localized: true, required: true }\n'),
      ...Object.fromEntries(
        many(60, (i) => [
          `content/light/e${i}.json`,
          json({ t: Object.fromEntries(many(n, (l) => [languageOf(l), 'x'])) }),
        ]),
      ),
    }),
  },
  {
    name: 'front matter that is not closed',
    size: 100_000,
    files: (n) => ({ ...light(''), 'content/light/a.md': `---\n${'a: b\n'.repeat(n)}` }),
  },
  {
    name: 'aliases',
    size: 2_000,
    files: (n) => ({
      ...light('  j: { kind: json }\n'),
      'content/light/a.yaml': `j:\n  a: &a x\n  l: [${'*a, '.repeat(n)}x]\n`,
    }),
  },
  {
    name: 'lines of a block text',
    size: 100_000,
    files: (n) => ({ ...light(''), 'content/light/a.yaml': `name: |\n${'  a line\n'.repeat(n)}` }),
  },
  {
    name: 'line breaks in a quoted text',
    size: 100_000,
    files: (n) => ({ ...light(''), 'content/light/a.yaml': `name: "${'a line\n\n  '.repeat(n)}"\n` }),
  },
  {
    name: 'comments',
    size: 100_000,
    files: (n) => ({ ...light(''), 'content/light/a.yaml': `name: A\n${'# a line\n'.repeat(n)}` }),
  },
  {
    name: 'changes between two models',
    size: 500,
    files: (n) => light(lines(n, (i) => `  f${i}: { kind: text, max: 9 }\n`)),
    before: [['seal', '-m', 'one']],
    afterwards: (n) => light(lines(n, (i) => `  f${i}: { kind: text, max: 8 }\n`)),
    args: ['diff'],
  },
];

function languageOf(index: number): string {
  const letter = (number: number): string => String.fromCharCode(97 + number);
  return `${letter(Math.floor(index / 26) % 26)}${letter(index % 26)}q`;
}
