import { distance } from 'fastest-levenshtein';
import { humanize, list } from '../plain/words.ts';

/* ── how alike two things are ────────────────────────────────────────────────────────────────────────────────── */

export interface Weight {
  readonly sure: number;
  readonly reasons: readonly string[];
}

/** A weighted mean of likenesses from 0 to 1; what speaks clearly for it becomes a reason. */
export function weigh(parts: readonly (readonly [weight: number, likeness: number, reason: string])[]): Weight {
  const sure = parts.reduce((sum, [weight, likeness]) => sum + weight * likeness, 0);
  return {
    sure: Math.min(0.99, sure),
    reasons: parts.filter(([, likeness]) => likeness >= 0.5).map(([, , reason]) => reason),
  };
}

/** Pairs what is gone with what is new, the most alike first; each is used once. */
export function pair(
  from: readonly string[],
  to: readonly string[],
  like: (from: string, to: string) => Weight,
): readonly ({ from: string; to: string } & Weight)[] {
  const candidates = from
    .flatMap((a) => to.map((b) => ({ from: a, to: b, ...like(a, b) })))
    .filter(({ sure }) => sure >= worthSaying)
    .sort((a, b) => b.sure - a.sure);
  const used = new Set<string>();
  return candidates.filter((candidate) => {
    if (used.has(`- ${candidate.from}`) || used.has(`+ ${candidate.to}`)) return false;
    used.add(`- ${candidate.from}`).add(`+ ${candidate.to}`);
    return true;
  });
}

export const gone = (before: object, after: object): readonly string[] =>
  Object.keys(before).filter((name) => !Object.hasOwn(after, name));

/** How much of two lists is the same: Jaccard's index, the shared part of the union. */
export function shared(a: readonly string[], b: readonly string[]): number {
  const union = new Set([...a, ...b]);
  return union.size === 0 ? 1 : a.filter((item) => b.includes(item)).length / union.size;
}

const wordsOf = (name: string): readonly string[] => humanize(name).toLowerCase().split(' ');

const sharedWords = (a: string, b: string): readonly string[] => wordsOf(a).filter((word) => wordsOf(b).includes(word));

/** How alike two names are: by letters (Levenshtein), or by the words that one has of the other. */
export function likeNames(a: string, b: string): number {
  const letters = 1 - distance(a.toLowerCase(), b.toLowerCase()) / Math.max(a.length, b.length, 1);
  const words = sharedWords(a, b).length / Math.min(wordsOf(a).length, wordsOf(b).length);
  return Math.max(letters, 0.85 * words);
}

export function nameReason(a: string, b: string): string {
  const words = sharedWords(a, b);
  return words.length > 0 ? `the names share ${list(words.map((word) => `“${word}”`))}` : 'the names are alike';
}

/** Guesses below this are not worth saying: two things that merely share a kind reach it. */
const worthSaying = 0.55;
