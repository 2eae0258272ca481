import { entryWords } from './entryWords.ts';
import { linkWords } from './linkWords.ts';
import { numberWords } from './numberWords.ts';
import { textWords } from './textWords.ts';

/**
 * The words of every finding in English, made from its data alone. One that is reported in several ways has its name, a
 * colon and which way that is.
 */
export const english = { ...entryWords, ...textWords, ...numberWords, ...linkWords };
