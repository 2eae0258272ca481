import { type Checker, compile } from '../core/check/compile.ts';
import { CrossEntryCheck, type Joined } from '../core/check/crossEntry.ts';
import type { Assets } from '../core/entry/assets.ts';
import { type Entry, keyOf } from '../core/entry/entry.ts';
import type { Finding, FindingName } from '../core/entry/findings.ts';
import type { Model } from '../core/model/link.ts';
import { type Path, pointer } from '../core/plain/json.ts';
import type { EntryStore, Stored, Unreadable } from '../store/store.ts';
import { assetFolder } from '../workspace/assets.ts';
import { timestamp } from '../workspace/clock.ts';
import type { Place } from '../workspace/trouble.ts';
import type { LocatedFinding } from './result.ts';

/** Everything that checking all entries tells. */
export interface Checked extends Omit<Joined, 'findings'> {
  readonly findings: readonly LocatedFinding[];
  /** How many entries were looked at. */
  readonly looked: number;
}

/**
 * Checks every entry of a store against a model: each alone while it is read, then together. Places are worked out for
 * entries with findings only.
 */
export async function checkEntries(
  store: EntryStore,
  model: Model,
  { assets, placeOf = () => undefined }: ModelContext = {},
): Promise<Checked> {
  const pass = new EntryCheck(model, assets, placeOf);
  for await (const stored of store.entries()) {
    if ('entry' in stored) pass.see(stored);
    else pass.seeUnreadable(stored);
  }
  return pass.finish(store);
}

/** Where a part of the model document is said in its files. */
type PlaceOf = (path: Path) => Place | undefined;

/** What checking may look at beside entries. */
interface ModelContext {
  readonly assets?: Assets;
  readonly placeOf?: PlaceOf;
}

/** The two passes of checking as something that entries are shown to one by one. */
class EntryCheck {
  readonly #model: Model;
  readonly #checker: Checker;
  readonly #joiner: CrossEntryCheck;
  readonly #findings: LocatedFinding[] = [];
  readonly #assets: Assets | undefined;
  readonly #placeOf: PlaceOf;
  readonly #used = new Set<string>();
  #looked = 0;

  constructor(model: Model, assets: Assets | undefined, placeOf: PlaceOf) {
    this.#model = model;
    this.#placeOf = placeOf;
    this.#assets = assets;
    this.#checker = compile(model, { now: timestamp(), ...(assets ? { assets } : {}) });
    this.#joiner = new CrossEntryCheck(model);
  }

  see(stored: Stored): void {
    const { findings, facts } = this.#checker.check(stored.entry);
    this.#looked += 1;
    for (const file of facts.assets) this.#used.add(file);
    for (const finding of [...findings, ...this.#joiner.add(facts, stored.file)])
      this.#findings.push(this.#locate(finding, stored));
  }

  seeUnreadable(unreadable: Unreadable): void {
    this.#findings.push(unreadableFinding(unreadable));
  }

  async finish(store: EntryStore): Promise<Checked> {
    const { findings, ...joined } = this.#joiner.join();
    // Findings of one entry mostly follow each other: it is read once for all of them.
    let stored: Stored | undefined;
    for (const finding of findings) {
      const { type, id } = finding.entry;
      if (stored?.entry.type !== type || stored.entry.id !== id)
        stored = await store.find(type, id, this.#joiner.placeOf(finding.entry));
      if (stored) this.#findings.push(this.#locate(finding, stored));
    }
    this.#findings.push(...this.#joiner.empty().map(missingEntry), ...assetFindings(this.#assets, this.#used));
    const sorted = this.#findings.sort(
      (a, b) =>
        compareText(a.file, b.file) || a.line - b.line || a.column - b.column || compareText(a.finding, b.finding),
    );
    return { ...joined, findings: sorted, looked: this.#looked };
  }

  #locate({ path, entry, origin, ...finding }: Finding, { file, locate }: Stored): LocatedFinding {
    const { line, column } = locate(path, this.#model.types.get(entry.type)?.body?.name);
    const place = origin && this.#placeOf(origin);
    return {
      ...finding,
      entry: keyOf(entry),
      file,
      line,
      column,
      pointer: pointer(path),
      ...(place
        ? { origin: [place.file, place.line, place.column].filter((part) => part !== undefined).join(':') }
        : {}),
    };
  }
}

const compareText = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

function missingEntry(type: string): LocatedFinding {
  return {
    finding: 'missing-entry',
    severity: 'warning',
    file: `content/${type}/`,
    line: 1,
    column: 1,
    pointer: '',
    says: `has no entry yet, and exactly one ${type} belongs here`,
    mend: 'Write it.',
  };
}

/** What is wrong with files themselves, whoever uses them. */
function assetFindings(assets: Assets = new Map(), used: ReadonlySet<string>): LocatedFinding[] {
  const found = (file: string, finding: FindingName, says: string, mend: string): LocatedFinding => ({
    finding,
    severity: 'warning',
    file: `${assetFolder}/${file}`,
    line: 1,
    column: 1,
    pointer: '',
    says,
    mend,
  });
  return [...assets].flatMap(([file, { media, named, isLink }]) => [
    ...(isLink
      ? [found(file, 'symbolic-link', 'is a symbolic link, and links are never followed', 'Put the file itself there.')]
      : []),
    ...(named !== undefined && media !== named
      ? [
          found(
            file,
            'mislabelled-asset',
            `is ${media ?? 'of no known media type'}, and its name says ${named}`,
            'Give it a name that ends as its content says.',
          ),
        ]
      : []),
    ...(used.has(file)
      ? []
      : [found(file, 'unused-asset', 'is used by no entry', 'Use it, or move it out of the workspace.')]),
  ]);
}

function unreadableFinding({ file, line, column, says, mend, isLink }: Unreadable): LocatedFinding {
  return {
    finding: isLink ? 'symbolic-link' : 'unreadable-file',
    severity: 'error',
    file,
    line,
    column,
    pointer: '',
    says,
    mend,
  };
}

/**
 * Checks entries that a store does not hold yet: those that a rehearsed migration would write.
 * @returns how many findings of each name there would be, and the first few.
 */
export class CheckAhead {
  readonly #checker: Checker;
  readonly #joiner: CrossEntryCheck;
  readonly #findings: Finding[] = [];

  constructor(model: Model) {
    this.#checker = compile(model, { now: timestamp() });
    this.#joiner = new CrossEntryCheck(model);
  }

  see(entry: Entry, place: string): void {
    const { findings, facts } = this.#checker.check(entry);
    this.#findings.push(...findings, ...this.#joiner.add(facts, place));
  }

  findings(): readonly Finding[] {
    return [...this.#findings, ...this.#joiner.join().findings];
  }
}
