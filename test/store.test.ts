import { describe, expect, test } from 'vitest';
import { folderStore } from '../src/store/folder.ts';
import type { EntryStore, Stored } from '../src/store/store.ts';
import { temporary, write } from './support/program.ts';

/** What every store has to do, whatever its entries are kept in. A new store is one more call of this. */
function storeContract(name: string, make: () => { readonly store: EntryStore; readonly total: number }): void {
  const all = async (store: EntryStore): Promise<readonly Stored[]> => {
    const found: Stored[] = [];
    for await (const one of store.entries()) if ('entry' in one) found.push(one);
    return found;
  };

  describe(`the store of ${name}`, () => {
    test('gives every entry once, in the same order each time', async () => {
      const { store, total } = make();
      const first = (await all(store)).map(({ file }) => file);
      expect(first).toHaveLength(total);
      expect(new Set(first).size).toBe(total);
      expect((await all(store)).map(({ file }) => file)).toEqual(first);
    });

    test('finds an entry by its address, and nothing where there is none', async () => {
      const { store } = make();
      for (const { entry, hash } of await all(store)) expect((await store.find(entry.type, entry.id))?.hash).toBe(hash);
      expect(await store.find('light', 'nowhere')).toBeUndefined();
      expect(await store.find('nothing', 'a')).toBeUndefined();
      expect(await store.find('light', '../../etc/passwd')).toBeUndefined();
    });

    test('knows where values stand', async () => {
      const { store } = make();
      for (const { locate } of await all(store)) {
        expect(locate(['name']).line).toBeGreaterThanOrEqual(1);
        expect(locate(['no', 'such', 3, 'thing']).column).toBeGreaterThanOrEqual(1);
        expect(locate([]).line).toBeGreaterThanOrEqual(1);
      }
    });

    test('writes nothing when it is asked what an entry would become, and that only differs where it was told to', async () => {
      const { store } = make();
      const before = await all(store);
      for (const stored of before) {
        expect(stored.rewrite([])?.content.equals(stored.original)).toBe(true);
        const renamed = stored.rewrite([{ do: 'rename', inside: [], key: 'name', to: 'title' }]);
        expect(renamed?.file).toBe(stored.file);
        expect(renamed?.content.toString()).toBe(stored.original.toString().replace('name', 'title'));
        expect(stored.rewrite([{ do: 'delete' }])).toBeUndefined();
        expect(stored.rewrite([{ do: 'move', type: 'lighthouse' }])?.file).not.toBe(stored.file);
      }
      expect((await all(store)).map(({ hash }) => hash)).toEqual(before.map(({ hash }) => hash));
    });
  });
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
  return { store: folderStore(folder), total: 4 };
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
    const addresses: string[] = [];
    for await (const one of folderStore(folder).entries())
      if ('entry' in one) addresses.push(`${one.entry.type}/${one.entry.id}`);
    expect(addresses).toEqual(['light/c', 'light/4', 'light/a', 'keeper/other']);
    expect((await folderStore(folder).find('keeper', 'other'))?.file).toBe('content/light/b.yaml');
  });

  test('counts what it reads, for those who watch', async () => {
    const folder = temporary();
    write(folder, { 'content/light/a.yaml': 'name: A\n', 'content/light/b.yaml': '[broken\n' });
    let watched = 0;
    const store = folderStore(folder, () => {
      watched += 1;
    });
    const kinds: string[] = [];
    for await (const one of store.entries()) kinds.push('entry' in one ? 'entry' : one.says);
    expect([watched, kinds]).toEqual([2, ['entry', 'cannot be read: a bracket is not closed']]);
  });
});
