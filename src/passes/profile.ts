import { link, type Model } from '../core/model/link.ts';
import { type CountedTypes, Profiler } from '../core/profile/profiler.ts';
import type { Stored } from '../stores/store.ts';
import { type PartResult, type PartWork, type Pass, request, type Work } from './pass.ts';

/** Counts of a part of a store, or of all of it. */
export interface Profiled {
  readonly types: CountedTypes;
  /** How many things are where an entry should and cannot be read as one. */
  readonly unreadable: number;
}

/** What counting needs: plain data. */
interface ProfileData extends Pick<Model, 'definition' | 'contentTerms'> {
  /** The types that are counted. */
  readonly types: readonly string[];
}

/** Counting, for any worker. */
export const profileWork: Work<ProfileData, Profiled, undefined> = {
  name: 'profile',
  prepare: async ({ definition, contentTerms, types }) => {
    const model = link(definition, contentTerms);
    return () => new ProfilePart(model, types);
  },
};

/** Counts how the fields of some types are used. */
export function profilePass(model: Model, types: readonly string[]): Pass<Profiled, Profiled, undefined> {
  const { definition, contentTerms } = model;
  const combined = new ProfilePart(model, types);
  return {
    prepare: async () => () => new ProfilePart(model, types),
    elsewhere: request(profileWork, { definition, contentTerms, types }),
    take: ({ result }) => combined.take(result),
    finish: () => combined.done().result,
  };
}

/** Counts how fields are used in a part of a store. */
class ProfilePart implements PartWork<Profiled> {
  readonly #profiler: Profiler;
  #unreadable = 0;

  constructor(model: Model, types: readonly string[]) {
    this.#profiler = new Profiler(model, types);
  }

  see({ entry }: Stored): void {
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

  done(): PartResult<Profiled> {
    return { result: { types: this.#profiler.done(), unreadable: this.#unreadable }, rest: undefined };
  }
}
