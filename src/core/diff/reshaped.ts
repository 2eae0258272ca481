import type { FieldDoc } from '../definition/field.ts';
import type { Converted } from '../kinds/define.ts';
import { type Carrying, comesToLack, converter } from '../model/convertValue.ts';
import { isNone } from '../model/emptiness.ts';
import { type Field, linkField, type Model } from '../model/link.ts';
import { partOfObject } from '../model/partOfObject.ts';
import { saySeparator, separatorIn, separators } from '../model/separators.ts';
import { singleValues } from '../model/traversal.ts';
import { compact, equal, isObject, type Json, own } from '../plain/json.ts';
import { quote } from '../plain/words.ts';
import { toPlain } from '../text/plain.ts';
import { isText as isTree } from '../text/tree.ts';
import { type Counter, countEntries, type Impact, type SeenEntry, share, type Way } from './counter.ts';
import type { Compared } from './differences/define.ts';
import { areNew, type FieldPlace, faults, valuesOf } from './fieldValues.ts';

/** A field before and after, where its values are stored in another shape. */
export interface Reshaping extends FieldPlace {
  readonly was: FieldDoc;
  readonly is: FieldDoc;
}

/** Both sides linked, with the models that they stand in. */
interface Linked extends Compared {
  readonly place: FieldPlace;
  readonly from: Field;
  readonly to: Field;
}

/**
 * Counts the values that cannot be carried over, or that do not fit then, and the entries that newly lack one. Where the
 * values say of themselves how they are better carried over, it is that way that is counted, and suggested.
 */
export function reshapedCounter(
  { type, field, was, is }: Reshaping,
  { between, after }: Compared,
): Counter | undefined {
  const from = linkField({ type }, field, was);
  const to = linkField({ type }, field, is);
  if (!from || !to) return undefined;
  const linked: Linked = { place: { type, field }, from, to, between, after };
  if (to.kind.pointsAt(to.options).types.length > 0) return referenceCounter(linked);
  const inside = partOfObject(was, is);
  if (inside !== undefined) return partCounter(linked, inside);
  return isText(from) && !from.common.many && to.common.many ? listCounter(linked) : carryingCounter(linked, {});
}

/** A value in few words: structured text by what it says. */
const sayValue = (value: Json | undefined): string =>
  isObject(value) && isTree(value) ? `structured text ${quote(toPlain(value), 24)}` : quote(value);

const isText = ({ kind }: Field): boolean => kind.name === 'text' || kind.name === 'longText';

function carryingCounter({ place, from, to, between, after }: Linked, by: Carrying): Counter {
  const convert = converter(from, to, after.context, by);
  const [passed, passes] = [faults(from, between.context), faults(to, after.context)];
  let carried: string | undefined;
  let changed = 0;
  let isChanged = false;
  const isHit = (value: Json | undefined, { status }: SeenEntry): boolean => {
    const converted = value === undefined || isNone(from, value) ? { value: undefined, lost: [] } : convert(value);
    isChanged ||= value !== undefined && !equal(value, converted.value);
    if (converted.lost.length > 0) return true;
    if (converted.value !== undefined && !equal(value, converted.value))
      carried ??= `${sayValue(value)} as ${sayValue(converted.value)}`;
    if (converted.value === undefined) return comesToLack(from, to, { value, status });
    // What was wrong already is nothing that the change does, wherever in the new form it stands.
    return areNew(passed(value, status), passes(converted.value, status), ({ message }) => message);
  };

  const counter = countEntries(
    place.type,
    (entry) => {
      isChanged = false;
      const [hit] = valuesOf(between, place, entry.fields)
        .filter((value) => isHit(value, entry))
        .map((value) => ({ value }));
      if (isChanged) changed += 1;
      if (!hit) return false;
      return hit.value === undefined ? true : { value: hit.value };
    },
    (hits, of, _worst, [first]) =>
      `${share(hits, of)} a value that cannot be carried over or does not fit${first?.value === undefined ? '' : `, for example ${first.entry} (${quote(first.value)})`}`,
  );
  return {
    see: counter.see,
    impact: () => {
      const impact = counter.impact();
      const says = impact.hits === 0 && changed > 0 ? sayCarried(changed, impact.of) : impact.says;
      return compact({ ...impact, says, carried, changed });
    },
  };
}

/** `284 of 400 entries change, and every value can be carried over` */
const sayCarried = (changed: number, of: number): string =>
  `${share(changed, of, ['changes', 'change'])}, and every value can be carried over`;

/** So many texts are looked at to see whether they are lists. */
const mostTexts = 500;

/** Texts that become lists: each one item, or as many as it names. */
function listCounter(linked: Linked): Counter {
  const { place, between, from } = linked;
  const whole = carryingCounter(linked, {});
  const parted = separators.map((separator) => ({ separator, counter: carryingCounter(linked, { separator }) }));
  const texts: string[] = [];
  return {
    see: (entry) => {
      whole.see(entry);
      for (const { counter } of parted) counter.see(entry);
      if (entry.type !== place.type || texts.length >= mostTexts) return;
      for (const value of valuesOf(between, place, entry.fields))
        for (const { item } of singleValues(from, value)) if (typeof item === 'string') texts.push(item);
    },
    impact: () => {
      const separator = separatorIn(texts);
      const chosen = parted.find((one) => one.separator === separator);
      if (!chosen || separator === undefined) return whole.impact();
      const many = texts.filter((text) => text.includes(separator)).length;
      const says = `${many} of ${texts.length} texts are lists with ${saySeparator(separator)} between their items`;
      const asks = `Are these texts lists, with ${saySeparator(separator)} between their items?`;
      return withWay(chosen.counter.impact(), { data: { split: separator }, says, asks });
    },
  };
}

/** Values that become a field inside objects. */
function partCounter(linked: Linked, inside: string): Counter {
  const counter = carryingCounter(linked, { inside });
  const says = `each value is the \`${inside}\` of an object`;
  const asks = `Is each value the \`${inside}\` of an object?`;
  return { see: counter.see, impact: () => withWay(counter.impact(), { data: { inside }, says, asks }) };
}

const withWay = (impact: Impact, way: Way): Impact => ({ ...impact, way });

/**
 * Texts that become references: taken for identifiers, or for what a field of the targets says. Which entries there are
 * is known once all were seen.
 */
function referenceCounter(linked: Linked): Counter {
  const { place, from, to, between } = linked;
  const { types } = to.kind.pointsAt(to.options);
  const targets = types.flatMap(between.context.acceptedAs);
  const naming = isText(from) ? namingFields(between, types) : [];
  const known = new Set<string>();
  const byName = new Map(naming.map((field) => [field.address, new Map<string, number>()] as const));
  const waiting: SeenEntry[] = [];

  /** Counts how the values would fare: each text by the identifiers that there are, or by a field. */
  const counted = (field: Field | undefined): Impact => {
    const names = field && byName.get(field.address);
    const find = (text: string): Converted => {
      if (names) return names.get(text.trim()) === 1 ? { value: text } : { problem: 'nothing has it' };
      const isKnown = known.has(text) || types.some((type) => known.has(`${type}/${text}`));
      return isKnown ? { value: text } : { problem: 'there is no such entry' };
    };
    const counter = carryingCounter(linked, { find });
    for (const entry of waiting) counter.see(entry);
    return counter.impact();
  };

  return {
    see: (entry) => {
      if (targets.includes(entry.type)) {
        known.add(`${entry.type}/${entry.id}`);
        for (const field of naming) countNames(byName.get(field.address), own(entry.fields, field.name));
      }
      if (entry.type === place.type) waiting.push({ ...entry, fields: onlyField(entry, place) });
    },
    impact: () => {
      // What points at entries already is no text that names one.
      if (from.kind.pointsAt(from.options).types.length > 0) return carriedOver(linked, waiting);
      const usual = counted(undefined);
      const [best] = naming
        .map((field) => ({ field, impact: counted(field) }))
        .filter(({ impact }) => impact.hits < usual.hits && impact.hits * 2 <= impact.of)
        .sort((a, b) => a.impact.hits - b.impact.hits);
      if (!best) return usual;
      const { field, impact } = best;
      const says = `the texts are what \`${field.address}\` says`;
      const asks = `Do these texts name entries, by \`${field.address}\`?`;
      return withWay(impact, { data: { by: field.address }, says, asks });
    },
  };
}

function carriedOver(linked: Linked, waiting: readonly SeenEntry[]): Impact {
  const counter = carryingCounter(linked, {});
  for (const entry of waiting) counter.see(entry);
  return counter.impact();
}

/** The values of one field of an entry, so that no more than these is kept. */
const onlyField = ({ fields }: SeenEntry, { field }: FieldPlace): SeenEntry['fields'] => {
  const [outer = ''] = field.split('.');
  const value = own(fields, outer);
  return value === undefined ? {} : { [outer]: value };
};

/** The text fields of some types that can name their entries: those that must differ, and the one that titles them. */
const namingFields = ({ types }: Model, names: readonly string[]): readonly Field[] =>
  names.flatMap((name) => {
    const type = types.get(name);
    const fields = [...(type?.fields.values() ?? [])].filter(
      (field) => field.kind.name === 'text' && !field.common.many,
    );
    return fields.filter((field) => field.common.unique || field.name === type?.definition.titled);
  });

/** Counts how many entries have each text as their name, in any language. */
function countNames(names: Map<string, number> | undefined, value: Json | undefined): void {
  const texts = typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.values(value) : [value];
  for (const text of new Set(texts)) if (names && typeof text === 'string') names.set(text, (names.get(text) ?? 0) + 1);
}
