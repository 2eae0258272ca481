import { isList, type Json } from '../plain/json.ts';

/** What stands between the items of a list that is written as one text, the surest first. */
export const separators = ['\n', ' | ', '; ', ', ', '|', ';', ',', ' / '] as const;

/** A separator as a person sees it. */
export const saySeparator = (separator: string): string => (separator === '\n' ? 'line breaks' : `“${separator}”`);

/** The items of a text with a separator between them, each without blanks around it; what is empty is no item. */
const itemsOfText = (text: string, separator: string): readonly string[] =>
  text
    .split(separator)
    .map((item) => item.trim())
    .filter((item) => item !== '');

/** The items of a value in one language, in which a text stands for those that it names. */
export const splitItems = (value: Json, separator: string | undefined): readonly Json[] =>
  (isList(value) ? value : [value]).flatMap((item): readonly Json[] =>
    separator !== undefined && typeof item === 'string' ? itemsOfText(item, separator) : [item],
  );

/** So long an item of a list may be: longer ones are sentences with commas in them. */
const longestItem = 60;

/**
 * The separator by which some texts are lists: half of them and more have it, and none of what stands between is long.
 * `undefined` where they are not.
 */
export function separatorIn(texts: readonly string[]): string | undefined {
  return separators.find((separator) => {
    const having = texts.filter((text) => text.includes(separator));
    if (having.length < 2 || having.length * 2 < texts.length) return false;
    return having.every((text) => itemsOfText(text, separator).every((item) => [...item].length <= longestItem));
  });
}

/** What stands between the parts of a text that becomes several fields, the surest first. */
const partSeparators = ['\n', ' | ', '; ', ', ', ' / ', ' - ', ' – ', ' x ', ' × ', '|', ';', ',', '/', ' '] as const;

/** The separator by which most of some texts have exactly so many parts, and how many have. */
export function partsIn(
  texts: readonly string[],
  parts: number,
): { readonly at: string; readonly fits: number } | undefined {
  const counted = partSeparators.map((at) => ({
    at,
    fits: texts.filter((text) => text.split(at).length === parts).length,
  }));
  const [best] = counted.toSorted((a, b) => b.fits - a.fits);
  return best && best.fits > 0 ? best : undefined;
}
