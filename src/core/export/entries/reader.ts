import { isPublicAt } from '../../check/visibility.ts';
import type { Entry, EntryAddress } from '../../entry/entry.ts';
import { valueIn } from '../../model/languages.ts';
import type { Field, Model } from '../../model/link.ts';
import { isList, isObject, type Json, type JsonObject } from '../../plain/json.ts';
import type { Reading } from '../formats/define.ts';
import { valuesOf } from './values.ts';

/** Reads entries as those do who read the content: in a language, what is public, with what they point at. */
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
  async read(entry: Entry, depth = this.#reading.depth): Promise<JsonObject | undefined> {
    if (!this.#isSeen(entry)) return undefined;
    const type = this.#model.types.get(entry.type);
    const read: Record<string, Json> = {};
    for (const [key, value] of Object.entries(valuesOf(entry, type))) {
      const field = type?.fields.get(key);
      const one = field ? await this.#value(field, value, depth) : value;
      if (one !== undefined) read[key] = one;
    }
    return read;
  }

  #isSeen = (entry: Entry): boolean =>
    this.#reading.publicAt === undefined || isPublicAt(entry, this.#reading.publicAt);

  async #value(field: Field, value: Json, depth: number): Promise<Json | undefined> {
    if (!field.common.localized || !isObject(value)) return this.#inOneLanguage(field, value, depth);
    const { order } = this.#reading;
    if (order) {
      const said = valueIn(value, order);
      return said && this.#inOneLanguage(field, said.value, depth);
    }
    return this.#each(value, (one) => this.#inOneLanguage(field, one, depth));
  }

  async #inOneLanguage(field: Field, value: Json, depth: number): Promise<Json | undefined> {
    if (!isList(value) || (!field.common.many && field.kind.takesLists)) return this.#single(field, value, depth);
    const items: Json[] = [];
    for (const item of value) {
      const read = await this.#single(field, item, depth);
      if (read !== undefined) items.push(read);
    }
    return items;
  }

  async #single(field: Field, item: Json, depth: number): Promise<Json | undefined> {
    const { kind, fields } = field;
    if (isObject(item) && kind.maps) {
      const inner = fields.get('value');
      return inner ? this.#each(item, (one) => this.#value(inner, one, depth)) : item;
    }
    if (isObject(item) && kind.nests)
      return this.#each(item, async (one, key) => {
        const inner = fields.get(key);
        return inner ? this.#value(inner, one, depth) : one;
      });
    if (kind.name === 'reference') return this.#target(field, item, depth);
    const { order } = this.#reading;
    // What a picture shows may be said in each language too.
    if (order && kind.assets && isObject(item) && isObject(item.alt))
      return { ...item, alt: valueIn(item.alt, order)?.value ?? null };
    return item;
  }

  async #each(group: JsonObject, read: (value: Json, key: string) => Promise<Json | undefined>): Promise<JsonObject> {
    const all: Record<string, Json> = {};
    for (const [key, value] of Object.entries(group)) {
      const one = await read(value, key);
      if (one !== undefined) all[key] = one;
    }
    return all;
  }

  /** An entry that is pointed at: itself as deep as is asked, nothing where readers do not find it. */
  async #target({ kind, options }: Field, item: Json, depth: number): Promise<Json | undefined> {
    const { publicAt } = this.#reading;
    const [link] = kind.links?.(item, options, this.#model.context) ?? [];
    if (!link || (depth === 0 && publicAt === undefined)) return item;
    const target = await this.#find(link.to);
    if (!target) return publicAt === undefined ? item : undefined;
    if (!this.#isSeen(target)) return undefined;
    if (depth === 0) return item;
    const values = await this.read(target, depth - 1);
    return values && { type: target.type, id: target.id, ...values };
  }
}
