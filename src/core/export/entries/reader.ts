import { isPublicAt } from '../../check/visibility.ts';
import { type Entry, type EntryAddress, keyOf } from '../../entry/entry.ts';
import { valueIn } from '../../model/languages.ts';
import type { Field, Model } from '../../model/link.ts';
import { isList, isObject, type Json, type JsonObject, put } from '../../plain/json.ts';
import type { Reading } from '../formats/define.ts';
import { valuesOf } from './values.ts';

/** Where a value is on the way down. */
interface Within {
  /** How many references deeper entries still are where they are pointed at. */
  readonly depth: number;
  /** The addresses of the entries that it is in. */
  readonly above: readonly string[];
}

/** Reads entries as those do who read the content: in a language, public entries, with their targets. */
export class EntryReader {
  readonly #model: Model;
  readonly #reading: Reading;
  readonly #find: (address: EntryAddress) => Promise<Entry | undefined>;

  /** @param find leads to an entry that another one points at. */
  constructor(model: Model, reading: Reading, find: (address: EntryAddress) => Promise<Entry | undefined>) {
    this.#model = model;
    this.#reading = reading;
    this.#find = find;
  }

  /** The values of an entry; `undefined` where it is not for readers. */
  async read(entry: Entry): Promise<JsonObject | undefined> {
    if (!this.#isSeen(entry)) return undefined;
    return this.#read(entry, { depth: this.#reading.depth, above: [keyOf(entry)] });
  }

  async #read(entry: Entry, within: Within): Promise<JsonObject> {
    const type = this.#model.types.get(entry.type);
    const read: Record<string, Json> = {};
    for (const [key, value] of Object.entries(valuesOf(entry, type))) {
      const field = type?.fields.get(key);
      const resolved = field ? await this.#value(field, value, within) : value;
      if (resolved !== undefined) put(read, key, resolved);
    }

    return read;
  }

  #isSeen = (entry: Entry): boolean =>
    this.#reading.publicAt === undefined || isPublicAt(entry, this.#reading.publicAt);

  async #value(field: Field, value: Json, within: Within): Promise<Json | undefined> {
    if (!field.common.localized || !isObject(value)) return this.#inOneLanguage(field, value, within);

    const { order } = this.#reading;
    if (order) {
      const version = valueIn(value, order);
      return version && this.#inOneLanguage(field, version.value, within);
    }
    return this.#each(value, (value) => this.#inOneLanguage(field, value, within));
  }

  async #inOneLanguage(field: Field, value: Json, within: Within): Promise<Json | undefined> {
    if (!isList(value) || (!field.common.many && field.kind.takesLists)) return this.#single(field, value, within);

    const items: Json[] = [];
    for (const item of value) {
      const read = await this.#single(field, item, within);
      if (read !== undefined) items.push(read);
    }

    return items;
  }

  async #single(field: Field, item: Json, within: Within): Promise<Json | undefined> {
    const { kind, fields } = field;
    if (isObject(item) && kind.maps) {
      const inner = fields.get('value');
      if (!inner) return item;
      return this.#each(item, (value) => this.#value(inner, value, within));
    }
    if (isObject(item) && kind.nests)
      return this.#each(item, async (value, key) => {
        const inner = fields.get(key);
        if (!inner) return value;
        return this.#value(inner, value, within);
      });
    if (kind.isReference) return this.#target(field, item, within);

    const { order } = this.#reading;
    // What a picture shows may be stated in each language too.
    if (order && kind.assets && isObject(item) && isObject(item.alt))
      return { ...item, alt: valueIn(item.alt, order)?.value ?? null };
    return item;
  }

  async #each(group: JsonObject, read: (value: Json, key: string) => Promise<Json | undefined>): Promise<JsonObject> {
    const results: Record<string, Json> = {};
    for (const [key, value] of Object.entries(group)) {
      const result = await read(value, key);
      if (result !== undefined) put(results, key, result);
    }

    return results;
  }

  /** An entry that is pointed at: embedded up to the depth; absent if readers cannot see it. */
  async #target({ kind, options }: Field, item: Json, within: Within): Promise<Json | undefined> {
    const { publicAt } = this.#reading;
    const { depth, above } = within;
    const [link] = kind.links?.(item, options, this.#model.context) ?? [];
    if (!link || (depth === 0 && publicAt === undefined)) return item;

    const target = await this.#find(link.to);
    if (!target) return publicAt === undefined ? item : undefined;
    if (!this.#isSeen(target)) return undefined;

    // What leads back to an entry that it is in stays a reference.
    const key = keyOf(target);
    if (depth === 0 || above.includes(key)) return item;

    const values = await this.#read(target, { depth: depth - 1, above: [...above, key] });

    return { type: target.type, id: target.id, ...values };
  }
}
