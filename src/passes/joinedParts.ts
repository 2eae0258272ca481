import { CrossEntryCheck } from '../core/check/crossEntry.ts';
import type { Joined } from '../core/check/joinedFindings.ts';
import { foundIn } from '../core/check/makeFinding.ts';
import { inMemory, type Overflow } from '../core/check/overflow.ts';
import type { Assets } from '../core/entry/assets.ts';
import { type EntryAddress, entryAddressOf, keyOf } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import { compareText } from '../core/plain/compareText.ts';
import { foldedId } from '../stores/folder/fileName.ts';
import type { EntryStore, Place } from '../stores/store.ts';
import { assetFolder } from '../workspace/assets.ts';
import { hashBytes } from '../workspace/files.ts';
import { keepPart, recallPart, wholeKey } from '../workspace/memory/partMemory.ts';
import type { CheckContext, Checked } from './checked.ts';
import { type FindingAt, type PartChecked, type PartFacts, type PlacedFinding, placed } from './checkPart.ts';
import { findingOfFile } from './fileFinding.ts';
import type { LocatedFinding } from './locatedFinding.ts';
import { placesAside, sayPlace } from './packedPlaces.ts';
import type { FoundSoFar } from './progress.ts';

/** The facts of a part that was read just now, or what gets those that are kept. */
type Facts = PartFacts | (() => Promise<PartFacts>);

/** The stored results of joining parts, with the facts and cache keys that they depend on. */
interface StoredJoin {
  readonly facts: string;
  readonly keys: readonly (string | undefined)[];
  readonly told: Together;
}

/** What joining tells: problems of entries beside others, each with its place, and what all of them say together. */
interface Together extends Omit<Joined, 'findings'> {
  readonly late: readonly (FindingAt & { readonly placed: PlacedFinding })[];
  /** Types that should have an entry and have none. */
  readonly empty: readonly string[];
}

/** The most changed parts for which the last join is still useful. */
const mostChanged = 8;

/** Of more findings than these nobody keeps what joining tells. */
const mostKept = 10_000;

/**
 * Joins findings in the parts of a store, which come in their order. If only problems are requested, and the
 * facts of all parts are those of the last time, they are not joined again, nor even read: most edits change no identifier,
 * no reference and no unique value.
 */
export class JoinedParts {
  readonly #store: EntryStore;
  readonly #model: Model;
  readonly #context: CheckContext;
  readonly #overflow: Overflow;
  readonly #crossEntry: CrossEntryCheck<Place>;
  readonly #findings: LocatedFinding[] = [];
  readonly #bare: FindingAt[] = [];
  readonly #used = new Set<string>();
  /** Entries with odd identifiers, by what some systems take them for. */
  readonly #odd = new Map<string, EntryAddress[]>();
  /** The facts of parts that are not joined yet. */
  #waiting: Facts[] = [];
  /** A hash of the facts of each part; nothing if one of them is not cached. */
  #digests: string[] | undefined;
  readonly #keys: (string | undefined)[] = [];
  #looked = 0;
  #found = 0;
  #latest: LocatedFinding | undefined;

  constructor(
    store: EntryStore,
    model: Model,
    { currentTime, ...context }: CheckContext & { readonly currentTime: string },
  ) {
    this.#store = store;
    this.#model = model;
    this.#context = context;
    this.#overflow = context.overflow ?? inMemory;
    this.#crossEntry = new CrossEntryCheck<Place>(model, { sayPlace, currentTime, overflow: this.#overflow });
    this.#digests = context.memory && context.findingsAlone ? [] : undefined;
  }

  async take(part: PartChecked, facts: Facts, key?: string): Promise<void> {
    const { entries, digest, line, findings, bare, unfit, assets } = part;
    this.#looked += entries;
    for (const finding of findings) this.#add(finding);
    for (const findingAt of bare) this.#bare.push(findingAt);
    for (const file of assets) this.#used.add(file);

    for (const { type, id } of unfit) {
      const key = `${type}/${foldedId(id)}`;
      this.#odd.set(key, [...(this.#odd.get(key) ?? []), { type, id }]);
    }

    if (digest === undefined) this.#digests = undefined;
    this.#keys.push(key);
    this.#digests?.push(JSON.stringify([digest, line, bare.map(({ finding }) => finding), unfit]));
    this.#waiting.push(facts);
    const fresh = this.#waiting.filter((facts) => typeof facts !== 'function').length;
    if (!this.#digests || fresh > mostChanged) await this.#joinWaiting();
  }

  #add({ finding, origin }: PlacedFinding): void {
    const originPlace = origin && this.#context.placeOf?.(origin);
    const place =
      originPlace &&
      [originPlace.file, originPlace.line, originPlace.column].filter((part) => part !== undefined).join(':');
    this.#push(place === undefined ? finding : { ...finding, origin: place });
  }

  #push(finding: LocatedFinding): void {
    this.#findings.push(finding);
    this.#found += 1;
    this.#latest = finding;
  }

  /** Tells a listener the findings so far. @param least the fewest findings that are worth telling. */
  tell(least: number): Promise<void> | void {
    const { tell } = this.#context;
    if (tell && this.#findings.length >= least) return tell(this.#findings.splice(0));
  }

  soFar(): FoundSoFar | undefined {
    const latest = this.#latest;
    return latest && { count: this.#found, latest: `${latest.file}:${latest.line}:${latest.column} ${latest.finding}` };
  }

  /** The findings in the parts that were taken. */
  untilNow(): Pick<Checked, 'findings' | 'looked'> {
    return { findings: this.#findings.sort(byPlace), looked: this.#looked };
  }

  async finish(): Promise<Checked> {
    const { late, empty, ...together } = (await this.#recalled()) ?? (await this.#joined());
    for (const lateFinding of late) this.#add(lateFinding.placed);
    for (const type of empty) this.#push(findingOfFile(`content/${type}/`, 'missing-entry', { type }));
    for (const finding of assetFindings(this.#context.assets, this.#used)) this.#push(finding);
    this.#findings.sort(byPlace);
    await this.tell(1);

    return {
      ...together,
      findings: this.#findings,
      looked: this.#looked,
      all: () => this.#all(),
      idsOf: (type) => this.#known().idsOf(type),
      pointingAt: (entries) => this.#known().pointingAt(entries),
      pointedAtBy: (entries) => this.#known().pointedAtBy(entries),
    };
  }

  /** What every entry says of others, for those who did not ask for findings alone. */
  #known(): CrossEntryCheck<Place> {
    if (this.#waiting.length > 0) throw new Error('entries are asked for that were not joined');
    return this.#crossEntry;
  }

  *#all(): Iterable<{ readonly entry: EntryAddress; readonly file: string }> {
    for (const { entry, place } of this.#known().all()) yield { entry, file: place.file };
  }

  /* ── joining ───────────────────────────────────────────────────────────────────────────────────────────────── */

  async #joinWaiting(): Promise<void> {
    const waiting = this.#waiting;
    this.#waiting = [];
    // One at a time: all of it together would take as much memory as reading all of it at once.
    for (const waitingFacts of waiting) {
      const { facts, places } = await factsOf(waitingFacts);
      this.#crossEntry.add(facts, placesAside(places, this.#overflow));
    }
  }

  async #joined(): Promise<Together> {
    await this.#joinWaiting();
    const { findings: together, ...joined } = this.#crossEntry.join();
    const bare = this.#bare.map(({ finding, place }): FindingAt => {
      const entries = this.#meantBy(finding);
      const [only] = entries;
      const fix = only !== undefined && entries.length === 1 ? { fix: { set: only } } : {};
      return { finding: { ...finding, ...fix, data: { ...finding.data, meant: entries } } as Finding, place };
    });
    const moreFindings = [...together, ...this.#alike()].flatMap((finding): readonly FindingAt[] => {
      const place = this.#crossEntry.placeOfFinding(finding);
      if (!place) return [];
      return [{ finding, place }];
    });
    const late: (FindingAt & { placed: PlacedFinding })[] = [];
    // In the order in which they are kept, so that no file is read over and over again.
    for (const findingAt of [...bare, ...moreFindings.sort((a, b) => inOrder(a.place, b.place))])
      late.push({ ...findingAt, placed: await placed(this.#store, this.#model, findingAt) });

    return this.#kept({ ...joined, late, empty: this.#crossEntry.empty() });
  }

  /** Keeps what joining told, where all that it depends on is known. */
  #kept(together: Together): Together {
    const { memory } = this.#context;
    if (memory && this.#digests && together.late.length <= mostKept) {
      const stored: StoredJoin = { facts: hashBytes(this.#digests.join('\n')), keys: this.#keys, told: together };
      keepPart(memory, wholeKey, stored);
    }

    return together;
  }

  /** What joining told the last time, where it would tell the same again. */
  async #recalled(): Promise<Together | undefined> {
    const { memory } = this.#context;
    if (!memory || !this.#digests || this.#waiting.length < this.#digests.length) return undefined;

    const stored = recallPart(memory, wholeKey) as StoredJoin | undefined;
    if (stored?.facts !== hashBytes(this.#digests.join('\n'))) return undefined;
    if (stored.told.late.length === 0) return stored.told;

    // In a part that changed, the entries say the same of others, and may say it elsewhere.
    const changed = this.#waiting.filter((_, index) => this.#keys[index] !== stored.keys[index]);
    if (changed.length === 0) return stored.told;

    const places = placesByLine(await Promise.all(changed.map(factsOf)));
    if (!places) return undefined;

    const late: (FindingAt & { placed: PlacedFinding })[] = [];
    for (const lateFinding of stored.told.late) {
      const place = places.get(sayPlace(lateFinding.place));
      late.push(
        place
          ? { ...lateFinding, place, placed: await placed(this.#store, this.#model, { ...lateFinding, place }) }
          : lateFinding,
      );
    }

    return this.#kept({ ...stored.told, late });
  }

  /** What may be intended by a bare identifier: the entries that have it. */
  #meantBy({ value, data }: Finding): readonly string[] {
    const types = (data as { readonly types: readonly string[] }).types.flatMap(this.#model.context.acceptedAs);
    const entries = [...new Set(types)].map((type) => ({ type, id: String(value) }));
    return entries.filter((entry) => this.#crossEntry.placeOf(entry) !== undefined).map(keyOf);
  }

  /** Entries whose files some systems take for one: all but the first. */
  #alike(): readonly Finding[] {
    return [...this.#odd].flatMap(([folded, entries]) => {
      const plain = entryAddressOf(folded);
      const place = this.#crossEntry.placeOf(plain);
      const isPlain = place !== undefined && place.offset === undefined && !entries.some(({ id }) => id === plain.id);
      const [first, ...rest] = isPlain ? [plain, ...entries] : entries;
      if (!first) return [];
      return rest.map((other) => foundIn(other, 'duplicate-entry:alike', { other: keyOf(first) }));
    });
  }
}

const factsOf = (facts: Facts): PartFacts | Promise<PartFacts> => {
  if (typeof facts !== 'function') return facts;
  return facts();
};

/** The places of entries by address; nothing where two have the same address. */
function placesByLine(parts: readonly PartFacts[]): ReadonlyMap<string, Place> | undefined {
  const places = new Map<string, Place>();
  for (const { facts, places: packed } of parts) {
    const placeOf = placesAside(packed, inMemory);
    for (let entry = 0; entry < facts.entries.hash.length; entry += 1) {
      const place = placeOf(entry);
      const text = sayPlace(place);
      if (places.has(text)) return undefined;
      places.set(text, place);
    }
  }

  return places;
}

const inOrder = (a: Place, b: Place): number => compareText(a.file, b.file) || (a.offset ?? 0) - (b.offset ?? 0);

const byPlace = (a: LocatedFinding, b: LocatedFinding): number =>
  compareText(a.file, b.file) || a.line - b.line || a.column - b.column || compareText(a.finding, b.finding);

/** Problems of files themselves, whichever entries use them. */
function assetFindings(assets: Assets = new Map(), used: ReadonlySet<string>): LocatedFinding[] {
  return [...assets].flatMap(([name, { media, named, isLink }]) => {
    const file = `${assetFolder}/${name}`;
    return [
      ...(isLink ? [findingOfFile(file, 'symbolic-link:asset', {})] : []),
      ...(named !== undefined && media !== named ? [findingOfFile(file, 'mislabelled-asset', { media, named })] : []),
      ...(used.has(name) ? [] : [findingOfFile(file, 'unused-asset', {})]),
    ];
  });
}
