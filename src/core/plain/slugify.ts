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
      if (letter === letter.toLowerCase()) return plain;
      return capital(plain);
    });

const [german, nordic] = [
  { ä: 'ae', ö: 'oe', ü: 'ue' },
  { å: 'aa', æ: 'ae', ø: 'oe' },
];

/** How some languages write letters of theirs where only those of ASCII may stand. */
const lettersIn: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  de: german,
  da: nordic,
  nb: nordic,
  nn: nordic,
  no: nordic,
};

/** Every form that a text can have as a slug: without a language, and as each writes it that has letters to itself. */
export const slugsOf = (text: string): readonly string[] => [
  ...new Set(['', 'de', 'da'].map((language) => slugify(text, language))),
];

/** The call by which an expression makes a slug of a text in a language. */
export const slugCall = (language: string): string => {
  if (!Object.hasOwn(lettersIn, baseOf(language))) return 'slug()';
  return `slug('${language}')`;
};

const baseOf = (language: string): string => language.replace(/-.*$/u, '');

/**
 * Small letters, digits and single hyphens: the form of identifiers and slugs. Accents are dropped, `ß` is `ss`.
 * @param language the one of the text: in German `ü` is `ue`, in Danish and Norwegian `ø` is `oe`.
 */
export function slugify(text: string, language = ''): string {
  const ownLetters = lettersIn[baseOf(language)] ?? {};
  const small = text.normalize('NFC').toLowerCase();
  return withPlainLetters(small.replace(/[åäæöøü]/gu, (letter) => ownLetters[letter] ?? letter))
    .toLowerCase()
    .replace(/[^a-z0-9]+/gu, '-')
    .replace(/^-+|-+$/gu, '');
}

/** A slug, with a number behind it where another has it. */
export function freeSlug(slug: string, isTaken: (slug: string) => boolean): string {
  let free = slug;
  for (let number = 2; isTaken(free); number += 1) free = `${slug}-${number}`;
  return free;
}
