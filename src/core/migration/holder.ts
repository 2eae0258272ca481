import { isEmpty } from '../check/entry.ts';
import {
  at,
  equal,
  isList,
  isObject,
  type Json,
  type JsonObject,
  own,
  type Path,
  renameKey,
  withKey,
  withoutKey,
} from '../json.ts';
import type { EntryDraft, Operation } from './entryDraft.ts';
import { smallest } from './smallest.ts';

/** The entry itself as a group of keys. */
export class Holder {
  protected readonly draft: EntryDraft;
  /** Where it stands in the entry. */
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

  set(key: string, value: Json, after: readonly string[] = []): void {
    this.draft.set(key, value, after);
  }

  remove(key: string): void {
    this.draft.remove(key);
  }

  rename(key: string, to: string): void {
    this.draft.rename(key, to);
  }

  /**
   * Notes that a value cannot be carried on.
   * @param inside where it stands: at a key, or somewhere inside what stands there.
   * @param becomes what is put in its place, if anything is.
   */
  note(inside: Path, value: Json, why: string, becomes?: Json): void {
    const path = [...this.path, ...inside];
    this.draft.losses.push({ path, value, why, ...(becomes === undefined ? {} : { becomes }) });
  }

  /** Takes a value out and says so: it cannot be carried on. */
  lose(key: string, why: string): void {
    const value = this.get(key);
    if (value !== undefined) this.note([key], value, why);
    this.remove(key);
  }
}

/** An object inside an entry. */
export class InnerHolder extends Holder {
  override keys(): JsonObject {
    const keys = at(this.draft.fields, this.path);
    return isObject(keys) ? keys : {};
  }

  override get(key: string): Json | undefined {
    const value = own(this.keys(), key);
    return isEmpty(value) ? undefined : value;
  }

  override set(key: string, value: Json, after: readonly string[] = []): void {
    const old = own(this.keys(), key);
    if (equal(old, value)) return;
    const path = [...this.path, key];
    const parts = old === undefined ? [{ path, value }] : smallest(path, old, value);
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
    return isList(items)
      ? { do: 'set', path: list, value: items.map((item, place) => (place === index ? {} : item)), after: [] }
      : { do: 'set', path: this.path, value: {}, after: [] };
  }

  override rename(key: string, to: string): void {
    if (!Object.hasOwn(this.keys(), key)) return;
    const operation: Operation = { do: 'rename', inside: this.path, key, to };
    this.draft.changeInside(this.path, (keys) => renameKey(keys, key, to), [operation]);
  }
}
