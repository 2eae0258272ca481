import type { Converted } from '../kinds/kindParts.ts';
import type { Field, Model } from '../model/link.ts';
import { type Separator, separatorsIn } from '../model/separators.ts';
import { singleValues } from '../model/traversal.ts';
import { type Json, ownValue } from '../plain/json.ts';
import { carryingCounter, isText, type Linked, withWay } from './carryingCounter.ts';
import type { Counter, Impact, SampledEntry } from './counter.ts';
import { type FieldPlace, valuesOf } from './fieldValues.ts';
import { fewestHits, withSplit } from './listCounter.ts';

/**
 * Texts that become references: taken for identifiers, or for what a field of the targets says, each text for one or for
 * a list. Which entries there are is known once all were seen.
 */
export class ReferenceCounter implements Counter {
  readonly #linked: Linked;
  /** The types that the reference leads to, and those with the types that extend them. */
  readonly #types: readonly string[];
  readonly #targets: readonly string[];
  /** The fields of the targets that may name their entries, and how often each name is there. */
  readonly #naming: readonly Field[];
  readonly #names: ReadonlyMap<string, Map<string, number>>;
  readonly #separators: readonly Separator[];
  readonly #known = new Set<string>();
  readonly #waiting: SampledEntry[] = [];

  constructor(linked: Linked) {
    const { from, to, between, after } = linked;
    this.#linked = linked;
    this.#types = to.kind.pointsAt(to.options).types;
    this.#targets = this.#types.flatMap(between.context.acceptedAs);
    this.#naming = isText(from) ? namingFields(between, this.#types) : [];
    this.#names = new Map(this.#naming.map((field) => [field.address, new Map<string, number>()] as const));
    const isListed = isText(from) && !from.common.many && to.common.many !== undefined;
    this.#separators = isListed ? separatorsIn(after.context.languages) : [];
  }

  readonly see = (entry: SampledEntry): void => {
    const { place } = this.#linked;
    if (this.#targets.includes(entry.type)) {
      this.#known.add(`${entry.type}/${entry.id}`);
      for (const field of this.#naming) countNames(this.#names.get(field.address), ownValue(entry.fields, field.name));
    }

    if (entry.type === place.type) this.#waiting.push({ ...entry, fields: onlyField(entry, place) });
  };

  readonly impact = (): Impact => {
    const { from } = this.#linked;
    // What points at entries already is no text that names one.
    if (from.kind.pointsAt(from.options).types.length > 0) return this.#countedWith({});

    const byIds = this.#namedBy(undefined);
    const [best] = this.#naming
      .map((field) => this.#namedBy(field))
      .filter(({ impact }) => impact.hits < byIds.impact.hits && impact.hits * 2 <= impact.of)
      .toSorted((a, b) => a.impact.hits - b.impact.hits);
    const { field, impact, separator } = best ?? byIds;
    const named = field === undefined ? impact : withNames(impact, field);

    if (separator === undefined) return named;
    return withSplit(named, separator, this.#texts());
  };

  /** How texts fare by one field, or by identifiers: whole, or split where that names more entries. */
  #namedBy(field: Field | undefined): NamedBy {
    const unsplit = this.#counted(field);
    const impacts = this.#separators.map((separator) => ({ separator, impact: this.#counted(field, separator) }));
    return { field, impact: unsplit, ...fewestHits(impacts, unsplit.hits) };
  }

  #counted(field: Field | undefined, separator?: Separator): Impact {
    const names = field && this.#names.get(field.address);
    const find = (text: string): Converted => {
      if (names) return names.get(text.trim()) === 1 ? { value: text } : { problem: 'nothing has it' };
      const isKnown = this.#known.has(text) || this.#types.some((type) => this.#known.has(`${type}/${text}`));
      if (isKnown) return { value: text };
      return { problem: 'there is no such entry' };
    };

    return this.#countedWith({ find, separator });
  }

  #countedWith(carrying: Parameters<typeof carryingCounter>[1]): Impact {
    const counter = carryingCounter(this.#linked, carrying);
    for (const entry of this.#waiting) counter.see(entry);
    return counter.impact();
  }

  #texts(): readonly string[] {
    const { place, from, between } = this.#linked;
    const values = this.#waiting.flatMap(({ fields }) => valuesOf(between, place, fields));
    const items = values.flatMap((value) => singleValues(from, value).map(({ item }) => item));
    return items.filter((item) => typeof item === 'string');
  }
}

/** How texts would fare that are treated as the names of entries: by a field, or by their identifiers; in lists or not. */
interface NamedBy {
  readonly field: Field | undefined;
  readonly impact: Impact;
  readonly separator?: Separator;
}

/** The impact of taking texts for what a field of the targets says. */
const withNames = (impact: Impact, { address }: Field): Impact =>
  withWay(impact, {
    data: { by: address },
    says: `the texts are what \`${address}\` says`,
    asks: `Do these texts name entries, by \`${address}\`?`,
  });

/** The values of one field of an entry, so that no more than these is kept. */
const onlyField = ({ fields }: SampledEntry, { field }: FieldPlace): SampledEntry['fields'] => {
  const [outer = ''] = field.split('.');
  const value = ownValue(fields, outer);
  if (value === undefined) return {};
  return { [outer]: value };
};

/** The text fields of some types that can name their entries: those that must differ, and the one that titles them. */
const namingFields = ({ types }: Model, names: readonly string[]): readonly Field[] =>
  names.flatMap((name) => {
    const type = types.get(name);
    const fields = [...(type?.fields.values() ?? [])].filter(
      (field) => field.kind.freeText === 'line' && !field.common.many,
    );
    return fields.filter((field) => field.common.unique || field.name === type?.definition.titled);
  });

/** Counts how many entries have each text as their name, in any language. */
function countNames(names: Map<string, number> | undefined, value: Json | undefined): void {
  const texts = typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.values(value) : [value];
  for (const text of new Set(texts)) if (names && typeof text === 'string') names.set(text, (names.get(text) ?? 0) + 1);
}
