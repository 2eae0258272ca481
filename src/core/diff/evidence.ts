import type { Status } from '../definition/builtIn.ts';
import { type Entry, statusOf } from '../entry/entry.ts';
import { converter } from '../model/convertValue.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field, Model } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { fieldsOf } from '../model/ownFields.ts';
import { separatorIn } from '../model/separators.ts';
import { textWeighing } from '../model/writtenTexts.ts';
import { grouped } from '../plain/grouped.ts';
import { compact, type Json } from '../plain/json.ts';
import { type FieldPlace, faults, valuesOf } from './fieldValues.ts';

/** How many of the values of a field fit another definition, once they are carried over as well as they can be. */
export interface Fit {
  readonly fits: number;
  readonly of: number;
  /** The text between the items, where the values are lists that are written as texts. */
  readonly separator?: string;
}

/** What the entries say of the changes of a field of the older model, by its older name. */
export interface Evidence {
  /** How well its values would fit another field. @param most the number of values compared. */
  readonly fit: (oldField: FieldPlace, newField: Field, context: Model['context'], most: number) => Fit | undefined;
  /** Some of its values that are texts. */
  readonly texts: (oldField: FieldPlace) => readonly string[];
}

/** So many values of a field are looked at, and so long ones: more say nothing more. */
const mostKept = 500;
const longest = 10_000;

/** Gathers values of some fields, and tells from them how well they would fit another field. */
export class ValueSamples {
  readonly #model: Model;
  readonly #wanted: ReadonlyMap<string, readonly FieldPlace[]>;
  readonly #values = new Map<string, { readonly value: Json; readonly status: Status }[]>();

  /** @param model the model that the entries obey. */
  constructor(model: Model, fields: readonly FieldPlace[]) {
    this.#model = model;
    this.#wanted = grouped(fields, ({ type }) => type);
    for (const { type, field } of fields) this.#values.set(`${type}.${field}`, []);
  }

  /** Whether no entry has a value of any of the fields. */
  get isEmpty(): boolean {
    return [...this.#values.values()].every(({ length }) => length === 0);
  }

  /** Whether more entries would say nothing more. */
  get isFull(): boolean {
    return [...this.#values.values()].every(({ length }) => length >= mostKept);
  }

  see(entry: Entry): void {
    const type = this.#model.types.get(entry.type);
    if (!type) return;

    const fields = fieldsOf(entry, type);
    for (const place of this.#wanted.get(entry.type) ?? []) {
      const stored = this.#values.get(`${place.type}.${place.field}`) ?? [];
      const field = fieldNamed(type, place.field);
      for (const fieldValue of field ? valuesOf(this.#model, place, fields) : []) {
        const value = countedValue(field ?? { common: {} }, fieldValue);
        if (value === undefined || stored.length >= mostKept || JSON.stringify(value).length > longest) continue;
        stored.push({ value, status: statusOf(entry) });
      }
    }
  }

  get evidence(): Evidence {
    return { fit: this.#fit, texts: this.#texts };
  }

  readonly #texts: Evidence['texts'] = ({ type, field }) =>
    (this.#values.get(`${type}.${field}`) ?? []).flatMap(({ value }) => (typeof value === 'string' ? [value] : []));

  readonly #fit: Evidence['fit'] = ({ type, field: name }, newField, context, most) => {
    const holder = this.#model.types.get(type);
    const oldField = holder && fieldNamed(holder, name);
    const values = this.#values.get(`${type}.${name}`)?.slice(0, most);
    if (!oldField || !values || values.length === 0) return undefined;

    const separator = separatorOf(oldField, newField, values);
    const read = textWeighing(oldField, newField, context)?.read;
    const convert = converter(oldField, newField, context, { separator, read });
    const breaks = faults(newField, context);
    const isFitting = values.filter(({ value, status }) => {
      const { value: carried, lost } = convert(value);
      return lost.length === 0 && carried !== undefined && breaks(carried, status).length === 0;
    }).length;

    return compact({ fits: isFitting, of: values.length, separator });
  };
}

/** The separator by which the texts of a field are lists, where it becomes one. */
function separatorOf(
  oldField: Field,
  newField: Field,
  values: readonly { readonly value: Json }[],
): string | undefined {
  if (oldField.common.many || !newField.common.many) return undefined;
  return separatorIn(values.flatMap(({ value }) => (typeof value === 'string' ? [value] : [])));
}
