import type { FieldDoc } from '../definition/field.ts';
import { celOfField } from '../definition/fieldName.ts';
import type { ModelDoc } from '../definition/model.ts';
import type { TypeDoc } from '../definition/type.ts';
import { sameShape } from '../model/traversal.ts';
import { isList, isObject, own } from '../plain/json.ts';
import { humanize } from '../plain/words.ts';
import { isApart } from './apart.ts';
import type { Difference } from './difference.ts';
import type { EntriesSent } from './differences/entriesSent.ts';
import { gone, likeNames } from './likeness.ts';

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
  const found = (one: Difference): readonly Candidate[] => {
    if (one.name === 'type-added') return sentTo(one.type, one.definition, before, after);
    return one.name === 'type-removed' ? sentFrom(one.type, one.definition, before, after) : [];
  };
  const isOpen = ({ sent: { from, to } }: Candidate): boolean => !apart.has(to) && !isApart(apart, from, to);
  return differences.flatMap((one) => bestOf(found(one).filter(isOpen)));
}

/** Where entries of a type may go, with how many fields go along. */
interface Candidate {
  readonly sent: EntriesSent;
  readonly both: number;
}

/** So much of the best a second one has to have, to be named beside it. */
const nearly = 0.75;

/** Of several types the one that has the most of the fields; the next is named where it has nearly as many. */
function bestOf(found: readonly Candidate[]): readonly EntriesSent[] {
  const [best, next] = found.toSorted((a, b) => b.both - a.both);
  if (!best) return [];
  const isRival = next !== undefined && next.both >= nearly * best.both;
  const rival = next?.sent.from === best.sent.from ? next.sent.to : next?.sent.from;
  return [isRival && rival !== undefined ? { ...best.sent, rival } : best.sent];
}

function sentTo(to: string, { fields }: TypeDoc, before: ModelDoc, after: ModelDoc): readonly Candidate[] {
  return Object.entries(before.types).flatMap(([from, was]) => {
    const is = own(after.types, from);
    const both = new Set([...namesInBoth(was.fields, fields), ...namesInBoth(is?.fields ?? {}, fields)]);
    if (!is || both.size < 2 || both.size < enough * Object.keys(fields).length) return [];
    const where = saidByValue(to, was.fields, is.fields) ?? saidByField(was.fields, is.fields, fields);
    return where === undefined ? [] : [{ sent: { name: 'entries-sent' as const, from, to, where }, both: both.size }];
  });
}

function sentFrom(from: string, { fields }: TypeDoc, before: ModelDoc, after: ModelDoc): readonly Candidate[] {
  return Object.entries(after.types).flatMap(([to, is]) => {
    const was = own(before.types, to);
    const both = namesInBoth(fields, is.fields);
    const took = was ? both.filter((name) => !Object.hasOwn(was.fields, name)).length : 0;
    const share = both.length / Math.max(1, Object.keys(fields).length);
    if (!was || both.length < 2 || share < (took > 0 ? enough : 0.8)) return [];
    return [{ sent: { name: 'entries-sent' as const, from, to, where: undefined }, both: both.length + took }];
  });
}

const namesInBoth = (a: Fields, b: Fields): readonly string[] =>
  Object.keys(a).filter((name) => {
    const [one, other] = [own(a, name), own(b, name)];
    return one !== undefined && other !== undefined && (sameShape(one, other) || one.kind === other.kind);
  });

/** A choice that named the new type and does no more, or a yes or no that was called so: `entry.kind == "event"`. */
function saidByValue(to: string, was: Fields, is: Fields): string | undefined {
  for (const [name, field] of Object.entries(was)) {
    const value = celOfField(name);
    const isThere = field.required === true ? '' : `has(${value}) && `;
    if (field.kind === 'boolean' && !Object.hasOwn(is, name) && likeNames(name, to) >= 0.8) return `${isThere}${value}`;
    const named = membersOf(field).filter((member) => likeNames(member.replaceAll('-', ' '), humanize(to)) >= 0.8);
    const left = new Set(membersOf(own(is, name)));
    const [member] = named.filter((one) => !left.has(one));
    if (member !== undefined && field.many === undefined) return `${isThere}${value} == ${JSON.stringify(member)}`;
  }
  return undefined;
}

const membersOf = (field: FieldDoc | undefined): readonly string[] =>
  (isList(field?.choices) ? field.choices : []).flatMap((one) => {
    const name = isObject(one) ? own(one, 'choice') : one;
    return typeof name === 'string' ? [name] : [];
  });

/** A field that went along: whoever has it belongs there. */
function saidByField(was: Fields, is: Fields, other: Fields): string | undefined {
  const names = gone(was, is).filter((name) => Object.hasOwn(other, name));
  const asked = names.filter((name) => own(other, name)?.required !== undefined);
  const [name] = asked.length > 0 ? asked : names;
  return name === undefined ? undefined : `has(${celOfField(name)})`;
}

/** What is lost of a type whose entries go elsewhere is only what stays behind. */
export function besideSent(one: Difference, sent: readonly EntriesSent[], after: ModelDoc): Difference {
  if (one.name === 'type-removed') {
    const away = sent.find(({ from }) => from === one.type);
    return away ? { ...one, unless: away.where ?? 'true' } : one;
  }
  if (one.name !== 'field-removed') return one;
  const away = sent.find(
    ({ from, to }) => from === one.type && Object.hasOwn(own(after.types, to)?.fields ?? {}, one.field),
  );
  return away?.where === undefined ? one : { ...one, unless: away.where };
}
