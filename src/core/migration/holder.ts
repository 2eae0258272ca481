import { keyOfField } from '../definition/fieldName.ts';
import { isEmpty } from '../entry/entry.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field } from '../model/link.ts';
import {
  at,
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
import { minimalEdits } from './minimalEdits.ts';
import type { Loss, Operation } from './operation.ts';

/** The entry on its way whose keys are held. */
export interface HeldDraft {
  readonly fields: JsonObject;
  readonly losses: Loss[];
  readonly get: (field: string) => Json | undefined;
  readonly set: (field: string, value: Json, after?: readonly string[]) => void;
  readonly remove: (field: string) => void;
  readonly rename: (field: string, to: string) => void;
  /** Changes the keys at a path, and notes the operations that do so. */
  readonly changeInside: (
    path: Path,
    change: (keys: JsonObject) => JsonObject,
    operations: readonly Operation[],
  ) => void;
}

/** The entry itself as a group of keys. */
export class Holder {
  protected readonly draft: HeldDraft;
  /** Where it is in the entry. */
  protected readonly path: Path;

  constructor(draft: HeldDraft, path: Path = []) {
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
export class InnerHolder extends Holder {
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
