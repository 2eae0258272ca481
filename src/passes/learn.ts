import type { StoreOptions } from '../core/definition/workspace.ts';
import { type NamedEntries, named } from '../core/learn/namedKeys.ts';
import { storeName } from '../stores/open.ts';
import type { Stored } from '../stores/store.ts';
import { LearnPart, type LearntPart } from './learnPart.ts';
import type { Pass } from './walk.ts';

/** Statistics of all entries, and how many things cannot be read as one. */
export interface AllSeen extends NamedEntries {
  readonly unreadable: number;
}

/** The names of the stores that keep tables. */
export const tablesIn = (content: readonly StoreOptions[]): readonly string[] =>
  content.flatMap((store, index) => ('csv' in store ? [storeName(index)] : []));

/** Looks at entries, to learn a model from them. @param tables the stores that keep tables, whose cells are texts. */
export function learnPass(tables: readonly string[]): Pass<Stored, AllSeen> {
  const combined = new LearnPart(tables);
  return {
    map: (stored) => stored,
    fold: (stored) => combined.see(stored),
    unreadable: () => combined.unreadable(),
    finish: () => ({ ...named(combined.stores), unreadable: combined.missed }),
    apart: {
      work: { pass: 'learn', tables },
      take: (part: LearntPart) => combined.take(part),
    },
  };
}
