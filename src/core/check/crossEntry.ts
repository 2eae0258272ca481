import { type EntryAddress, keyOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Model } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { textAt } from '../plain/columns.ts';
import type { JsonObject, Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import type { EntryView } from '../rules/expression.ts';
import { lookInto } from '../rules/lookUp.ts';
import { type Judge, judgements } from './crossField.ts';
import { type Chunk, FactChunks, type FollowedLinks, type WithLinks } from './factChunks.ts';
import type { Circumstances, Joined } from './joinedFindings.ts';
import { addressIn, isPlain } from './knownEntries.ts';
import { foundIn } from './makeFinding.ts';
import { inMemory } from './overflow.ts';
import type { PackedFacts, PackedUnique } from './packedFacts.ts';
import { PairCount } from './pairCount.ts';
import { type Bound, boundsOf, brokenBounds, fieldsCounted } from './referenceBounds.ts';
import { type CountIn, wrongCounts } from './storedCounts.ts';
import { wrongTarget } from './wrongTarget.ts';

/** Among more entries than these no similar one is suggested: all their identifiers would have to be sorted. */
const mostAmong = 1_000_000;

/**
 * Pass two of checking: joins the facts of all entries. Memory grows with the number of facts, not with the size of
 * the entries.
 */
export class CrossEntryCheck<Place> {
  readonly #chunks: FactChunks<Place>;
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
    this.#chunks = new FactChunks(circumstances.overflow ?? inMemory);
    this.#singles = new Set(
      Object.entries(model.definition.types).flatMap(([name, { single }]) => (single ? [name] : [])),
    );
    this.#model = model;
    this.#bounds = boundsOf(model);
  }

  /**
   * Takes the facts of some entries, which come behind those that were taken before.
   * @param placeOf where an entry of them lies, by its number.
   */
  add(facts: PackedFacts, placeOf: (entry: number) => Place): void {
    const chunk = this.#chunks.begin(facts, placeOf);
    this.#addEntries(chunk, facts.entries.hash);
    this.#addUnique(chunk, facts.unique);
    const links = { ...facts.links, followed: new Uint8Array(facts.links.from.length) };
    this.#followKnown(links);
    this.#chunks.keepLinks(links);
    const { from, names, name } = facts.terms;
    for (const [index, entry] of from.entries()) {
      const term = names[name[index] ?? 0] ?? '';
      if (!this.#chunks.isDuplicate(chunk.base + entry)) this.#terms.set(term, (this.#terms.get(term) ?? 0) + 1);
    }

    for (const [entry, { lookedUp, postponed }] of facts.rare) {
      if (this.#chunks.isDuplicate(chunk.base + entry)) continue;
      if (lookedUp) this.#lookedUp.set(keyOf(addressIn(facts, entry)), lookedUp);
      if (postponed) this.#postponed.push(postponed);
    }
  }

  #addEntries(chunk: Chunk<Place>, hashes: Int32Array): void {
    const { types, type: typeOf, id } = chunk.facts.entries;
    for (const [entry, hash] of hashes.entries()) {
      const type = types[typeOf[entry] ?? 0] ?? '';
      const first = this.#chunks.addEntry(chunk, entry, hash);
      if (first !== undefined) {
        const place = this.#circumstances.sayPlace(this.#chunks.placeAt(first));
        const finding = foundIn({ type, id: textAt(id, entry) }, 'duplicate-entry', { place });
        this.#findings.push(finding);
        this.#elsewhere.set(finding, chunk.placeOf(entry));
        continue;
      }

      const count = (this.#perType.get(type) ?? 0) + 1;
      this.#perType.set(type, count);
      if (count > 1 && this.#singles.has(type))
        this.#findings.push(foundIn({ type, id: textAt(id, entry) }, 'more-than-one', { type }));
    }
  }

  #addUnique({ facts, base }: Chunk<Place>, unique: PackedUnique): void {
    const { from, fields, field: fieldOf, value, paths } = unique;
    for (const [index, entry] of from.entries()) {
      const field = fields[fieldOf[index] ?? 0];
      if (field === undefined || this.#chunks.isDuplicate(base + entry)) {
        this.#chunks.skipValue();
        continue;
      }

      const first = this.#chunks.addValue(unique, index, field);
      if (!first) continue;

      const data = { value: JSON.parse(textAt(value, index)), first: keyOf(first) };
      const path = paths.get(index) ?? field.field.split('/');
      this.#findings.push(foundIn(addressIn(facts, entry), 'not-unique', data, { path }));
    }
  }

  /** Where an entry lies, as `add` was reported. */
  placeOf(entry: EntryAddress): Place | undefined {
    const number = this.#chunks.numberOf(entry);
    if (number === undefined) return undefined;
    return this.#chunks.placeAt(number);
  }

  /** Every entry that was seen, duplicates too, with where it lies. */
  all(): Iterable<{ readonly entry: EntryAddress; readonly place: Place }> {
    return this.#chunks.all();
  }

  /** The entries that point at some others, by their addresses. */
  pointingAt(entries: ReadonlySet<string>): ReadonlySet<string> {
    const pointing = new Set<string>();
    for (const { facts, links } of this.#chunks.withLinks()) {
      const { from, type, types, id } = links;
      for (const [index, entry] of from.entries())
        if (entries.has(keyOf({ type: types[type[index] ?? 0] ?? '', id: textAt(id, index) })))
          pointing.add(keyOf(addressIn(facts, entry)));
    }

    return pointing;
  }

  /** The entries that some others point at, by their addresses. */
  pointedAtBy(entries: ReadonlySet<string>): ReadonlySet<string> {
    const targets = new Set<string>();
    for (const { facts, links } of this.#chunks.withLinks()) {
      const { from, type, types, id } = links;
      for (const [index, entry] of from.entries())
        if (entries.has(keyOf(addressIn(facts, entry))))
          targets.add(keyOf({ type: types[type[index] ?? 0] ?? '', id: textAt(id, index) }));
    }

    return targets;
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
    for (const chunk of this.#chunks.withLinks()) this.#follow(chunk, references, findings);
    const counted = this.#storedCounts();
    const watched = new Set([
      ...this.#bounds.map(({ field }) => field.address),
      ...fieldsCounted(
        counted.map(({ count }) => count.of),
        this.#model,
      ),
    ]);
    const links = watched.size === 0 ? [] : [...this.#chunks.linksBy(watched)];

    return {
      findings: [
        ...this.#findings,
        ...findings,
        ...brokenBounds(this.#bounds, links, (targets) => this.#chunks.entriesOf(targets)),
        ...wrongCounts(counted, links, this.#model),
        ...this.#judgedLate(),
      ],
      entries: this.#perType,
      references: references.byName(),
      terms: this.#terms,
    };
  }

  /**
   * Follows what leads to entries that are known now, while others are still read: most of it leads where it should.
   * Whatever else there is to say is stated once all are known.
   */
  #followKnown({ type, types, id, hash, followed }: FollowedLinks): void {
    for (let index = 0; index < hash.length; index += 1) {
      const name = types[type[index] ?? 0] ?? '';
      const target = this.#chunks.find(hash[index] ?? 0, name, id, index);
      if (target !== undefined && isPlain(this.#chunks.known(target))) followed[index] = 1;
    }
  }

  /** Follows the references of some entries. */
  #follow({ facts, base, links }: WithLinks<Place>, references: PairCount, findings: Finding[]): void {
    const { from, type, types, id, hash, field, fields, path: pathOf, paths, followed } = links;
    const { types: fromTypes, type: fromType } = facts.entries;
    const pairs = references.of(fromTypes, types);
    for (let index = 0; index < from.length; index += 1) {
      const entry = from[index] ?? 0;
      if (this.#chunks.isDuplicate(base + entry)) continue;

      const toType = type[index] ?? 0;
      pairs.add(fromType[entry] ?? 0, toType);
      if (followed[index] === 1) continue;

      const target = this.#chunks.find(hash[index] ?? 0, types[toType] ?? '', id, index);
      const path = paths[pathOf[index] ?? 0] ?? [];
      const finding =
        target === undefined
          ? this.#dangling(addressIn(facts, entry), { type: types[toType] ?? '', id: textAt(id, index) }, path)
          : wrongTarget(this.#chunks.known(base + entry), this.#chunks.known(target), {
              path,
              eligible: (from) => this.#eligibleFor(from, fields[field[index] ?? 0] ?? ''),
              currentTime: this.#circumstances.currentTime,
            });
      if (finding) findings.push(finding);
    }
  }

  #dangling(from: EntryAddress, to: EntryAddress, path: Path): Finding {
    return foundIn(from, 'dangling-reference', { to: keyOf(to), near: this.#nearest(to) }, { path });
  }

  #storedCounts(): readonly CountIn[] {
    return [...this.#chunks.chunks()].flatMap(({ facts, base }) =>
      [...facts.rare].flatMap(([entry, { counts }]) =>
        this.#chunks.isDuplicate(base + entry)
          ? []
          : counts.map((count) => ({ entry: addressIn(facts, entry), count })),
      ),
    );
  }

  /** The condition that a field of an entry puts on its targets. */
  #eligibleFor(from: EntryAddress, address: string): string | undefined {
    const type = this.#model.types.get(from.type);
    const field = type && fieldNamed(type, address.slice(address.indexOf('.') + 1));
    return field?.kind.pointsAt(field.options).eligible;
  }

  /** Problems of entries by their lookups in others. */
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
    const existing = this.#ids.get(type);
    if (existing) return existing;

    const ids = new Map<string, true>();
    for (const { facts } of this.#chunks.chunks()) {
      const { types, type: typeOf, id } = facts.entries;
      const typeIndex = types.indexOf(type);
      for (const [entry, number] of typeOf.entries()) if (number === typeIndex) ids.set(textAt(id, entry), true);
    }

    this.#ids.set(type, ids);

    return ids;
  }

  /** The entry that was probably meant by the address of one that is not there. */
  #nearest({ type, id }: EntryAddress): string | undefined {
    if ((this.#perType.get(type) ?? 0) > mostAmong) return undefined;
    const near = nearest(id, this.idsOf(type));
    if (near === undefined) return undefined;
    return keyOf({ type, id: near });
  }
}
