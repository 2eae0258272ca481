import type { FieldDoc } from '../definition/field.ts';
import type { Rule } from '../definition/type.ts';
import {
  allowed,
  byValue,
  type Compatibility,
  type EntryRating,
  presentation,
  type ReaderRating,
  rate,
} from '../kinds/compatibility.ts';
import { kinds } from '../kinds/index.ts';
import { compatibilityOf, splitMany } from '../model/optionCompatibility.ts';
import { sayShape } from '../model/traversal.ts';
import { equal, isList, isObject, type Json, own } from '../plain/json.ts';
import { quote } from '../plain/words.ts';
import type { Difference, OptionDifference } from './difference.ts';

/** What a difference means for the two parties that it can hurt. */
export interface Rating {
  readonly entries: EntryRating;
  readonly readers: ReaderRating;
}

/** Rates a difference by the models alone; how many entries it really hits is counted elsewhere. */
export function rateDifference(difference: Difference): Rating {
  switch (difference.name) {
    case 'renamed':
      return { entries: 'migrate', readers: 'break' };
    case 'type-removed':
    case 'field-removed':
      return { entries: 'lose', readers: 'break' };
    case 'taxonomy-removed':
      return { entries: 'valid', readers: 'break' };
    case 'field-reshaped':
      return { entries: carries(difference.was, difference.is) ? 'migrate' : 'lose', readers: 'break' };
    case 'field-added':
      return { entries: difference.definition.required === undefined ? 'valid' : 'migrate', readers: 'notice' };
    case 'field-changed':
      return rateOption(difference.was.kind, difference);
    case 'term-removed':
      return { entries: 'migrate', readers: 'notice' };
    case 'type-added':
    case 'taxonomy-added':
    case 'term-added':
    case 'terms-rearranged':
      return { entries: 'valid', readers: 'notice' };
    case 'languages-changed':
      return rateLanguages(difference);
    case 'language-changed':
      return difference.option === 'required'
        ? rate(compatibilityOf('text', 'required'), difference.before, difference.after)
        : { entries: 'valid', readers: 'notice' };
    case 'shared-changed':
      return leavesBase(difference)
        ? { entries: 'migrate', readers: 'break' }
        : { entries: 'valid', readers: 'unaffected' };
    case 'term-changed': {
      const isSeen = difference.option === 'label' || difference.option === 'retired';
      return { entries: 'valid', readers: isSeen ? 'notice' : 'unaffected' };
    }
    case 'type-changed':
      if (difference.option === 'single')
        return { entries: difference.after === true ? 'migrate' : 'valid', readers: 'break' };
      return { entries: addedRules(difference).length > 0 ? 'migrate' : 'valid', readers: 'unaffected' };
    case 'taxonomy-changed':
      return rateTaxonomy(difference);
  }
}

/** What else may be used hurts entries where it becomes less; another address hurts readers. */
const taxonomyOptionCompatibility: Readonly<Record<string, Compatibility>> = {
  open: byValue((after) => (after === true ? 'wider' : 'narrower')),
  borrows: allowed(String),
  address: { direction: () => 'presentation', readers: () => 'break' },
};

function rateTaxonomy({ option, before, after }: OptionDifference): Rating {
  return rate(own(taxonomyOptionCompatibility, option) ?? presentation, before, after);
}

/** Whether a type no longer stands where the type is accepted that it used to extend. */
export const leavesBase = ({ part, before, after }: Extract<Difference, { name: 'shared-changed' }>): boolean =>
  part === 'types' &&
  isObject(before) &&
  before.extends !== undefined &&
  (!isObject(after) || after.extends !== before.extends);

/** A language that is gone takes its values with it; another main language has to be there first. */
function rateLanguages({
  before,
  after,
}: {
  readonly before: readonly string[];
  readonly after: readonly string[];
}): Rating {
  if (before.some((language) => !after.includes(language))) return { entries: 'lose', readers: 'break' };
  return before[0] === after[0] ? { entries: 'valid', readers: 'notice' } : { entries: 'migrate', readers: 'break' };
}

/** The rules that a change of a type brings: those that expect something which none did before. */
export function addedRules({ option, before, after }: OptionDifference): readonly Rule[] {
  if (option !== 'rules') return [];
  const expected = new Set((isList(before) ? before : []).map((rule) => (isObject(rule) ? rule.expect : undefined)));
  return (isList(after) ? after : []).flatMap((rule) =>
    isObject(rule) && !expected.has(rule.expect) ? [rule as Rule] : [],
  );
}

function rateOption(
  kind: string,
  { option, before, after }: { readonly option: string; readonly before?: Json; readonly after?: Json },
): Rating {
  if (option !== 'many') return rate(compatibilityOf(kind, option), before, after);
  const parts = splitMany(before, after).map((part) =>
    rate(compatibilityOf(kind, part.option), part.before, part.after),
  );
  return worstOf(parts);
}

const carries = (was: { readonly kind: string }, is: { readonly kind: string }): boolean =>
  was.kind === is.kind || kinds.get(is.kind)?.from[was.kind] !== undefined;

const entryOrder: readonly EntryRating[] = ['valid', 'migrate', 'lose'];
const readerOrder: readonly ReaderRating[] = ['unaffected', 'notice', 'break'];

/** The worst that any of several ratings says, for each party. */
export function worstOf(ratings: readonly Rating[]): Rating {
  const worst = <T>(order: readonly T[], values: readonly T[]): T | undefined =>
    order[Math.max(0, ...values.map((value) => order.indexOf(value)))];
  return {
    entries:
      worst(
        entryOrder,
        ratings.map(({ entries }) => entries),
      ) ?? 'valid',
    readers:
      worst(
        readerOrder,
        ratings.map(({ readers }) => readers),
      ) ?? 'unaffected',
  };
}

/** A difference in words, without its address: `max 300 → 200`. */
export function sayDifference(difference: Difference, arrow = '→'): string {
  switch (difference.name) {
    case 'renamed':
      return `renamed to ${difference.rename.to}`;
    case 'languages-changed':
      return `${difference.before.join(', ')} ${arrow} ${difference.after.join(', ')}`;
    case 'language-changed':
      return `${difference.language}: ${sayOption(difference, arrow)}`;
    case 'shared-changed':
      return sayShared(difference);
    case 'type-added':
      return 'new type';
    case 'type-removed':
      return 'type removed';
    case 'field-added':
      return `new field, ${gistOf(difference.definition)}`;
    case 'field-removed':
      return 'field removed';
    case 'field-reshaped':
      return `${sayShape(difference.was)} ${arrow} ${sayShape(difference.is)}`;
    case 'taxonomy-added':
      return 'new taxonomy';
    case 'taxonomy-removed':
      return 'taxonomy removed';
    case 'term-added':
      return 'new term';
    case 'term-removed':
      return 'term removed';
    case 'terms-rearranged':
      return 'terms stand in another order or under other terms';
    case 'field-changed':
    case 'type-changed':
    case 'taxonomy-changed':
    case 'term-changed':
      return sayOption(difference, arrow);
  }
}

const sharedWords = { kinds: 'kind', fields: 'shared field', kits: 'kit', types: '' } as const;

/** `new kit`, `takes: extends none → place, kits + sharing`. */
function sayShared({ part, before, after }: Extract<Difference, { name: 'shared-changed' }>): string {
  if (part !== 'types') {
    const what = sharedWords[part];
    return before === undefined ? `new ${what}` : after === undefined ? `${what} removed` : `${what} changed`;
  }
  const was = isObject(before) ? before : {};
  const is = isObject(after) ? after : {};
  return ['extends', 'kits', 'origins']
    .flatMap((key) => {
      if (equal(was[key], is[key])) return [];
      if (key === 'origins') return ['other shared definitions in use'];
      return [sayOption({ option: key, before: was[key] ?? null, after: is[key] ?? null }, '→')];
    })
    .join(', ');
}

function sayOption(
  { option, before, after }: { readonly option: string; readonly before?: Json; readonly after?: Json },
  arrow: string,
): string {
  const parts = option === 'many' ? splitMany(before, after) : [{ option, before, after }];
  if (isList(before) || isList(after))
    return `${option} ${listChange(isList(before) ? before : [], isList(after) ? after : [])}`;
  return parts.map((part) => `${part.option} ${plain(part.before)} ${arrow} ${plain(part.after)}`).join(', ');
}

/** `+ easy, - hard`, or that the same items stand in another order or are told differently. */
function listChange(before: readonly Json[], after: readonly Json[]): string {
  // An item that is a group of keys is told by the key that names it.
  const name = (item: Json): string =>
    isObject(item) ? String(item.choice ?? item.expect ?? JSON.stringify(item)) : String(item);
  const had = before.map(name);
  const has = after.map(name);
  const changes = [
    ...has.filter((one) => !had.includes(one)).map((one) => `+ ${one}`),
    ...had.filter((one) => !has.includes(one)).map((one) => `- ${one}`),
  ];
  if (changes.length > 0) return changes.join(', ');
  return after.some(isObject) ? 'in another order or with other labels' : 'in another order';
}

function plain(value: Json | undefined): string {
  if (value === undefined || value === null) return 'none';
  if (isObject(value) && typeof value.match === 'string') return value.match;
  return typeof value === 'string' ? (value.length > 40 ? quote(value) : value) : quote(value);
}

const gistOf = (field: FieldDoc): string =>
  [
    sayShape(field),
    field.required === true ? 'required' : field.required === 'published' ? 'required once published' : '',
  ]
    .filter(Boolean)
    .join(', ');
