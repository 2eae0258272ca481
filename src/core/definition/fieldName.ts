import { isFieldWord, nameFrom } from './address.ts';

/** The key under which the values of a field are in their holders. */
export const keyOfField = (name: string): string => name.slice(name.lastIndexOf('.') + 1);

/** The name of a field beside another one: `hours.closes` beside `hours.opens`. */
export const beside = (name: string, key: string): string => name.slice(0, name.lastIndexOf('.') + 1) + key;

/** What a field is called in expressions: as it is, with `_` for what cannot be in a name there. */
export const celName = (name: string): string => name.replace(/[^\w.]/gu, '_');

/** What a field can be called that the content calls otherwise: `sizeCm` of `Size (cm)`. */
export const fieldNameFrom = (key: string): string =>
  nameFrom(key)
    .replace(/^(?=\d)/u, 'field')
    .slice(0, longest) || 'field';

/** So long is such a name at most, so that a number may stand behind it, in characters. */
const longest = 58;

/** The keys that fields can be called by, side by side: of those that are called alike in expressions, the first. */
export function fitKeys(keys: readonly string[]): ReadonlySet<string> {
  const words = new Set<string>();
  return new Set(
    keys.filter((key) => {
      if (!isFieldWord(key) || words.has(celName(key))) return false;
      words.add(celName(key));
      return true;
    }),
  );
}

/** The value of a field of an entry in an expression; in brackets where its name is a word of the language itself. */
export function celOfField(name: string): string {
  const word = celName(name);
  const isPlain = /^[A-Za-z_]\w*$/u.test(word) && !['in', 'null', 'true', 'false'].includes(word);
  if (isPlain) return `entry.${word}`;
  return `entry[${JSON.stringify(word)}]`;
}
