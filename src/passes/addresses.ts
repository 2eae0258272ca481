import type { MemorySpace } from '../workspace/partMemory.ts';
import type { Identifiers } from './addressesPart.ts';
import type { Pass } from './walk.ts';

/**
 * Gathers the identifiers of all entries of a type.
 * @param memory where those of each part are kept for the next time.
 */
export function addressesPass(type: string, memory: MemorySpace | undefined): Pass<undefined, readonly string[]> {
  const ids: string[] = [];
  return {
    map: () => undefined,
    fold: (_, { entry }) => {
      if (entry.type === type) ids.push(entry.id);
    },
    finish: () => ids,
    apart: {
      work: { pass: 'addresses' },
      memory,
      take: (partIds: Identifiers) => {
        for (const id of partIds[type] ?? []) ids.push(id);
      },
    },
  };
}
