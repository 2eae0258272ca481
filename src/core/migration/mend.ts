import { checkField } from '../check/field.ts';
import { factsByKey, statuses } from '../definition/builtIn.ts';
import type { FindingName } from '../definition/findingNames.ts';
import { type Entry, entryAddressOf, factUnder, ownFactKeys, statusOf } from '../entry/entry.ts';
import type { Finding } from '../entry/findings.ts';
import type { Field, Model } from '../model/link.ts';
import { fieldNamed } from '../model/nestedFields.ts';
import { fieldsOf } from '../model/ownFields.ts';
import { meaningOf } from '../model/writtenTexts.ts';
import {
  at,
  changedAt,
  isObject,
  type Json,
  type JsonObject,
  ownValue,
  type Path,
  parsePointer,
  pathIn,
  withKey,
} from '../plain/json.ts';
import { isSlip } from '../plain/nearest.ts';
import { freeSlug } from '../plain/slugify.ts';
import type { Operation } from './operation.ts';

/** Problems of an entry, as far as mending it depends on that. */
export interface Wrong {
  readonly finding: string;
  readonly message: string;
  readonly data: object;
  /** JSON Pointer (RFC 6901) inside the entry. */
  readonly pointer: string;
  readonly fix?: Finding['fix'] | undefined;
}

/** What a machine can do about it: one of some values in the place of another, or another name for a key. */
export interface Mend {
  /** Whether it is sure; if not, a person decides. */
  readonly isSure: boolean;
  readonly before: Json | undefined;
  /** What may be put there, the most likely first; of a key that gets another name, that name. */
  readonly choices: readonly Json[];
  /** Whether it is the key that is wrong, and not the value under it. */
  readonly isKey: boolean;
  /** The operations for a chosen value. */
  readonly operations: (choice: Json) => readonly Operation[];
}

/** What mending looks at beside the entry. */
export interface MendContext {
  readonly model: Model;
  /** The identifiers of all entries of a type. */
  readonly idsOf: (type: string) => ReadonlyMap<string, unknown>;
  /** Whether another entry has a value in a field of a type that must differ. */
  readonly isTaken: (type: string, field: string, value: string) => boolean;
}

/** What can be done about problems of an entry; `undefined` where that is a person's business alone. */
export function mendOf(wrong: Wrong, entry: Entry, context: MendContext): Mend | undefined {
  const type = context.model.types.get(entry.type);
  const values = { ...entry.values, ...fieldsOf(entry, type) };
  const path = pathIn(values, parsePointer(wrong.pointer));
  const before = at(values, path);
  // The text below the front matter, or inside a text, is written by people.
  const isProse = entry.prose !== undefined && type?.body !== undefined && path[0] === type.body.name;
  if (isProse) return undefined;

  const suggest = ownValue<Suggest | undefined>(suggestions, wrong.finding);
  const suggestion = wrong.fix
    ? { isSure: true, choices: [wrong.fix.set] }
    : suggest?.({ ...context, ...wrong, path, entry, before });
  if (!suggestion || suggestion.choices.length === 0) return undefined;
  if (suggestion.isKey) return renaming(path, before, suggestion);

  const isFine = suggestion.choices.every((choice) => holds(choice, path, values, { entry, model: context.model }));

  return replacing(path, before, { ...suggestion, isSure: suggestion.isSure && isFine });
}

/** Whether the field takes a value at a path inside an entry: a mend that leaves a mistake behind is not beyond doubt. */
function holds(
  choice: Json,
  path: Path,
  values: JsonObject,
  { entry, model }: Pick<FindingPlace, 'entry' | 'model'>,
): boolean {
  const [key] = path;
  const field = fieldAt(model, entry.type, path.slice(0, 1));
  if (!field || typeof key !== 'string') return true;

  const last = path.at(-1);
  const value = changedAt(values, path.slice(0, -1), (holder) =>
    isObject(holder) ? withKey(holder, String(last), choice) : changedAt(holder, path.slice(-1), () => choice),
  );
  let isFine = true;
  checkField(field, model.context)(
    isObject(value) ? ownValue(value, key) : undefined,
    statusOf(entry),
    (inside, { severity }) => {
      const isThere = path.slice(1).every((part, index) => inside[index] === part);
      if (isThere && severity === 'error') isFine = false;
    },
  );

  return isFine;
}

interface Suggested {
  readonly isSure: boolean;
  readonly choices: readonly Json[];
  /** Whether it is the key that is wrong, and not the value under it. */
  readonly isKey?: true;
}

function replacing(path: Path, before: Json | undefined, { isSure, choices }: Suggested): Mend {
  return {
    isSure,
    before,
    choices,
    isKey: false,
    operations: (value) => [{ do: 'set', path, value, after: [] }],
  };
}

function renaming(path: Path, before: Json | undefined, { isSure, choices }: Suggested): Mend {
  const inside = path.slice(0, -1);
  const key = String(path.at(-1));
  return {
    isSure,
    before,
    choices,
    isKey: true,
    operations: (name) => [{ do: 'rename', inside, key, to: String(name) }],
  };
}

interface FindingPlace extends MendContext, Pick<Wrong, 'data' | 'message'> {
  readonly path: Path;
  readonly entry: Entry;
  readonly before: Json | undefined;
}

type Suggest = (index: FindingPlace) => Suggested | undefined;

/** A word for which another one is probably meant. */
function slip(
  typed: string,
  near: string | undefined,
  candidates: Iterable<string> | ReadonlyMap<string, unknown>,
): Suggested | undefined {
  if (near === undefined) return undefined;
  return { isSure: isSlip(typed, near, candidates), choices: [near] };
}

/** Suggestions for findings by name, from the data of their words. */
const suggestions: { readonly [F in FindingName]?: Suggest } = {
  'unknown-field': ({ path, data, entry, model }) => {
    const { near, fields } = data as { readonly near?: string; readonly fields?: readonly string[] };
    const beside = at(entry.values, path.slice(0, -1));
    const isTaken = near !== undefined && isObject(beside) && Object.hasOwn(beside, near);
    const key = String(path.at(-1));
    const candidates = path.length > 1 ? (fields ?? []) : [...(fields ?? []), ...factsByKey(ownFactKeys(entry)).keys()];
    const suggestion = isTaken ? undefined : slip(key, near, candidates);
    const isFit = fits(at(entry.values, path), [...path.slice(0, -1), near ?? ''], { entry, model });
    return suggestion && { ...suggestion, isSure: suggestion.isSure && isFit, isKey: true };
  },
  'unknown-status': ({ data, before }) => slip(String(before), (data as { readonly near?: string }).near, statuses),
  'not-a-choice': ({ data, before }) => {
    const { near, choices } = data as { readonly near?: string; readonly choices?: readonly string[] };
    return slip(String(before), near, choices ?? []);
  },
  'unknown-term': ({ data, message, before, model }) => {
    const facts = data as {
      readonly taxonomy?: string;
      readonly meant?: string;
      readonly near?: string;
      readonly better?: string;
    };
    if (facts.meant !== undefined) return { isSure: true, choices: [facts.meant] };
    if (message === 'unknown-term:form') return { isSure: false, choices: facts.better ? [facts.better] : [] };
    return slip(String(before), facts.near, model.taxonomies.get(facts.taxonomy ?? '')?.terms ?? []);
  },
  'malformed-slug': ({ data, ...place }) => {
    const { better } = data as { readonly better: string };
    return { isSure: false, choices: better === '' ? [] : [freeIn(place, better)] };
  },
  'number-in-quotes': whatIsWritten,
  'not-a-date': whatIsWritten,
  'not-a-time': whatIsWritten,
  'not-a-date-time': whatIsWritten,
  'not-a-web-address': whatIsWritten,
  'wrong-shape': whatIsWritten,
  'not-a-duration': whatIsWritten,
  'dangling-reference': ({ data, before, idsOf }) => {
    const { to, near } = data as { readonly to: string; readonly near?: string };
    if (typeof before !== 'string' || near === undefined) return undefined;

    const [entryAddress, match] = [entryAddressOf(to), entryAddressOf(near)];
    const isWhole = before === to;
    if (!isWhole && before !== entryAddress.id) return undefined;
    return {
      isSure: isSlip(entryAddress.id, match.id, idsOf(entryAddress.type)),
      choices: [isWhole ? near : match.id],
    };
  },
  'malformed-reference': whatIsMeant,
  'required-missing': (place) => {
    const { path, entry, model } = place;
    const field = fieldAt(model, entry.type, path);
    if (!field || field.common.localized) return undefined;
    const beside = at(entry.values, path.slice(0, -1));
    const slug = isObject(beside) ? field.kind.made?.(field.options, beside, model.context) : undefined;
    if (typeof slug !== 'string') return undefined;
    return { isSure: true, choices: [freeIn(place, slug)] };
  },
};

/** What a text means that is written in another way than values of its field are stored. */
function whatIsWritten({ before, path, entry, model }: FindingPlace): Suggested | undefined {
  const field = fieldAt(model, entry.type, path);
  if (!field || (typeof before !== 'string' && typeof before !== 'number')) return undefined;
  const { values, isSure } = meaningOf(String(before), field, model.context);
  return { isSure, choices: values };
}

/** What the finding itself says is intended: sure, where that is one thing. */
function whatIsMeant({ data }: FindingPlace): Suggested {
  const { meant: typed = [] } = data as { readonly meant?: readonly string[] };
  return { isSure: typed.length === 1, choices: typed };
}

/** The field at a path: the indexes of lists are no part of its name. */
const fieldAt = ({ types }: Model, type: string, path: Path): Field | undefined => {
  const holder = types.get(type);
  return holder && fieldNamed(holder, path.filter((part) => typeof part === 'string').join('.'));
};

/** Whether a value could be in another field of its entry: another name may mean another fact. */
function fits(value: Json | undefined, path: Path, { entry, model }: Pick<FindingPlace, 'entry' | 'model'>): boolean {
  const field = fieldAt(model, entry.type, path);
  if (!field) return factUnder(String(path.at(-1)), entry) !== undefined;

  let isFine = true;
  checkField(field, model.context)(value, 'draft', () => {
    isFine = false;
  });

  return isFine;
}

/** A slug that no other entry has in the same field. */
const freeIn = (
  { path: [field], entry, isTaken }: Pick<FindingPlace, 'path' | 'entry' | 'isTaken'>,
  slug: string,
): string => freeSlug(slug, (candidate) => isTaken(entry.type, String(field), candidate));
