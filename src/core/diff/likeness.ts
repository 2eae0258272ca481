import { distance } from 'fastest-levenshtein';
import { humanize, list } from '../plain/words.ts';
import { bestAssignment } from './assign.ts';

/* ── how alike two things are ────────────────────────────────────────────────────────────────────────────────── */

/** How sure a guess is, from 0 to 1, with its reasons. */
export interface Weight {
  readonly sure: number;
  /** What speaks for it, in words; worked out for the few that are stated. */
  readonly reasons: () => readonly string[];
}

/** That nothing speaks for it. */
export const unlike: Weight = { sure: 0, reasons: () => [] };

/** A weighted mean of likenesses from 0 to 1; what speaks clearly for it becomes a reason. */
export function weigh(parts: readonly (readonly [weight: number, likeness: number, reason: () => string])[]): Weight {
  const certainty = parts.reduce((sum, [weight, likeness]) => sum + weight * likeness, 0);
  return {
    sure: Math.min(0.99, certainty),
    reasons: () => parts.filter(([, likeness]) => likeness >= 0.5).map(([, , reason]) => reason()),
  };
}

/** Two names that are treated as one, how sure that is, and why. */
interface Pair {
  readonly from: string;
  readonly to: string;
  readonly sure: number;
  readonly reasons: readonly string[];
}

/** Pairs removed with new parts, so that all pairs together are the most alike; each is used once. */
export function pair(
  from: readonly string[],
  to: readonly string[],
  like: (from: string, to: string) => Weight,
): readonly Pair[] {
  const weightsByPair = from.map((a) => to.map((b) => like(a, b)));
  const isSaid = ({ sure: certainty }: Weight): boolean => certainty >= worthSaying;
  // Where a pair is hardly worth saying, two such pairs are no better than one that is sure: squares keep them apart.
  const weights = weightsByPair.map((row) => row.map((weight) => (isSaid(weight) ? weight.sure ** 2 : 0)));
  const columnOf = bestAssignment(weights);
  const isLeft = {
    row: from.map((_, row) => columnOf[row] === -1),
    column: to.map((_, column) => !columnOf.includes(column)),
  };

  return columnOf
    .flatMap((column, row) => {
      const [a, b, pairWeight] = [from[row], to[column], weightsByPair[row]?.[column]];
      if (a === undefined || b === undefined || !pairWeight) return [];

      const rivals = [
        ...from.map((name, other) => ({ name, weight: weightsByPair[other]?.[column], isLeft: isLeft.row[other] })),
        ...to.map((name, other) => ({ name, weight: weightsByPair[row]?.[other], isLeft: isLeft.column[other] })),
      ].flatMap(({ name, weight, isLeft: isFree }) =>
        weight && isFree && isSaid(weight) ? [{ name, sure: weight.sure }] : [],
      );

      return [{ from: a, to: b, ...besideRivals(pairWeight, rivals) }];
    })
    .sort((a, b) => b.sure - a.sure);
}

/** So much surer than its runner-up a pair has to be, not to be less sure because of it. */
const clearMargin = 0.3;

/** How sure a pair is beside the other candidates that no other pair takes. */
function besideRivals(
  weight: Weight,
  rivals: readonly { readonly name: string; readonly sure: number }[],
): Pick<Pair, 'sure' | 'reasons'> {
  const [next] = rivals.toSorted((a, b) => b.sure - a.sure);
  if (!next) return { sure: weight.sure, reasons: weight.reasons() };
  const margin = Math.min(1, Math.max(0, weight.sure - next.sure) / clearMargin);
  const message = `\`${next.name}\` would fit as well, ${Math.round(next.sure * 100)} % sure for itself`;
  return { sure: weight.sure * (0.6 + 0.4 * margin), reasons: [...weight.reasons(), message] };
}

/** The keys of the first object that the second lacks. */
export const removedKeys = (before: object, after: object): readonly string[] =>
  Object.keys(before).filter((name) => !Object.hasOwn(after, name));

/** How much of two lists is the same: Jaccard's index, the shared part of the union. */
export function shared(a: readonly string[], b: readonly string[]): number {
  if (a === b || (a.length === b.length && a.every((item, index) => item === b[index]))) return 1;
  const union = new Set([...a, ...b]);
  if (union.size === 0) return 1;
  return a.filter((item) => b.includes(item)).length / union.size;
}

/** A name as it is compared. */
interface ComparableName {
  readonly small: string;
  readonly words: readonly string[];
}

const compared = new Map<string, ComparableName>();

/** Each name is compared with many others, and so taken apart once. */
function comparedAs(name: string): ComparableName {
  const existing = compared.get(name);
  if (existing) return existing;
  if (compared.size > 20_000) compared.clear();
  const words = { small: name.toLowerCase(), words: humanize(name).toLowerCase().split(' ') };
  compared.set(name, words);
  return words;
}

const sharedWords = (a: ComparableName, b: ComparableName): readonly string[] =>
  a.words.filter((word) => b.words.includes(word));

/** Whether two names are one but for how it is written: `openingHours`, `opening-hours`, `OpeningHours`. */
export const isSameName = (a: string, b: string): boolean =>
  comparedAs(a).words.join('') === comparedAs(b).words.join('');

/** How alike two names are: by letters (Levenshtein), or by the words that one has of the other. */
export function likeNames(a: string, b: string): number {
  const [first, other] = [comparedAs(a), comparedAs(b)];
  const letters = 1 - distance(first.small, other.small) / Math.max(a.length, b.length, 1);
  const common = sharedWords(first, other).length / Math.min(first.words.length, other.words.length);
  return Math.max(letters, 0.85 * common);
}

/** The reason why two names count as alike, in words. */
export function nameReason(a: string, b: string): string {
  const common = sharedWords(comparedAs(a), comparedAs(b));
  if (common.length > 0) return `the names share ${list(common.map((word) => `“${word}”`))}`;
  return 'the names are alike';
}

/** Guesses below this are not worth saying: two things that merely share a kind reach it. */
const worthSaying = 0.55;
