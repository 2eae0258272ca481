import type { Path } from '../json.ts';
import type { Model } from '../model/link.ts';
import { nearest } from '../nearest.ts';
import { quote } from '../words.ts';
import type { Facts } from './compile.ts';
import type { EntryAddress } from './entry.ts';
import type { Finding } from './findings.ts';

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
export class Joiner {
  readonly #entries = new Map<string, { readonly status: Facts['status']; readonly place: string }>();
  readonly #unique = new Map<string, string>();
  readonly #links: { readonly from: string; readonly path: Path; readonly to: string }[] = [];
  readonly #perType = new Map<string, number>();
  readonly #terms = new Map<string, number>();
  readonly #singles: ReadonlySet<string>;

  /** @param model the model that the entries are checked against. */
  constructor(model: Model) {
    this.#singles = new Set([...model.types.values()].filter(({ form }) => form.single).map(({ name }) => name));
  }

  /**
   * Takes the facts of one entry.
   * @param place where the entry lies, for messages about another one like it.
   * @returns what is wrong beside the entries that came before.
   */
  add({ entry, status, unique, links, terms }: Facts, place: string): readonly Finding[] {
    const first = this.#entries.get(entry);
    if (first)
      return [
        found(
          'duplicate-entry',
          entry,
          [],
          `has the same type and identifier as ${first.place}`,
          'Rename one of the two, or remove it.',
        ),
      ];
    this.#entries.set(entry, { status, place });
    const { type } = addressOf(entry);
    this.#perType.set(type, (this.#perType.get(type) ?? 0) + 1);
    for (const { path, to } of links) this.#links.push({ from: entry, path, to: `${to.type}/${to.id}` });
    for (const term of new Set(terms)) this.#terms.set(term, (this.#terms.get(term) ?? 0) + 1);
    const tooMany = this.#singles.has(type) && (this.#perType.get(type) ?? 0) > 1;
    const several = tooMany
      ? [
          found(
            'more-than-one',
            entry,
            [],
            `is not the only ${type}, and exactly one belongs here`,
            'Keep one of them.',
          ),
        ]
      : [];
    const shared = unique.flatMap(({ field, value }) =>
      this.#addUnique(entry, `${type}.${field}=${value}`, field, value),
    );
    return [...several, ...shared];
  }

  #addUnique(entry: string, key: string, field: string, value: string): readonly Finding[] {
    const first = this.#unique.get(key);
    if (first === undefined) this.#unique.set(key, entry);
    return first === undefined
      ? []
      : [
          found(
            'not-unique',
            entry,
            field.split('/'),
            `is ${quote(JSON.parse(value))}, and so is that of ${first}`,
            'Give one of the two another value.',
          ),
        ];
  }

  /** Types that should have exactly one entry and have none. */
  empty(): readonly string[] {
    return [...this.#singles].filter((type) => !this.#perType.has(type));
  }

  /** Looks at all references, now that every entry is known. */
  join(): Joined {
    const references = new Map<string, number>();
    const findings = this.#links.flatMap(({ from, path, to }) => {
      const pair = `${addressOf(from).type} → ${addressOf(to).type}`;
      references.set(pair, (references.get(pair) ?? 0) + 1);
      const target = this.#entries.get(to);
      if (!target)
        return [
          found(
            'dangling-reference',
            from,
            path,
            `points at ${to}, and there is no such entry`,
            this.#mendDangling(to),
          ),
        ];
      const isHidden = target.status !== 'published' && this.#entries.get(from)?.status === 'published';
      if (!isHidden) return [];
      const state = target.status === 'draft' ? 'a draft' : 'archived';
      return [
        found(
          'target-not-published',
          from,
          path,
          `points at ${to}, which is ${state}`,
          `Publish ${to} first, or take the reference out.`,
          'warning',
        ),
      ];
    });
    return { findings, entries: this.#perType, references, terms: this.#terms };
  }

  #mendDangling(to: string): string {
    const { type, id } = addressOf(to);
    const ids = [...this.#entries.keys()].filter((key) => key.startsWith(`${type}/`)).map((key) => addressOf(key).id);
    const near = nearest(id, ids);
    return near === undefined ? `Write the entry ${to}, or point at another.` : `Did you mean ${type}/${near}?`;
  }
}

function found(
  finding: Finding['finding'],
  entry: string,
  path: Path,
  says: string,
  mend: string,
  severity: Finding['severity'] = 'error',
): Finding {
  return { finding, severity, entry: addressOf(entry), path, says, mend };
}

function addressOf(key: string): EntryAddress {
  const slash = key.indexOf('/');
  return { type: key.slice(0, slash), id: key.slice(slash + 1) };
}
