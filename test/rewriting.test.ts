import fs from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { StoreOptions } from '../src/core/definition/workspace.ts';
import type { Entry } from '../src/core/entry/entry.ts';
import type { Operation } from '../src/core/migration/operation.ts';
import type { Json, JsonObject } from '../src/core/plain/json.ts';
import { entryAfterOperation } from '../src/stores/applyOperation.ts';
import { openStore } from '../src/stores/open.ts';
import type { NewEntry, Stored } from '../src/stores/store.ts';
import { temporary, write } from './support/program.ts';

/** What is done to the entries of a file: to some of them, by their place among all, and what comes new. */
interface Changes {
  readonly edits: readonly (readonly [place: number, operations: readonly Operation[]])[];
  readonly added: readonly NewEntry[];
}

/** A file before and after some changes, with what was read before and what is read after. */
async function rewritten(folder: string, content: StoreOptions, file: string, text: string, { edits, added }: Changes) {
  write(folder, { [file]: text });
  const read = async (): Promise<readonly Stored[]> => {
    const items: Stored[] = [];
    const store = openStore({ root: folder, content: [content] });
    for (const part of await store.parts(1))
      for await (const item of store.read(part)) if ('entry' in item) items.push(item);
    return items;
  };
  const before = await read();
  const store = openStore({ root: folder, content: [content] });
  const transaction = store.begin({
    add: ({ after }) => after && write(folder, { [after.path]: after.bytes }),
    keep: () => expect.unreachable(),
    rewrite: () => expect.unreachable(),
  });
  const expected = before.map(({ entry }): Entry | undefined => entry);
  for (const [place, operations] of edits) {
    const of = before[place];
    if (!of) continue;
    const possible = possibleOn(of.entry, operations);
    await transaction.change({ stored: of, operations: possible });
    expected[place] = possible.reduce<Entry | undefined>(entryAfterOperation, of.entry);
  }
  for (const entry of added) await transaction.change({ added: [entry] });
  await transaction.prepare();
  const after = fs.readFileSync(path.join(folder, file), 'utf8');
  return {
    after,
    expected: expected.filter((one) => one !== undefined),
    read: (await read()).map(({ entry }) => entry),
  };
}

/** What can be done to an entry: nothing is taken out that is not there, and nothing follows its end. */
function possibleOn(entry: Entry, operations: readonly Operation[]): readonly Operation[] {
  const possible: Operation[] = [];
  let here: Entry | undefined = entry;
  for (const operation of operations) {
    if (!here || (operation.do === 'remove' && !Object.hasOwn(here.values, operation.key))) continue;
    possible.push(operation);
    here = entryAfterOperation(here, operation);
  }
  return possible;
}

const key = fc.constantFrom('name', 'note', 'größe', 'more');
const text = fc.oneof(
  fc.constantFrom('a', 'b c', 'x;y', '1,5', '"q"', 'two\nlines', ' blank ', 'é😀', '[', '{a}', '007', '-'),
  fc.string({ maxLength: 5, unit: 'grapheme' }).filter((one) => one !== '' && !/\r/u.test(one)),
);
const edit = fc.oneof(
  fc.record({
    do: fc.constant('set' as const),
    path: key.map((one) => [one]),
    value: text as fc.Arbitrary<Json>,
    after: fc.constant([]),
  }),
  fc.record({ do: fc.constant('remove' as const), inside: fc.constant([]), key }),
  fc.constant({ do: 'delete' as const }),
  fc.constant({ do: 'move' as const, type: 'buoy' }),
);
const changes: fc.Arbitrary<Changes> = fc.record({
  edits: fc.uniqueArray(fc.tuple(fc.nat(6), fc.array(edit, { minLength: 1, maxLength: 3 })), {
    maxLength: 4,
    selector: ([place]) => place,
  }),
  added: fc.uniqueArray(
    fc.record({
      type: fc.constant('light'),
      id: fc.constantFrom('n1', 'n2'),
      values: fc.dictionary(key, text, { noNullPrototype: true }) as fc.Arbitrary<JsonObject>,
    }),
    { maxLength: 2, selector: ({ id }) => id },
  ),
});
const runs = { numRuns: Number(process.env.RUNS ?? 400) };

/** An entry as it is told apart from others: empty texts are no values in a table. */
const plain = ({ type, id, values: { id: _, type: _said, ...values } }: Entry) => ({
  type,
  id,
  values: Object.fromEntries(
    Object.entries(values)
      .filter(([, value]) => value !== '')
      .sort(),
  ),
});
const withAdded = (expected: readonly Entry[], { added }: Changes) => [
  ...expected.map(plain),
  ...added.map((one) => plain(one)),
];

describe('what is written anew says what was meant, and no more changes [K3]', () => {
  test('in tables', async () => {
    const cell = fc.tuple(fc.oneof(text, fc.constant('')), fc.boolean());
    const table = fc.record({
      rows: fc.array(fc.tuple(cell, cell, cell), { maxLength: 6 }),
      delimiter: fc.constantFrom(',', ';', '\t'),
      eol: fc.constantFrom('\n', '\r\n'),
      isEnded: fc.boolean(),
      hasMark: fc.boolean(),
    });
    const folder = temporary();
    await fc.assert(
      fc.asyncProperty(table, changes, async ({ rows, delimiter, eol, isEnded, hasMark }, some) => {
        const quoted = (one: string, always: boolean): string =>
          always || one.includes(delimiter) || /["\n]|^\s|\s$/u.test(one) ? `"${one.replaceAll('"', '""')}"` : one;
        const lines = [
          ['id', 'name', 'note', 'größe'].join(delimiter),
          ...rows.map((cells, index) =>
            [`e${index}`, ...cells.map(([one, always]) => quoted(one, always))].join(delimiter),
          ),
        ];
        const source = (hasMark ? '\uFEFF' : '') + lines.join(eol) + (isEnded ? eol : '');
        const content = { csv: ['content/a.csv'], type: 'light', delimiter } as StoreOptions;
        const { after, expected, read } = await rewritten(folder, content, 'content/a.csv', source, some);
        expect(read.map(plain)).toEqual(withAdded(expected, some));
        // Rows that nothing was done to stay as they are written, where the columns do.
        const isSameHeader = after.split(/\r?\n/u)[0] === source.split(/\r?\n/u)[0];
        const touched = new Set(some.edits.map(([place]) => place));
        for (const [index] of rows.entries())
          if (isSameHeader && !touched.has(index)) expect(after).toContain(lines[index + 1]);
        if (some.edits.every(([place]) => place >= rows.length) && some.added.length === 0) expect(after).toBe(source);
      }),
      runs,
    );
  });

  test('in lists and maps of JSON', async () => {
    const value = fc.oneof(
      text,
      fc.integer(),
      fc.boolean(),
      fc.constant(null),
      fc.array(text, { maxLength: 2 }),
      fc.dictionary(key, text, { noNullPrototype: true }),
    );
    const document = fc.record({
      entries: fc.array(fc.dictionary(key, value, { noNullPrototype: true }), { maxLength: 6 }),
      isMap: fc.boolean(),
      indent: fc.constantFrom(undefined, 1, 2, 4, '\t'),
      isDeep: fc.boolean(),
    });
    const folder = temporary();
    await fc.assert(
      fc.asyncProperty(document, changes, async ({ entries, isMap, indent, isDeep }, some) => {
        const all = isMap
          ? Object.fromEntries(entries.map((one, index) => [`e${index}`, one]))
          : entries.map((one, index) => ({ id: `e${index}`, ...one }));
        const source = JSON.stringify(
          isDeep ? { before: 1, data: { all, x: [] }, after: [2] } : all,
          undefined,
          indent,
        );
        const content = {
          json: ['content/a.json'],
          type: 'light',
          ...(isDeep ? { at: 'data.all' } : {}),
        } as StoreOptions;
        const { after, expected, read } = await rewritten(folder, content, 'content/a.json', source, some);
        const told = ({ type, id, values: { id: _, type: _said, ...values } }: Entry) => ({ type, id, values });
        expect(read.map(told)).toEqual([...expected.map(told), ...some.added.map((one) => told(one))]);
        const { before, after: behind, data } = (isDeep ? JSON.parse(after) : {}) as Record<string, any>;
        if (isDeep) expect([before, behind, data.x]).toEqual([1, [2], []]);
        if (some.edits.every(([place]) => place >= entries.length) && some.added.length === 0)
          expect(after).toBe(source);
      }),
      runs,
    );
  });
});
