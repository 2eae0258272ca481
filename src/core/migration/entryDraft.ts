import type { Status } from '../definition/builtIn.ts';
import { type Entry, type EntrySettings, isEmpty, settingsOf, statusOf } from '../entry/entry.ts';
import type { Type } from '../model/link.ts';
import { holderPaths } from '../model/nestedFields.ts';
import { fieldsOf } from '../model/ownFields.ts';
import {
  at,
  changedAt,
  equal,
  isObject,
  type Json,
  type JsonObject,
  ownValue,
  type Path,
  renameKey,
  withKey,
  withoutKey,
} from '../plain/json.ts';
import { groupOnTheWay, relocated, relocatedIn, valueAt } from '../plain/relocate.ts';
import type { EntryView } from '../rules/expression.ts';
import type { Look } from '../rules/lookUp.ts';
import { Holder, InnerHolder } from './holder.ts';
import { minimalEdits } from './minimalEdits.ts';
import type { Loss, Operation } from './operation.ts';

/** An entry on its way through the steps of a migration: its values as they are now, and what led there. */
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
  /** Looks into other entries, as they were before. */
  readonly look: Look | undefined;
  /** What the workspace says of all its entries. */
  readonly #stated: EntrySettings;
  #made: EntryDraft[] = [];

  constructor(entry: Entry, type: Type | undefined, look?: Look) {
    this.look = look;
    this.id = entry.id;
    this.#stated = settingsOf(entry);
    this.type = entry.type;
    this.status = statusOf(entry);
    this.fields = fieldsOf(entry, type);
    this.#prose = entry.prose === undefined ? undefined : type?.body?.name;
  }

  view(): EntryView {
    const { id, type, status, fields, look } = this;
    return { id, type, status, fields, look, expressionSteps: this.#stated.expressionSteps };
  }

  /** The entry with its fields as they are now. */
  entry(): Entry {
    return { type: this.type, id: this.id, values: this.fields, ...this.#stated };
  }

  /** The value of a field; what counts as empty is not there. */
  get(field: string): Json | undefined {
    const value = ownValue(this.fields, field);
    if (isEmpty(value)) return undefined;
    return value;
  }

  rename(field: string, to: string): void {
    if (!Object.hasOwn(this.fields, field)) return;
    if (this.#prose === field) this.#prose = to;
    else this.operations.push({ do: 'rename', inside: [], key: field, to });
    this.fields = renameKey(this.fields, field, to);
  }

  /** @param after fields after which a new one is placed, nearest first. */
  set(field: string, value: Json, after: readonly string[] = []): void {
    const old = ownValue(this.fields, field);
    if (equal(old, value)) return;
    this.fields = withKey(this.fields, field, value);
    if (this.#prose === field) this.operations.push({ do: 'prose', value: String(value) });
    else if (old === undefined) this.operations.push({ do: 'set', path: [field], value, after });
    else for (const edit of minimalEdits([field], old, value)) this.operations.push({ do: 'set', ...edit, after: [] });
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
   * The groups of keys in which a field stands: the entry itself, or each object above it. The operations on one leaves
   * the others as they are.
   * @param type the type as the entry obeys it now.
   */
  holders(type: Type, name: string): readonly Holder[] {
    if (!name.includes('.')) return [new Holder(this)];
    return holderPaths(type, name, this.fields).map((path) =>
      path.length === 0 ? new Holder(this) : new InnerHolder(this, path),
    );
  }

  /** Changes the group of keys at a path by operations that say the same. */
  changeInside(path: Path, change: (old: JsonObject) => JsonObject, operations: readonly Operation[]): void {
    this.fields = changedAt(this.fields, path, (old) => (isObject(old) ? change(old) : old)) as JsonObject;
    this.operations.push(...operations);
  }

  /** Puts the values of some keys into another place. @param after fields after which a new one is placed. */
  carry(from: readonly string[], to: readonly string[], after: readonly string[], inside: Path = []): void {
    const value = valueAt(at(this.fields, inside), from);
    if (value === undefined) return;

    const [field = ''] = from;
    if (inside.length === 0 && from.length === 1 && this.#prose === field) {
      this.#prose = undefined;
      this.operations.push({ do: 'prose', value: undefined });
      const put = groupOnTheWay(this.fields, to).length + 1;
      const moved = relocated(this.fields, from, to);
      this.operations.push({
        do: 'set',
        path: to.slice(0, put),
        value: valueAt(moved, to.slice(0, put)) ?? null,
        after,
      });
    } else this.operations.push({ do: 'carry', inside, from, to, after });

    this.fields = relocatedIn(this.fields, inside, from, to);
  }

  moveTo(type: string): void {
    this.type = type;
    this.operations.push({ do: 'move', type });
  }

  /** Makes an entry out of this one, as a draft entry until it is reported otherwise. */
  make(entry: Entry, type: Type | undefined): void {
    this.#made.push(new EntryDraft({ ...entry, ...this.#stated }, type, this.look));
  }

  /** The entries that were made out of this one since they were last asked for. */
  takeMade(): readonly EntryDraft[] {
    const newEntries = this.#made;
    if (newEntries.length > 0) this.#made = [];
    return newEntries;
  }

  delete(reason: string): void {
    for (const [field, value] of Object.entries(this.fields))
      if (!isEmpty(value)) this.losses.push({ path: [field], value, why: reason });
    this.isDeleted = true;
    this.operations.push({ do: 'delete' });
  }

  /** Puts prose whose field is no longer the body of a file among the other values. */
  settle(type: Type | undefined): void {
    const field = this.#prose;
    if (field === undefined || type?.body?.name === field || this.isDeleted) return;
    const value = ownValue(this.fields, field);
    this.#prose = undefined;
    this.operations.push({ do: 'prose', value: undefined });
    if (value !== undefined) this.operations.push({ do: 'set', path: [field], value, after: [] });
  }
}
