import type { FieldDoc } from '../definition/field.ts';
import { celOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { isYesOrNo } from '../kinds/traits.ts';
import { sameShape } from '../model/traversal.ts';
import { isList, isObject, ownValue } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { isApart } from './apart.ts';
import type { Difference } from './difference.ts';
import type { EntriesSent } from './differences/entriesSent.ts';
import { likeNames, removedKeys } from './likeness.ts';

type Fields = TypeDoc['fields'];

/** How much of a type the other one has to have. */
const enough = 0.5;

/** Types of which entries seem to belong to another: to a new one that took fields from it, or to one that took it in. */
export function sentIn(
  differences: readonly Difference[],
  before: ModelDoc,
  after: ModelDoc,
  apart: ReadonlySet<string>,
): readonly EntriesSent[] {
  const candidatesOf = (difference: Difference): readonly Candidate[] => {
    if (difference.name === 'type-added') return sentTo(difference.type, difference.definition, before, after);
    if (difference.name !== 'type-removed') return [];
    return sentFrom(difference.type, difference.definition, before, after);
  };

  const isOpen = ({ sent: { from, to } }: Candidate): boolean => !apart.has(to) && !isApart(apart, from, to);
  return differences.flatMap((difference) => bestOf(candidatesOf(difference).filter(isOpen)));
}

/** Where entries of a type may go, with how many fields go along. */
interface Candidate {
  readonly sent: EntriesSent;
  readonly both: number;
}

/** So much of the best a second one has to have, to be named beside it. */
const nearly = 0.75;

/** Of several types the one that has the most of the fields; the next is named where it has nearly as many. */
function bestOf(candidates: readonly Candidate[]): readonly EntriesSent[] {
  const [best, next] = candidates.toSorted((a, b) => b.both - a.both);
  if (!best) return [];
  const isRival = next !== undefined && next.both >= nearly * best.both;
  const rival = next?.sent.from === best.sent.from ? next.sent.to : next?.sent.from;
  return [isRival && rival !== undefined ? { ...best.sent, rival } : best.sent];
}

function sentTo(to: string, { fields }: TypeDoc, before: ModelDoc, after: ModelDoc): readonly Candidate[] {
  return Object.entries(before.types).flatMap(([from, oldType]) => {
    const newType = ownValue(after.types, from);
    const shared = new Set([...namesInBoth(oldType.fields, fields), ...namesInBoth(newType?.fields ?? {}, fields)]);
    if (!newType || shared.size < 2 || shared.size < enough * Object.keys(fields).length) return [];
    const where =
      saidByValue(to, oldType.fields, newType.fields) ?? saidByField(oldType.fields, newType.fields, fields);
    if (where === undefined) return [];
    return [{ sent: { name: 'entries-sent' as const, from, to, where }, both: shared.size }];
  });
}

function sentFrom(from: string, { fields }: TypeDoc, before: ModelDoc, after: ModelDoc): readonly Candidate[] {
  return Object.entries(after.types).flatMap(([to, newType]) => {
    const oldType = ownValue(before.types, to);
    const shared = namesInBoth(fields, newType.fields);
    const took = oldType ? shared.filter((name) => !Object.hasOwn(oldType.fields, name)).length : 0;
    const share = shared.length / Math.max(1, Object.keys(fields).length);
    if (!oldType || shared.length < 2 || share < (took > 0 ? enough : 0.8)) return [];
    return [{ sent: { name: 'entries-sent' as const, from, to, where: undefined }, both: shared.length + took }];
  });
}

const namesInBoth = (a: Fields, b: Fields): readonly string[] =>
  Object.keys(a).filter((name) => {
    const [first, other] = [ownValue(a, name), ownValue(b, name)];
    return first !== undefined && other !== undefined && (sameShape(first, other) || first.kind === other.kind);
  });

/** A choice that named the new type and does no more, or a yes or no that was called so: `entry.kind == "event"`. */
function saidByValue(to: string, oldFields: Fields, newFields: Fields): string | undefined {
  for (const [name, field] of Object.entries(oldFields)) {
    const value = celOfField(name);
    const isThere = field.required === true ? '' : `has(${value}) && `;
    if (isYesOrNo(field) && !Object.hasOwn(newFields, name) && likeNames(name, to) >= 0.8) return `${isThere}${value}`;

    const named = membersOf(field).filter((member) => likeNames(member.replaceAll('-', ' '), humanize(to)) >= 0.8);
    const remaining = new Set(membersOf(ownValue(newFields, name)));
    const [member] = named.filter((name) => !remaining.has(name));
    if (member !== undefined && field.many === undefined) return `${isThere}${value} == ${JSON.stringify(member)}`;
  }

  return undefined;
}

const membersOf = (field: FieldDoc | undefined): readonly string[] =>
  (isList(field?.choices) ? field.choices : []).flatMap((choice) => {
    const name = isObject(choice) ? ownValue(choice, 'choice') : choice;
    if (typeof name !== 'string') return [];
    return [name];
  });

/** A field that went along: anyone who has it belongs there. */
function saidByField(oldFields: Fields, newFields: Fields, other: Fields): string | undefined {
  const names = removedKeys(oldFields, newFields).filter((name) => Object.hasOwn(other, name));
  const required = names.filter((name) => ownValue(other, name)?.required !== undefined);
  const [name] = required.length > 0 ? required : names;
  if (name === undefined) return undefined;
  return `has(${celOfField(name)})`;
}

/** A type whose entries go elsewhere loses only the entries that stay behind. */
export function besideSent(difference: Difference, sent: readonly EntriesSent[], after: ModelDoc): Difference {
  if (difference.name === 'type-removed') {
    const away = sent.find(({ from }) => from === difference.type);
    if (!away) return difference;
    return { ...difference, unless: away.where ?? 'true' };
  }
  if (difference.name !== 'field-removed') return difference;

  const away = sent.find(
    ({ from, to }) =>
      from === difference.type && Object.hasOwn(ownValue(after.types, to)?.fields ?? {}, difference.field),
  );

  if (away?.where === undefined) return difference;
  return { ...difference, unless: away.where };
}
