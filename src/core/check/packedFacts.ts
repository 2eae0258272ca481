import type { Status } from '../definition/builtIn.ts';
import { statuses } from '../definition/builtIn.ts';
import type { EntryAddress } from '../entry/entry.ts';
import type { Model } from '../model/link.ts';
import { hashOf, NumberColumn, Numbering, TextColumn, type Texts } from '../plain/columns.ts';
import type { JsonObject, Path } from '../plain/json.ts';
import type { EntryView } from '../rules/expression.ts';
import type { StoredCount, Unmet } from './eligibility.ts';
import type { Facts } from './facts.ts';
import { uniqueAmong } from './uniqueness.ts';
import type { Window } from './visibility.ts';

/**
 * The facts of many entries as plain data in columns: little to keep, and cheap to hand to another thread. Entries are
 * numbered in their order; facts name an entry by its number.
 */
export interface PackedFacts {
  readonly entries: PackedEntries;
  readonly links: PackedLinks;
  readonly unique: PackedUnique;
  readonly terms: {
    readonly from: Int32Array;
    /** `taxonomy:term` */
    readonly names: readonly string[];
    readonly name: Int32Array;
  };
  /** What few entries say, by their number. */
  readonly rare: ReadonlyMap<number, RareFacts>;
}

/** Entries in columns, each with a number. */
export interface PackedEntries {
  /** The names of types, which `type` numbers. */
  readonly types: readonly string[];
  readonly type: Int32Array;
  readonly id: Texts;
  /** Hashes of whole addresses. */
  readonly hash: Int32Array;
  /** Numbers of `statuses`. */
  readonly status: Uint8Array;
}

/** References. */
export interface PackedLinks {
  /** The numbers of the entries that they are in. */
  readonly from: Int32Array;
  /** The addresses of fields, which `field` numbers. */
  readonly fields: readonly string[];
  readonly field: Int32Array;
  /** Where references are in their entries, which `path` numbers. */
  readonly paths: readonly Path[];
  readonly path: Int32Array;
  readonly types: readonly string[];
  readonly type: Int32Array;
  readonly id: Texts;
  readonly hash: Int32Array;
}

/** Values that no other entry may have. */
export interface PackedUnique {
  readonly from: Int32Array;
  /** Fields, each with the type among whose entries its values differ, which `field` numbers. */
  readonly fields: readonly UniqueField[];
  readonly field: Int32Array;
  /** The values as JSON. */
  readonly value: Texts;
  readonly hash: Int32Array;
  /** Where values stand, of those whose field does not say it, by number. */
  readonly paths: ReadonlyMap<number, Path>;
}

/** A field whose values differ: its name, with the language behind a slash, and the type among whose entries they do. */
export interface UniqueField {
  readonly among: string;
  readonly field: string;
}

/** Facts that few entries have. */
export interface RareFacts {
  readonly window: Window | undefined;
  readonly ineligible: readonly Unmet[];
  readonly counts: readonly StoredCount[];
  readonly lookedUp: JsonObject | undefined;
  readonly postponed: EntryView | undefined;
}

const statusNumbers = new Map(statuses.map((status, number) => [status, number]));

/** The status with this number. */
export const statusNumbered = (number: number | undefined): Status => statuses[number ?? 0] ?? 'published';

/** A hash of the address of an entry. */
export const hashOfAddress = (type: string, id: string): number => hashOf(id, hashOf(type));

/** Gathers the facts of entries into columns. */
export class FactsPacker {
  readonly #model: Model;
  /** Whether any type extends another. */
  readonly #isBased: boolean;
  readonly #types = new Numbering();
  readonly #typeHashes: number[] = [];
  readonly #type = new NumberColumn();
  readonly #id = new TextColumn();
  readonly #hash = new NumberColumn();
  readonly #status = new NumberColumn();

  readonly #linkFrom = new NumberColumn();
  readonly #linkFields = new Numbering();
  readonly #linkField = new NumberColumn();
  readonly #linkPaths = new PathNumbering();
  readonly #linkPath = new NumberColumn();
  readonly #linkType = new NumberColumn();
  readonly #linkId = new TextColumn();
  readonly #linkHash = new NumberColumn();

  readonly #uniqueFrom = new NumberColumn();
  readonly #uniqueFields = new Numbering();
  readonly #uniqueAmong: UniqueField[] = [];
  readonly #uniqueField = new NumberColumn();
  readonly #uniqueValue = new TextColumn();
  readonly #uniqueHash = new NumberColumn();
  readonly #uniquePaths = new Map<number, Path>();

  readonly #termFrom = new NumberColumn();
  readonly #terms = new Numbering();
  readonly #term = new NumberColumn();
  readonly #rare = new Map<number, RareFacts>();

  constructor(model: Model) {
    this.#model = model;
    this.#isBased = Object.values(model.definition.shared?.types ?? {}).some((type) => type.extends !== undefined);
  }

  add(facts: Facts, { type, id }: EntryAddress): void {
    const entry = this.#id.size;
    const number = this.#types.numberOf(type);
    this.#type.add(number);
    this.#id.add(id);
    this.#hash.add(hashOf(id, this.#hashOfType(number)));
    this.#status.add(statusNumbers.get(facts.status) ?? 0);

    for (const { path, to, field } of facts.links) {
      this.#linkFrom.add(entry);
      this.#linkField.add(this.#linkFields.numberOf(field));
      this.#linkPath.add(this.#linkPaths.numberOf(path));
      const toType = this.#types.numberOf(to.type);
      this.#linkType.add(toType);
      this.#linkId.add(to.id);
      this.#linkHash.add(hashOf(to.id, this.#hashOfType(toType)));
    }

    for (const uniqueFact of facts.unique) this.#addUnique(entry, type, uniqueFact);
    if (facts.terms.length > 0) this.#addTerms(entry, facts.terms);
    const { window, ineligible, counts, lookedUp, postponed } = facts;
    if (window || lookedUp || postponed || ineligible.length > 0 || counts.length > 0)
      this.#rare.set(entry, { window, ineligible, counts, lookedUp, postponed });
  }

  /** Types are few, and asked for with every entry. */
  #hashOfType(number: number): number {
    const knownCount = this.#typeHashes[number];
    if (knownCount !== undefined) return knownCount;
    const hash = hashOf(this.#types.texts[number] ?? '');
    this.#typeHashes[number] = hash;
    return hash;
  }

  #addTerms(entry: number, terms: readonly string[]): void {
    for (const term of new Set(terms)) {
      this.#termFrom.add(entry);
      this.#term.add(this.#terms.numberOf(term));
    }
  }

  #addUnique(entry: number, type: string, { field, value, path }: Facts['unique'][number]): void {
    const number = this.#uniqueFields.numberOf(`${type}.${field}`);
    const { among } = this.#uniqueAmong[number] ?? { among: this.#among(type, field) };
    this.#uniqueAmong[number] ??= { among, field };
    const text = JSON.stringify(value);
    if (path) this.#uniquePaths.set(this.#uniqueFrom.size, path);
    this.#uniqueFrom.add(entry);
    this.#uniqueField.add(number);
    this.#uniqueValue.add(text);
    this.#uniqueHash.add(hashOf(text, hashOf(field, hashOf(among))));
  }

  /** The type among whose entries, and those of what extends it, a field of an entry has to differ. */
  #among(type: string, field: string): string {
    const [name = ''] = field.split('/');
    if (!this.#isBased) return type;
    return uniqueAmong(this.#model, type, name);
  }

  done(): PackedFacts {
    return {
      entries: {
        types: this.#types.texts,
        type: this.#type.done(),
        id: this.#id.done(),
        hash: this.#hash.done(),
        status: Uint8Array.from(this.#status.done()),
      },
      links: {
        from: this.#linkFrom.done(),
        fields: this.#linkFields.texts,
        field: this.#linkField.done(),
        paths: this.#linkPaths.paths,
        path: this.#linkPath.done(),
        types: this.#types.texts,
        type: this.#linkType.done(),
        id: this.#linkId.done(),
        hash: this.#linkHash.done(),
      },
      unique: {
        from: this.#uniqueFrom.done(),
        fields: this.#uniqueAmong,
        field: this.#uniqueField.done(),
        value: this.#uniqueValue.done(),
        hash: this.#uniqueHash.done(),
        paths: this.#uniquePaths,
      },
      terms: { from: this.#termFrom.done(), names: this.#terms.texts, name: this.#term.done() },
      rare: this.#rare,
    };
  }
}

/** Gives each path that it meets a number. */
class PathNumbering {
  readonly #keys = new Numbering();
  readonly paths: Path[] = [];

  numberOf(path: Path): number {
    let key = '';
    for (const part of path) key += typeof part === 'number' ? `#${part}\0` : `/${part}\0`;
    const number = this.#keys.numberOf(key);
    if (number === this.paths.length) this.paths.push(path);
    return number;
  }
}
