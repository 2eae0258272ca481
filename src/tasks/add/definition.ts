import { isName, nameFrom, nameRule } from '../../core/definition/address.ts';
import type { JsonObject } from '../../core/plain/json.ts';
import { humanize, pluralize } from '../../core/plain/words.ts';

/** What is to be added to the model. */
export type DefinitionCall =
  | { readonly what: 'type' | 'kit' | 'taxonomy'; readonly name: string; readonly says: JsonObject }
  | {
      readonly what: 'field';
      /** A type, a kit, or an object in one: `lighthouse`, `lighthouse.hours`. */
      readonly to: string;
      readonly name: string;
      readonly says: JsonObject;
      /** Whether it names the entries of the type. */
      readonly titles: boolean;
    }
  | {
      readonly what: 'term';
      readonly to: string;
      readonly name: string;
      readonly under: string | undefined;
      readonly says: JsonObject;
    };

/** Why no name can be made from some words. */
export const unfitWords = (words: string): string | undefined => {
  if (isName(nameFrom(words))) return undefined;
  return `no name can be made from that: ${nameRule}`;
};

/** The label, where it has to be written: only if the identifier said in words is another. */
export const labelled = (words: string, name: string): { readonly label?: string } => {
  if (words === name || words === humanize(name)) return {};
  return { label: words };
};

/** The two labels of a type, where one of them has to be written. */
export function labelsOf(words: string, name: string, many: string | undefined): JsonObject | undefined {
  const singular = words === name ? humanize(name) : words;
  const usual = pluralize(humanize(name));
  if (labelled(singular, name).label === undefined && (many === undefined || many === usual)) return undefined;
  return { one: singular, many: many ?? pluralize(singular) };
}
