import type { StoreHome } from '../stores/store.ts';
import { hashBytes } from '../workspace/files.ts';
import type { MemorySpace } from '../workspace/memory/partMemory.ts';

/**
 * Where something is kept that was found in parts of stores.
 * @param subject the name of the cached data: one word.
 * @param rest its dependencies, beside the entries and how they are read.
 */
export function memorySpaceOf(
  subject: string,
  root: string,
  { content, cells, factKeys, limits }: StoreHome,
  rest: readonly unknown[],
): MemorySpace {
  const parts = [content, cells, limits, factKeys, ...rest];
  return { root, space: `${subject}-${hashBytes(JSON.stringify(parts, asPlain)).slice(0, 32)}` };
}

/** A map lists its entries. */
const asPlain = (_: string, value: unknown): unknown => {
  if (value instanceof Map) return [...value];
  return value;
};
