import { type EntryAddress, keyOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Field, Model } from '../model/link.ts';
import { fieldsWithin } from '../model/nestedFields.ts';
import type { Json, Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import type { StoredCount } from './derived.ts';
import type { Facts } from './facts.ts';
import { foundIn } from './foundIn.ts';

/** What the entries say together, gathered by pass two. */
export interface Joined {
  /** What is wrong with references. */
  readonly findings: readonly Finding[];
  /** How many entries each type has. */
  readonly entries: ReadonlyMap<string, number>;
  /** How many references there are from a type to a type, by `from → to`. */
  readonly references: ReadonlyMap<string, number>;
  /** How many entries use each term, by `taxonomy:term`. */
  readonly terms: ReadonlyMap<string, number>;
}

/**
 * Pass two of checking: joins the facts of all entries. Memory grows with the number of facts, not with the size of
 * the entries.
 */
export class CrossEntryCheck<Place> {
  readonly #entries = new Map<
    string,
    { readonly status: Facts['status']; readonly place: Place; readonly ineligible: readonly string[] }
  >();
  readonly #unique = new Map<string, string>();
  readonly #links: { readonly from: string; readonly path: Path; readonly to: string; readonly field: string }[] = [];
  readonly #counts: { readonly entry: string; readonly count: StoredCount }[] = [];
  readonly #ids = new Map<string, ReadonlyMap<string, true>>();
  readonly #perType = new Map<string, number>();
  readonly #terms = new Map<string, number>();
  readonly #singles: ReadonlySet<string>;
  readonly #fields: ReadonlyMap<string, Field>;
  readonly #standsFor: (type: string) => readonly string[];

  readonly #sayPlace: (place: Place) => string;

  /**
   * @param model the model that the entries are checked against.
   * @param sayPlace a place where an entry is kept, in words.
   */
  constructor(model: Model, sayPlace: (place: Place) => string) {
    this.#sayPlace = sayPlace;
    this.#singles = new Set(
      [...model.types.values()].filter(({ definition }) => definition.single).map(({ name }) => name),
    );
    const fields = [...model.types.values()].flatMap((type) => fieldsWithin(type.fields));
    this.#fields = new Map(fields.map((field) => [field.address, field]));
    this.#standsFor = model.context.acceptedAs;
  }

  /**
   * Takes the facts of one entry.
   * @param place where the entry lies, for messages about another one like it.
   * @returns what is wrong beside the entries that came before.
   */
  add({ entry, status, unique, links, terms, ineligible, counts }: Facts, place: Place): readonly Finding[] {
    const first = this.#entries.get(entry);
    if (first) return [foundIn(addressOf(entry), 'duplicate-entry', { place: this.#sayPlace(first.place) })];

    this.#entries.set(entry, { status, place, ineligible });
    const { type } = addressOf(entry);
    this.#perType.set(type, (this.#perType.get(type) ?? 0) + 1);
    for (const { path, to, field } of links) this.#links.push({ from: entry, path, to: `${to.type}/${to.id}`, field });
    for (const count of counts) this.#counts.push({ entry, count });
    for (const term of new Set(terms)) this.#terms.set(term, (this.#terms.get(term) ?? 0) + 1);
    const tooMany = this.#singles.has(type) && (this.#perType.get(type) ?? 0) > 1;
    const several = tooMany ? [foundIn(addressOf(entry), 'more-than-one', { type })] : [];
    const shared = unique.flatMap(({ field, value }) =>
      this.#addUnique(entry, `${type}.${field}=${JSON.stringify(value)}`, field, value),
    );

    return [...several, ...shared];
  }

  #addUnique(entry: string, key: string, field: string, value: Json): readonly Finding[] {
    const first = this.#unique.get(key);
    if (first === undefined) this.#unique.set(key, entry);
    if (first === undefined) return [];
    return [foundIn(addressOf(entry), 'not-unique', { value, first }, { path: field.split('/') })];
  }

  /** Where an entry lies, as `add` was told. */
  placeOf(entry: EntryAddress): Place | undefined {
    return this.#entries.get(keyOf(entry))?.place;
  }

  /** Types that should have exactly one entry and have none. */
  empty(): readonly string[] {
    return [...this.#singles].filter((type) => !this.#perType.has(type));
  }

  /** Looks at all references, now that every entry is known. */
  join(): Joined {
    const references = new Map<string, number>();
    const findings = this.#links.flatMap(({ from, path, to, field }) => {
      const pair = `${addressOf(from).type} → ${addressOf(to).type}`;
      references.set(pair, (references.get(pair) ?? 0) + 1);
      const target = this.#entries.get(to);
      if (!target) return [foundIn(addressOf(from), 'dangling-reference', { to, near: this.#nearest(to) }, { path })];
      if (target.ineligible.includes(field)) return [this.#notEligible(from, path, to, field)];
      const { status } = target;
      if (status === 'published' || this.#entries.get(from)?.status !== 'published') return [];
      return [foundIn(addressOf(from), 'target-not-published', { to, status }, { path, severity: 'warning' })];
    });
    return {
      findings: [...findings, ...this.#otherSides(), ...this.#wrongCounts()],
      entries: this.#perType,
      references,
      terms: this.#terms,
    };
  }

  #notEligible(from: string, path: Path, to: string, field: string): Finding {
    const eligible = this.#fields.get(field)?.kind.pointsAt(this.#fields.get(field)?.options ?? {}).eligible ?? '';
    return foundIn(
      addressOf(from),
      'not-eligible',
      { to, condition: eligible },
      {
        path,
        severity: this.#entries.get(from)?.status === 'published' ? 'error' : 'warning',
        limit: eligible,
      },
    );
  }

  /** How many point at each target by the fields that bound it: seen from the target, and from those that point. */
  *#otherSides(): Iterable<Finding> {
    for (const field of this.#fields.values()) {
      const { types, inverse, inverseMin = 0, inverseMax } = field.kind.pointsAt(field.options);
      if (inverseMin === 0 && inverseMax === undefined) continue;
      const pointing = new Map<string, { readonly from: string; readonly path: Path }[]>();
      for (const { field: by, from, to, path } of this.#links)
        if (by === field.address) {
          const there = pointing.get(to);
          if (there) there.push({ from, path });
          else pointing.set(to, [{ from, path }]);
        }
      for (const [to, all] of pointing) {
        const first = [...new Set(all.slice(0, inverseMax).map((one) => one.from))];
        for (const { from, path } of all.slice(inverseMax ?? all.length)) {
          const others = first.filter((one) => one !== from);
          const bound = inverseMax ?? 0;
          const data = { to, others, bound, by: field.address };
          yield foundIn(addressOf(from), 'too-many-pointing', data, { path, limit: bound });
        }
      }
      if (inverseMin === 0) continue;
      const accepted = new Set(types.flatMap(this.#standsFor));
      for (const [entry, { status }] of this.#entries) {
        const has = pointing.get(entry)?.length ?? 0;
        if (!accepted.has(addressOf(entry).type) || has >= inverseMin) continue;
        const data = { size: has, bound: inverseMin, inverse, by: field.address };
        yield foundIn(addressOf(entry), 'too-few-pointing', data, {
          severity: status === 'published' ? 'error' : 'warning',
          limit: inverseMin,
          by: field.address,
        });
      }
    }
  }

  /** Stored counts of what points at an entry that are no longer true. */
  *#wrongCounts(): Iterable<Finding> {
    if (this.#counts.length === 0) return;
    const pointing = new Map<string, Set<string>>();
    for (const { field, from, to } of this.#links) {
      const key = `${field} ${to}`;
      pointing.set(key, (pointing.get(key) ?? new Set()).add(from));
    }
    for (const { entry, count } of this.#counts) {
      const number = pointing.get(`${count.of} ${entry}`)?.size ?? 0;
      if (number === count.stored) continue;
      const data = { stored: count.stored, computed: number, by: count.of };
      yield foundIn(addressOf(entry), 'not-computed:count', data, {
        severity: 'warning',
        path: count.path,
        value: count.stored,
        limit: number,
        fix: { set: number },
      });
    }
  }

  /** The identifiers of the entries of a type, now that every entry is known. */
  #idsOf(type: string): ReadonlyMap<string, true> {
    const known = this.#ids.get(type);
    if (known) return known;
    const ids = new Map<string, true>();

    for (const entry of this.#entries.keys()) {
      const address = addressOf(entry);
      if (address.type === type) ids.set(address.id, true);
    }
    this.#ids.set(type, ids);
    return ids;
  }

  /** The entry that was probably meant by the address of one that is not there. */
  #nearest(to: string): string | undefined {
    const { type, id } = addressOf(to);
    const near = nearest(id, this.#idsOf(type));
    return near === undefined ? undefined : `${type}/${near}`;
  }
}

function addressOf(key: string): EntryAddress {
  const slash = key.indexOf('/');
  return { type: key.slice(0, slash), id: key.slice(slash + 1) };
}
