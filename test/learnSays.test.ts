import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import type { Json, JsonObject } from '../src/core/plain/json.ts';
import { type Files, lumbrik, read, result, temporary, workspace, write } from './support/program.ts';

/** Learns from one file in a new folder. */
async function learnt(file: string, content: string, ...more: readonly string[]) {
  const folder = temporary();
  write(folder, { [`content/${file}`]: content });
  const told = await result(folder, ['learn', `content/${file}`, ...more]);
  const type = file.replace(/\..*$/u, '');
  const fields = told.error ? {} : (parse(read(folder, `model/types/${type}.yaml`)).fields ?? {});
  return { folder, told, fields };
}

describe('learning says what it does [K2]', () => {
  test('a heading above the names of a table is passed over, and a column without a name is a field', async () => {
    const rows = Array.from({ length: 12 }, (_, index) => `${index};Tree ${index};${index};note ${index}`).join('\n');
    const { folder, fields } = await learnt('tree.csv', `All our trees;;;\nno;name;height;\n${rows}\n`);
    expect(Object.keys(fields)).toEqual(['name', 'height', 'column-4']);
    expect((await result(folder, ['check'])).ok).toBe(true);
    // What stands in the column without a name stays there when its row is written.
    await lumbrik(folder, ['seal', '-m', 'one']);
    write(folder, {
      'model/types/tree.yaml': read(folder, 'model/types/tree.yaml')
        .replace('name:', 'title:')
        .replace('titled: name', 'titled: title'),
    });
    await result(folder, ['migration', 'draft', '--renamed', 'tree.name=title']);
    await result(folder, ['migration', 'rehearse']);
    await lumbrik(folder, ['migration', 'run']);
    expect(read(folder, 'content/tree.csv')).toBe(`All our trees;;;\nno;title;height;\n${rows}\n`);
  });

  test('a table with one column, or a first row like the others, has no heading', async () => {
    const { told } = await learnt('tree.csv', 'id\na\nb\nc\n');
    expect(told.types).toEqual([expect.objectContaining({ type: 'tree', entries: 3 })]);
  });

  test('one value with a blank does not make texts of choices unasked', async () => {
    const rows = Array.from({ length: 40 }, (_, index) => {
      const size = index % 2 ? 'big' : 'small';
      return `${index},${index === 7 ? 'big ' : size}`;
    });
    const content = `id,size\n${rows.join('\n')}\n`;
    const { told, fields } = await learnt('tree.csv', content);
    expect(fields.size.kind).toBe('text');
    expect(told.questions[0].asks).toBe('“big ” has blanks around it (1 value): is it else always one of these 2?');
    const said = await learnt('tree.csv', content, '--as', 'tree.size=choice');
    expect(said.fields.size).toMatchObject({ kind: 'choice', choices: ['big', 'small'] });
    expect([said.told.errors, said.told.summary[0].example]).toEqual([1, 'tree/7#/size']);
  });

  test('a key `type` that holds numbers is a field; always-empty lists are lists; often-empty texts may be empty', async () => {
    const entries = Array.from({ length: 30 }, (_, index) => ({
      no: `x${index}`,
      type: (index % 3) + 1,
      none: [],
      note: index % 3 ? '' : `text ${index}`,
      sort: ['a', 'b', 'c'][index % 3],
    }));
    const { folder, told, fields } = await learnt('tree.json', JSON.stringify(entries));
    expect(fields).toMatchObject({
      type: { kind: 'integer', required: true },
      none: { kind: 'text', many: true, required: true, mayBeEmpty: true },
      note: { kind: 'text', required: true, mayBeEmpty: true },
    });
    expect(fields.note.when).toBeUndefined();
    expect(told.identifiers).toEqual([{ place: 'content/tree.json', key: 'no' }]);
    expect((await result(folder, ['check'])).ok).toBe(true);
    const { out } = await lumbrik(folder, ['export', 'entries', 'tree', '--as', 'ndjson']);
    expect(JSON.parse(out.split('\n')[0] ?? '').type).toBe(1);
  });

  test('the language of a workspace is that of its texts; where they do not tell, that is said', async () => {
    const german = ['Der Garten liegt am Hang und wird von einer alten Mauer geschützt.', 'Zum Tee gibt es Kuchen.'];
    const entries = (texts: readonly string[]) =>
      JSON.stringify(texts.map((text, index) => ({ id: `e${index}`, text, code: `AB-${index}` })));
    const de = await learnt('garten.json', entries(german));
    expect(de.told).toMatchObject({ languages: ['de'], languagesBecause: 'The texts read as German.' });
    expect(read(de.folder, 'lumbrik.yaml')).toContain('languages: [ de ] # The texts read as German.\n');
    const none = await learnt('code.json', entries(['Maren Holt', 'Ida Berg']));
    expect(none.told).toMatchObject({
      languages: ['en'],
      languagesBecause: 'The texts do not tell their language: English is assumed.',
    });
  });

  test('in a German workspace ü is ue: in new entries, slugs, and what is suggested', async () => {
    const folder = workspace({
      'lumbrik.yaml': 'workspace: Garten\nlanguages: [de]\n',
      'model/types/beet.yaml':
        'type: beet\ntitled: name\nfields:\n  name: { kind: text, required: true }\n  slug: { kind: slug, from: name, required: true }\n',
    });
    const { entry } = await result(folder, ['entry', 'new', 'beet', '--title', 'Über Grün & Öl']);
    expect(entry).toBe('beet/ueber-gruen-oel');
    expect(read(folder, 'content/beet/ueber-gruen-oel.yaml')).toContain('slug: ueber-gruen-oel\n');
    write(folder, { 'content/beet/grün.yaml': 'name: Grün\n' });
    await lumbrik(folder, ['check', '--fix', '--yes']);
    expect(read(folder, 'content/beet/grün.yaml')).toBe('name: Grün\nslug: gruen\n');
    const tried = await result(folder, ['try', '"Ü".slug() + " " + "Ü".slug("de") + " " + "Ø".slug("da")']);
    expect(tried.rows[0].value).toBe('u ue oe');
  });

  test('versions are no choices; fields that are alike are one question', async () => {
    const rows = Array.from({ length: 40 }, (_, index) => ({
      id: `f${index}`,
      chrome: `${40 + (index % 7)}.0`,
      safari: ['9.1', '10.0', '10.1.2'][index % 3],
      size: ['big', 'small'][index % 2],
    }));
    const { told, fields } = await learnt('support.json', JSON.stringify(rows));
    expect([fields.chrome.kind, fields.safari.kind, fields.size.kind]).toEqual(['text', 'text', 'choice']);
    expect(told.taxonomies).toEqual([]);
    expect(told.questions).toMatchObject([{ address: 'support.chrome', alike: ['support.safari'] }]);
    const both = await learnt('support.json', JSON.stringify(rows), '--as', 'support.chrome,safari=choice');
    expect([both.fields.chrome.kind, both.fields.safari.kind]).toEqual(['choice', 'choice']);
    // A comma in the name of a column parts nothing.
    const sizes = Array.from({ length: 12 }, (_, index) => `t${index},${index}`).join('\n');
    const one = await learnt('tree.csv', `id,"Size, cm"\n${sizes}\n`, '--as', 'tree.Size, cm=text');
    expect(one.fields.sizeCm.kind).toBe('text');
  });

  test('files that cannot be read come first, by name', async () => {
    const folder = temporary();
    write(folder, {
      'content/bed/a.yaml': 'name: A\n',
      'content/bed/b.yaml': 'name: [\n',
      'content/bed/c.md': '---\nname: C\n',
    });
    const { out } = await lumbrik(folder, ['learn']);
    expect(out.replace(/\s+/gu, ' ')).toContain(
      '2 files or lines could not be read as entries, and nothing was learnt from them: content/bed/b.yaml:2 and',
    );
    expect((await result(folder, ['check'])).summary[0]).toMatchObject({ finding: 'unreadable-file', count: 2 });
  });

  test('clauses of a sentence are no items of a list', async () => {
    const rows = Array.from({ length: 40 }, (_, index) => {
      const note = index % 4 ? `A dry path through the wood, ${index}` : 'Bring boots; the path is very wet';
      return `w${index},${['coast; hills', 'coast', 'sea'][index % 3]},"${note}"`;
    });
    const { fields } = await learnt('walk.csv', `id,tags,note\n${rows.join('\n')}\n`);
    expect([fields.tags.many, fields.note.many]).toEqual([expect.anything(), undefined]);
  });

  test('the body of Markdown files is not asked for in their front matter', async () => {
    const folder = temporary();
    write(
      folder,
      Object.fromEntries([1, 2, 3].map((one) => [`content/bed/${one}.md`, `---\nname: ${one}\n---\nText\n`])),
    );
    await lumbrik(folder, ['learn']);
    expect(read(folder, 'model/types/bed.yaml')).toContain('text: { kind: markdown, body: true, required: true }');
    await lumbrik(folder, ['schemas']);
    expect(JSON.parse(read(folder, 'schemas/entries/bed.json')).required).toEqual(['name']);
  });
});

/** Keys as data has them: names of fields, those that no field can be called, those that say something of an entry. */
const anyKey = fc.constantFrom(
  ...['name', 'title', 'type', 'status', 'created', 'kind', 'slug', 'text', 'body', 'content', 'tags', 'en', 'de'],
  ...[
    'First name',
    'Größe (cm)',
    'a.b',
    'a-b',
    'a_b',
    'A-B',
    '__proto__x',
    'constructor',
    '$x',
    '@id',
    '1st',
    '日本',
    ' x',
    '',
  ],
);

const anyValue: fc.Arbitrary<Json> = fc.oneof(
  fc.constantFrom<Json>(
    '',
    'a',
    'b',
    'some words',
    '2026-03-01',
    'draft',
    '1.2',
    0,
    1,
    2.5,
    true,
    false,
    [],
    ['a'],
    ['a', 'b'],
  ),
  fc.constantFrom<Json>(
    {},
    { a: 1 },
    { en: 'a', de: 'b' },
    { 'a b': 1 },
    [{ a: 1 }, { b: 'x' }],
    [[1]],
    { lat: 1, lon: 2 },
    null,
  ),
);

const anyEntry = fc.dictionary(anyKey, anyValue, { maxKeys: 6, noNullPrototype: true });

/** What is no value, and nothing is lost where it is not there. */
const isNone = (value: Json | undefined): boolean =>
  value === undefined || ['null', '""', '[]', '{}'].includes(JSON.stringify(value));

/** Entries as files of one form or another. */
const formsOf: Readonly<Record<string, (entries: readonly JsonObject[]) => Files>> = {
  json: (entries) => ({ 'content/thing.json': JSON.stringify(entries) }),
  lines: (entries) => ({ 'content/thing.ndjson': entries.map((one) => `${JSON.stringify(one)}\n`).join('') }),
  files: (entries) => Object.fromEntries(entries.map((one) => [`content/thing/${one.id}.yaml`, JSON.stringify(one)])),
  markdown: (entries) =>
    Object.fromEntries(
      entries.map((one) => [`content/thing/${one.id}.md`, `---\n${JSON.stringify(one)}\n---\nSome text below.\n`]),
    ),
};

describe('nothing that an entry holds is missing from a model without a word', () => {
  test.each(Object.keys(formsOf))('each key of each entry is a field or is named: %s', async (form) => {
    await fc.assert(
      fc.asyncProperty(fc.array(anyEntry, { minLength: 1, maxLength: 8 }), async (values) => {
        const folder = temporary();
        const entries = values.map((one, index): JsonObject => ({ ...one, id: `e${index}` }));
        write(folder, formsOf[form]?.(entries) ?? {});
        const told = await result(folder, ['learn', '--no-ask']);
        expect(told.error).toBeUndefined();
        expect(told.summary.filter(({ finding }: { finding: string }) => finding === 'unknown-field')).toEqual([]);
        const named = told.left.flatMap(({ keys = [] }) => keys);
        const { out } = await lumbrik(folder, ['export', 'entries', '--as', 'ndjson']);
        const lines = out.split('\n').filter(Boolean);
        const read = new Map(lines.map((line) => JSON.parse(line)).map((one) => [one.id, one]));
        for (const one of entries)
          for (const [key, value] of Object.entries(one)) {
            if (named.includes(key) || isNone(value)) continue;
            const field = told.keys.find((known: { key: string }) => known.key === key)?.field ?? key;
            expect([one.id, key, read.get(one.id)?.[field]]).toEqual([one.id, key, value]);
          }
      }),
      { numRuns: 60 },
    );
  });
});

test('an odd `type` or `id` among many makes no field of it, and is a finding', async () => {
  const lines = Array.from({ length: 100 }, (_, index) => ({
    id: `n${index}`,
    type: index === 7 ? 7 : 'note',
    name: 'N',
  }));
  const folder = temporary();
  write(folder, {
    'content/all.ndjson': lines.map((one) => `${JSON.stringify(one)}\n`).join(''),
    'content/note/z.yaml': 'id: { a: 1 }\nname: Z\n',
  });
  const told = await result(folder, ['learn', '--no-ask']);
  expect(read(folder, 'lumbrik.yaml')).not.toContain('builtIn');
  expect(told.errors).toBeGreaterThan(0);
  const { findings } = await result(folder, ['check']);
  expect(findings.map(({ message, pointer }: any) => [message, pointer])).toEqual(
    expect.arrayContaining([
      ['malformed-identifier:value', '/id'],
      ['unknown-type:value', '/type'],
    ]),
  );
});
