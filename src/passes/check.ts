import type { Model } from '../core/model/link.ts';
import type { EntryStore, Stored } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import type { CheckContext, Checked } from './checked.ts';
import { checkerFor } from './checker.ts';
import { CheckPart, shiftedFacts, shiftedPart } from './checkPart.ts';
import { findingOfFile } from './fileFinding.ts';
import { JoinedParts } from './joinedParts.ts';
import type { LocatedFinding } from './locatedFinding.ts';
import type { Pass } from './walk.ts';

/** So many findings are reported at once. */
const toldAtOnce = 256;

/** A check that can give its findings when it is stopped. */
export interface CheckPass extends Pass<Stored, Checked> {
  /** What is wrong with the entries that were read, each alone, without checks across entries. */
  readonly untilNow: () => Pick<Checked, 'findings' | 'looked'>;
}

/**
 * Checks every entry of a store against a model: each alone while it is read, then together. Places are worked out for
 * entries with findings only.
 */
export async function checkPass(store: EntryStore, model: Model, context: CheckContext = {}): Promise<CheckPass> {
  const { assets } = context;
  const currentTime = timestamp();
  const joined = new JoinedParts(store, model, { ...context, currentTime });
  const partHere = new CheckPart(store, model, await checkerFor(model, { currentTime, assets }), (placed) =>
    joined.add(placed),
  );

  return {
    map: (stored) => stored,
    fold: (stored) => partHere.see(stored)?.then(() => joined.tell(toldAtOnce)),
    untilNow: () => joined.untilNow(partHere.seen),
    soFar: () => joined.soFar(),
    unreadable: (item) => partHere.unreadable(item),
    finish: async () => {
      const { made: partChecked, rest } = partHere.done(false);
      // Of a store that was walked in parts it has nothing.
      if (partChecked.entries > 0 || partChecked.assets.length > 0) await joined.take(partChecked, rest);
      return joined.finish();
    },
    apart: {
      work: { pass: 'check', definition: model.definition, contentTerms: model.contentTerms, currentTime, assets },
      take: async (part, facts, key) => {
        await joined.take(part, facts, key);
        await joined.tell(1);
      },
      memory: context.memory,
      shifted: shiftedPart,
      shiftedRest: shiftedFacts,
    },
  };
}

/** A file in the content folder that no store reads. */
export const unreadFinding = (file: string): LocatedFinding => findingOfFile(file, 'unread-file', {});
