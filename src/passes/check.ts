import { type Checker, compile } from '../core/check/compile.ts';
import { CrossEntryCheck, type Joined } from '../core/check/crossEntry.ts';
import { foundIn } from '../core/check/foundIn.ts';
import type { Assets } from '../core/entry/assets.ts';
import { type Entry, type EntryAddress, entryAddressOf, keyOf } from '../core/entry/entry.ts';
import { type Finding, findingOf } from '../core/entry/findings.ts';
import { type MessageData, type MessageName, wordsOf } from '../core/messages/words.ts';
import type { Model } from '../core/model/link.ts';
import { compareText } from '../core/plain/compareText.ts';
import { compact, type Path, pointer } from '../core/plain/json.ts';
import type { Span } from '../core/source/yaml.ts';
import { foldedId } from '../stores/folder/fileName.ts';
import type { EntryStore, Place, Stored, Unreadable } from '../stores/store.ts';
import { assetFolder } from '../workspace/assets.ts';
import { timestamp } from '../workspace/clock.ts';
import type { Place as FilePlace } from '../workspace/trouble.ts';
import { linkReaderFor } from './linkReader.ts';
import type { LocatedFinding } from './locatedFinding.ts';
import type { Pass } from './walk.ts';

/** Everything that checking all entries tells. */
export interface Checked extends Omit<Joined, 'findings'> {
  readonly findings: readonly LocatedFinding[];
  /** How many entries were looked at. */
  readonly looked: number;
}

/** What checking may look at beside entries. */
interface CheckContext {
  readonly assets?: Assets;
  /** Where a part of the model document is said in its files. */
  readonly placeOf?: (path: Path) => FilePlace | undefined;
}

type Alone = ReturnType<Checker['check']>;

/**
 * Checks every entry of a store against a model: each alone while it is read, then together. Places are worked out for
 * entries with findings only.
 */
export async function checkPass(
  store: EntryStore,
  model: Model,
  context: CheckContext = {},
): Promise<Pass<Alone, Checked>> {
  const { assets } = context;
  const now = timestamp();
  const checker = compile(model, compact({ now, assets, readLinks: await linkReaderFor(model) }));
  const crossEntry = new CrossEntryCheck<Place>(model, { sayPlace, now });
  const findings: LocatedFinding[] = [];
  const used = new Set<string>();
  const odd = new Map<string, EntryAddress[]>();
  let looked = 0;

  const locate = async (finding: Finding, place: Place): Promise<void> => {
    const body = model.types.get(finding.entry.type)?.body?.name;
    const { start, end } = await store.locate(place, finding.path, body);
    findings.push(located(finding, place, { start, end }, context));
  };
  // A bare identifier where several types may stand: which is meant shows once all entries are known.
  const bare: { readonly finding: Finding; readonly stored: Stored }[] = [];
  const isBare = ({ message, value, data }: Finding): boolean =>
    message === 'malformed-reference' &&
    typeof value === 'string' &&
    Array.isArray((data as { types?: unknown }).types);
  const meantBy = ({ value, data }: Finding): Finding['fix'] => {
    const types = (data as { readonly types: readonly string[] }).types.flatMap(model.context.acceptedAs);
    const type = types.find((one) => crossEntry.placeOf({ type: one, id: String(value) }) !== undefined);
    return type === undefined ? undefined : { set: `${type}/${String(value)}` };
  };
  const locateAll = async (some: readonly Finding[], { place }: Stored): Promise<void> => {
    for (const finding of some) await locate(finding, place);
  };

  return {
    map: ({ entry }) => checker.check(entry),
    fold: (alone, stored) => {
      looked += 1;
      for (const file of alone.facts.assets) used.add(file);
      noteOdd(odd, stored);
      for (const finding of alone.findings) if (isBare(finding)) bare.push({ finding, stored });
      const known = bare.length > 0 ? alone.findings.filter((finding) => !isBare(finding)) : alone.findings;
      const found = [...known, ...crossEntry.add(alone.facts, stored.place)];
      return found.length > 0 ? locateAll(found, stored) : undefined;
    },
    unreadable: (item) => {
      findings.push(unreadableFinding(item));
    },
    finish: async () => {
      const { findings: together, ...joined } = crossEntry.join();
      for (const { finding, stored } of bare) {
        const fix = meantBy(finding);
        const meant = fix && { fix, data: { ...finding.data, meant: fix.set } };
        await locate({ ...finding, ...meant } as Finding, stored.place);
      }
      for (const finding of [...together, ...alikeFindings(odd, crossEntry)]) {
        const place = crossEntry.placeOf(finding.entry);
        if (place) await locate(finding, place);
      }
      findings.push(...crossEntry.empty().map(missingEntry), ...assetFindings(assets, used));
      return { ...joined, findings: findings.sort(byPlace), looked };
    },
  };
}

/** Notes entries in files of their own whose identifiers hold more than small letters: another may be taken for them. */
function noteOdd(odd: Map<string, EntryAddress[]>, { entry: { type, id }, place }: Stored): void {
  if (place.offset !== undefined || /^[a-z0-9._-]*$/u.test(id)) return;
  const key = `${type}/${foldedId(id)}`;
  odd.set(key, [...(odd.get(key) ?? []), { type, id }]);
}

/** Entries whose files some systems take for one: all but the first. */
const alikeFindings = (
  odd: ReadonlyMap<string, readonly EntryAddress[]>,
  crossEntry: CrossEntryCheck<Place>,
): readonly Finding[] =>
  [...odd].flatMap(([folded, entries]) => {
    const plain = entryAddressOf(folded);
    const place = crossEntry.placeOf(plain);
    const isPlain = place !== undefined && place.offset === undefined && !entries.some(({ id }) => id === plain.id);
    const [first, ...others] = isPlain ? [plain, ...entries] : entries;
    return first ? others.map((one) => foundIn(one, 'duplicate-entry:alike', { other: keyOf(first) })) : [];
  });

/** `content/light/a.yaml`, `content/lights.ndjson:7` */
const sayPlace = ({ file, offset, line }: Place): string =>
  offset === undefined || line === undefined ? file : `${file}:${line}`;

function located(
  { path, entry, origin, fix, ...finding }: Finding,
  { file }: Place,
  { start, end }: Span,
  { placeOf }: CheckContext,
): LocatedFinding {
  const said = origin && placeOf?.(origin);
  return {
    ...finding,
    data: { ...finding.data },
    ...wordsOf(finding),
    entry: keyOf(entry),
    file,
    ...start,
    end,
    pointer: pointer(path),
    ...(fix ? { fix: { ...fix } } : {}),
    ...(said ? { origin: [said.file, said.line, said.column].filter((part) => part !== undefined).join(':') } : {}),
  };
}

const byPlace = (a: LocatedFinding, b: LocatedFinding): number =>
  compareText(a.file, b.file) || a.line - b.line || a.column - b.column || compareText(a.finding, b.finding);

const missingEntry = (type: string): LocatedFinding => ofFile(`content/${type}/`, 'missing-entry', { type });

/** A finding about a file as a whole. */
const ofFile = <M extends MessageName>(file: string, message: M, data: MessageData<M>): LocatedFinding => ({
  finding: findingOf(message),
  message,
  data: { ...data },
  severity: 'warning',
  file,
  line: 1,
  column: 1,
  pointer: '',
  ...wordsOf({ message, data }),
});

/** What is wrong with files themselves, whoever uses them. */
function assetFindings(assets: Assets = new Map(), used: ReadonlySet<string>): LocatedFinding[] {
  return [...assets].flatMap(([name, { media, named, isLink }]) => {
    const file = `${assetFolder}/${name}`;
    return [
      ...(isLink ? [ofFile(file, 'symbolic-link:asset', {})] : []),
      ...(named !== undefined && media !== named ? [ofFile(file, 'mislabelled-asset', { media, named })] : []),
      ...(used.has(name) ? [] : [ofFile(file, 'unused-asset', {})]),
    ];
  });
}

/** A file in the content folder that no store reads. */
export const unreadFinding = (file: string): LocatedFinding => ofFile(file, 'unread-file', {});

function unreadableFinding({ place: { file }, problem }: Unreadable): LocatedFinding {
  const { line, column, says, mend, isLink } = problem;
  const message = isLink ? 'symbolic-link' : 'unreadable-file';
  return { ...ofFile(file, message, { problem: says, remedy: mend }), severity: 'error', line, column };
}

/**
 * Checks entries that a store does not hold yet: those that a rehearsed migration would write.
 * @returns how many findings of each name there would be, and the first few.
 */
export class CheckAhead {
  readonly #checker: Checker;
  readonly #crossEntry: CrossEntryCheck<Place>;
  readonly #findings: Finding[] = [];

  private constructor(model: Model, checker: Checker, now: string) {
    this.#checker = checker;
    this.#crossEntry = new CrossEntryCheck(model, { sayPlace, now });
  }

  /** A check of entries against a model. */
  static async against(model: Model): Promise<CheckAhead> {
    const now = timestamp();
    return new CheckAhead(model, compile(model, compact({ now, readLinks: await linkReaderFor(model) })), now);
  }

  see(entry: Entry, place: Place): void {
    const { findings, facts } = this.#checker.check(entry);
    this.#findings.push(...findings, ...this.#crossEntry.add(facts, place));
  }

  findings(): readonly Finding[] {
    return [...this.#findings, ...this.#crossEntry.join().findings];
  }
}
