import { z } from 'zod';
import { type Address, parseAddress } from '../core/definition/address.ts';
import { statuses } from '../core/definition/builtIn.ts';
import type { Field, Model } from '../core/model/link.ts';
import { fieldNamed, fieldsWithin } from '../core/model/nestedFields.ts';
import { namesIn } from '../core/model/provenance.ts';
import type { Json } from '../core/plain/json.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { thereAre } from '../core/plain/words.ts';
import { measureOf } from '../core/profile/fieldTally.ts';
import { summarizeType, type TypeProfile } from '../core/profile/summary.ts';
import { type Profiled, profilePass } from '../passes/profile.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { readIn, reading } from './openForCall.ts';
import { head, resultVersion } from './result.ts';
import { sayValue } from './show/sayValue.ts';

const Status = z.enum(statuses);
const Size = z.strictObject({ size: z.number(), says: z.string(), entry: z.string() });

const FieldProfiled = z.strictObject({
  address: z.string(),
  /** Its address before, where that was another one. */
  was: z.string().optional(),
  label: z.string(),
  kind: z.string(),
  /** How many places there are for a value (entries, or objects that it is inside of), and how many have one. */
  of: z.int(),
  filled: z.int(),
  /** How many single values that are: the items of lists and each language count alone. */
  values: z.int(),
  statuses: z.array(z.strictObject({ status: Status, of: z.int(), filled: z.int() })),
  languages: z.array(z.strictObject({ language: z.string(), filled: z.int() })).optional(),
  /** How many different values there are; `error` where it is an estimate: how far off, as a share (one standard error). */
  distinct: z.strictObject({ count: z.int(), error: z.number().optional() }).optional(),
  sizes: z
    .strictObject({
      /** Whether characters of texts are counted, or the values themselves are measured. */
      of: z.enum(['characters', 'values']),
      smallest: Size,
      median: Size.omit({ entry: true }),
      largest: Size,
      /** That the one in the middle is known to three digits. */
      isRounded: z.literal(true).optional(),
    })
    .optional(),
  items: z.strictObject({ smallest: z.int(), median: z.number(), largest: z.int() }).optional(),
  /** The most frequent values; each count may be too low by `under`. */
  frequent: z.array(z.strictObject({ value: JsonValue, says: z.string(), count: z.int() })),
  under: z.int().optional(),
  shapes: z.array(z.strictObject({ shape: z.string(), count: z.int() })),
  /** How many values are longer than a limit. */
  over: z.array(z.strictObject({ limit: z.int(), count: z.int() })),
});

const TypeProfiled = z.strictObject({
  type: z.string(),
  /** Its name before, where that was another one. */
  was: z.string().optional(),
  label: z.string(),
  entries: z.int(),
  statuses: z.array(z.strictObject({ status: Status, entries: z.int() })),
  fields: z.array(FieldProfiled),
});

/** The result of `lumbrik profile`. */
export const ProfileResult = z.strictObject({
  ...head('profile'),
  /** The type or field that was requested; everything where it is not given. */
  about: z.string().optional(),
  languages: z.array(z.string()),
  types: z.array(TypeProfiled),
  /** The same as it was, where that was requested: in the names of then. */
  before: z.strictObject({ said: z.string(), name: z.string(), types: z.array(TypeProfiled) }).optional(),
  /** How many things are where an entry should and cannot be read as one. */
  unreadable: z.int(),
});
export type ProfileResult = z.output<typeof ProfileResult>;

/** The options of a profile. */
export interface ProfileCall {
  /** A type, or a field of one; all types where it is not given. */
  readonly address: string | undefined;
  /** Lengths of which is reported how many values are longer. */
  readonly limits?: readonly number[] | undefined;
  /** The language in which labels are stated. */
  readonly language?: string | undefined;
}

/** So many frequent values are reported of one field that is asked about, and of each of many. */
const [mostOfOne, mostOfEach] = [12, 3];

/** Tells how the fields of types are used by the entries that exist. */
export async function profile(call: Call, { address: text, limits, language }: ProfileCall): Promise<ProfileResult> {
  const workspace = await reading(call);
  const model = readIn(workspace, language);
  const target = text === undefined ? undefined : askedFor(text, model);
  if (limits) refuseLimits(target, model);
  const names = target ? [target.type] : [...model.types.keys()];
  const [profiled] = await walk(openStore(workspace), [profilePass(model, names)], call);
  const demand = { most: target?.field === undefined ? mostOfEach : mostOfOne, limits, field: target?.field };

  return {
    ...profileTold(model, language, profiled, demand),
    ...(text === undefined ? {} : { about: text }),
  };
}

/** The counts, as it is reported. @param language the one that is read; the main one where none is requested. */
export function profileTold(
  model: Model,
  language: string | undefined,
  { types, unreadable }: Profiled,
  demand: Parameters<typeof summarizeType>[3] = { most: mostOfEach },
): ProfileResult {
  return {
    lumbrik: resultVersion,
    command: 'profile',
    languages: [...model.context.languages],
    types: [...types].map(([name, counted]) =>
      saying(model, language ?? model.context.languages[0] ?? 'en', summarizeType(model, name, counted, demand)),
    ),
    unreadable,
  };
}

/** A profile whose values are stated in words as well. */
function saying(model: Model, language: string, { fields, ...type }: TypeProfile): ProfileResult['types'][number] {
  const titles = new Map<string, string>();
  const fieldsByAddress = new Map(
    fieldsWithin(model.types.get(type.type)?.fields ?? new Map()).map((field) => [`${type.type}.${field.name}`, field]),
  );
  const describe = (field: Field | undefined, value: Json): string => {
    if (field) return sayValue(single(field), value, language, { model, titles });
    return String(value);
  };

  return {
    ...type,
    statuses: [...type.statuses],
    fields: fields.map(
      (field): z.output<typeof FieldProfiled> =>
        ({
          ...field,
          frequent: field.frequent.map((frequent) => ({
            ...frequent,
            says: describe(fieldsByAddress.get(field.address), frequent.value),
          })),
        }) as z.output<typeof FieldProfiled>,
    ),
  };
}

/** A field as its single values are stated. */
const single = ({ common: { localized: _, many: __, ...common }, ...field }: Field): Field => ({ ...field, common });

/** @throws {Trouble} where lengths are requested, and no field whose values have any. */
function refuseLimits(target: ProfileTarget | undefined, { types }: Model): void {
  const type = target && types.get(target.type);
  const field = type && target.field !== undefined ? fieldNamed(type, target.field) : undefined;
  if (field && measureOf(field)?.isLength) return;

  const [text] = [...(type ? [type] : types.values())].flatMap(({ name, fields }) =>
    [...fields.values()].flatMap((field) => (measureOf(field)?.isLength ? `${name}.${field.name}` : [])),
  );
  throw new Trouble('unusable-call', '--at asks how long the texts of one field are', {
    mend: text === undefined ? 'Name a field of texts.' : `Name a field of texts, such as ${text}.`,
  });
}

interface ProfileTarget {
  readonly type: string;
  readonly field: string | undefined;
}

/** @throws {Trouble} where an address names no type and no field. */
function askedFor(text: string, { types, definition }: Model): ProfileTarget {
  const address = parseAddress(text);
  const type = address && 'type' in address ? types.get(address.type) : undefined;
  if (!address || !type || !['type', 'field', 'inner'].includes(address.what)) {
    const names = namesIn(definition);
    throw new Trouble('not-found', `“${text}” is no type and no field`, {
      mend: didYouMean(text, names) ?? thereAre([...types.keys()]) ?? 'Define a type in model/types/.',
    });
  }

  const field = fieldIn(address);
  if (field === undefined || fieldNamed(type, field)) return { type: type.name, field };
  throw new Trouble('not-found', `there is no field \`${field}\` in ${type.name}`, {
    mend:
      didYouMean(
        field,
        fieldsWithin(type.fields).map(({ name }) => name),
      ) ??
      thereAre(fieldsWithin(type.fields).map(({ name }) => name)) ??
      `Look at it: lumbrik show ${type.name}`,
  });
}

function fieldIn(address: Address): string | undefined {
  if (address.what === 'field') return address.field;
  if (address.what !== 'inner') return undefined;
  return [address.field, ...address.inside].join('.');
}
