import type { Status } from '../definition/builtIn.ts';
import { type EntryAddress, keyOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Model } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { areSame, HashIndex, isTextAt, type Texts, textAt } from '../plain/columns.ts';
import { compact, type JsonObject, type Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import type { EntryView } from '../rules/expression.ts';
import { lookInto } from '../rules/lookUp.ts';
import { type Judge, judgements } from './crossField.ts';
import type { Unmet } from './derived.ts';
import { foundIn } from './foundIn.ts';
import { addressIn, isPlain, type KeptFacts, Known } from './known.ts';
import { inMemory, type Overflow } from './overflow.ts';
import {
  hashOfAddress,
  type PackedFacts,
  type PackedLinks,
  type PackedUnique,
  statusNumbered,
  type UniqueField,
} from './packedFacts.ts';
import { PairCount } from './pairCount.ts';
import { type Bound, boundsOf, brokenBounds, fieldsCounted, type Link } from './pointing.ts';
import { type CountIn, wrongCounts } from './storedCounts.ts';
import { hiddenFrom } from './visibility.ts';

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

/** What goes for all entries of a check. */
interface Circumstances<Place> {
  /** A place where an entry is kept, in words. */
  readonly sayPlace: (place: Place) => string;
  /** The moment (RFC 3339) at which references are followed; absent where it shall make no difference. */
  readonly now?: string | undefined;
  /** Where facts are put that are looked at rarely; memory, if it says nothing. */
  readonly overflow?: Overflow;
}

/** Facts of some entries, with the numbers that the first of them, and the first of its unique values, has among all. */
interface Chunk<Place> {
  readonly facts: KeptFacts;
  readonly base: number;
  readonly uniqueBase: number;
  readonly placeOf: (entry: number) => Place;
  readonly unique: KeptValues;
}

interface WithLinks<Place> extends Chunk<Place> {
  readonly links: FollowedLinks;
}

/** References, with those that were followed already, and lead where they should. */
interface FollowedLinks extends PackedLinks {
  readonly followed: Uint8Array;
}

/** Unique values, of which only their hashes are looked at again and again. */
interface KeptValues {
  /** The number of the entry that has one. */
  readonly from: (index: number) => number;
  /** Its field, as a text that no other field has. */
  readonly field: (index: number) => string | undefined;
  readonly value: (index: number) => string;
}

/** Among more entries than these nobody is asked which one was meant: all their identifiers would have to be sorted. */
const mostAmong = 1_000_000;

/** So many entries in a row are found at once; the one that is meant among them, by stepping on. */
const block = 1024;

/**
 * Pass two of checking: joins the facts of all entries. Memory grows with the number of facts, not with the size of
 * the entries.
 */
export class CrossEntryCheck<Place> {
  readonly #chunks: Chunk<Place>[] = [];
  /** The references in each of them. */
  readonly #links: (() => FollowedLinks)[] = [];
  readonly #entries = new HashIndex();
  /** In which of them the first of each so many entries is. */
  readonly #chunkOfBlock: number[] = [];
  readonly #unique = new HashIndex();
  /** The numbers of entries that have the address of another before them; what they say counts for nothing. */
  readonly #duplicates = new Set<number>();
  readonly #findings: Finding[] = [];
  /** Where findings stand that are not in the first entry of their address. */
  readonly #elsewhere = new Map<Finding, Place>();
  readonly #lookedUp = new Map<string, JsonObject>();
  readonly #postponed: EntryView[] = [];
  readonly #ids = new Map<string, ReadonlyMap<string, true>>();
  readonly #perType = new Map<string, number>();
  readonly #terms = new Map<string, number>();
  readonly #singles: ReadonlySet<string>;
  readonly #model: Model;
  readonly #bounds: readonly Bound[];
  readonly #circumstances: Circumstances<Place>;

  /** @param model the model that the entries are checked against. */
  constructor(model: Model, circumstances: Circumstances<Place>) {
    this.#circumstances = circumstances;
    this.#singles = new Set(
      [...model.types.values()].filter(({ definition }) => definition.single).map(({ name }) => name),
    );
    this.#model = model;
    this.#bounds = boundsOf(model);
  }

  /**
   * Takes the facts of some entries, which come behind those that were taken before.
   * @param placeOf where an entry of them lies, by its number.
   */
  add(facts: PackedFacts, placeOf: (entry: number) => Place): void {
    const overflow = this.#circumstances.overflow ?? inMemory;
    const { hash, ...entries } = facts.entries;
    const links = { ...facts.links, followed: new Uint8Array(facts.links.from.length) };
    const chunk: Chunk<Place> = {
      facts: { entries, rare: facts.rare },
      base: this.#entries.size,
      uniqueBase: this.#unique.size,
      placeOf,
      unique: keptValues(facts.unique, overflow),
    };
    this.#chunks.push(chunk);
    while (this.#chunkOfBlock.length * block < chunk.base + hash.length)
      this.#chunkOfBlock.push(this.#chunks.length - 1);
    this.#addEntries(chunk, hash);
    this.#addUnique(chunk, facts.unique);
    this.#followKnown(links);
    this.#links.push(overflow.aside(links, bytesOf(links)));
    const { from, names, name } = facts.terms;
    for (const [index, entry] of from.entries()) {
      const term = names[name[index] ?? 0] ?? '';
      if (!this.#duplicates.has(chunk.base + entry)) this.#terms.set(term, (this.#terms.get(term) ?? 0) + 1);
    }
    for (const [entry, { lookedUp, postponed }] of facts.rare) {
      if (this.#duplicates.has(chunk.base + entry)) continue;
      if (lookedUp) this.#lookedUp.set(keyOf(addressIn(facts, entry)), lookedUp);
      if (postponed) this.#postponed.push(postponed);
    }
  }

  #addEntries({ facts, base, placeOf }: Chunk<Place>, hashes: Int32Array): void {
    const { types, type: typeOf, id } = facts.entries;
    for (const [entry, hash] of hashes.entries()) {
      const type = types[typeOf[entry] ?? 0] ?? '';
      const first = this.#entries.find(hash, (number) => this.#isSame(number, type, id, entry));
      if (first === undefined) this.#entries.add(hash);
      else {
        this.#entries.skip();
        this.#duplicates.add(base + entry);
        const { chunk, local } = this.#chunkOf(first);
        const place = this.#circumstances.sayPlace(chunk.placeOf(local));
        const found = foundIn({ type, id: textAt(id, entry) }, 'duplicate-entry', { place });
        this.#findings.push(found);
        this.#elsewhere.set(found, placeOf(entry));
        continue;
      }
      const count = (this.#perType.get(type) ?? 0) + 1;
      this.#perType.set(type, count);
      if (count > 1 && this.#singles.has(type))
        this.#findings.push(foundIn({ type, id: textAt(id, entry) }, 'more-than-one', { type }));
    }
  }

  #addUnique({ facts, base }: Chunk<Place>, { from, fields, field: fieldOf, value, hash, paths }: PackedUnique): void {
    for (const [index, number] of hash.entries()) {
      const entry = from[index] ?? 0;
      const field = fields[fieldOf[index] ?? 0];
      const counts = field !== undefined && !this.#duplicates.has(base + entry);
      const first = counts
        ? this.#unique.find(number, (other) => this.#isSameValue(other, nameOfField(field), value, index))
        : undefined;
      if (counts && first === undefined) this.#unique.add(number);
      else this.#unique.skip();
      if (first === undefined || !counts) continue;
      const data = { value: JSON.parse(textAt(value, index)), first: keyOf(this.#holderOf(first)) };
      const path = paths.get(index) ?? field.field.split('/');
      this.#findings.push(foundIn(addressIn(facts, entry), 'not-unique', data, { path }));
    }
  }

  /** The facts that hold the entry with a number among all, and its number there. */
  #chunkOf(number: number): { readonly chunk: Chunk<Place>; readonly local: number } {
    let index = this.#chunkOfBlock[Math.floor(number / block)] ?? 0;
    while ((this.#chunks[index + 1]?.base ?? Number.POSITIVE_INFINITY) <= number) index += 1;
    const chunk = this.#chunks[index] as Chunk<Place>;
    return { chunk, local: number - chunk.base };
  }

  #isSame(number: number, type: string, ids: Texts, index: number): boolean {
    const { chunk, local } = this.#chunkOf(number);
    const { types, type: typeOf, id } = chunk.facts.entries;
    return areSame(id, local, ids, index) && types[typeOf[local] ?? 0] === type;
  }

  #isSameValue(number: number, field: string, values: Texts, index: number): boolean {
    const { unique, uniqueBase } = this.#chunkOfValue(number);
    const local = number - uniqueBase;
    return unique.field(local) === field && isTextAt(values, index, unique.value(local));
  }

  /** The entry that has a unique value, by the number of that. */
  #holderOf(number: number): EntryAddress {
    const { facts, unique, uniqueBase } = this.#chunkOfValue(number);
    return addressIn(facts, unique.from(number - uniqueBase));
  }

  #chunkOfValue(number: number): Chunk<Place> {
    return lastStartingAt(this.#chunks, number, ({ uniqueBase }) => uniqueBase);
  }

  #numberOf({ type, id }: EntryAddress): number | undefined {
    return this.#entries.find(hashOfAddress(type, id), (number) => {
      const { chunk, local } = this.#chunkOf(number);
      const { types, type: typeOf, id: ids } = chunk.facts.entries;
      return types[typeOf[local] ?? 0] === type && isTextAt(ids, local, id);
    });
  }

  /** Where an entry lies, as `add` was told. */
  placeOf(entry: EntryAddress): Place | undefined {
    const number = this.#numberOf(entry);
    if (number === undefined) return undefined;
    const { chunk, local } = this.#chunkOf(number);
    return chunk.placeOf(local);
  }

  /** Every entry that was seen, duplicates too, with where it lies. */
  *all(): Iterable<{ readonly entry: EntryAddress; readonly place: Place }> {
    for (const { facts, placeOf } of this.#chunks)
      for (const index of facts.entries.type.keys()) yield { entry: addressIn(facts, index), place: placeOf(index) };
  }

  /** The entries that point at some others, by their addresses. */
  pointingAt(entries: ReadonlySet<string>): ReadonlySet<string> {
    const pointing = new Set<string>();
    for (const { facts, links } of this.#linksOfChunks()) {
      const { from, type, types, id } = links;
      for (const [index, entry] of from.entries())
        if (entries.has(keyOf({ type: types[type[index] ?? 0] ?? '', id: textAt(id, index) })))
          pointing.add(keyOf(addressIn(facts, entry)));
    }
    return pointing;
  }

  /** Where the entry lies that a finding of `join` is about. */
  placeOfFinding(finding: Finding): Place | undefined {
    return this.#elsewhere.get(finding) ?? this.placeOf(finding.entry);
  }

  /** Types that should have exactly one entry and have none. */
  empty(): readonly string[] {
    return [...this.#singles].filter((type) => !this.#perType.has(type));
  }

  /** Looks at all references, now that every entry is known. */
  join(): Joined {
    const references = new PairCount();
    const findings: Finding[] = [];
    for (const chunk of this.#linksOfChunks()) this.#follow(chunk, references, findings);
    const counted = this.#storedCounts();
    const watched = new Set([
      ...this.#bounds.map(({ field }) => field.address),
      ...fieldsCounted(
        counted.map(({ count }) => count.of),
        this.#model,
      ),
    ]);
    const links = watched.size === 0 ? [] : [...this.#linksBy(watched)];

    return {
      findings: [
        ...this.#findings,
        ...findings,
        ...brokenBounds(this.#bounds, links, (targets) => this.#entriesOf(targets)),
        ...wrongCounts(counted, links, this.#model),
        ...this.#judgedLate(),
      ],
      entries: this.#perType,
      references: references.byName(),
      terms: this.#terms,
    };
  }

  /**
   * Follows what leads to entries that are known by now, while others are still read: most of it leads where it should.
   * Whatever else there is to say is said once all are known.
   */
  #followKnown({ type, types, id, hash, followed }: FollowedLinks): void {
    for (let index = 0; index < hash.length; index += 1) {
      const name = types[type[index] ?? 0] ?? '';
      const target = this.#entries.find(hash[index] ?? 0, (number) => this.#isSame(number, name, id, index));
      if (target !== undefined && isPlain(this.#known(target))) followed[index] = 1;
    }
  }

  /** Follows the references of some entries. */
  #follow({ facts, base, links }: WithLinks<Place>, references: PairCount, findings: Finding[]): void {
    const { from, type, types, id, hash, field, fields, path: pathOf, paths, followed } = links;
    const { types: fromTypes, type: fromType } = facts.entries;
    const pairs = references.of(fromTypes, types);
    for (let index = 0; index < from.length; index += 1) {
      const entry = from[index] ?? 0;
      if (this.#duplicates.has(base + entry)) continue;
      const toType = type[index] ?? 0;
      pairs.add(fromType[entry] ?? 0, toType);
      if (followed[index] === 1) continue;
      const target = this.#entries.find(hash[index] ?? 0, (number) =>
        this.#isSame(number, types[toType] ?? '', id, index),
      );
      const path = paths[pathOf[index] ?? 0] ?? [];
      const found =
        target === undefined
          ? this.#dangling(addressIn(facts, entry), { type: types[toType] ?? '', id: textAt(id, index) }, path)
          : this.#wrongTarget(base + entry, target, fields[field[index] ?? 0] ?? '', path);
      if (found) findings.push(found);
    }
  }

  #dangling(from: EntryAddress, to: EntryAddress, path: Path): Finding {
    return foundIn(from, 'dangling-reference', { to: keyOf(to), near: this.#nearest(to) }, { path });
  }

  /** What is wrong with a reference to an entry that is there, by the numbers of both. */
  #wrongTarget(from: number, to: number, field: string, path: Path): Finding | undefined {
    const target = this.#known(to);
    if (isPlain(target)) return undefined;
    const reader = this.#known(from);
    const ineligible = target.rare?.ineligible ?? [];
    const [entry, key] = [reader.address(), keyOf(target.address())];
    const unmet = this.#unmet(ineligible, entry, field);
    if (unmet) {
      const severity = reader.status === 'published' ? 'error' : 'warning';
      const { condition, part } = unmet;
      return foundIn(entry, 'not-eligible', compact({ to: key, condition, part }), {
        path,
        severity,
        limit: condition,
      });
    }
    if (reader.status !== 'published') return undefined;
    const { status } = target;
    const warning = { path, severity: 'warning' } as const;
    if (status !== 'published') return foundIn(entry, 'target-not-published', { to: key, status }, warning);
    const { now } = this.#circumstances;
    const hidden = now === undefined ? undefined : hiddenFrom(reader.rare?.window, target.rare?.window, now);
    return hidden && foundIn(entry, `target-not-published:${hidden.why}`, { to: key, date: hidden.date }, warning);
  }

  /** What is known of an entry by its number. */
  #known(number: number): Known {
    const { chunk, local } = this.#chunkOf(number);
    return new Known(chunk.facts, local);
  }

  /** All references, as they come: not all need to be in memory at once. */
  *#linksOfChunks(): Iterable<WithLinks<Place>> {
    for (const [index, chunk] of this.#chunks.entries()) {
      const links = this.#links[index]?.();
      if (links) yield { ...chunk, links };
    }
  }

  /** The references that stand in some fields. */
  *#linksBy(wanted: ReadonlySet<string>): Iterable<Link> {
    for (const { facts, base, links } of this.#linksOfChunks()) {
      const { from, field, fields, path, paths, type, types, id } = links;
      const isWanted = fields.map((address) => wanted.has(address));
      for (const [index, entry] of from.entries()) {
        const number = field[index] ?? 0;
        if (!isWanted[number] || this.#duplicates.has(base + entry)) continue;
        yield {
          from: keyOf(addressIn(facts, entry)),
          path: paths[path[index] ?? 0] ?? [],
          to: keyOf({ type: types[type[index] ?? 0] ?? '', id: textAt(id, index) }),
          field: fields[number] ?? '',
        };
      }
    }
  }

  /** The entries of some types. */
  *#entriesOf(wanted: ReadonlySet<string>): Iterable<{ readonly entry: EntryAddress; readonly status: Status }> {
    for (const { facts, base } of this.#chunks) {
      const { type: typeOf, types, status } = facts.entries;
      const isWanted = types.map((name) => wanted.has(name));
      for (const [index, type] of typeOf.entries())
        if (isWanted[type] && !this.#duplicates.has(base + index))
          yield { entry: addressIn(facts, index), status: statusNumbered(status[index]) };
    }
  }

  #storedCounts(): readonly CountIn[] {
    return this.#chunks.flatMap(({ facts, base }) =>
      [...facts.rare].flatMap(([entry, { counts }]) =>
        this.#duplicates.has(base + entry) ? [] : counts.map((count) => ({ entry: addressIn(facts, entry), count })),
      ),
    );
  }

  /** Of the conditions that a target does not meet, the one that the field of an entry puts on it. */
  #unmet(unmet: readonly Unmet[], from: EntryAddress, address: string): Unmet | undefined {
    if (unmet.length === 0) return undefined;
    const type = this.#model.types.get(from.type);
    const field = type && fieldNamed(type, address.slice(address.indexOf('.') + 1));
    const eligible = field?.kind.pointsAt(field.options).eligible;
    return unmet.find(({ condition }) => condition === eligible);
  }

  /** What is wrong with entries by what they look up in others. */
  #judgedLate(): readonly Finding[] {
    const findings: Finding[] = [];
    const judges = new Map<string, Judge | undefined>();
    const look = lookInto(this.#lookedUp, this.#model.context.acceptedAs);
    for (const view of this.#postponed) {
      const type = this.#model.types.get(view.type);
      if (type && !judges.has(view.type))
        judges.set(view.type, judgements(type, this.#model.definition.languages, 'looking'));
      judges.get(view.type)?.({ ...view, look }, findings);
    }
    return findings;
  }

  /** The identifiers of the entries of a type, now that every entry is known. */
  idsOf(type: string): ReadonlyMap<string, true> {
    const known = this.#ids.get(type);
    if (known) return known;
    const ids = new Map<string, true>();
    for (const { facts } of this.#chunks) {
      const { types, type: typeOf, id } = facts.entries;
      const wanted = types.indexOf(type);
      for (const [entry, number] of typeOf.entries()) if (number === wanted) ids.set(textAt(id, entry), true);
    }
    this.#ids.set(type, ids);
    return ids;
  }

  /** The entry that was probably meant by the address of one that is not there. */
  #nearest({ type, id }: EntryAddress): string | undefined {
    if ((this.#perType.get(type) ?? 0) > mostAmong) return undefined;
    const near = nearest(id, this.idsOf(type));
    return near === undefined ? undefined : keyOf({ type, id: near });
  }
}

function keptValues(unique: PackedUnique, overflow: Overflow): KeptValues {
  const names = unique.fields.map(nameOfField);
  const [field, text] = [overflow.numbers(unique.field), overflow.text(unique.value.text)];
  const end = overflow.numbers(Int32Array.from(unique.value.ends));
  return {
    from: overflow.numbers(unique.from),
    field: (index) => names[field(index)],
    value: (index) => text(index === 0 ? 0 : end(index - 1), end(index)),
  };
}

const nameOfField = ({ among, field }: UniqueField): string => `${among}.${field}`;

/** About how much memory some references take, which are eight columns. */
const bytesOf = ({ from, id }: PackedLinks): number => from.length * 25 + id.text.length;

/** The last of some parts, in order of where they start, that starts at a number or before it. */
function lastStartingAt<T>(parts: readonly T[], number: number, startOf: (part: T) => number): T {
  let low = 0;
  let high = parts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (startOf(parts[middle] as T) <= number) low = middle;
    else high = middle - 1;
  }
  return parts[low] as T;
}
