import { type EntryAddress, entryAddressOf, keyOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Model } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { compact, type JsonObject, type Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import type { EntryView } from '../rules/expression.ts';
import { lookInto } from '../rules/lookUp.ts';
import { type Judge, judgements } from './crossField.ts';
import type { StoredCount, Unmet } from './derived.ts';
import type { Facts } from './facts.ts';
import { foundIn } from './foundIn.ts';
import { type Bound, boundsOf, brokenBounds, type Link, pointingBy } from './pointing.ts';
import { uniqueAmong } from './uniqueness.ts';
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
}

/**
 * Pass two of checking: joins the facts of all entries. Memory grows with the number of facts, not with the size of
 * the entries.
 */
export class CrossEntryCheck<Place> {
  readonly #entries = new Map<string, Pick<Facts, 'status' | 'window' | 'ineligible'> & { readonly place: Place }>();
  readonly #unique = new Map<string, string>();
  readonly #links: Link[] = [];
  readonly #counts: { readonly entry: string; readonly count: StoredCount }[] = [];
  readonly #lookedUp = new Map<string, JsonObject>();
  readonly #postponed: EntryView[] = [];
  readonly #ids = new Map<string, ReadonlyMap<string, true>>();
  readonly #perType = new Map<string, number>();
  readonly #terms = new Map<string, number>();
  readonly #singles: ReadonlySet<string>;
  readonly #model: Model;
  /** Whether any type extends another. */
  readonly #isBased: boolean;
  readonly #bounds: readonly Bound[];

  readonly #scopes = new Map<string, string>();
  readonly #circumstances: Circumstances<Place>;

  /** @param model the model that the entries are checked against. */
  constructor(model: Model, circumstances: Circumstances<Place>) {
    this.#circumstances = circumstances;
    this.#singles = new Set(
      [...model.types.values()].filter(({ definition }) => definition.single).map(({ name }) => name),
    );
    this.#model = model;
    this.#isBased = Object.values(model.definition.shared?.types ?? {}).some((one) => one.extends !== undefined);
    this.#bounds = boundsOf(model);
  }

  /**
   * Takes the facts of one entry.
   * @param place where the entry lies, for messages about another one like it.
   * @returns what is wrong beside the entries that came before.
   */
  add(facts: Facts, place: Place): readonly Finding[] {
    const { entry, status, window, unique, links, terms, ineligible, counts } = facts;
    const first = this.#entries.get(entry);
    if (first)
      return [foundIn(entryAddressOf(entry), 'duplicate-entry', { place: this.#circumstances.sayPlace(first.place) })];

    this.#entries.set(entry, { status, window, place, ineligible });
    if (facts.lookedUp) this.#lookedUp.set(entry, facts.lookedUp);
    if (facts.postponed) this.#postponed.push(facts.postponed);
    const { type } = entryAddressOf(entry);
    this.#perType.set(type, (this.#perType.get(type) ?? 0) + 1);
    for (const { path, to, field } of links) this.#links.push({ from: entry, path, to: `${to.type}/${to.id}`, field });
    for (const count of counts) this.#counts.push({ entry, count });
    for (const term of new Set(terms)) this.#terms.set(term, (this.#terms.get(term) ?? 0) + 1);
    const tooMany = this.#singles.has(type) && (this.#perType.get(type) ?? 0) > 1;
    const several = tooMany ? [foundIn(entryAddressOf(entry), 'more-than-one', { type })] : [];
    const shared = unique.flatMap((fact) => this.#addUnique(entry, type, fact));

    return [...several, ...shared];
  }

  /** The type among whose entries, and those of what extends it, a field of an entry has to differ. */
  #uniqueAmong(type: string, field: string): string {
    if (!this.#isBased) return type;
    const key = `${type}.${field}`;
    const known = this.#scopes.get(key);
    if (known !== undefined) return known;
    const [name = ''] = field.split('/');
    const scope = uniqueAmong(this.#model, type, name);
    this.#scopes.set(key, scope);
    return scope;
  }

  #addUnique(entry: string, type: string, { field, value, path }: Facts['unique'][number]): readonly Finding[] {
    const key = `${this.#uniqueAmong(type, field)}.${field}=${JSON.stringify(value)}`;
    const first = this.#unique.get(key);
    if (first === undefined) this.#unique.set(key, entry);
    if (first === undefined) return [];
    return [foundIn(entryAddressOf(entry), 'not-unique', { value, first }, { path: path ?? field.split('/') })];
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
      const pair = `${entryAddressOf(from).type} → ${entryAddressOf(to).type}`;
      references.set(pair, (references.get(pair) ?? 0) + 1);
      const target = this.#entries.get(to);
      if (!target)
        return [foundIn(entryAddressOf(from), 'dangling-reference', { to, near: this.#nearest(to) }, { path })];
      const unmet = this.#unmet(target.ineligible, from, field);
      if (unmet) return [this.#notEligible({ from, path, to }, unmet)];
      return this.#unseen(from, path, to);
    });
    return {
      findings: [
        ...findings,
        ...brokenBounds(this.#bounds, this.#links, this.#entries),
        ...this.#wrongCounts(),
        ...this.#judgedLate(),
      ],
      entries: this.#perType,
      references,
      terms: this.#terms,
    };
  }

  /** What readers of one entry do not see of another that it points at. */
  #unseen(from: string, path: Path, to: string): readonly Finding[] {
    const [reader, target] = [this.#entries.get(from), this.#entries.get(to)];
    if (!target || reader?.status !== 'published') return [];
    const { status } = target;
    const warning = { path, severity: 'warning' } as const;
    if (status !== 'published') return [foundIn(entryAddressOf(from), 'target-not-published', { to, status }, warning)];

    const { now } = this.#circumstances;
    const hidden = now === undefined ? undefined : hiddenFrom(reader.window, target.window, now);
    if (!hidden) return [];
    return [foundIn(entryAddressOf(from), `target-not-published:${hidden.why}`, { to, date: hidden.date }, warning)];
  }

  /** Of the conditions that a target does not meet, the one that the field of an entry puts on it. */
  #unmet(unmet: readonly Unmet[], from: string, address: string): Unmet | undefined {
    if (unmet.length === 0) return undefined;
    const type = this.#model.types.get(entryAddressOf(from).type);
    const field = type && fieldNamed(type, address.slice(address.indexOf('.') + 1));
    const eligible = field?.kind.pointsAt(field.options).eligible;
    return unmet.find(({ condition }) => condition === eligible);
  }

  #notEligible({ from, path, to }: Omit<Link, 'field'>, { condition, part }: Unmet): Finding {
    const severity = this.#entries.get(from)?.status === 'published' ? 'error' : 'warning';
    return foundIn(entryAddressOf(from), 'not-eligible', compact({ to, condition, part }), {
      path,
      severity,
      limit: condition,
    });
  }

  /** Stored counts of what points at an entry that are no longer true. */
  *#wrongCounts(): Iterable<Finding> {
    if (this.#counts.length === 0) return;
    const pointing = pointingBy(this.#links, new Set(this.#counts.map(({ count }) => count.of)), this.#model);
    for (const { entry, count } of this.#counts) {
      const number = pointing.get(`${count.of} ${entry}`)?.size ?? 0;
      if (number === count.stored) continue;
      const data = { stored: count.stored, computed: number, by: count.of };
      yield foundIn(entryAddressOf(entry), 'not-computed:count', data, {
        severity: 'warning',
        path: count.path,
        value: count.stored,
        limit: number,
        fix: { set: number },
      });
    }
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
  #idsOf(type: string): ReadonlyMap<string, true> {
    const known = this.#ids.get(type);
    if (known) return known;
    const ids = new Map<string, true>();

    for (const entry of this.#entries.keys()) {
      const address = entryAddressOf(entry);
      if (address.type === type) ids.set(address.id, true);
    }
    this.#ids.set(type, ids);
    return ids;
  }

  /** The entry that was probably meant by the address of one that is not there. */
  #nearest(to: string): string | undefined {
    const { type, id } = entryAddressOf(to);
    const near = nearest(id, this.#idsOf(type));
    return near === undefined ? undefined : `${type}/${near}`;
  }
}
