import { ownValue } from '../plain/json.ts';
import { list } from '../plain/words.ts';

/** The names of kinds elsewhere in the trade, and our names. */
const otherWords: Readonly<Record<string, readonly string[]>> = {
  string: ['text', 'longText'],
  number: ['integer', 'decimal'],
  float: ['decimal'],
  int: ['integer'],
  bool: ['boolean'],
  datetime: ['dateTime'],
  url: ['webAddress'],
  link: ['reference', 'webAddress'],
  relation: ['reference'],
  select: ['choice'],
  enum: ['choice'],
  image: ['asset'],
  file: ['asset'],
  picture: ['asset'],
  tag: ['term'],
  location: ['point'],
  color: ['colour'],
  group: ['object'],
};

/** The kinds that a word of the trade stands for here; none where it is no such word. */
export const kindsCalled = (word: string): readonly string[] => ownValue(otherWords, word.toLowerCase()) ?? [];

/** `That is \`integer\` or \`decimal\` here.` */
export function sayOtherWord(word: string): string | undefined {
  const kinds = kindsCalled(word).map((kind) => `\`${kind}\``);
  if (kinds.length > 0) return `That is ${list(kinds, 'or')} here.`;
  return undefined;
}
