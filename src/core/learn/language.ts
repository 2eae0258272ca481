import { francAll } from 'franc';
import { isObject, type Json } from '../plain/json.ts';

/** A text of fewer words is a name or a code: it tells no language. */
const fewestWords = 5;

/** So much text, in characters, is looked at as one, and so many such parts at most; with less in all nothing is reported. */
const [partLength, mostParts, leastText] = [1500, 12, 80];

/** So large a share of the parts has to be in one language. */
const agreeing = 0.6;

/** The parts of a text without language: markup, addresses, digits. */
const noWords = /<[^>]*>|https?:\S+|[\d#*_|`[\](){}=/\\]+/gu;

/** Scripts that write no blanks between words. */
const withoutBlanks = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}]{8}/u;

/** The language that a text reads as the most, of those that have a code of two letters: `de`, not `nds`. */
function readAs(text: string): string | undefined {
  for (const [three] of francAll(text)) {
    const [code] = Intl.getCanonicalLocales(three);
    if (code?.length === 2) return code;
  }
  return undefined;
}

/** Texts put together to parts that are long enough to tell a language by. */
function partsOf(texts: readonly string[]): readonly string[] {
  const prose = [...new Set(texts)]
    .map((text) => text.replace(noWords, ' ').trim())
    .filter((text) => text.split(/\s+/u).length >= fewestWords || withoutBlanks.test(text));
  const parts: string[] = [];
  let part = '';
  for (const text of prose) {
    if (parts.length === mostParts) return parts;
    part = `${part} ${text}`.slice(-2 * partLength);
    if (part.length < partLength) continue;
    parts.push(part);
    part = '';
  }

  if (part.length >= (parts.length > 0 ? partLength / 2 : leastText)) return [...parts, part];
  return parts;
}

/** The language that most parts of some texts are in, with what speaks for it; English where the texts do not tell. */
export function languageOf(texts: readonly string[]): {
  readonly languages: readonly string[];
  readonly languagesBecause: string;
} {
  const parts = partsOf(texts);
  const votes = new Map<string, number>();
  for (const part of parts) {
    const language = readAs(part);
    if (language !== undefined) votes.set(language, (votes.get(language) ?? 0) + 1);
  }

  const [most] = [...votes].toSorted(([, a], [, b]) => b - a);
  if (!most || most[1] < agreeing * parts.length)
    return { languages: ['en'], languagesBecause: 'The texts do not tell their language: English is assumed.' };

  const [language, agreed] = most;
  const name = new Intl.DisplayNames(['en'], { type: 'language' }).of(language) ?? language;
  const outOf = agreed === parts.length ? '' : `, ${agreed} of ${parts.length} parts of them`;

  return { languages: [language], languagesBecause: `The texts read as ${name}${outOf}.` };
}

/** The texts in a value, however deep they stand. */
export function textsIn(value: Json): readonly string[] {
  if (typeof value === 'string') return [value];
  if (Array.isArray(value)) return value.flatMap(textsIn);
  if (!isObject(value)) return [];
  return Object.values(value).flatMap(textsIn);
}
