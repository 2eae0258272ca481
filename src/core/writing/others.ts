import { isObject, type Json, type JsonObject } from '../plain/json.ts';
import { writingStyles } from './index.ts';
import { readPlainNumber } from './numbers.ts';
import { choiceOf } from './readings.ts';
import { readerOf } from './style.ts';

const isShortYear = (name: string): boolean => name.endsWith('-short-year');

/**
 * The other ways in which texts could be intended that a migration reads by some styles: each with one style changed for
 * another answer to the same choice.
 * @param written the styles, by name.
 * @param field the field as the texts become it.
 */
export function otherWriting(written: Json | undefined, field: Json | undefined): readonly (readonly string[])[] {
  const names = (Array.isArray(written) ? written : []).map(String);
  const options: JsonObject = isObject(field) ? field : {};
  const target = { kind: String(options.kind), options, languages: ['en'] };
  const readable = writingStyles.filter((style) => readerOf(style, target, readPlainNumber) !== undefined);
  const chosen = new Set(names.flatMap((name) => choiceOf(name) ?? []));
  // Which mark numbers have is hardly in doubt where something else is.
  if (chosen.size > 1) chosen.delete('decimal-mark');
  const swaps = names.flatMap((name) => {
    const choice = choiceOf(name);
    if (choice === undefined || !chosen.has(choice)) return [];
    const rivals = readable.filter((style) => style.choice === choice && isShortYear(style.name) === isShortYear(name));
    const rivalNames = rivals.map((style) => style.name).filter((other) => !names.includes(other));
    return rivalNames.map((other) => [name, other] as const);
  });
  const isOneSwap =
    new Set(swaps.map(([name]) => choiceOf(name))).size === 1 &&
    swaps.length === new Set(swaps.map(([name]) => name)).size;
  // Days with whole and with short years change their order together.
  if (isOneSwap && swaps.length > 1)
    return [swaps.reduce((result, [name, other]) => result.map((style) => (style === name ? other : style)), names)];
  return swaps.map(([name, other]) => names.map((style) => (style === name ? other : style)));
}
