import { Trouble } from '../workspace/trouble.ts';

/** A word of a call in each normal form of its letters (Unicode Standard Annex 15), as it was typed first. */
export const formsOf = (word: string): readonly string[] => [
  ...new Set([word, word.normalize('NFC'), word.normalize('NFD')]),
];

/** Troubles that say that nothing is named by a word. */
const namesNothing: readonly string[] = ['not-found', 'nothing-named', 'malformed-address'];

/**
 * Does something with what a word of a call names: keyboards, shells and file systems write one letter in several ways. Where
 * nothing is named by the word as it was typed, the same letters in another normal form count.
 * @throws {Trouble} what is wrong with the word as it was typed, where no form names anything.
 */
export async function inAnyForm<W extends string | undefined, T>(
  word: W,
  work: (word: W) => Promise<T> | T,
): Promise<T> {
  try {
    return await work(word);
  } catch (error) {
    if (word === undefined || !(error instanceof Trouble) || !namesNothing.includes(error.code)) throw error;

    for (const form of formsOf(word).slice(1))
      try {
        return await work(form as W);
      } catch (other) {
        if (!(other instanceof Trouble)) throw other;
      }

    throw error;
  }
}
