import type { Stored } from '../stores/store.ts';

/** The identifiers of the entries of a part of a store, by their types. */
export type Identifiers = Readonly<Record<string, readonly string[]>>;

/** Gathers the identifiers of the entries of a part of a store. */
export class AddressesPart {
  readonly #ids = new Map<string, string[]>();

  see({ entry: { type, id } }: Stored): undefined {
    const ids = this.#ids.get(type);
    if (ids) ids.push(id);
    else this.#ids.set(type, [id]);
  }

  unreadable(): void {
    // What cannot be read has no address.
  }

  done(): { readonly made: Identifiers; readonly isLasting: true } {
    return { made: Object.fromEntries(this.#ids), isLasting: true };
  }
}
