import type { FieldDoc } from '../definition/field.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { partsIn } from '../model/separators.ts';
import { sameShape } from '../model/traversal.ts';
import { isList, isObject, type Json, own } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { isApart } from './apart.ts';
import type { Difference } from './difference.ts';
import type { FieldAdded } from './differences/fieldAdded.ts';
import type { FieldMovedAlong } from './differences/fieldMovedAlong.ts';
import type { FieldRemoved } from './differences/fieldRemoved.ts';
import type { FieldSplit } from './differences/fieldSplit.ts';
import type { FieldsJoined } from './differences/fieldsJoined.ts';
import type { ReferenceTurned } from './differences/referenceTurned.ts';
import { besideSent, sentIn } from './entriesSent.ts';
import type { Evidence } from './evidence.ts';
import { gone } from './likeness.ts';
import { typesThatDiffer } from './typesThatDiffer.ts';

/**
 * What several differences are together: a field that became two, two that became one, a reference that was turned
 * round, values that are entries of their own now, entries that belong to another type. Each is a guess that is asked
 * about; where somebody said that it is none, it is told in its parts.
 */

type Fields = TypeDoc['fields'];
type Parting = FieldSplit | FieldsJoined;

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
  return typesThatDiffer(before, after).flatMap(({ type, was, is }) =>
    partingsAmong({ type, evidence, isRefused: (one) => isRefused(one, apart) }, was.fields, is.fields),
  );
}

/** Whether somebody said that a parting is none, or that one of its fields is something else. */
function isRefused(one: Parting, apart: ReadonlySet<string>): boolean {
  const fields = partsOf(one);
  const [first, ...others] = fields;
  const guess = one.name === 'field-split' ? Object.keys(one.into) : [...others, one.field];
  return (
    fields.some((field) => apart.has(`${one.type}.${field}`)) || isApart(apart, `${one.type}.${first}`, guess.join('+'))
  );
}

/** The fields that are gone in a parting. */
export const partsOf = (one: Parting): readonly string[] => (one.name === 'field-split' ? [one.field] : one.fields);

interface Looking {
  readonly type: string;
  readonly evidence: Evidence | undefined;
  readonly isRefused: (one: Parting) => boolean;
}

function partingsAmong(
  { type, evidence, isRefused: isNone }: Looking,
  before: Fields,
  after: Fields,
): readonly Parting[] {
  const removed = gone(before, after).filter((name) => isPlain(own(before, name)));
  const added = gone(after, before).filter((name) => isPlain(own(after, name)));
  const splitInto = (field: string, into: readonly string[]): readonly FieldSplit[] => {
    const was = own(before, field);
    const fields = into.map((name) => [name, after[name] as FieldDoc] as const);
    if (into.length < 2 || !was || !isText(was)) return [];
    const one = { name: 'field-split' as const, type, field, was, into: Object.fromEntries(fields) };
    return isNone(one) ? [] : [one];
  };
  const named = removed.flatMap((field) =>
    splitInto(
      field,
      added.filter((name) => isPartOf(name, field)),
    ),
  );
  const left = added.filter((name) => !named.some(({ into }) => Object.hasOwn(into, name)));
  const written = removed
    .filter((field) => !named.some((one) => one.field === field))
    .filter((field) => isWrittenIn(evidence?.texts({ type, field }), left.length))
    .flatMap((field) => splitInto(field, left));
  // What could be the parts of several texts is those of one alone.
  const [found, rival] = written;
  const best = found && (rival ? { ...found, rival: rival.field } : found);
  const splits = [...named, ...(best ? [best] : [])];
  const joins = added.flatMap((field): readonly FieldsJoined[] => {
    const fields = removed.filter((name) => isPartOf(name, field));
    const is = own(after, field);
    if (fields.length < 2 || !is || !isText(is)) return [];
    const one = { name: 'fields-joined' as const, type, fields, field, is };
    return isNone(one) ? [] : [one];
  });
  return [...splits, ...joins];
}

const isText = ({ kind }: FieldDoc): boolean => kind === 'text' || kind === 'longText';

/** The kinds that a part of a text can be. */
const partKinds = new Set(['text', 'longText', 'integer', 'decimal', 'date', 'time', 'dateTime', 'duration']);

/** One text or one number alone, in no language. */
const isPlain = (field: FieldDoc | undefined): boolean =>
  field !== undefined && partKinds.has(field.kind) && field.many === undefined && field.localized === undefined;

/** Whether nearly all of some texts have so many parts, with more than a blank between them. */
function isWrittenIn(texts: readonly string[] = [], parts: number): boolean {
  const found = parts < 2 ? undefined : partsIn(texts, parts);
  return found !== undefined && found.at !== ' ' && texts.length >= 2 && found.fits >= 0.8 * texts.length;
}

/** Whether a name says another one more closely: `firstName` and `nameOfBirth` of `name`. */
function isPartOf(name: string, whole: string): boolean {
  const [words, of] = [name, whole].map((one) => humanize(one).toLowerCase().split(' '));
  if (!words || !of || words.length <= of.length) return false;
  const isAt = (start: number): boolean => of.every((word, index) => words[start + index] === word);
  return isAt(0) || isAt(words.length - of.length);
}

/** Differences with those that belong together told as what they are together. */
export function combined(
  differences: readonly Difference[],
  partings: readonly Parting[],
  {
    before,
    after,
    apart,
  }: { readonly before: ModelDoc; readonly after: ModelDoc; readonly apart: ReadonlySet<string> },
): readonly Difference[] {
  const parted = partings.reduce<readonly Difference[]>(withParting, differences);
  const pulled = parted.map((one) => asPulled(one, before, after, apart));
  const turned = turnedIn(pulled).filter(({ type, field }) => !apart.has(`${type}.${field}`));
  const afterTurns = turned.reduce<readonly Difference[]>(withTurned, pulled);
  const along = alongIn(afterTurns, before, after).filter(({ type, field }) => !apart.has(`${type}.${field}`));
  const rest = along.reduce<readonly Difference[]>(withTurned, afterTurns);
  const sent = sentIn(rest, before, after, apart);
  return [...rest.map((one) => besideSent(one, sent, after)), ...sent];
}

function withParting(all: readonly Difference[], parting: Parting): readonly Difference[] {
  const isSplit = parting.name === 'field-split';
  const [removed, added] = isSplit ? [[parting.field], Object.keys(parting.into)] : [parting.fields, [parting.field]];
  const isPart = (one: Difference): boolean =>
    (one.name === 'field-removed' && one.type === parting.type && removed.includes(one.field)) ||
    (one.name === 'field-added' && one.type === parting.type && added.includes(one.field));
  const parts = all.filter(isPart);
  // Where one of them was taken for something else after all, they are told as that.
  if (parts.length !== removed.length + added.length) return all;
  return all.flatMap((one) => {
    if (one === parts[0]) return [parting];
    return isPart(one) ? [] : [one];
  });
}

/** A field whose values become entries of a type that is new. */
function asPulled(one: Difference, before: ModelDoc, after: ModelDoc, apart: ReadonlySet<string>): Difference {
  if (one.name !== 'field-reshaped' || apart.has(`${one.type}.${one.field}`)) return one;
  const { was, is } = one;
  const to = is.kind === 'reference' ? own(is, 'to') : undefined;
  const [target, ...others] = isList(to) ? to : [];
  const type = typeof target === 'string' && others.length === 0 ? own(after.types, target) : undefined;
  const isNew = typeof target === 'string' && !Object.hasOwn(before.types, target);
  if (!type || !isNew || was.localized !== undefined || is.localized !== undefined) return one;
  if (was.kind === 'object') return { ...one, name: 'values-pulled', as: undefined };
  const as = type.titled ?? Object.entries(type.fields).find(([, { kind }]) => kind === 'text')?.[0];
  const isNaming = as !== undefined && ['text', 'longText', 'slug', 'choice', 'term'].includes(was.kind);
  return isNaming && !as.includes('.') ? { ...one, name: 'values-pulled', as } : one;
}

/** References that are gone on one side and new on the other. */
function turnedIn(differences: readonly Difference[]): readonly ReferenceTurned[] {
  const removed = outerRemoved(differences).filter(isReference);
  const added = outerAdded(differences).filter(isReference);
  const matches = removed.flatMap((was) =>
    added
      .filter((is) => typesOf(was.definition).includes(is.type) && typesOf(is.definition).includes(was.type))
      .map((is) => ({ was, is, sure: isSaidByName(was, is) }))
      // Within one type a reference may as well be called otherwise, or another one.
      .filter(({ is, sure }) => sure || was.type !== is.type),
  );
  const isAlone = ({ was, is }: (typeof matches)[number]): boolean =>
    matches.filter((other) => other.was === was || other.is === is).length === 1;
  return matches
    .filter((one) => one.sure || isAlone(one))
    .map(({ was, is }) => ({
      name: 'reference-turned',
      type: was.type,
      field: was.field,
      was: was.definition,
      toType: is.type,
      toField: is.field,
      is: is.definition,
    }));
}

/** The fields that are gone, and those that are new, that stand in no object. */
const outerRemoved = (differences: readonly Difference[]): readonly FieldRemoved[] =>
  differences.filter((one): one is FieldRemoved => one.name === 'field-removed' && !one.field.includes('.'));
const outerAdded = (differences: readonly Difference[]): readonly FieldAdded[] =>
  differences.filter((one): one is FieldAdded => one.name === 'field-added' && !one.field.includes('.'));

const isReference = ({ definition }: FieldRemoved | FieldAdded): boolean => definition.kind === 'reference';
const typesOf = ({ to }: FieldDoc): readonly Json[] => (isList(to) ? to : []);
const inverseOf = ({ inverse }: FieldDoc): Json | undefined => (isObject(inverse) ? own(inverse, 'name') : inverse);

/** Whether each is called as the other calls its other side. */
const isSaidByName = (was: FieldRemoved, is: FieldAdded): boolean =>
  inverseOf(was.definition) === is.field || inverseOf(is.definition) === was.field;

/** Fields that are gone in one type and new under the same name in another, to or from which a reference leads. */
function alongIn(differences: readonly Difference[], before: ModelDoc, after: ModelDoc): readonly FieldMovedAlong[] {
  const added = outerAdded(differences);
  const found = outerRemoved(differences).flatMap((was) =>
    added
      .filter((is) => is.field === was.field && is.type !== was.type && sameShape(was.definition, is.definition))
      .filter((is) => was.definition.computed === undefined && is.definition.computed === undefined)
      .flatMap((is) => referencesBetween(was.type, is.type, before, after).map((along) => ({ was, is, along }))),
  );
  return found
    .filter(({ was, is }) => found.filter((other) => other.was === was || other.is === is).length === 1)
    .map(({ was, is, along }) => ({
      name: 'field-moved-along',
      type: was.type,
      field: was.field,
      was: was.definition,
      toType: is.type,
      toField: is.field,
      is: is.definition,
      along,
    }));
}

/** The addresses of references that lead from one type to another, or back, before and after: a step may change them first. */
const referencesBetween = (a: string, b: string, before: ModelDoc, after: ModelDoc): readonly string[] =>
  [[a, b] as const, [b, a] as const].flatMap(([from, to]) =>
    Object.entries(own(before.types, from)?.fields ?? {}).flatMap(([name, field]) => {
      const both = [field, own(own(after.types, from)?.fields ?? {}, name)];
      const isLeading = both.every((one) => one?.kind === 'reference' && typesOf(one).includes(to));
      return isLeading ? [`${from}.${name}`] : [];
    }),
  );

const withTurned = (all: readonly Difference[], turned: ReferenceTurned | FieldMovedAlong): readonly Difference[] =>
  all.flatMap((one) => {
    if (one.name === 'field-removed' && one.type === turned.type && one.field === turned.field) return [turned];
    return one.name === 'field-added' && one.type === turned.toType && one.field === turned.toField ? [] : [one];
  });

/** Fields inside objects that become entries of another type: they stand there, and nowhere else. */
export function pulledParts(before: ModelDoc, after: ModelDoc): readonly string[] {
  return typesThatDiffer(before, after).flatMap(({ type, ...both }) =>
    Object.entries(both.was.fields).flatMap(([field, was]) => {
      const is = own(both.is.fields, field);
      const [target] = is?.kind === 'reference' ? typesOf(is) : [];
      const inside = isObject(was.fields) ? was.fields : {};
      const there = typeof target === 'string' ? (own(after.types, target)?.fields ?? {}) : {};
      return Object.keys(inside).flatMap((name) => (Object.hasOwn(there, name) ? [`${type}.${field}.${name}`] : []));
    }),
  );
}
