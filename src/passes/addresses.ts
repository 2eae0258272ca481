import type { MemorySpace } from '../workspace/memory/partMemory.ts';
import { type PartWork, type Pass, request, type Work } from './pass.ts';

/** The identifiers of the entries of a part of a store, by their types. */
type Identifiers = Readonly<Record<string, readonly string[]>>;

/** Gathering identifiers, for any worker. */
export const addressesWork: Work<undefined, Identifiers, undefined> = {
  name: 'addresses',
  prepare: async () => addressesPart,
};

/**
 * Gathers the identifiers of all entries of a type.
 * @param memory where those of each part are kept for the next time.
 */
export function addressesPass(
  type: string,
  memory: MemorySpace | undefined,
): Pass<readonly string[], Identifiers, undefined> {
  const ids: string[] = [];
  return {
    prepare: async () => addressesPart,
    elsewhere: request(addressesWork, undefined),
    memory,
    take: ({ result }) => {
      for (const id of result[type] ?? []) ids.push(id);
    },
    finish: () => ids,
  };
}

/** Gathers the identifiers in a part of a store, of all types: the stored result serves the next question, too. */
function addressesPart(): PartWork<Identifiers> {
  const ids = new Map<string, string[]>();
  return {
    see: ({ entry: { type, id } }) => {
      const existing = ids.get(type);
      if (existing) existing.push(id);
      else ids.set(type, [id]);
    },
    done: () => ({ result: Object.fromEntries(ids), rest: undefined, isLasting: true }),
  };
}
