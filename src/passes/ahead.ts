import { CrossEntryCheck } from '../core/check/crossEntry.ts';
import { inMemory } from '../core/check/overflow.ts';
import type { EntryAddress } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import type { Place, Stored } from '../stores/store.ts';
import { type AheadChecked, AheadPart } from './aheadPart.ts';
import { checkerFor } from './checker.ts';
import type { Circumstances } from './circumstances.ts';
import { sayPlace } from './joinedParts.ts';
import { placesAside } from './packedPlaces.ts';
import type { Pass } from './walk.ts';

/** Problems of entries under a model. */
export interface FoundAhead {
  readonly findings: readonly Finding[];
  /** How many entries there are. */
  readonly entries: number;
  /** How many things are where an entry should and cannot be read as one. */
  readonly unreadable: number;
  /** Where an entry is kept. */
  readonly placeOf: (entry: EntryAddress) => Place | undefined;
}

/** Joins the facts of parts of entries that are checked, not to be shown line by line. */
export class JoinedAhead {
  readonly #crossEntry: CrossEntryCheck<Place>;
  readonly #findings: Finding[] = [];
  #entries = 0;
  #unreadable = 0;

  constructor(model: Model, currentTime: string) {
    this.#crossEntry = new CrossEntryCheck(model, { sayPlace, currentTime });
  }

  take({ findings, facts, places, unreadable }: AheadChecked): void {
    for (const finding of findings) this.#findings.push(finding);
    this.#entries += facts.entries.hash.length;
    this.#unreadable += unreadable;
    this.#crossEntry.add(facts, placesAside(places, inMemory));
  }

  /** The problem, now that all entries were taken. Asked for once. */
  found(): FoundAhead {
    return {
      findings: [...this.#findings, ...this.#crossEntry.join().findings],
      entries: this.#entries,
      unreadable: this.#unreadable,
      placeOf: (entry) => this.#crossEntry.placeOf(entry),
    };
  }
}

/** Checks every entry of a store against some model: to be compared with another check of them. */
export async function aheadPass(model: Model, circumstances: Circumstances): Promise<Pass<Stored, FoundAhead>> {
  const joined = new JoinedAhead(model, circumstances.currentTime);
  const partHere = new AheadPart(model, await checkerFor(model, circumstances));

  return {
    map: (stored) => stored,
    fold: (stored) => partHere.see(stored),
    unreadable: () => partHere.unreadable(),
    finish: () => {
      joined.take(partHere.done().made);
      return joined.found();
    },
    apart: {
      work: { pass: 'ahead', definition: model.definition, contentTerms: model.contentTerms, ...circumstances },
      take: (part: AheadChecked) => joined.take(part),
    },
  };
}
