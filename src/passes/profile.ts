import type { Model } from '../core/model/link.ts';
import type { Stored } from '../stores/store.ts';
import { type Profiled, ProfilePart } from './profilePart.ts';
import type { Pass } from './walk.ts';

/** Counts how the fields of some types are used. */
export function profilePass(model: Model, types: readonly string[]): Pass<Stored, Profiled> {
  const combined = new ProfilePart(model, types);
  return {
    map: (stored) => stored,
    fold: (stored) => combined.see(stored),
    unreadable: () => combined.unreadable(),
    finish: () => combined.done().made,
    apart: {
      work: { pass: 'profile', definition: model.definition, contentTerms: model.contentTerms, types },
      take: (part: Profiled) => combined.take(part),
    },
  };
}
