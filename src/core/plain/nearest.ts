import { compareText } from './compareText.ts';
import { onceFor } from './once.ts';

/** What may have been intended: some words, or the keys of a map. They do not change any more, and are prepared once. */
type Candidates = (Iterable<string> & object) | ReadonlyMap<string, unknown>;

/**
 * The candidate that a person most likely meant, or `undefined` where none is near enough: one letter of a short word
 * may differ, a third of a longer one, never more than three. Of several as near, the first.
 */
export function nearest(typed: string, candidates: Candidates): string | undefined {
  return finderFor(candidates)(typed);
}

const isMap = (candidates: Candidates): candidates is ReadonlyMap<string, unknown> => 'get' in candidates;

const finderFor = onceFor((candidates: Candidates) => finder(isMap(candidates) ? candidates.keys() : candidates));

/**
 * Whether a word is beyond doubt a slip of the pen for one of some candidates: the same but for capitals, hyphens and
 * blanks, or one letter of at least four away from it, and no other candidate is as near. A digit is never a slip: names
 * that are numbered are all one digit away from each other.
 */
export function isSlip(typed: string, near: string, candidates: Candidates): boolean {
  if (plainly(typed) === plainly(near)) return true;
  if (near.length < 4 || typed.replace(/\d/gu, '') === near.replace(/\d/gu, '')) return false;
  const knownCandidates = preparedFor(candidates);
  const lowerCase = typed.toLowerCase();
  const rivals = knownCandidates.filter(({ name }) => name !== near);
  return within(1, lowerCase, [...prepared([near])]) !== undefined && within(1, lowerCase, rivals) === undefined;
}

const plainly = (text: string): string => text.toLowerCase().replace(/[-_ ]/gu, '');

/** `Did you mean …?`, or nothing. */
export function didYouMean(typed: string, candidates: Candidates): string | undefined {
  const name = nearest(typed, candidates);
  if (name === undefined) return undefined;
  // They look the same: which is which has to be stated.
  if (name !== typed && name.normalize() === typed.normalize())
    return `\`${name}\` is there with the same letters in another normal form of Unicode${name === name.normalize() ? ' (NFC)' : ''}: write it like that.`;
  return `Did you mean \`${name}\`?`;
}

type Find = (typed: string) => string | undefined;

interface Candidate {
  readonly name: string;
  readonly letters: string;
  /** Its place among the candidates as they were given. */
  readonly place: number;
}

/** Candidates in the order of their letters. */
const prepared = (names: Iterable<string>): readonly Candidate[] =>
  [...names]
    .map((name, place): Candidate => ({ name, letters: name.toLowerCase(), place }))
    .sort((a, b) => compareText(a.letters, b.letters) || a.place - b.place);

const preparedFor = onceFor((candidates: Candidates) => prepared(isMap(candidates) ? candidates.keys() : candidates));

/**
 * Prepares candidates for many searches. They are put in alphabetical order, and all that begin with letters that
 * are already too far from the typed word are stepped over at once: time grows with near candidates, not with all there is.
 */
function finder(names: Iterable<string>): Find {
  const candidates = prepared(names);
  const series = seriesIn(candidates);
  const longest = candidates.reduce((most, { letters }) => Math.max(most, letters.length), 0);

  return remembering((typed) => {
    const limit = typed.length < 5 ? 1 : Math.min(3, Math.ceil(typed.length / 3));
    if (typed.length > longest + limit) return undefined;

    const lowerCase = typed.toLowerCase();
    // All of a long series are a digit or two away from each other: none of them is likelier than the next.
    if (series.has(withoutDigits(lowerCase))) return undefined;

    for (let far = 0; far <= limit; far += 1) {
      const candidate = within(far, lowerCase, candidates);
      if (candidate) return candidate.name;
    }

    return undefined;
  });
}

/** So many names that differ in their digits alone are a series. */
const manyAlike = 100;

const withoutDigits = (text: string): string => text.replace(/\d+/gu, '0');

/** The names of long series, without their digits. */
function seriesIn(candidates: readonly Candidate[]): ReadonlySet<string> {
  if (candidates.length < manyAlike) return new Set();

  const counts = new Map<string, number>();
  for (const { letters } of candidates) {
    const name = withoutDigits(letters);
    counts.set(name, (counts.get(name) ?? 0) + 1);
  }

  return new Set([...counts].flatMap(([name, number]) => (number >= manyAlike ? [name] : [])));
}

/** The number of cached answers: a misspelt word often recurs in many entries. */
const mostRemembered = 1000;

function remembering(find: Find): Find {
  const answers = new Map<string, string | undefined>();
  return (typed) => {
    if (answers.has(typed)) return answers.get(typed);
    const match = find(typed);
    if (answers.size >= mostRemembered) answers.clear();
    answers.set(typed, match);
    return match;
  };
}

/**
 * The first given of the candidates that are at most so far from a word: by single letters put in, left out or changed,
 * or two neighbours in the wrong order (optimal string alignment). Candidates that begin alike share the rows of the
 * table that their common start gives.
 */
function within(limit: number, word: string, candidates: readonly Candidate[]): Candidate | undefined {
  const rows: (readonly number[])[] = [Array.from({ length: word.length + 1 }, (_, index) => index)];
  let best: Candidate | undefined;
  let before = '';
  let index = 0;

  for (let candidate = candidates[index]; candidate; candidate = candidates[index]) {
    const { letters } = candidate;
    rows.length = sharedStart(before, letters) + 1;
    while (rows.length <= letters.length && Math.min(...lastOf(rows)) <= limit) rows.push(nextRow(rows, letters, word));
    const isFinished = rows.length > letters.length;
    if (isFinished && (lastOf(rows)[word.length] ?? 0) <= limit && !(best && best.place < candidate.place))
      best = candidate;
    before = letters;
    index = isFinished ? index + 1 : firstPast(candidates, letters.slice(0, rows.length - 1), index + 1);
  }

  return best;
}

const lastOf = (rows: readonly (readonly number[])[]): readonly number[] => rows.at(-1) ?? [];

/** The distances of one letter more of a candidate to each start of the wanted text. */
function nextRow(rows: readonly (readonly number[])[], letters: string, word: string): readonly number[] {
  const length = rows.length;
  const above = lastOf(rows);
  const row = [length];

  for (let column = 1; column <= word.length; column += 1) {
    const isSame = letters[length - 1] === word[column - 1];
    const isSwapped =
      length > 1 && letters[length - 1] === word[column - 2] && letters[length - 2] === word[column - 1];
    const changed = (above[column - 1] ?? 0) + (isSame ? 0 : 1);
    const swapped = isSwapped ? (rows[length - 2]?.[column - 2] ?? 0) + 1 : changed;
    row.push(Math.min(changed, swapped, (above[column] ?? 0) + 1, (row[column - 1] ?? 0) + 1));
  }

  return row;
}

/** How many letters two texts begin with alike. */
function sharedStart(a: string, b: string): number {
  let length = 0;
  while (length < a.length && a[length] === b[length]) length += 1;
  return length;
}

/** Where, from a place on, the first candidate stands that does not begin so. */
function firstPast(candidates: readonly Candidate[], start: string, from: number): number {
  let [low, high] = [from, candidates.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (candidates[middle]?.letters.startsWith(start)) low = middle + 1;
    else high = middle;
  }

  return low;
}
