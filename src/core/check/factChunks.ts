import type { Status } from '../definition/builtIn.ts';
import { type EntryAddress, keyOf } from '../entry/entry.ts';
import { areSame, HashIndex, isTextAt, type Texts, textAt } from '../plain/columns.ts';
import { addressIn, type KeptFacts, KnownEntries } from './knownEntries.ts';
import type { Overflow } from './overflow.ts';
import {
  hashOfAddress,
  type PackedFacts,
  type PackedLinks,
  type PackedUnique,
  statusNumbered,
  type UniqueField,
} from './packedFacts.ts';
import type { Link } from './referenceBounds.ts';

/** Facts of some entries, with the numbers that the first of them, and the first of its unique values, has among all. */
export interface Chunk<Place> {
  readonly facts: KeptFacts;
  readonly base: number;
  readonly uniqueBase: number;
  readonly placeOf: (entry: number) => Place;
  readonly unique: KeptValues;
}

export interface WithLinks<Place> extends Chunk<Place> {
  readonly links: FollowedLinks;
}

/** References, with those that were followed already, and lead where they should. */
export interface FollowedLinks extends PackedLinks {
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

/** So many entries in a row are found at once; the one that is intended among them, by stepping on. */
const block = 1024;

/** The facts of all entries in the order in which they came, and what finds an entry, or a unique value, among them. */
export class FactChunks<Place> {
  readonly #overflow: Overflow;
  readonly #chunks: Chunk<Place>[] = [];
  /** The references in each of them. */
  readonly #links: (() => FollowedLinks)[] = [];
  readonly #entries = new HashIndex();
  /** In which of them the first of each so many entries is. */
  readonly #chunkOfBlock: number[] = [];
  readonly #unique = new HashIndex();
  /** The numbers of entries that have the address of another before them; their content counts for nothing. */
  readonly #duplicates = new Set<number>();

  /** @param overflow where facts are put that are looked at rarely. */
  constructor(overflow: Overflow) {
    this.#overflow = overflow;
  }

  /** Begins with the facts of some entries, of which none is known yet. */
  begin(facts: PackedFacts, placeOf: (entry: number) => Place): Chunk<Place> {
    const { hash, ...entries } = facts.entries;
    const chunk: Chunk<Place> = {
      facts: { entries, rare: facts.rare },
      base: this.#entries.size,
      uniqueBase: this.#unique.size,
      placeOf,
      unique: keptValues(facts.unique, this.#overflow),
    };
    this.#chunks.push(chunk);
    while (this.#chunkOfBlock.length * block < chunk.base + hash.length)
      this.#chunkOfBlock.push(this.#chunks.length - 1);

    return chunk;
  }

  /** Takes the references of the facts that came last, as far as they were followed. */
  keepLinks(links: FollowedLinks): void {
    this.#links.push(this.#overflow.aside(links, bytesOf(links)));
  }

  /**
   * Takes the next entry.
   * @returns the number of the one before it that has the same address, if there is one.
   */
  addEntry(chunk: Chunk<Place>, entry: number, hash: number): number | undefined {
    const { types, type, id } = chunk.facts.entries;
    const first = this.find(hash, types[type[entry] ?? 0] ?? '', id, entry);
    if (first === undefined) this.#entries.add(hash);
    else {
      this.#entries.skip();
      this.#duplicates.add(chunk.base + entry);
    }

    return first;
  }

  /**
   * Takes the next unique value.
   * @returns the entry before it that has the same, if there is one.
   */
  addValue({ value, hash }: PackedUnique, index: number, field: UniqueField): EntryAddress | undefined {
    const name = nameOfField(field);
    const number = hash[index] ?? 0;
    const first = this.#unique.find(number, (other) => this.#isSameValue(other, name, value, index));
    if (first === undefined) this.#unique.add(number);
    else this.#unique.skip();
    if (first === undefined) return undefined;
    return this.#holderOf(first);
  }

  /** Lets a unique value pass that counts for nothing. */
  skipValue(): void {
    this.#unique.skip();
  }

  /** Whether an entry, by its number, has the address of another before it. */
  isDuplicate(number: number): boolean {
    return this.#duplicates.has(number);
  }

  /** The number of the entry with an address, as a text among others. */
  find(hash: number, type: string, ids: Texts, index: number): number | undefined {
    return this.#entries.find(hash, (number) => this.#isSame(number, type, ids, index));
  }

  numberOf({ type, id }: EntryAddress): number | undefined {
    return this.#entries.find(hashOfAddress(type, id), (number) => {
      const { chunk, local } = this.#chunkOf(number);
      const { types, type: typeOf, id: ids } = chunk.facts.entries;
      return types[typeOf[local] ?? 0] === type && isTextAt(ids, local, id);
    });
  }

  /** Where the entry with a number lies. */
  placeAt(number: number): Place {
    const { chunk, local } = this.#chunkOf(number);
    return chunk.placeOf(local);
  }

  /** Facts about an entry by its number. */
  known(number: number): KnownEntries {
    const { chunk, local } = this.#chunkOf(number);
    return new KnownEntries(chunk.facts, local);
  }

  /** Every entry, duplicates too, with where it lies. */
  *all(): Iterable<{ readonly entry: EntryAddress; readonly place: Place }> {
    for (const { facts, placeOf } of this.#chunks)
      for (const index of facts.entries.type.keys()) yield { entry: addressIn(facts, index), place: placeOf(index) };
  }

  /** The facts as they came. */
  chunks(): Iterable<Chunk<Place>> {
    return this.#chunks;
  }

  /** All references, as they come: not all need to be in memory at once. */
  *withLinks(): Iterable<WithLinks<Place>> {
    for (const [index, chunk] of this.#chunks.entries()) {
      const links = this.#links[index]?.();
      if (links) yield { ...chunk, links };
    }
  }

  /** The references that are in some fields. */
  *linksBy(expected: ReadonlySet<string>): Iterable<Link> {
    for (const { facts, base, links } of this.withLinks()) {
      const { from, field, fields, path, paths, type, types, id } = links;
      const isWanted = fields.map((address) => expected.has(address));
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
  *entriesOf(expected: ReadonlySet<string>): Iterable<{ readonly entry: EntryAddress; readonly status: Status }> {
    for (const { facts, base } of this.#chunks) {
      const { type: typeOf, types, status } = facts.entries;
      const isWanted = types.map((name) => expected.has(name));
      for (const [index, type] of typeOf.entries())
        if (isWanted[type] && !this.#duplicates.has(base + index))
          yield { entry: addressIn(facts, index), status: statusNumbered(status[index]) };
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
