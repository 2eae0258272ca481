import { describe, expect, test } from 'vitest';
import { parse } from 'yaml';
import { lumbrik, read, result, temporary, write } from './support/program.ts';

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
});
