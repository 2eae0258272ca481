import fs from 'node:fs';
import path from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import type { Operation } from '../src/core/migration/operation.ts';
import { openStore } from '../src/stores/open.ts';
import type { EntryStore, Item, Stored, Transaction } from '../src/stores/store.ts';
import { hashBytes } from '../src/workspace/files.ts';
import { read, temporary, write } from './support/program.ts';

/** A store to be tried, holding the lights a to d, each with a name. */
interface Tried {
  readonly store: EntryStore;
  /** Begins a transaction that can be committed, which gives a way back. */
  readonly begin: () => { readonly transaction: Transaction; readonly commit: () => Promise<() => Promise<void>> };
}

/** Makes changes, and gives a way back. */
async function change(
  { begin }: Tried,
  tell: (transaction: Transaction) => Promise<void>,
): Promise<() => Promise<void>> {
  const { transaction, commit } = begin();
  await tell(transaction);
  await transaction.prepare();
  return commit();
}

const all = async (store: EntryStore): Promise<readonly Item[]> => {
  const items: Item[] = [];
  for (const part of await store.parts(4)) for await (const item of store.read(part)) items.push(item);
  return items;
};
const entries = async (store: EntryStore): Promise<readonly Stored[]> =>
  (await all(store)).filter((item): item is Stored => 'entry' in item);
const rename: readonly Operation[] = [{ do: 'rename', inside: [], key: 'name', to: 'title' }];

/** What every store has to do, whatever its entries are kept in. A new store is one more call of this. */
function storeContract(name: string, make: () => Tried): void {
  describe(`the store of ${name} [K3]`, () => {
    test('gives every entry once, in the same order each time', async () => {
      const { store } = make();
      const first = await entries(store);
      expect(first.map(({ entry }) => `${entry.type}/${entry.id}`).sort()).toEqual(
        ['a', 'b', 'c', 'd'].map((id) => `light/${id}`),
      );
      expect(await entries(store)).toEqual(first);
    });

    test('cuts what it keeps into parts that are plain data, and hold everything once', async () => {
      const { store } = make();
      for (const most of [1, 2, 100]) {
        const parts = await store.parts(most);
        expect(JSON.parse(JSON.stringify(parts))).toEqual(parts);
        const ids: string[] = [];
        for (const part of parts)
          for await (const item of store.read(part)) if ('entry' in item) ids.push(item.entry.id);
        expect(ids.toSorted()).toEqual(['a', 'b', 'c', 'd']);
      }
    });

    test('gives places and entries as plain data', async () => {
      const items = await all(make().store);
      expect(JSON.parse(JSON.stringify(items))).toEqual(items);
    });

    test('gets an entry by its address, and nothing where there is none', async () => {
      const { store } = make();
      for (const { entry, version, place } of await entries(store)) {
        expect((await store.get(entry))?.version).toBe(version);
        expect((await store.get(entry, place))?.version).toBe(version);
      }
      expect(await store.get({ type: 'light', id: 'nowhere' })).toBeUndefined();
      expect(await store.get({ type: 'nothing', id: 'a' })).toBeUndefined();
      expect(await store.get({ type: 'light', id: '../../etc/passwd' })).toBeUndefined();
    });

    test('tells where values stand, from where to where', async () => {
      const { store } = make();
      const stored = await entries(store);
      for (const { place } of stored.toReversed())
        for (const at of [['name'], ['no', 'such', 3, 'thing'], []]) {
          const { start, end } = await store.locate(place, at);
          expect(start.line).toBeGreaterThanOrEqual(1);
          expect(end.line * 1000 + end.column).toBeGreaterThanOrEqual(start.line * 1000 + start.column);
        }
    });

    test('tries a change and keeps nothing of it', async () => {
      const { store } = make();
      const before = await all(store);
      for (const of of await entries(store)) await store.attempt({ stored: of, operations: rename });
      expect(await all(store)).toEqual(before);
    });

    test('edits, removes and adds entries in one transaction, and takes it all back', async () => {
      const tried = make();
      const { store } = tried;
      const before = await all(store);
      const back = await change(tried, async (transaction) => {
        for (const of of await entries(store)) {
          if (of.entry.id === 'a') await transaction.change({ stored: of, operations: rename });
          if (of.entry.id === 'b') await transaction.change({ stored: of, operations: [{ do: 'delete' }] });
          // One becomes two: what it was, and another one beside it.
          if (of.entry.id === 'c')
            await transaction.change({ stored: of, added: [{ type: 'light', id: 'e', values: { name: 'E' } }] });
        }
      });
      const after = new Map((await entries(store)).map(({ entry }) => [entry.id, entry]));
      expect([...after.keys()].toSorted()).toEqual(['a', 'c', 'd', 'e']);
      expect(after.get('a')?.values.title).toBe('A');
      expect(after.get('a')?.values.name).toBeUndefined();
      expect(after.get('e')).toMatchObject({ type: 'light', values: { name: 'E' } });
      await back();
      expect(await all(store)).toEqual(before);
    });

    test('keeps nothing of a transaction that is not committed', async () => {
      const { store, begin } = make();
      const before = await all(store);
      const [of] = await entries(store);
      const { transaction } = begin();
      if (of) await transaction.change({ stored: of, operations: [{ do: 'delete' }] });
      await transaction.prepare();
      expect(await all(store)).toEqual(before);
    });
  });
}

/** A store whose files are written here as the journal writes them, and put back byte for byte. */
function inFiles(folder: string, content: Parameters<typeof openStore>[0]['content']): Tried {
  const store = openStore({ root: folder, content });
  return {
    store,
    begin: () => {
      const before = new Map<string, Buffer | undefined>();
      const wanted = new Map<string, Buffer | undefined>();
      const at = (file: string): string => path.join(folder, file);
      const note = (file: string): void => {
        before.set(file, fs.existsSync(at(file)) ? fs.readFileSync(at(file)) : undefined);
      };
      const transaction = store.begin({
        add: (file) => {
          for (const one of [file.before, file.after]) if (one) note(one.path);
          if (file.before) wanted.set(file.before.path, undefined);
          if (file.after) wanted.set(file.after.path, file.after.bytes);
        },
        keep: (file) => ({ copy: at(file), hash: hashBytes(fs.readFileSync(at(file))) }),
        rewrite: (file) => {
          note(file);
          const pieces: Buffer[] = [];
          return {
            write: (bytes) => pieces.push(Buffer.from(bytes)),
            done: () => wanted.set(file, Buffer.concat(pieces)),
          };
        },
      });
      const put = (files: ReadonlyMap<string, Buffer | undefined>): void => {
        for (const [file, bytes] of files)
          if (bytes) write(folder, { [file]: bytes });
          else fs.rmSync(at(file), { force: true });
      };
      return {
        transaction,
        commit: async () => {
          put(wanted);
          return async () => put(before);
        },
      };
    },
  };
}

storeContract('a folder', () => {
  const folder = temporary();
  write(folder, {
    'content/light/a.yaml': 'name: A # first\n',
    'content/light/b.json': '{\n  "name": "B"\n}\n',
    'content/light/deep/down/c.md': '---\nname: C\n---\n\nText\n',
    'content/light/d.yml': '\uFEFFname: D\r\n',
    'content/light/.hidden.yaml': 'name: no\n',
    'content/light/notes.txt': 'no entry',
    'content/revision.yaml': 'model: x\n',
    'elsewhere/e.yaml': 'name: E\n',
  });
  return inFiles(folder, [{ folder: 'content' }]);
});

storeContract('a folder whose entries are all of one type', () => {
  const folder = temporary();
  write(folder, {
    'content/die-lichter/a.yaml': 'name: A # first\n',
    'content/die-lichter/b.json': '{\n  "name": "B"\n}\n',
    'content/die-lichter/2024/05/c.md': '---\nname: C\n---\n\nText\n',
    'content/die-lichter/d.yml': 'name: D\ntype: light\n',
    'content/rest/x.yaml': 'name: X\n',
  });
  return inFiles(folder, [{ folder: 'content/die-lichter', type: 'light' }]);
});

const lines =
  '{"id":"a","name":"A"}\n\n{"name":"B","id":"b","type":"light"}\r\n  \n{"id":"c","name":"C"}\n{ "id": "d", "name": "D" }';

storeContract('lines of a file', () => {
  const folder = temporary();
  write(folder, { 'content/lights.ndjson': lines });
  return inFiles(folder, [{ lines: ['content/lights.ndjson'], type: 'light' }]);
});

storeContract('lines of a compressed file', () => {
  const folder = temporary();
  write(folder, { 'content/lights.ndjson.gz': gzipSync(lines) });
  return inFiles(folder, [{ lines: ['content/lights.ndjson.gz'], type: 'light' }]);
});

storeContract('a list in a file of JSON', () => {
  const folder = temporary();
  write(folder, {
    'content/lights.json':
      '\uFEFF[\r\n  {\r\n    "id": "a",\r\n    "name": "A"\r\n  },\r\n  { "name": "B", "id": "b", "type": "light" },{"id":"c","name":"C"},\r\n\r\n  {"id": "d",\r\n "name": "D"}\r\n]\r\n',
  });
  return inFiles(folder, [{ json: ['content/lights.json'], type: 'light' }]);
});

storeContract('a map in files of JSON, below some keys', () => {
  const folder = temporary();
  write(folder, {
    'content/1.json':
      '{ "version": 1, "data": { "lights": { "a": { "name": "A" }, "b\\u0062": { "id": "b", "name": "B" } }, "more": [] } }',
    'content/2.json': '{"data":{"lights":{"c":{"name":"C"},"d":{"name":"D"}}}}\n',
  });
  return inFiles(folder, [{ json: ['content/1.json', 'content/2.json'], at: 'data.lights', type: 'light' }]);
});

storeContract('a table', () => {
  const folder = temporary();
  write(folder, {
    'content/lights.csv':
      '\uFEFFname,id,"seen by",note\r\nA,a,,"one, two"\r\n\r\n"B",b,Ida,"a ""word"""\r\nC,c,,"on two\nlines"\r\nD,d\r\n',
  });
  return inFiles(folder, [{ csv: ['content/lights.csv'], type: 'light' }]);
});

storeContract('tables with tabs, and with semicolons in an old encoding', () => {
  const folder = temporary();
  write(folder, {
    'content/1.tsv': 'kind\tuid\tname\nlight\ta\tA\nlight\tb\tB',
    'content/2.csv': Buffer.from('name;uid;kind;größe\nC;c;light;1\nD;d;light;2\n', 'latin1'),
  });
  return inFiles(folder, [
    { csv: ['content/1.tsv'], keys: { id: 'uid', type: 'kind' } },
    { csv: ['content/2.csv'], encoding: 'windows-1252', keys: { id: 'uid', type: 'kind' } },
  ]);
});

storeContract('lines of several files, in keys of other names', () => {
  const folder = temporary();
  write(folder, {
    'content/1.ndjson':
      '{"uid":"a","name":"A","kind":"light","state":"draft"}\n{"uid":"d","name":"D","kind":"light"}\n',
    'content/2.ndjson': '{"uid":"b","name":"B","kind":"light"}\n{"uid":"c","name":"C","kind":"light"}\n',
  });
  const keys = { id: 'uid', type: 'kind', status: 'state' };
  return inFiles(folder, [{ lines: ['content/1.ndjson', 'content/2.ndjson'], keys }]);
});

storeContract('a folder with keys of other names', () => {
  const folder = temporary();
  write(folder, {
    'content/x/a.yaml': 'number: a\nname: A # first\nkind: light\nstate: draft\n',
    'content/light/b.json': '{\n  "name": "B",\n  "kind": "light"\n}\n',
    'content/light/c.md': '---\nname: C\nkind: light\n---\n\nText\n',
    'content/light/d.yml': 'kind: light\nname: D\n',
  });
  return inFiles(folder, [{ folder: 'content', keys: { id: 'number', type: 'kind', status: 'state' } }]);
});

storeContract('several stores', () => {
  const folder = temporary();
  write(folder, {
    'content/light/a.yaml': 'name: A\n',
    'content/light/b.yaml': 'name: B\n',
    'content/lights.ndjson': '{"id":"c","name":"C"}\n{"id":"d","name":"D"}\n',
  });
  return inFiles(folder, [{ folder: 'content' }, { lines: ['content/lights.ndjson'], type: 'light' }]);
});

storeContract('several lists and maps of one file', () => {
  const folder = temporary();
  write(folder, {
    'content/all.json':
      '{ "version": 1, "old": [ { "id": "a", "name": "A" }, { "id": "b", "name": "B" } ],\n"data": { "new": { "c": {\n "name": "C" }, "d": {"name": "D"} } } }\n',
  });
  const json = ['content/all.json'];
  return inFiles(folder, [
    { json, at: 'old', type: 'light' },
    { json, at: 'data.new', type: 'light' },
  ]);
});

storeContract('stores in which fields have keys of other names', () => {
  const folder = temporary();
  write(folder, {
    'content/light/a.yaml': 'Name of it: A # first\n',
    'content/lights.csv': 'id,Dr. Name\nb,B\n',
    'content/lights.json': '[{"id":"c","": "C"}]',
    'content/lights.ndjson': '{"id":"d","näme":"D"}\n',
  });
  return inFiles(folder, [
    { folder: 'content', fields: { name: 'Name of it' } },
    { csv: ['content/lights.csv'], type: 'light', fields: { name: 'Dr. Name' } },
    { json: ['content/lights.json'], type: 'light', fields: { name: '' } },
    { lines: ['content/lights.ndjson'], type: 'light', fields: { name: 'näme' } },
  ]);
});

describe('the folder', () => {
  test('tells type and identifier from the path, unless the entry says otherwise', async () => {
    const folder = temporary();
    write(folder, {
      'content/light/a.yaml': 'name: A\n',
      'content/light/b.yaml': 'type: keeper\nid: other\n',
      'content/c.yaml': 'type: light\n',
      'content/light/4.yaml': 'id: 4\n',
    });
    const store = openStore({ root: folder, content: [{ folder: 'content' }] });
    expect((await entries(store)).map(({ entry }) => `${entry.type}/${entry.id}`)).toEqual([
      'light/c',
      'light/4',
      'light/a',
      'keeper/other',
    ]);
    expect((await store.get({ type: 'keeper', id: 'other' }))?.place.file).toBe('content/light/b.yaml');
  });

  test('tells why something is no entry', async () => {
    const folder = temporary();
    write(folder, { 'content/light/a.yaml': 'name: A\n', 'content/light/b.yaml': '[broken\n' });
    const items = await all(openStore({ root: folder, content: [{ folder: 'content' }] }));
    expect(items.map((item) => ('entry' in item ? 'entry' : item.problem.says))).toEqual([
      'entry',
      'cannot be read: a bracket is not closed',
    ]);
  });
});

describe('lines of files', () => {
  const kept = (text: string) => {
    const folder = temporary();
    write(folder, { 'content/lights.ndjson': text });
    return { folder, ...inFiles(folder, [{ lines: ['content/lights.ndjson'], type: 'light' }]) };
  };

  test('tells for each line why it is no entry, and reads the others', async () => {
    const { store } = kept(
      '{"id":"a"}\nnot json\n[1]\n{"name":"no id"}\n{"id":"b","id":"b"}\n{"id":7}\n\uFEFF{"id":"c"}\n',
    );
    const said = (await all(store)).map((item) =>
      'entry' in item ? item.entry.id : `${item.problem.line}: ${item.problem.says}`,
    );
    expect(said).toEqual(
      [
        'a',
        '2: cannot be read: a key stands here without a value, or a text is not closed',
        '3: is no object of JSON',
        '4: has no identifier: no text and no number stands at `id`',
        '5: cannot be read: a key stands here twice',
        '7',
        'c',
      ].map((text, index) => (index === 1 ? said[1] : text)),
    );
    expect(said[1]).toMatch(/^2: (?:cannot be read|is no object)/u);
  });

  test('changes nothing beside what changes, byte for byte', async () => {
    const text = '{"id":"a",  "name":"A"}\r\n\n{ "name" : "B", "id":"b"}\n{"id":"c","name":"C", "more": [1, 2]}';
    const { folder, ...tried } = kept(text);
    await change(tried, async (transaction) => {
      for (const of of await entries(tried.store))
        if (of.entry.id !== 'c') await transaction.change({ stored: of, operations: rename });
    });
    expect(read(folder, 'content/lights.ndjson')).toBe(
      text.replace('"name":"A"', '"title":"A"').replace('"name" :', '"title" :'),
    );
  });

  test('an entry that moves to another type says so in its line', async () => {
    const { folder, ...tried } = kept('{"id":"a","name":"A"}\n');
    await change(tried, async (transaction) => {
      for (const of of await entries(tried.store))
        await transaction.change({ stored: of, operations: [{ do: 'move', type: 'beacon' }] });
    });
    expect(JSON.parse(read(folder, 'content/lights.ndjson'))).toEqual({ id: 'a', type: 'beacon', name: 'A' });
    expect((await entries(tried.store))[0]?.entry.type).toBe('beacon');
  });

  test('a compressed file stays compressed', async () => {
    const folder = temporary();
    write(folder, { 'content/lights.ndjson.gz': gzipSync('{"id":"a","name":"A"}\n{"id":"b","name":"B"}\n') });
    const tried = inFiles(folder, [{ lines: ['content/lights.ndjson.gz'], type: 'light' }]);
    await change(tried, async (transaction) => {
      const [of] = await entries(tried.store);
      if (of) await transaction.change({ stored: of, operations: rename });
    });
    expect(gunzipSync(fs.readFileSync(path.join(folder, 'content/lights.ndjson.gz'))).toString()).toBe(
      '{"id":"a","title":"A"}\n{"id":"b","name":"B"}\n',
    );
  });

  test('a file that changed since it was read is not written over', async () => {
    const { folder, store } = kept('{"id":"a","name":"A"}\n{"id":"b","name":"B"}\n');
    const [, of] = await entries(store);
    write(folder, { 'content/lights.ndjson': '{"id":"a","name":"A"}\n{"id":"b","name":"X"}\n' });
    await store.get({ type: 'light', id: 'a' });
    await expect(store.attempt({ stored: of as Stored, operations: rename })).rejects.toThrow(
      'changed while it was worked on',
    );
  });

  test('a compressed file that is cut off is told, after what could be read of it', async () => {
    const folder = temporary();
    const whole = gzipSync(`{"id":"a"}\n`.repeat(1));
    write(folder, { 'content/lights.ndjson.gz': whole.subarray(0, whole.length - 6) });
    const { store } = inFiles(folder, [{ lines: ['content/lights.ndjson.gz'], type: 'light' }]);
    expect((await all(store)).map((item) => ('entry' in item ? item.entry.id : item.problem.says)).at(-1)).toBe(
      'cannot be uncompressed',
    );
  });
});
