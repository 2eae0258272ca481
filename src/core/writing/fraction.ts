import type { WritingStyle } from './style.ts';

const shape = /^([+-]?)(?:(\d{1,9})[ -]?)??(?:(\d{1,6})[⁄/](\d{1,6}))$/u;

/** One number before the sign of a fraction, as in 1½: the whole is set apart, so that it does not run into the fraction. */
const apart = (text: string): string => text.replace(/(\d)(?=\p{No})/u, '$1 ').normalize('NFKC');

/** Fractions: `1/2`, `1 1/2`, `2½`. */
export const fraction: WritingStyle = {
  name: 'fraction',
  about: 'fractions (1/2, 1 1/2, 2½)',
  says: 'as fractions',
  kinds: ['decimal'],
  reader: () => (text) => {
    const [, sign, integer = '0', above, below] = shape.exec(apart(text)) ?? [];
    if (above === undefined || Number(below) === 0) return undefined;
    const number = Number(integer) + Number(above) / Number(below);
    if (sign !== '-') return number;
    return -number;
  },
};
