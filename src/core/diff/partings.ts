import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { isPlainText } from '../kinds/traits.ts';
import { partsIn } from '../model/separators.ts';
import { ownValue } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { isApart } from './apart.ts';
import type { FieldSplit } from './differences/fieldSplit.ts';
import type { FieldsJoined } from './differences/fieldsJoined.ts';
import type { Evidence } from './evidence.ts';
import { removedKeys } from './likeness.ts';
import { typesThatDiffer } from './typesThatDiffer.ts';

/**
 * What several differences are together: a field that became two, two that became one, a reference that was turned
 * round, values that are entries of their own now, entries that belong to another type. Each is a guess that is asked
 * about; where somebody said that it is none, it is reported in its parts.
 */
type Fields = TypeDoc['fields'];

/** A field that was split, or fields that were joined. */
export type Parting = FieldSplit | FieldsJoined;

/**
 * Fields that became several, or one, by their names or by what their values look like. They are looked for before
 * renames are, since each part of one looks like a rename.
 */
export function partingsIn(
  before: ModelDoc,
  after: ModelDoc,
  apart: ReadonlySet<string>,
  evidence: Evidence | undefined,
): readonly Parting[] {
  return typesThatDiffer(before, after).flatMap(({ type, oldType, newType }) =>
    partingsAmong(
      { type, evidence, isRefused: (parting) => isRefused(parting, apart) },
      oldType.fields,
      newType.fields,
    ),
  );
}

/** Whether somebody said that a parting is none, or that one of its fields is something else. */
function isRefused(parting: Parting, apart: ReadonlySet<string>): boolean {
  const fields = partsOf(parting);
  const [first, ...rest] = fields;
  const guess = parting.name === 'field-split' ? Object.keys(parting.into) : [...rest, parting.field];
  return (
    fields.some((field) => apart.has(`${parting.type}.${field}`)) ||
    isApart(apart, `${parting.type}.${first}`, guess.join('+'))
  );
}

/** The fields that are gone in a parting. */
export const partsOf = (parting: Parting): readonly string[] => {
  if (parting.name === 'field-split') return [parting.field];
  return parting.fields;
};

interface SearchLevel {
  readonly type: string;
  readonly evidence: Evidence | undefined;
  readonly isRefused: (parting: Parting) => boolean;
}

function partingsAmong(
  { type, evidence, isRefused: isNone }: SearchLevel,
  before: Fields,
  after: Fields,
): readonly Parting[] {
  const removed = removedKeys(before, after).filter((name) => isPlain(ownValue(before, name)));
  const added = removedKeys(after, before).filter((name) => isPlain(ownValue(after, name)));

  const splitInto = (field: string, into: readonly string[]): readonly FieldSplit[] => {
    const oldField = ownValue(before, field);
    const fields = into.map((name) => [name, after[name] as FieldDoc] as const);
    if (into.length < 2 || !oldField || !isPlainText(oldField)) return [];
    const split = { name: 'field-split' as const, type, field, oldField, into: Object.fromEntries(fields) };
    if (isNone(split)) return [];
    return [split];
  };

  const named = removed.flatMap((field) =>
    splitInto(
      field,
      added.filter((name) => isPartOf(name, field)),
    ),
  );
  const remaining = added.filter((name) => !named.some(({ into }) => Object.hasOwn(into, name)));
  const written = removed
    .filter((field) => !named.some((item) => item.field === field))
    .filter((field) => isWrittenIn(evidence?.texts({ type, field }), remaining.length))
    .flatMap((field) => splitInto(field, remaining));
  // What could be the parts of several texts is those of one alone.
  const [fieldSplit, rival] = written;
  const best = fieldSplit && (rival ? { ...fieldSplit, rival: rival.field } : fieldSplit);
  const splits = [...named, ...(best ? [best] : [])];
  const joins = added.flatMap((field): readonly FieldsJoined[] => {
    const fields = removed.filter((name) => isPartOf(name, field));
    const newField = ownValue(after, field);
    if (fields.length < 2 || !newField || !isPlainText(newField)) return [];
    const join = { name: 'fields-joined' as const, type, fields, field, newField };
    if (isNone(join)) return [];
    return [join];
  });

  return [...splits, ...joins];
}

/** The kinds that a part of a text can be. */
const partKinds = new Set(['text', 'longText', 'integer', 'decimal', 'date', 'time', 'dateTime', 'duration']);

/** One text or one number alone, in no language. */
const isPlain = (field: FieldDoc | undefined): boolean =>
  field !== undefined && partKinds.has(field.kind) && field.many === undefined && field.localized === undefined;

/** Whether nearly all of some texts have so many parts, with more than a blank between them. */
function isWrittenIn(texts: readonly string[] = [], parts: number): boolean {
  const split = parts < 2 ? undefined : partsIn(texts, parts);
  return split !== undefined && split.separator !== ' ' && texts.length >= 2 && split.fitting >= 0.8 * texts.length;
}

/** Whether a name says another one more closely: `firstName` and `nameOfBirth` of `name`. */
function isPartOf(name: string, owner: string): boolean {
  const [words, ownerWords] = [name, owner].map((name) => humanize(name).toLowerCase().split(' '));
  if (!words || !ownerWords || words.length <= ownerWords.length) return false;
  const isAt = (start: number): boolean => ownerWords.every((word, index) => words[start + index] === word);
  return isAt(0) || isAt(words.length - ownerWords.length);
}
