import type { Checker } from '../core/check/compile.ts';
import { CrossEntryCheck } from '../core/check/crossEntry.ts';
import { inMemory } from '../core/check/overflow.ts';
import { FactsPacker, type PackedFacts } from '../core/check/packedFacts.ts';
import type { EntryAddress } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import { link, type Model } from '../core/model/link.ts';
import type { Place, Stored } from '../stores/store.ts';
import { checkerFor } from './checker.ts';
import type { Circumstances } from './circumstances.ts';
import { type PackedPlaces, PlacePacker, placesAside, sayPlace } from './packedPlaces.ts';
import { type BeginPart, type PartResult, type PartWork, type Pass, request, type Work } from './pass.ts';

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

/** The same of a part of a store, as plain data. */
export interface AheadChecked extends Pick<FoundAhead, 'findings' | 'unreadable'> {
  readonly facts: PackedFacts;
  readonly places: PackedPlaces;
}

/** What checking needs: plain data. */
interface AheadData extends Pick<Model, 'definition' | 'contentTerms'>, Circumstances {}

/** Checking by some model, for any worker. */
export const aheadWork: Work<AheadData, AheadChecked, undefined> = {
  name: 'ahead',
  prepare: ({ definition, contentTerms, ...circumstances }) => begin(link(definition, contentTerms), circumstances),
};

/** Checks every entry of a store against some model: to be compared with another check of them. */
export function aheadPass(model: Model, circumstances: Circumstances): Pass<FoundAhead, AheadChecked, undefined> {
  const { definition, contentTerms } = model;
  const joined = new JoinedAhead(model, circumstances.currentTime);
  return {
    prepare: () => begin(model, circumstances),
    elsewhere: request(aheadWork, { definition, contentTerms, ...circumstances }),
    take: ({ result }) => joined.take(result),
    finish: () => joined.found(),
  };
}

async function begin(model: Model, circumstances: Circumstances): Promise<BeginPart<AheadChecked>> {
  const checker = await checkerFor(model, circumstances);
  return () => new AheadPart(model, checker);
}

/** Checks some entries each alone, also such as are nowhere yet, and gathers their facts. */
export class AheadPart implements PartWork<AheadChecked> {
  readonly #checker: Checker;
  readonly #facts: FactsPacker;
  readonly #places = new PlacePacker();
  readonly #findings: Finding[] = [];
  #unreadable = 0;

  constructor(model: Model, checker: Checker) {
    this.#checker = checker;
    this.#facts = new FactsPacker(model);
  }

  see({ entry, place }: Pick<Stored, 'entry' | 'place'>): void {
    const { findings, facts } = this.#checker.check(entry);
    for (const finding of findings) this.#findings.push(finding);
    this.#facts.add(facts, entry);
    this.#places.add(place);
  }

  unreadable(): void {
    this.#unreadable += 1;
  }

  done(): PartResult<AheadChecked> {
    const [facts, places] = [this.#facts.done(), this.#places.done()];
    return { result: { findings: this.#findings, facts, places, unreadable: this.#unreadable }, rest: undefined };
  }
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

  /** The problems, now that all entries were taken. Called once. */
  found(): FoundAhead {
    return {
      findings: [...this.#findings, ...this.#crossEntry.join().findings],
      entries: this.#entries,
      unreadable: this.#unreadable,
      placeOf: (entry) => this.#crossEntry.placeOf(entry),
    };
  }
}
