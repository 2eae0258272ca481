import { createHash } from 'node:crypto';
import { serialize } from 'node:v8';
import type { Checker } from '../core/check/compile.ts';
import { FactsPacker, type PackedFacts } from '../core/check/packedFacts.ts';
import type { EntryAddress } from '../core/entry/entry.ts';
import { keyOf } from '../core/entry/entry.ts';
import type { Finding } from '../core/entry/findings.ts';
import { wordsOf } from '../core/messages/words.ts';
import type { Model } from '../core/model/link.ts';
import { type Path, pointer } from '../core/plain/json.ts';
import type { Span } from '../core/source/yaml.ts';
import type { EntryStore, Place, Shift, Stored, Unreadable } from '../stores/store.ts';
import { findingOfFile } from './fileFinding.ts';
import type { LocatedFinding } from './locatedFinding.ts';
import { type PackedPlaces, PlacePacker, shiftedPlaces } from './packedPlaces.ts';
import type { PartResult, PartWork } from './pass.ts';

/** What joining needs of the entries of a part: most facts about it, and only joining reads them. */
export interface PartFacts {
  readonly facts: PackedFacts;
  readonly places: PackedPlaces;
}

/** What else checking tells of a part of a store, as plain data. */
export interface PartChecked {
  /** How many entries it has. */
  readonly entries: number;
  /** A hash of its facts, and for its places but for how far down the first of them is; where it may be kept. */
  readonly digest: string | undefined;
  /** The line that its first entry starts in; nought where that is not known. */
  readonly line: number;
  readonly findings: readonly PlacedFinding[];
  /** Findings whose mend depends on which entries there are. */
  readonly bare: readonly FindingAt[];
  /** Entries in files of their own whose identifiers hold more than small letters: another may be treated as them. */
  readonly unfit: readonly EntryAddress[];
  /** The files below `assets/` that are used. */
  readonly assets: readonly string[];
}

/** The same of a part of a file that moved. */
export function shiftedPart(part: PartChecked, shift: Shift): PartChecked {
  if (shift.offset === 0 && shift.line === 0) return part;

  const shifted = ({ offset, line, ...place }: Place): Place => ({
    ...place,
    ...(offset === undefined ? {} : { offset: offset + shift.offset }),
    ...(line === undefined ? {} : { line: line + shift.line }),
  });

  return {
    ...part,
    line: part.line > 0 ? part.line + shift.line : part.line,
    findings: part.findings.map(({ finding, origin }) => ({
      origin,
      finding: {
        ...finding,
        line: finding.line + shift.line,
        ...(finding.end ? { end: { ...finding.end, line: finding.end.line + shift.line } } : {}),
      },
    })),
    bare: part.bare.map(({ finding, place }) => ({ finding, place: shifted(place) })),
  };
}

/** The facts of a part of a file that moved: their relations stay. */
export const shiftedFacts = ({ facts, places }: PartFacts, shift: Shift): PartFacts => ({
  facts,
  places: shiftedPlaces(places, shift),
});

/** Whether the findings of a part hold at any other moment too: none of its entries is public for a time alone. */
const isTimeless = ({ rare }: PackedFacts): boolean => [...rare.values()].every(({ window }) => window === undefined);

function digestOf(facts: PackedFacts, { files, file, line }: PackedPlaces): string {
  const first = line[0] ?? 0;
  return createHash('sha256')
    .update(serialize(facts))
    .update(serialize({ files, file, line: line.map((number) => number - first) }))
    .digest('hex');
}

/** A finding with its place, and the path of the model document that asks for it, where that is an expression. */
export interface PlacedFinding {
  readonly finding: LocatedFinding;
  readonly origin: Path | undefined;
}

/** A finding whose place in its file is not worked out yet. */
export interface FindingAt {
  readonly finding: Finding;
  readonly place: Place;
}

/** Checks the entries of a part alone, each while it is read. */
export class CheckPart implements PartWork<PartChecked, PartFacts> {
  readonly #store: EntryStore;
  readonly #model: Model;
  readonly #checker: Checker;
  readonly #facts: FactsPacker;
  readonly #places = new PlacePacker();
  readonly #findings: PlacedFinding[] = [];
  readonly #bare: FindingAt[] = [];
  readonly #odd: EntryAddress[] = [];
  readonly #assets = new Set<string>();

  constructor(store: EntryStore, model: Model, checker: Checker) {
    this.#store = store;
    this.#model = model;
    this.#checker = checker;
    this.#facts = new FactsPacker(model);
  }

  see({ entry, place }: Stored): Promise<void> | undefined {
    const { findings, facts } = this.#checker.check(entry);
    this.#facts.add(facts, entry);
    this.#places.add(place);
    for (const file of facts.assets) this.#assets.add(file);
    if (place.offset === undefined && !/^[a-z0-9._-]*$/u.test(entry.id))
      this.#odd.push({ type: entry.type, id: entry.id });
    if (findings.length > 0) return this.#note(findings, place);
    return undefined;
  }

  async #note(findings: readonly Finding[], place: Place): Promise<void> {
    for (const finding of findings)
      if (isBare(finding)) this.#bare.push({ finding, place });
      else this.#findings.push(await placed(this.#store, this.#model, { finding, place }));
  }

  unreadable(item: Unreadable): void {
    this.#findings.push({ finding: unreadableFinding(item), origin: undefined });
  }

  /** @param mayBeKept whether somebody may keep it for the next time. */
  done(mayBeKept: boolean): PartResult<PartChecked, PartFacts> {
    const [facts, places] = [this.#facts.done(), this.#places.done()];
    const isLasting = mayBeKept && isTimeless(facts);

    return {
      result: {
        entries: facts.entries.hash.length,
        digest: isLasting ? digestOf(facts, places) : undefined,
        line: places.line[0] ?? 0,
        findings: this.#findings,
        bare: this.#bare,
        unfit: this.#odd,
        assets: [...this.#assets],
      },
      rest: { facts, places },
      isLasting,
    };
  }
}

/** A bare identifier where several types may stand: which is intended shows once all entries are known. */
const isBare = ({ message, value, data }: Finding): boolean =>
  message === 'malformed-reference' && typeof value === 'string' && Array.isArray((data as { types?: unknown }).types);

/** Works out where a finding is in its file. */
export async function placed(store: EntryStore, model: Model, { finding, place }: FindingAt): Promise<PlacedFinding> {
  const body = model.types.get(finding.entry.type)?.body?.name;
  const span = await store.locate(place, finding.path, body);
  return { finding: located(finding, place, span), origin: finding.origin };
}

/** Written key by key: there may be a million findings, and a copy by spreading takes ten times as long. */
function located(plainFinding: Finding, { file }: Place, { start, end }: Span): LocatedFinding {
  const { finding, message, data, severity, entry, path, value, limit, fix, by } = plainFinding;
  const { says: text, mend } = wordsOf(plainFinding);
  const { line, column } = start;
  const located: LocatedFinding = {
    finding,
    message,
    data: data as LocatedFinding['data'],
    severity,
    entry: keyOf(entry),
    file,
    line,
    column,
    end,
    pointer: pointer(path),
    says: text,
    mend,
  };
  if (value !== undefined) located.value = value as LocatedFinding['value'];
  if (limit !== undefined) located.limit = limit as LocatedFinding['limit'];
  if (by !== undefined) located.by = by;
  if (fix) located.fix = { set: fix.set as NonNullable<LocatedFinding['fix']>['set'] };

  return located;
}

function unreadableFinding({ place: { file }, problem }: Unreadable): LocatedFinding {
  const { line, column, says: text, mend, isLink } = problem;
  const message = isLink ? 'symbolic-link' : 'unreadable-file';
  return { ...findingOfFile(file, message, { problem: text, remedy: mend }), severity: 'error', line, column };
}
