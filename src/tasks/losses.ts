import { z } from 'zod';
import { type EntryAddress, keyOf } from '../core/entry/entry.ts';

/** What a form cannot hold of entries, and was left out of it: in how many, and one of them. */
export const Loss = z.strictObject({ says: z.string(), entries: z.int(), example: z.string() });
type Loss = z.output<typeof Loss>;

/** Counts what a form cannot hold. */
export class Losses {
  readonly #all = new Map<string, Loss>();

  add(entry: EntryAddress, loss: string): void {
    const existing = this.#all.get(loss);
    if (existing) existing.entries += 1;
    else this.#all.set(loss, { says: loss, entries: 1, example: keyOf(entry) });
  }

  all(): Loss[] {
    return [...this.#all.values()];
  }
}
