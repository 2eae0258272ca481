import type { Model } from '../core/model/link.ts';
import { type CountedTypes, Profiler } from '../core/profile/profiler.ts';
import type { Stored } from '../stores/store.ts';

/** Counts of a part of a store, or of all of it. */
export interface Profiled {
  readonly types: CountedTypes;
  /** How many things are where an entry should and cannot be read as one. */
  readonly unreadable: number;
}

/** Counts how fields are used in a part of a store. */
export class ProfilePart {
  readonly #profiler: Profiler;
  #unreadable = 0;

  constructor(model: Model, types: readonly string[]) {
    this.#profiler = new Profiler(model, types);
  }

  see({ entry }: Stored): undefined {
    this.#profiler.see(entry);
  }

  unreadable(): void {
    this.#unreadable += 1;
  }

  /** Adds the counts of the next part. */
  take({ types, unreadable }: Profiled): void {
    this.#profiler.take(types);
    this.#unreadable += unreadable;
  }

  done(): { readonly made: Profiled } {
    return { made: { types: this.#profiler.done(), unreadable: this.#unreadable } };
  }
}
