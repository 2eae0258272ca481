import { compile } from '../core/check/compile.ts';
import type { Facts } from '../core/check/facts.ts';
import type { Entry } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import { compact } from '../core/plain/json.ts';
import { linkReaderFor } from './linkReader.ts';
import { eachEntry, type Pass } from './pass.ts';

/** Gathers what entries say of others, their terms and references, and problems of each alone. */
export async function factsPass(
  model: Model,
  see: (facts: Facts, entry: Entry, findings: readonly Finding[]) => void,
): Promise<Pass<void>> {
  const checker = compile(model, compact({ readLinks: await linkReaderFor(model) }));
  return entriesPass((entry) => {
    const { facts, findings } = checker.check(entry);
    see(facts, entry, findings);
  });
}

/** Does something with each entry, for what needs no more than that. */
export const entriesPass = (see: (entry: Entry) => void): Pass<void> =>
  eachEntry({ see: ({ entry }) => see(entry), finish: () => undefined });
