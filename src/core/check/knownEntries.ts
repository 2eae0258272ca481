import type { Status } from '../definition/builtIn.ts';
import type { EntryAddress } from '../entry/entry.ts';
import { textAt } from '../plain/columns.ts';
import { type PackedEntries, type RareFacts, statusNumbered } from './packedFacts.ts';

/** What stays in memory of the facts of some entries. */
export interface KeptFacts {
  readonly entries: Omit<PackedEntries, 'hash'>;
  readonly rare: ReadonlyMap<number, RareFacts>;
}

/** Facts about an entry. */
export class KnownEntries {
  readonly #facts: KeptFacts;
  readonly #entry: number;

  constructor(facts: KeptFacts, entry: number) {
    this.#facts = facts;
    this.#entry = entry;
  }

  address(): EntryAddress {
    return addressIn(this.#facts, this.#entry);
  }

  get status(): Status {
    return statusNumbered(this.#facts.entries.status[this.#entry]);
  }

  get rare(): RareFacts | undefined {
    if (this.#facts.rare.size === 0) return undefined;
    return this.#facts.rare.get(this.#entry);
  }
}

/** Whether everybody may point at an entry, and every reader finds it. */
export const isPlain = ({ status, rare }: KnownEntries): boolean =>
  status === 'published' && (rare === undefined || (rare.ineligible.length === 0 && rare.window === undefined));

/** The address of an entry by its number. */
export const addressIn = ({ entries: { types, type, id } }: KeptFacts, entry: number): EntryAddress => ({
  type: types[type[entry] ?? 0] ?? '',
  id: textAt(id, entry),
});
