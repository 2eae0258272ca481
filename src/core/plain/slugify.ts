import { capital } from './words.ts';

/** Letters that Unicode does not take apart, in the letters that they are usually written with where there are no others. */
const plainLetters: Readonly<Record<string, string>> = {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  ł: 'l',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ħ: 'h',
  ı: 'i',
  ŋ: 'ng',
};

/** A text with the letters of ASCII where those are usually written instead: accents are dropped, `ß` is `ss`, `Ø` is `O`. */
export const withPlainLetters = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .replace(/[ßæœøłđðþħıŋ]/giu, (letter) => {
      const plain = plainLetters[letter.toLowerCase()] ?? letter;
      return letter === letter.toLowerCase() ? plain : capital(plain);
    });

/** Small letters, digits and single hyphens: the form of identifiers and slugs. Accents are dropped, `ß` is `ss`. */
export const slugify = (text: string): string =>
  withPlainLetters(text)
    .toLowerCase()
    .replace(/[^a-z0-9]+/gu, '-')
    .replace(/^-+|-+$/gu, '');

/** A slug, with a number behind it where another has it. */
export function freeSlug(slug: string, isTaken: (slug: string) => boolean): string {
  let free = slug;
  for (let number = 2; isTaken(free); number += 1) free = `${slug}-${number}`;
  return free;
}
