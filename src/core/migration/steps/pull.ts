import canonicalize from 'canonicalize';
import { z } from 'zod';
import { keyOfField } from '../../definition/fieldName.ts';
import { keyOf } from '../../entry/entry.ts';
import { converter } from '../../model/convertValue.ts';
import type { Field, Type } from '../../model/link.ts';
import { readField } from '../../model/readField.ts';
import { mapSingles, singleValues } from '../../model/traversal.ts';
import { compact, isList, isObject, type Json, type JsonObject, ownValue, withKey } from '../../plain/json.ts';
import { slugify } from '../../plain/slugify.ts';
import { count } from '../../plain/words.ts';
import type { EntryDraft } from '../entryDraft.ts';
import { defineStep, type StepContext, StepRefused } from '../step.ts';
import { addressed, fieldOf, linkedField, placesBefore, withFieldsBeside } from '../stepFields.ts';

/** Makes an entry of each value of a field, once, and lets the field point at it. */
export const pull = defineStep({
  verb: 'pull',
  about:
    'Makes each value of a field, once, an entry of another type, and lets the field point there; an entry that is there already is taken.',
  shape: {
    pull: z.string().describe('The address of a field.'),
    field: z.json().describe('The reference that it is afterwards.'),
    as: z.string().optional().describe('The field of the other type that gets a value that is no object.'),
    merge: z
      .record(z.string(), z.string())
      .optional()
      .describe('Values that are another way of writing one: { "M. Holt": "Maren Holt" }.'),
  },
  guess: ({ pull: address }) => address,
  answers: () => ['yes', 'no'],
  say: ({ pull: address, field, as, merge = {} }) =>
    `Each value of \`${address}\` becomes an entry of \`${String(Object(field).to)}\`${as === undefined ? '' : `, as its \`${as}\``}, and \`${address}\` points there.${sayMerged(merge)}`,
  model: (step, model) => {
    const { type, field } = addressed(step.pull, 'pull', ['field']);
    fieldOf(model, type, field, 'pull');
    const read = readField(step.field);
    if (read.field?.kind !== 'reference')
      throw new StepRefused(
        read.mistakes[0]?.says ?? '`field` is no reference',
        read.mistakes[0]?.mend ?? 'Write `field: { kind: reference, to: person }`.',
        'field',
      );

    const definition = read.field;

    return withFieldsBeside(model, { type, field }, 'pull', (siblings, key) => withKey(siblings, key, definition));
  },
  inverse: ({ pull: text, field, as }, { before, after }) => {
    const address = addressed(text, 'pull', ['field']);
    const oldField = fieldOf(before, address.type, address.field, 'pull');
    const [target = ''] = [ownValue(Object(field) as JsonObject, 'to')].flat();
    const named = as ?? ownValue(after.types, String(target))?.titled;
    return [
      compact({ convert: text, field: oldField, by: named === undefined ? undefined : `${String(target)}.${named}` }),
    ];
  },
  entries: (step, context) => {
    const { before, after, orderOf } = context;
    const address = addressed(step.pull, 'pull', ['field']);
    const oldPlace = linkedField(before, address.type, address.field);
    const newPlace = linkedField(after, address.type, address.field);
    const { target, keys, valuesOf } = targetOf(step, oldPlace.field, newPlace.field, context);
    const key = keyOfField(address.field);
    const places = placesBefore(orderOf(address.type, address.field), address.field);
    const entries = new Entries(target, keys);
    const { merge = {} } = step;
    const canonical = (item: Json): Json => {
      if (typeof item !== 'string') return item;
      return ownValue(merge, item) ?? item;
    };

    return {
      see: (draft) => {
        if (draft.type === target.name) entries.there(draft.id, draft.fields);
        if (draft.type !== address.type) return;
        for (const holder of draft.holders(oldPlace.type, address.field))
          for (const { item } of singleValues(oldPlace.field, holder.valueOf(oldPlace.field)))
            entries.wanted(valuesOf(canonical(item)), draft);
      },
      seen: () => entries.name(),
      take: (draft) => {
        if (draft.type !== address.type) return;

        for (const entry of entries.madeBy(draft))
          draft.make({ ...entry, type: target.name }, after.types.get(target.name));
        for (const holder of draft.holders(oldPlace.type, address.field)) {
          const value = holder.valueOf(oldPlace.field);
          if (value === undefined) continue;

          const pointing = mapSingles(
            oldPlace.field,
            value,
            (item): Json => entries.idOf(valuesOf(canonical(item))) ?? null,
          );

          for (const { item } of singleValues(oldPlace.field, value))
            if (canonical(item) !== item)
              holder.note([key], item, 'it is another way of writing a value', canonical(item));

          const targets = [...new Set(isList(pointing) ? pointing : [pointing])].filter(
            (value) => value !== null,
          ) as string[];
          const [only, ...rest] = targets;
          for (const target of newPlace.field.common.many ? [] : rest)
            holder.note([key], target, 'the field points at one entry alone');
          if (only === undefined) holder.lose(key, 'it says nothing that an entry could be made of');
          else holder.set(key, newPlace.field.common.many ? targets : only, places);
        }
      },
    };
  },
});

const sayMerged = (merge: Readonly<Record<string, string>>): string => {
  if (Object.keys(merge).length === 0) return '';
  return ` ${count(Object.keys(merge).length, 'value')} count as another one.`;
};

/** The type that values become entries of, the fields that they fill there, and what each fills them with. */
interface PullTarget {
  readonly target: Type;
  readonly keys: readonly string[];
  readonly valuesOf: (item: Json) => JsonObject;
}

/** Objects whose parts become the fields of the same names. */
function partsAs(oldField: Field, target: Type, { context }: StepContext['after']): PullTarget {
  const ways = [...target.fields.values()].flatMap((field) => {
    const inner = oldField.fields.get(field.name);
    if (!inner) return [];
    return [{ field, convert: converter(inner, field, context) }];
  });
  const valuesOf = (item: Json): JsonObject =>
    Object.fromEntries(
      ways.flatMap(({ field, convert }) => {
        const value = isObject(item) ? item[field.name] : undefined;
        const carried = value === undefined ? undefined : convert(value).value;
        if (carried === undefined) return [];
        return [[field.name, carried]];
      }),
    );

  return { target, keys: ways.map(({ field }) => field.name), valuesOf };
}

/** The type that values become entries of, and what each of them is there. @throws {StepRefused} where that cannot be. */
function targetOf(
  step: { readonly as?: string | undefined },
  oldField: Field,
  newField: Field,
  { after }: StepContext,
): PullTarget {
  const [name = '', ...rest] = newField.kind.pointsAt(newField.options).types;
  const target = after.types.get(name);
  if (!target || rest.length > 0)
    throw new StepRefused('the reference does not point at one type alone', 'Write `to:` with one type.', 'field');
  if (oldField.common.localized || newField.common.localized)
    throw new StepRefused(
      `\`${oldField.address}\` differs by language, and an entry is one in all languages`,
      'Write steps `add` and `set` for it.',
      'pull',
    );
  if (oldField.kind.nests) return partsAs(oldField, target, after);

  const as = step.as ?? target.definition.titled;
  const named = as === undefined ? undefined : target.fields.get(as);
  if (as === undefined || !named)
    throw new StepRefused(
      as === undefined ? `nothing says which field of ${name} gets the value` : `there is no field \`${name}.${as}\``,
      'Write `as:` with a field of that type.',
      'as',
    );

  const convert = converter(oldField, named, after.context);

  return {
    target,
    keys: [as],
    valuesOf: (item) => {
      const { value } = convert(item);
      if (value === undefined) return {};
      return { [as]: value };
    },
  };
}

/** The entries that values become: one for each that is not like another. */
class Entries {
  readonly #target: Type;
  readonly #keys: readonly string[];
  readonly #ids = new Set<string>();
  /** Existing entries by the values of the requested fields. */
  readonly #there = new Map<string, string>();
  readonly #wanted = new Map<string, { readonly values: JsonObject; readonly by: string }>();
  readonly #named = new Map<string, string>();
  readonly #byMaker = new Map<string, { readonly id: string; readonly values: JsonObject }[]>();

  constructor(target: Type, keys: readonly string[]) {
    this.#target = target;
    this.#keys = keys;
  }

  there(id: string, fields: JsonObject): void {
    this.#ids.add(id);
    const text = canonicalText(
      Object.fromEntries(this.#keys.flatMap((key) => (key in fields ? [[key, fields[key] ?? null]] : []))),
    );
    if (!this.#there.has(text)) this.#there.set(text, id);
  }

  wanted(values: JsonObject, by: EntryDraft): void {
    if (Object.keys(values).length > 0 && !this.#wanted.has(canonicalText(values)))
      this.#wanted.set(canonicalText(values), { values, by: keyOf(by) });
  }

  /** Gives each an identifier: the one of an entry which says the same, or one to itself. */
  name(): void {
    for (const [text, { values, by }] of this.#wanted) {
      const existing = this.#there.get(text);
      const id = existing ?? this.#freeId(values);
      this.#named.set(text, id);
      if (existing === undefined) this.#byMaker.set(by, [...(this.#byMaker.get(by) ?? []), { id, values }]);
    }

    this.#wanted.clear();
  }

  #freeId(values: JsonObject): string {
    const { titled } = this.#target.definition;
    const title = (titled === undefined ? undefined : values[titled]) ?? Object.values(values)[0] ?? '';
    const words = String(isObject(title) ? Object.values(title)[0] : title);
    const base = slugify(words).slice(0, longestId).replace(/-$/u, '') || this.#target.name.toLowerCase();
    let id = base;
    for (let number = 2; this.#ids.has(id); number += 1) id = `${base}-${number}`;
    this.#ids.add(id);
    return id;
  }

  idOf(values: JsonObject): string | undefined {
    return this.#named.get(canonicalText(values));
  }

  /** The entries that come out of one: of the first that has the value. */
  madeBy(draft: EntryDraft): readonly { readonly id: string; readonly values: JsonObject }[] {
    return this.#byMaker.get(keyOf(draft)) ?? [];
  }
}

const longestId = 100;

/** What values say, as a text that is the same for the same values. */
const canonicalText = (values: JsonObject): string => canonicalize(values) ?? '';
