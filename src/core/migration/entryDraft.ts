import { type Entry, fieldsOf, isEmpty, statusOf } from '../check/entry.ts';
import {
  changedAt,
  equal,
  isObject,
  type Json,
  type JsonObject,
  own,
  type Path,
  renameKey,
  withKey,
  withoutKey,
} from '../json.ts';
import type { Status } from '../model/document.ts';
import { holderPaths } from '../model/inside.ts';
import type { Type } from '../model/link.ts';
import type { EntryView } from '../rules/expression.ts';
import { Holder, InnerHolder } from './holder.ts';
import { smallest } from './smallest.ts';

/** What a store has to do to an entry, in this order. Nothing else in the entry may change. */
export type Operation =
  | { readonly do: 'rename'; readonly inside: Path; readonly key: string; readonly to: string }
  | { readonly do: 'set'; readonly path: Path; readonly value: Json; readonly after: readonly string[] }
  | { readonly do: 'remove'; readonly inside: Path; readonly key: string }
  | { readonly do: 'prose'; readonly value: string | undefined }
  | { readonly do: 'move'; readonly type: string }
  | { readonly do: 'delete' };

/** A value that a step cannot carry on. It is listed before anything is written, and kept in the journal after. */
export interface Loss {
  readonly path: Path;
  readonly value: Json;
  readonly why: string;
  /** What the migration puts in its place; absent where the value is simply gone. */
  readonly becomes?: Json;
}

/** An entry on its way through the steps of a migration: its values as they are by now, and what led there. */
export class EntryDraft {
  readonly id: string;
  readonly status: Status;
  readonly operations: Operation[] = [];
  readonly losses: Loss[] = [];
  type: string;
  fields: JsonObject;
  isDeleted = false;
  /** The field that stands below the front matter, if the entry is a Markdown file that has one. */
  #prose: string | undefined;

  constructor(entry: Entry, type: Type | undefined) {
    this.id = entry.id;
    this.type = entry.type;
    this.status = statusOf(entry);
    this.fields = fieldsOf(entry, type);
    this.#prose = entry.prose === undefined ? undefined : type?.body?.name;
  }

  view(): EntryView {
    return { id: this.id, type: this.type, status: this.status, fields: this.fields };
  }

  /** The value of a field; what counts as empty is not there. */
  get(field: string): Json | undefined {
    const value = own(this.fields, field);
    return isEmpty(value) ? undefined : value;
  }

  rename(field: string, to: string): void {
    if (!Object.hasOwn(this.fields, field)) return;
    if (this.#prose === field) this.#prose = to;
    else this.operations.push({ do: 'rename', inside: [], key: field, to });
    this.fields = renameKey(this.fields, field, to);
  }

  /** @param after fields after which a new one is placed, nearest first. */
  set(field: string, value: Json, after: readonly string[] = []): void {
    const old = own(this.fields, field);
    if (equal(old, value)) return;
    this.fields = withKey(this.fields, field, value);
    if (this.#prose === field) this.operations.push({ do: 'prose', value: String(value) });
    else if (old === undefined) this.operations.push({ do: 'set', path: [field], value, after });
    else for (const edit of smallest([field], old, value)) this.operations.push({ do: 'set', ...edit, after: [] });
  }

  remove(field: string): void {
    if (!Object.hasOwn(this.fields, field)) return;
    this.fields = withoutKey(this.fields, field);
    if (this.#prose === field) {
      this.operations.push({ do: 'prose', value: undefined });
      this.#prose = undefined;
    } else this.operations.push({ do: 'remove', inside: [], key: field });
  }

  /**
   * The groups of keys in which a field stands: the entry itself, or each object above it. What is done to one leaves
   * the others as they are.
   * @param type the type as the entry obeys it by now.
   */
  holders(type: Type, name: string): readonly Holder[] {
    return holderPaths(type, name, this.fields).map((path) =>
      path.length === 0 ? new Holder(this) : new InnerHolder(this, path),
    );
  }

  /** Changes the group of keys at a path by operations that say the same. */
  changeInside(path: Path, change: (old: JsonObject) => JsonObject, operations: readonly Operation[]): void {
    this.fields = changedAt(this.fields, path, (old) => (isObject(old) ? change(old) : old)) as JsonObject;
    this.operations.push(...operations);
  }

  moveTo(type: string): void {
    this.type = type;
    this.operations.push({ do: 'move', type });
  }

  delete(why: string): void {
    for (const [field, value] of Object.entries(this.fields))
      if (!isEmpty(value)) this.losses.push({ path: [field], value, why });
    this.isDeleted = true;
    this.operations.push({ do: 'delete' });
  }

  /** Puts prose whose field is no longer the body of a file among the other values. */
  settle(type: Type | undefined): void {
    const field = this.#prose;
    if (field === undefined || type?.body?.name === field || this.isDeleted) return;
    const value = own(this.fields, field);
    this.#prose = undefined;
    this.operations.push({ do: 'prose', value: undefined });
    if (value !== undefined) this.operations.push({ do: 'set', path: [field], value, after: [] });
  }
}
