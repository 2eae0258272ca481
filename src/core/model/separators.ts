import { isList, type Json } from '../plain/json.ts';
import { list } from '../plain/words.ts';

/** The separators of a list written as one text: one separator, or another one before the last item. */
export type Separator = string | readonly string[];

/** The separators that lists in texts have, the surest first. */
const separators = ['\n', ' | ', '; ', ', ', '|', ';', ',', ' / '] as const;

/** The separators that a language has in a sentence, with its word for `and`: `a, b and c`. */
const sentenceSeparators = (language: string): readonly Separator[] =>
  [language, 'en'].map((locale) => {
    const parts = new Intl.ListFormat(locale, { type: 'conjunction' }).formatToParts(['a', 'b']);
    return [', ', parts[1]?.value ?? ' & ', ' & '];
  });

/** Every separator that lists in texts of some languages may have, the surest first. */
export const separatorsIn = (languages: readonly string[]): readonly Separator[] => [
  ...separators,
  ...sentenceSeparators(languages[0] ?? 'en').filter(
    (separator, index, separators) => String(separator) !== String(separators[index - 1]),
  ),
];

const partsOf = (separator: Separator): readonly string[] => {
  if (typeof separator !== 'string') return separator;
  return [separator];
};

/** A separator as a person sees it. */
export const saySeparator = (separator: Separator): string =>
  list(
    partsOf(separator).map((part) => (part === '\n' ? 'line breaks' : `“${part}”`)),
    'or',
  );

/** Whether a text has a separator in it. */
export const hasSeparator = (text: string, separator: Separator): boolean =>
  partsOf(separator).some((part) => text.includes(part));

/** The items of a text with a separator between them, each without blanks around it; empty ones are no items. */
const itemsOfText = (text: string, separator: Separator): readonly string[] =>
  partsOf(separator)
    .reduce<readonly string[]>((items, part) => items.flatMap((item) => item.split(part)), [text])
    .map((item) => item.trim())
    .filter((item) => item !== '');

/** The items of a value in one language, in which a text stands for those that it names. */
export const splitItems = (value: Json, separator: Separator | undefined): readonly Json[] =>
  (isList(value) ? value : [value]).flatMap((item): readonly Json[] =>
    separator !== undefined && typeof item === 'string' ? itemsOfText(item, separator) : [item],
  );

/** So long an item of a list may be: longer ones are sentences with commas in them. */
const longestItem = 60;

/**
 * The separator by which some texts are lists: half of them and more have it, and no item is long.
 * `undefined` where they are not.
 */
export function separatorIn(texts: readonly string[]): string | undefined {
  return separators.find((separator) => {
    const having = texts.filter((text) => text.includes(separator));
    if (having.length < 2 || having.length * 2 < texts.length) return false;
    return having.every((text) => itemsOfText(text, separator).every((item) => [...item].length <= longestItem));
  });
}

/** The separators of a text that becomes several fields, the surest first. */
const partSeparators = ['\n', ' | ', '; ', ', ', ' / ', ' - ', ' – ', ' x ', ' × ', '|', ';', ',', '/', ' '] as const;

/** So many parts of a text, each without blanks around it; the last has all that is left. */
export function partsOfText(text: string, separator: string, most: number): readonly string[] {
  const pieces = text.split(separator);
  const parts = pieces.length > most ? [...pieces.slice(0, most - 1), pieces.slice(most - 1).join(separator)] : pieces;
  return parts.map((part) => part.trim());
}

/** The separator by which most of some texts have exactly so many parts, and how many have. */
export function partsIn(
  texts: readonly string[],
  parts: number,
): { readonly separator: string; readonly fitting: number } | undefined {
  const counted = partSeparators.map((separator) => ({
    separator,
    fitting: texts.filter((text) => text.split(separator).length === parts).length,
  }));
  const [best] = counted.toSorted((a, b) => b.fitting - a.fitting);
  if (best && best.fitting > 0) return best;
  return undefined;
}
