import { type Checker, compile } from '../core/check/compile.ts';
import type { Facts } from '../core/check/facts.ts';
import type { Entry } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import { compact } from '../core/plain/json.ts';
import { linkReaderFor } from './linkReader.ts';
import type { Pass } from './walk.ts';

type EntryChecked = ReturnType<Checker['check']>;

/** Gathers what entries say of others, their terms and references, and problems of each alone. */
export async function factsPass(
  model: Model,
  see: (facts: Facts, entry: Entry, findings: readonly Finding[]) => void,
): Promise<Pass<EntryChecked, void>> {
  const checker = compile(model, compact({ readLinks: await linkReaderFor(model) }));
  return {
    map: ({ entry }) => checker.check(entry),
    fold: ({ facts, findings }, { entry }) => see(facts, entry, findings),
    finish: () => undefined,
  };
}

/** Does something with each entry, for what needs no model. */
export const entriesPass = (see: (entry: Entry) => void): Pass<Entry, void> => ({
  map: ({ entry }) => entry,
  fold: (entry) => see(entry),
  finish: () => undefined,
});
