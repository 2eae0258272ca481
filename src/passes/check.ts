import type { Checker } from '../core/check/compile.ts';
import { CrossEntryCheck, type Joined } from '../core/check/crossEntry.ts';
import { foundIn } from '../core/check/makeFinding.ts';
import { inMemory, type Overflow } from '../core/check/overflow.ts';
import { FactsPacker } from '../core/check/packedFacts.ts';
import type { Assets } from '../core/entry/assets.ts';
import { type Entry, type EntryAddress, entryAddressOf, keyOf } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import { compareText } from '../core/plain/compareText.ts';
import type { Path } from '../core/plain/json.ts';
import { foldedId } from '../stores/folder/fileName.ts';
import type { EntryStore, Place, Stored } from '../stores/store.ts';
import { assetFolder } from '../workspace/assets.ts';
import { timestamp } from '../workspace/clock.ts';
import type { MemorySpace } from '../workspace/partMemory.ts';
import type { Place as FilePlace } from '../workspace/trouble.ts';
import { checkerFor } from './checker.ts';
import { CheckPart, type FindingAt, type PartChecked, type Placed, placed, shiftedPart } from './checkPart.ts';
import { findingOfFile } from './fileFinding.ts';
import type { LocatedFinding } from './locatedFinding.ts';
import { placesAside } from './packedPlaces.ts';
import type { FoundSoFar } from './progress.ts';
import type { Pass } from './walk.ts';

/** Everything that checking all entries tells. */
export interface Checked extends Omit<Joined, 'findings'> {
  readonly findings: readonly LocatedFinding[];
  /** How many entries were looked at. */
  readonly looked: number;
  /** Every entry that was looked at, with its file. */
  readonly all: () => Iterable<{ readonly entry: EntryAddress; readonly file: string }>;
  /** The identifiers of the entries of a type. */
  readonly idsOf: (type: string) => ReadonlyMap<string, unknown>;
  /** The entries that point at some others, by their addresses. */
  readonly pointingAt: (entries: ReadonlySet<string>) => ReadonlySet<string>;
}

/** What checking may look at beside entries. */
interface CheckContext {
  readonly assets?: Assets;
  /** Where a part of the model document is said in its files. */
  readonly placeOf?: (path: Path) => FilePlace | undefined;
  /** Where what is found in parts of a large store is kept for the next time. */
  readonly memory?: MemorySpace | undefined;
  /** Where the facts of very many entries have room. */
  readonly overflow?: Overflow;
  /** Takes what is found while it lasts, in the order of the store; then nothing of it is kept for the end. */
  readonly tell?: Tell | undefined;
}

/** Takes some findings; may have to wait until there is room for more. */
export type Tell = (findings: readonly LocatedFinding[]) => Promise<void> | void;

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
    untilNow: () => {
      all.take(here.done());
      return all.untilNow();
    },
    soFar: () => all.soFar(),
    unreadable: (item) => here.unreadable(item),
    finish: () => {
      all.take(here.done());
      return all.finish();
    },
    apart: {
      work: { pass: 'check', definition: model.definition, contentTerms: model.contentTerms, now, assets },
      take: (part) => {
        all.take(part);
        return all.tell(1);
      },
      memory: context.memory,
      shifted: shiftedPart,
    },
  };
}

/** Joins what was found in the parts of a store, which come in their order. */
class JoinedParts {
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
  #looked = 0;
  #found = 0;
  #latest: LocatedFinding | undefined;

  constructor(store: EntryStore, model: Model, { now, ...context }: CheckContext & { readonly now: string }) {
    this.#store = store;
    this.#model = model;
    this.#context = context;
    this.#overflow = context.overflow ?? inMemory;
    this.#crossEntry = new CrossEntryCheck<Place>(model, { sayPlace, now, overflow: this.#overflow });
  }

  take({ facts, places, findings, bare, odd, assets }: PartChecked): void {
    this.#looked += facts.entries.hash.length;
    this.#crossEntry.add(facts, placesAside(places, this.#overflow));
    for (const one of findings) this.add(one);
    for (const one of bare) this.#bare.push(one);
    for (const file of assets) this.#used.add(file);
    for (const { type, id } of odd) {
      const key = `${type}/${foldedId(id)}`;
      this.#odd.set(key, [...(this.#odd.get(key) ?? []), { type, id }]);
    }
  }

  add({ finding, origin }: Placed): void {
    const said = origin && this.#context.placeOf?.(origin);
    const place = said && [said.file, said.line, said.column].filter((part) => part !== undefined).join(':');
    this.#push(place === undefined ? finding : { ...finding, origin: place });
  }

  #push(finding: LocatedFinding): void {
    this.#findings.push(finding);
    this.#found += 1;
    this.#latest = finding;
  }

  /** Tells what is found by now to whoever wants it at once, where it is so many. */
  tell(least: number): Promise<void> | void {
    const { tell } = this.#context;
    if (tell && this.#findings.length >= least) return tell(this.#findings.splice(0));
  }

  async #locate(finding: Finding, place: Place): Promise<void> {
    this.add(await placed(this.#store, this.#model, { finding, place }));
  }

  soFar(): FoundSoFar | undefined {
    const latest = this.#latest;
    return latest && { count: this.#found, latest: `${latest.file}:${latest.line}:${latest.column} ${latest.finding}` };
  }

  untilNow(): Pick<Checked, 'findings' | 'looked'> {
    return { findings: this.#findings.sort(byPlace), looked: this.#looked };
  }

  async finish(): Promise<Checked> {
    const { findings: together, ...joined } = this.#crossEntry.join();
    for (const { finding, place } of this.#bare) {
      const meant = this.#meantBy(finding);
      const [only] = meant;
      const fix = only !== undefined && meant.length === 1 ? { fix: { set: only } } : {};
      await this.#locate({ ...finding, ...fix, data: { ...finding.data, meant } } as Finding, place);
    }
    const placedLast = [...together, ...this.#alike()].flatMap((finding) => {
      const place = this.#crossEntry.placeOfFinding(finding);
      return place ? [{ finding, place }] : [];
    });
    // In the order in which they are kept, so that no file is read over and over again.
    for (const { finding, place } of placedLast.sort((a, b) => inOrder(a.place, b.place)))
      await this.#locate(finding, place);
    for (const type of this.#crossEntry.empty())
      this.#push(findingOfFile(`content/${type}/`, 'missing-entry', { type }));
    for (const finding of assetFindings(this.#context.assets, this.#used)) this.#push(finding);
    this.#findings.sort(byPlace);
    await this.tell(1);
    return {
      ...joined,
      findings: this.#findings,
      looked: this.#looked,
      all: () => this.#all(),
      idsOf: (type) => this.#crossEntry.idsOf(type),
      pointingAt: (entries) => this.#crossEntry.pointingAt(entries),
    };
  }

  *#all(): Iterable<{ readonly entry: EntryAddress; readonly file: string }> {
    for (const { entry, place } of this.#crossEntry.all()) yield { entry, file: place.file };
  }

  /** What may be meant by a bare identifier: the entries that have it. */
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
      const [first, ...others] = isPlain ? [plain, ...entries] : entries;
      return first ? others.map((one) => foundIn(one, 'duplicate-entry:alike', { other: keyOf(first) })) : [];
    });
  }
}

/** `content/light/a.yaml`, `content/lights.ndjson:7` */
const sayPlace = ({ file, offset, line }: Place): string =>
  offset === undefined || line === undefined ? file : `${file}:${line}`;

const inOrder = (a: Place, b: Place): number => compareText(a.file, b.file) || (a.offset ?? 0) - (b.offset ?? 0);

const byPlace = (a: LocatedFinding, b: LocatedFinding): number =>
  compareText(a.file, b.file) || a.line - b.line || a.column - b.column || compareText(a.finding, b.finding);

/** What is wrong with files themselves, whoever uses them. */
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
