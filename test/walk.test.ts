import { describe, expect, test } from 'vitest';
import { eachEntry, type Pass } from '../src/passes/pass.ts';
import { walk } from '../src/passes/walk.ts';
import type { EntryStore, Item } from '../src/stores/store.ts';
import { memoryStore } from './support/memoryStore.ts';

const lights = ['a', 'b', 'c'].map((id) => ({ type: 'light', id, values: { name: id.toUpperCase() } }));

/** A pass that tells what it was shown, in order. */
function noting(): Pass<readonly string[]> {
  const seen: string[] = [];
  return eachEntry({
    see: ({ entry }) => {
      seen.push(entry.id);
    },
    unreadable: ({ problem }) => {
      seen.push(problem.says);
    },
    finish: () => seen,
  });
}

describe('one walk over entries [M1]', () => {
  test('shows each to several passes in the order of the store, and reads it once', async () => {
    let read = 0;
    const kept = memoryStore(lights);
    const store: EntryStore = {
      ...kept,
      read: async function* (part) {
        for await (const item of kept.read(part)) {
          read += 1;
          yield item;
        }
      },
    };
    let watched = 0;
    const watch = ({ count }: { count: number }) => {
      watched += count;
    };
    expect(await walk(store, [noting(), noting()], { watch })).toEqual([
      ['a', 'b', 'c'],
      ['a', 'b', 'c'],
    ]);
    expect([read, watched]).toEqual([3, 3]);
  });

  test('waits for a pass that has to wait before the next entry comes', async () => {
    const order: string[] = [];
    const waiting = eachEntry({
      see: async ({ entry: { id } }) => {
        order.push(`begin ${id}`);
        await Promise.resolve();
        order.push(`end ${id}`);
      },
      finish: () => undefined,
    });
    await walk(memoryStore(lights), [waiting]);
    expect(order).toEqual(['a', 'b', 'c'].flatMap((id) => [`begin ${id}`, `end ${id}`]));
  });

  test('hands what cannot be read to passes that say something of it', async () => {
    const bad: Item = {
      place: { store: 'memory', file: 'x' },
      version: '',
      problem: { says: 'is broken', mend: 'Mend it.', line: 1, column: 1 },
    };
    const store: EntryStore = {
      ...memoryStore(lights),
      read: async function* () {
        yield bad;
      },
    };
    const silent = eachEntry({ see: () => undefined, finish: () => undefined });
    expect(await walk(store, [noting(), silent])).toEqual([['is broken'], undefined]);
  });

  test('is stopped by Ctrl-C, however many entries there are, and listens no more after', async () => {
    const listeners = process.listenerCount('SIGINT');
    const kept = memoryStore(lights);
    const endless: EntryStore = {
      ...kept,
      read: async function* (part) {
        process.emit('SIGINT');
        for (;;) yield* kept.read(part);
      },
    };
    await expect(walk(endless, [noting()])).rejects.toMatchObject({ code: 'stopped', exit: 130 });
    expect(process.listenerCount('SIGINT')).toBe(listeners);
  });
});
