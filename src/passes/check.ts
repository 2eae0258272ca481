import type { Checker } from '../core/check/compile.ts';
import { CrossEntryCheck } from '../core/check/crossEntry.ts';
import { FactsPacker } from '../core/check/packedFacts.ts';
import type { Assets } from '../core/entry/assets.ts';
import type { Entry } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import type { EntryStore, Place, Stored } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import type { CheckContext, Checked } from './checked.ts';
import { checkerFor } from './checker.ts';
import { CheckPart, shiftedFacts, shiftedPart } from './checkPart.ts';
import { findingOfFile } from './fileFinding.ts';
import { JoinedParts, sayPlace } from './joinedParts.ts';
import type { LocatedFinding } from './locatedFinding.ts';
import type { Pass } from './walk.ts';

/** So many findings are told at once. */
const toldAtOnce = 256;

/** A check, which can be asked what it found until it was stopped. */
export interface CheckPass extends Pass<Stored, Checked> {
  /** What is wrong with the entries that were read, each alone: what shows once all are known is not looked at. */
  readonly untilNow: () => Pick<Checked, 'findings' | 'looked'>;
}

/**
 * Checks every entry of a store against a model: each alone while it is read, then together. Places are worked out for
 * entries with findings only.
 */
export async function checkPass(store: EntryStore, model: Model, context: CheckContext = {}): Promise<CheckPass> {
  const { assets } = context;
  const now = timestamp();
  const all = new JoinedParts(store, model, { ...context, now });
  const here = new CheckPart(store, model, await checkerFor(model, { now, assets }), (one) => all.add(one));

  return {
    map: (stored) => stored,
    fold: (stored) => here.see(stored)?.then(() => all.tell(toldAtOnce)),
    untilNow: () => all.untilNow(here.seen),
    soFar: () => all.soFar(),
    unreadable: (item) => here.unreadable(item),
    finish: async () => {
      const { made, rest } = here.done(false);
      // Of a store that was walked in parts it has nothing.
      if (made.entries > 0 || made.assets.length > 0) await all.take(made, rest);
      return all.finish();
    },
    apart: {
      work: { pass: 'check', definition: model.definition, contentTerms: model.contentTerms, now, assets },
      take: async (part, facts, key) => {
        await all.take(part, facts, key);
        await all.tell(1);
      },
      memory: context.memory,
      shifted: shiftedPart,
      shiftedRest: shiftedFacts,
    },
  };
}

/** A file in the content folder that no store reads. */
export const unreadFinding = (file: string): LocatedFinding => findingOfFile(file, 'unread-file', {});

/**
 * Checks entries that a store does not hold yet: those that a rehearsed migration would write.
 * @returns how many findings of each name there would be, and the first few.
 */
export class CheckAhead {
  readonly #checker: Checker;
  readonly #crossEntry: CrossEntryCheck<Place>;
  readonly #facts: FactsPacker;
  readonly #places: Place[] = [];
  readonly #findings: Finding[] = [];

  private constructor(model: Model, checker: Checker, now: string) {
    this.#checker = checker;
    this.#facts = new FactsPacker(model);
    this.#crossEntry = new CrossEntryCheck(model, { sayPlace, now });
  }

  /** A check of entries against a model, with the files that they may name. */
  static async against(model: Model, assets: Assets): Promise<CheckAhead> {
    const now = timestamp();
    return new CheckAhead(model, await checkerFor(model, { now, assets }), now);
  }

  see(entry: Entry, place: Place): void {
    const { findings, facts } = this.#checker.check(entry);
    this.#findings.push(...findings);
    this.#facts.add(facts, entry);
    this.#places.push(place);
  }

  /** What is wrong, now that all entries were seen. Asked for once. */
  findings(): readonly Finding[] {
    this.#crossEntry.add(this.#facts.done(), (entry) => this.#places[entry] as Place);
    return [...this.#findings, ...this.#crossEntry.join().findings];
  }
}
