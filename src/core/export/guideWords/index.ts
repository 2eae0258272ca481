import { german } from './de.ts';
import { english } from './en.ts';
import { spanish } from './es.ts';
import { french } from './fr.ts';
import { italian } from './it.ts';
import { dutch } from './nl.ts';
import type { GuideWords } from './words.ts';

const languages: ReadonlyMap<string, GuideWords> = new Map([
  ['en', english],
  ['de', german],
  ['fr', french],
  ['es', spanish],
  ['it', italian],
  ['nl', dutch],
]);

/** The words of the first of some languages (BCP 47) that has any; of English where none does. */
export const guideWordsIn = (readingOrder: readonly string[]): GuideWords =>
  readingOrder.map((code) => languages.get(code.split('-')[0] ?? '')).find((words) => words !== undefined) ?? english;
