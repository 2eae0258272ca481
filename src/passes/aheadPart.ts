import type { Checker } from '../core/check/compile.ts';
import { FactsPacker, type PackedFacts } from '../core/check/packedFacts.ts';
import type { Finding } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import type { Stored } from '../stores/store.ts';
import { type PackedPlaces, PlacePacker } from './packedPlaces.ts';

/** What checking some entries tells where nobody is shown the lines of it, as plain data. */
export interface AheadChecked {
  /** Problems of each alone. */
  readonly findings: readonly Finding[];
  readonly facts: PackedFacts;
  readonly places: PackedPlaces;
  /** How many things are where an entry should and cannot be read as one. */
  readonly unreadable: number;
}

/** Checks some entries each alone, also such as are nowhere yet, and gathers their facts. */
export class AheadPart {
  readonly #checker: Checker;
  readonly #facts: FactsPacker;
  readonly #places = new PlacePacker();
  readonly #findings: Finding[] = [];
  #unreadable = 0;

  constructor(model: Model, checker: Checker) {
    this.#checker = checker;
    this.#facts = new FactsPacker(model);
  }

  see({ entry, place }: Pick<Stored, 'entry' | 'place'>): undefined {
    const { findings, facts } = this.#checker.check(entry);
    for (const finding of findings) this.#findings.push(finding);
    this.#facts.add(facts, entry);
    this.#places.add(place);
  }

  unreadable(): void {
    this.#unreadable += 1;
  }

  done(): { readonly made: AheadChecked } {
    const [findings, facts, places] = [this.#findings, this.#facts.done(), this.#places.done()];
    return { made: { findings, facts, places, unreadable: this.#unreadable } };
  }
}
