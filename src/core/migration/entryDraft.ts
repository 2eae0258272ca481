import type { Status } from '../definition/builtIn.ts';
import { keyOfField } from '../definition/fieldName.ts';
import { type Entry, isEmpty, statusOf } from '../entry/entry.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field, Type } from '../model/link.ts';
import { holderPaths } from '../model/nestedFields.ts';
import { fieldsOf } from '../model/ownFields.ts';
import {
  at,
  changedAt,
  compact,
  equal,
  isList,
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
  readonly #stated: Pick<Entry, 'factKeys' | 'expressionSteps'>;
  #made: EntryDraft[] = [];

  constructor(entry: Entry, type: Type | undefined, look?: Look) {
    this.look = look;
    this.id = entry.id;
    this.#stated = compact({ factKeys: entry.factKeys, expressionSteps: entry.expressionSteps });
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

/** The entry itself as a group of keys. */
export class Holder {
  protected readonly draft: EntryDraft;
  /** Where it is in the entry. */
  protected readonly path: Path;

  constructor(draft: EntryDraft, path: Path = []) {
    this.draft = draft;
    this.path = path;
  }

  keys(): JsonObject {
    return this.draft.fields;
  }

  get(key: string): Json | undefined {
    return this.draft.get(key);
  }

  /** The value of a field that stands here; `undefined` where the value counts as none. */
  valueOf(field: Field): Json | undefined {
    return countedValue(field, ownValue(this.keys(), keyOfField(field.name)));
  }

  set(key: string, value: Json, after: readonly string[] = []): void {
    this.draft.set(key, value, after);
  }

  remove(key: string): void {
    this.draft.remove(key);
  }

  /** The value under the new name already, although its type knew nothing of it, makes way and is lost. */
  rename(key: string, to: string): void {
    const keys = this.keys();
    if (Object.hasOwn(keys, key) && Object.hasOwn(keys, to)) {
      const inTheWay = keys[to] ?? null;
      if (!isEmpty(inTheWay)) this.note([to], inTheWay, `${key} is called ${to} now`, keys[key]);
      this.remove(to);
    }

    this.renameKey(key, to);
  }

  protected renameKey(key: string, to: string): void {
    this.draft.rename(key, to);
  }

  /**
   * Notes that a value cannot be carried on.
   * @param inside where it stands: at a key, or somewhere inside the existing content.
   * @param becomes the replacement, if there is one.
   */
  note(inside: Path, value: Json, reason: string, becomes?: Json): void {
    const path = [...this.path, ...inside];
    this.draft.losses.push(compact({ path, value, why: reason, becomes }));
  }

  /**
   * Puts a value in the place of another, and says so of one that was there and is no more.
   * @param value nothing takes it out.
   */
  replace(key: string, value: Json | undefined, reason: string, after: readonly string[] = []): void {
    if (value === undefined || value === null) {
      this.lose(key, reason);
      return;
    }

    const old = this.get(key);
    if (old !== undefined && !equal(old, value)) this.note([key], old, reason, value);
    this.set(key, value, after);
  }

  /** Takes a value out and says so: it cannot be carried on. */
  lose(key: string, reason: string): void {
    const value = this.get(key);
    if (value !== undefined) this.note([key], value, reason);
    this.remove(key);
  }
}

/** An object inside an entry. */
class InnerHolder extends Holder {
  override keys(): JsonObject {
    const keys = at(this.draft.fields, this.path);
    if (isObject(keys)) return keys;
    return {};
  }

  override get(key: string): Json | undefined {
    const value = ownValue(this.keys(), key);
    if (isEmpty(value)) return undefined;
    return value;
  }

  override set(key: string, value: Json, after: readonly string[] = []): void {
    const old = ownValue(this.keys(), key);
    if (equal(old, value)) return;

    const path = [...this.path, key];
    const parts = old === undefined ? [{ path, value }] : minimalEdits(path, old, value);
    this.draft.changeInside(
      this.path,
      (keys) => withKey(keys, key, value),
      parts.map((part) => ({ do: 'set', ...part, after: old === undefined ? after : [] })),
    );
  }

  override remove(key: string): void {
    const keys = this.keys();
    if (!Object.hasOwn(keys, key)) return;
    const isLast = Object.keys(keys).length === 1;
    const operation: Operation = isLast ? this.#emptied() : { do: 'remove', inside: this.path, key };
    this.draft.changeInside(this.path, (old) => withoutKey(old, key), [operation]);
  }

  /** The last key is not removed but `{}` written: nothing would be left behind that reads as an object. */
  #emptied(): Operation {
    const index = this.path.at(-1);
    const list = this.path.slice(0, -1);
    const items = at(this.draft.fields, list);
    if (isList(items))
      return { do: 'set', path: list, value: items.map((item, place) => (place === index ? {} : item)), after: [] };
    return { do: 'set', path: this.path, value: {}, after: [] };
  }

  protected override renameKey(key: string, to: string): void {
    if (!Object.hasOwn(this.keys(), key)) return;
    const operation: Operation = { do: 'rename', inside: this.path, key, to };
    this.draft.changeInside(this.path, (keys) => renameKey(keys, key, to), [operation]);
  }
}
