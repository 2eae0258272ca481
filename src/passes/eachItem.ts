import type { EntryStore, Item, Part } from '../stores/store.ts';

/** Something to wait for, or nothing: most items of a store need none, and a promise for each of them is felt. */
export type Waiting = Promise<void> | undefined;

/** Does something with each item of a part, one after the other. */
export async function eachItem(store: EntryStore, part: Part, act: (item: Item) => Waiting): Promise<void> {
  const items = store.read(part);
  if (Symbol.asyncIterator in items) for await (const item of items) await act(item);
  else
    for (const item of items) {
      const waiting = act(item);
      if (waiting) await waiting;
    }
}

/** Waits for one thing and another, if there is anything to wait for. */
export function both(first: Waiting, other: Promise<void> | void): Waiting {
  if (!other) return first;
  if (!first) return other;
  return first.then(() => other);
}
