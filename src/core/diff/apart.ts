/**
 * Whether somebody said that a guess is wrong: of its subject altogether, or of this one guess alone.
 * @param apart the refused guess: `tour.town`, or `tour.town=city`.
 * @param address what the guess is about.
 * @param guess the guess: a new name, the address of a new place, another type.
 */
export const isApart = (apart: ReadonlySet<string>, address: string, guess: string): boolean =>
  apart.has(address) || apart.has(`${address}=${guess}`);
