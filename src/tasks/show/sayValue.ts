import { wordsIn } from '../../core/definition/wording.ts';
import type { Field, Model } from '../../core/model/link.ts';
import { isMade } from '../../core/model/traversal.ts';
import { isList, isObject, type Json, ownValue } from '../../core/plain/json.ts';

/** What is known beside a value while it is stated in words. */
export interface ValueContext {
  readonly model: Model;
  /** What entries that it points at are called, by address. */
  readonly titles: ReadonlyMap<string, string>;
  /** That what a term, a choice or an entry is called is enough, without its identifier. */
  readonly isShort?: true;
}

/** A value in words of a language (BCP 47); in each language where it differs by that. */
export function sayValue(field: Field, value: Json, language: string, saying: ValueContext): string {
  if (!field.common.localized || !isObject(value)) return sayInOne(field, value, language, saying);
  return Object.entries(value)
    .map(([code, version]) => `${code}: ${sayInOne(field, version, code, saying)}`)
    .join(' · ');
}

function sayInOne(field: Field, value: Json, language: string, saying: ValueContext): string {
  const items = isList(value) && (field.common.many !== undefined || !field.kind.takesLists) ? value : [value];
  return items.map((item) => sayItem(field, item, language, saying)).join(isMade(field) ? '; ' : ', ');
}

/** A single value: of an object or a map with its keys, `opens 10:00, closes 18:00`. */
function sayItem(field: Field, item: Json, language: string, saying: ValueContext): string {
  const { kind, fields, options } = field;
  if (isMade(field) && isObject(item))
    return Object.entries(item)
      .map(([key, value]) => {
        const inner = kind.maps ? fields.get('value') : fields.get(key);
        const wording = inner ? sayValue(inner, value, language, saying) : asStored(value);
        // What is made of others itself is in brackets, or nobody knows what belongs to what.
        if (inner && isMade(inner)) return `${key} (${wording})`;
        return `${key} ${wording}`;
      })
      .join(', ');

  const named = termIn(field, item, language, saying) ?? entryIn(field, item, saying);
  const text = named ?? kind.say?.(item, language, options) ?? asStored(item);

  if (saying.isShort && typeof item === 'string') return text.replace(` (${item})`, '');
  return text;
}

/** A term by what readers see of it. */
function termIn(
  { kind, options }: Field,
  item: Json,
  language: string,
  { model: { taxonomies, context } }: ValueContext,
) {
  const used = kind.term?.(item, options);
  const taxonomy = used && taxonomies.get(used.taxonomy);
  const term = used && taxonomy?.terms.get(used.term);
  if (!used || !term) return undefined;

  const lender = term.borrowedFrom === undefined ? taxonomy : taxonomies.get(term.borrowedFrom);
  const label = ownValue(lender?.definition.terms ?? {}, used.term)?.label;
  const text = wordsIn(label, [language, ...context.languages]);
  if (text === undefined) return used.term;
  return `${text} (${used.term})`;
}

/** A reference by what its target is called. */
function entryIn({ kind, options }: Field, item: Json, { model, titles }: ValueContext): string | undefined {
  if (typeof item !== 'string' || !kind.links) return undefined;
  const [link] = kind.links(item, options, model.context);
  const title = link && link.isWithin === undefined ? titles.get(`${link.to.type}/${link.to.id}`) : undefined;
  if (title === undefined) return undefined;
  return `${title} (${item})`;
}

const asStored = (item: Json): string => {
  if (typeof item === 'string') return item;
  return JSON.stringify(item);
};
