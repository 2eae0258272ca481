import type { FieldDoc } from '../definition/field.ts';
import type { Converted } from '../kinds/define.ts';
import { type Carrying, comesToLack, converter } from '../model/convertValue.ts';
import { isNone } from '../model/emptiness.ts';
import { type Field, linkField, type Model } from '../model/link.ts';
import { keyOfMap, partOfObject } from '../model/partOfObject.ts';
import { hasSeparator, type Separator, saySeparator, separatorIn, separatorsIn } from '../model/separators.ts';
import { singleValues } from '../model/traversal.ts';
import { textWeighing } from '../model/writtenTexts.ts';
import { compact, equal, isObject, type Json, own } from '../plain/json.ts';
import { count, quote } from '../plain/words.ts';
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
  const inside = partOfObject(was, is) ?? keyOfMap(was, is, after.context.languages[0] ?? 'en');
  if (inside !== undefined) return partCounter(linked, inside);
  return isText(from) && !from.common.many && to.common.many ? listCounter(linked) : readingCounter(linked, {});
}

/** Counts values as they are carried over by how their texts are written, and suggests to read them so. */
function readingCounter(linked: Linked, by: Carrying): Counter {
  const { from, to, after } = linked;
  const weighing = textWeighing(from, to, after.context);
  if (!weighing) return carryingCounter(linked, by);
  const counter = carryingCounter(linked, { ...by, read: weighing.read });
  return {
    see: counter.see,
    impact: () => {
      const impact = counter.impact();
      const { weighed } = weighing;
      if (!weighed) return impact;
      const [text, value] = weighed.example;
      const carried = `${sayValue(text)} as ${sayValue(value)}`;
      return {
        ...withWay(
          impact,
          compact({ data: { written: [...weighed.written] }, says: weighed.says, asks: weighed.asks }),
        ),
        carried,
      };
    },
  };
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

/**
 * Texts that become lists: each one item, or as many as it names. They are split where that carries more values than not
 * splitting them, or where half of them look like lists.
 */
function listCounter(linked: Linked): Counter {
  const { place, between, from, after } = linked;
  const whole = readingCounter(linked, {});
  const split = separatorsIn(after.context.languages).map((separator) => ({
    separator,
    counter: readingCounter(linked, { separator }),
  }));
  const texts: string[] = [];
  return {
    see: (entry) => {
      whole.see(entry);
      for (const { counter } of split) counter.see(entry);
      if (entry.type !== place.type || texts.length >= mostTexts) return;
      for (const value of valuesOf(between, place, entry.fields))
        for (const { item } of singleValues(from, value)) if (typeof item === 'string') texts.push(item);
    },
    impact: () => {
      const unsplit = whole.impact();
      const impacts = split.map(({ separator, counter }) => ({ separator, impact: counter.impact() }));
      const usual = separatorIn(texts);
      const found = impacts.find(({ separator }) => separator === usual);
      const chosen = fewestHits(found ? [found, ...impacts] : impacts, unsplit.hits) ?? found;
      return chosen ? withSplit(chosen.impact, chosen.separator, texts) : unsplit;
    },
  };
}

interface SplitImpact {
  readonly separator: Separator;
  readonly impact: Impact;
}

/** The first of those that hit the fewest entries; `undefined` where none hits fewer than some number. */
function fewestHits(impacts: readonly SplitImpact[], than: number): SplitImpact | undefined {
  const [best] = impacts.toSorted((a, b) => a.impact.hits - b.impact.hits);
  return best && best.impact.hits < than ? best : undefined;
}

/** The impact of carrying texts over as lists, with the question whether they are. */
function withSplit(impact: Impact, separator: Separator, texts: readonly string[]): Impact {
  const { way } = impact;
  const many = texts.filter((text) => hasSeparator(text, separator)).length;
  const between = `${saySeparator(separator)} between their items`;
  const says = `${many} of ${count(texts.length, 'text')} ${many === 1 ? 'is a list' : 'are lists'} with ${between}`;
  return withWay(impact, {
    data: { split: typeof separator === 'string' ? separator : [...separator], ...way?.data },
    says: [says, way?.says].filter(Boolean).join('. '),
    asks: [`Are texts with ${saySeparator(separator)} lists?`, way?.asks].filter(Boolean).join(' '),
  });
}

/** Values that become a field inside objects. */
function partCounter(linked: Linked, inside: string): Counter {
  const counter = carryingCounter(linked, { inside });
  const what = linked.to.kind.maps ? `stands under \`${inside}\` in a map` : `is the \`${inside}\` of an object`;
  const says = `each value ${what}`;
  const asks = linked.to.kind.maps
    ? `Does each value stand under \`${inside}\` in the map?`
    : `Is each value the \`${inside}\` of an object?`;
  return { see: counter.see, impact: () => withWay(counter.impact(), { data: { inside }, says, asks }) };
}

const withWay = (impact: Impact, way: Way): Impact => ({ ...impact, way });

/**
 * Texts that become references: taken for identifiers, or for what a field of the targets says. Which entries there are
 * is known once all were seen.
 */
function referenceCounter(linked: Linked): Counter {
  const { place, from, to, between, after } = linked;
  const { types } = to.kind.pointsAt(to.options);
  const targets = types.flatMap(between.context.acceptedAs);
  const naming = isText(from) ? namingFields(between, types) : [];
  const known = new Set<string>();
  const byName = new Map(naming.map((field) => [field.address, new Map<string, number>()] as const));
  const waiting: SeenEntry[] = [];

  /** Counts how the values would fare: each text by the identifiers that there are, or by a field. */
  const counted = (field: Field | undefined, separator?: Separator): Impact => {
    const names = field && byName.get(field.address);
    const find = (text: string): Converted => {
      if (names) return names.get(text.trim()) === 1 ? { value: text } : { problem: 'nothing has it' };
      const isKnown = known.has(text) || types.some((type) => known.has(`${type}/${text}`));
      return isKnown ? { value: text } : { problem: 'there is no such entry' };
    };
    const counter = carryingCounter(linked, { find, separator });
    for (const entry of waiting) counter.see(entry);
    return counter.impact();
  };
  const splits = isText(from) && !from.common.many && to.common.many ? separatorsIn(after.context.languages) : [];
  /** The separator by which a field names the most entries in lists; `undefined` where not splitting does as well. */
  const splitBy = (field: Field | undefined, unsplit: Impact): SplitImpact | undefined => {
    const impacts = splits.map((separator) => ({ separator, impact: counted(field, separator) }));
    return fewestHits(impacts, unsplit.hits);
  };
  const namesBy = (field: Field | undefined): NamedBy => {
    const unsplit = counted(field);
    return { field, impact: unsplit, ...splitBy(field, unsplit) };
  };
  const textsOf = (entries: readonly SeenEntry[]): readonly string[] =>
    entries.flatMap(({ fields }) =>
      valuesOf(between, place, fields).flatMap((value) =>
        singleValues(from, value).flatMap(({ item }) => (typeof item === 'string' ? [item] : [])),
      ),
    );

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
      const byIds = namesBy(undefined);
      const [best] = naming
        .map(namesBy)
        .filter(({ impact }) => impact.hits < byIds.impact.hits && impact.hits * 2 <= impact.of)
        .toSorted((a, b) => a.impact.hits - b.impact.hits);
      const { field, impact, separator } = best ?? byIds;
      const named = field === undefined ? impact : withNames(impact, field);
      return separator === undefined ? named : withSplit(named, separator, textsOf(waiting));
    },
  };
}

/** The impact of taking texts for what a field of the targets says. */
const withNames = (impact: Impact, { address }: Field): Impact =>
  withWay(impact, {
    data: { by: address },
    says: `the texts are what \`${address}\` says`,
    asks: `Do these texts name entries, by \`${address}\`?`,
  });

/** How texts would fare that are taken for the names of entries: by a field, or by their identifiers; in lists or not. */
interface NamedBy {
  readonly field: Field | undefined;
  readonly impact: Impact;
  readonly separator?: Separator;
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
