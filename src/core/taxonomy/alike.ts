import { distance } from 'fastest-levenshtein';
import { compareText } from '../plain/compareText.ts';
import { slugify } from '../plain/slugify.ts';

/** A term as comparing sees it. */
export interface UsedTerm {
  readonly term: string;
  readonly label: string;
  /** The labels that somebody wrote, in each language. */
  readonly labels: readonly string[];
  readonly synonyms: readonly string[];
  /** How many entries use it. */
  readonly uses: number;
  /** Whether somebody wrote it down: it is in the model or in the file of terms. */
  readonly isListed: boolean;
  /** Whether it belongs to another taxonomy, where alone it could go. */
  readonly isBorrowed: boolean;
}

/** Two terms that look like one idea, and the merge that this would be. */
export interface Alike {
  /** The term that would stay, and the one that would go. */
  readonly keep: UsedTerm;
  readonly merge: UsedTerm;
  /** How sure it is, from 0 to 1. */
  readonly sure: number;
  readonly why: string;
}

interface Twin {
  readonly sure: number;
  readonly why: string;
  /** That the first of the two is the one that stays. */
  readonly isFirst?: true;
}

/**
 * Terms that look like variants of each other: other case or accents, synonyms, plurals, another order of words, other
 * spelling. Ranked by how sure it is and how many entries a merge would move.
 *
 * No pair is compared that shares no key, so time grows with the number of terms and not with its square: exact keys
 * (folded letters, stems, sorted words) by hashing; slips of one letter by the words that remain when one letter is left
 * out (symmetric deletion); slips of two among the nearest neighbours in alphabetical order, forwards and backwards.
 */
export function alikeTerms(terms: readonly UsedTerm[]): readonly Alike[] {
  const twins = new Map<string, Alike>();
  const note = (a: UsedTerm, b: UsedTerm, { sure: certainty, why: reason, isFirst }: Twin): void => {
    if (a.isBorrowed && b.isBorrowed) return;
    const isKept = isFirst ? a.isBorrowed || !b.isBorrowed : better(a, b);
    const [keep, merge] = isKept ? [a, b] : [b, a];
    const key = `${keep.term} ${merge.term}`;
    if ((twins.get(key)?.sure ?? 0) < certainty) twins.set(key, { keep, merge, sure: certainty, why: reason });
  };

  byKeys(terms, note);
  bySpelling(terms, note);

  return [...twins.values()].sort(
    (a, b) => weight(b) - weight(a) || (a.keep.term < b.keep.term ? -1 : 1) || (a.merge.term < b.merge.term ? -1 : 1),
  );
}

type Note = (a: UsedTerm, b: UsedTerm, twin: Twin) => void;

/** How sure it is, and a little how often both are used: a merge that nobody would notice comes last among equals. */
const weight = ({ sure: certainty, keep, merge }: Alike): number =>
  certainty + 0.05 * Math.tanh((keep.uses + merge.uses) / 10);

/**
 * Which of two stays: the one that cannot go, then the one that is spelt as in a label, the one that is written down, the
 * one used more, the shorter, the first.
 */
function better(a: UsedTerm, b: UsedTerm): boolean {
  if (a.isBorrowed !== b.isBorrowed) return a.isBorrowed;
  const [inLabel, other] = [isSaid(a, b), isSaid(b, a)];
  if (inLabel !== other) return inLabel;
  if (a.isListed !== b.isListed) return a.isListed;
  if (a.uses !== b.uses) return a.uses > b.uses;
  if (a.term.length === b.term.length) return a.term < b.term;
  return a.term.length < b.term.length;
}

/** Whether a label of one of two terms, or of the other, is a term as it is spelt. */
const isSaid = (term: UsedTerm, other: UsedTerm): boolean =>
  [...term.labels, ...other.labels].some((word) => folded(word) === folded(term.term));

/** Letters and digits alone, small, without accents. */
const folded = (text: string): string => slugify(text).replaceAll('-', '');
const wordsOf = (text: string): readonly string[] => slugify(text).split('-').filter(Boolean);

/** The usual endings of a plural in English and French taken off: enough for two words to meet. */
function stem(word: string): string {
  if (word.length > 4 && word.endsWith('ies')) return `${word.slice(0, -3)}y`;
  if (word.length > 4 && /(?:[sxz]|[cs]h)es$/u.test(word)) return word.slice(0, -2);
  if (word.length > 4 && word.endsWith('aux')) return `${word.slice(0, -3)}al`;
  if (word.length > 3 && /[^s]s$/u.test(word)) return word.slice(0, -1);
  if (word.length > 4 && word.endsWith('eux')) return word.slice(0, -1);
  return word;
}

const keys: readonly { readonly textOf: (text: string) => string; readonly twin: Twin }[] = [
  { textOf: folded, twin: { sure: 0.98, why: 'the same but for case, accents or hyphens' } },
  { textOf: (text) => wordsOf(text).map(stem).join(' '), twin: { sure: 0.92, why: 'one is the plural of the other' } },
  {
    textOf: (text) => [...wordsOf(text)].sort().join(' '),
    twin: { sure: 0.9, why: 'the same words in another order' },
  },
  {
    textOf: (text) => wordsOf(text).map(stem).sort().join(' '),
    twin: { sure: 0.82, why: 'the same words but for order and plural' },
  },
];

function byKeys(terms: readonly UsedTerm[], note: Note): void {
  for (const { textOf, twin } of keys) {
    const groups = new Map<string, UsedTerm[]>();
    for (const term of terms) for (const key of new Set([term.term, term.label].map(textOf))) push(groups, key, term);
    for (const group of groups.values()) {
      const [first, ...rest] = [...new Set(group)].sort((a, b) => (better(a, b) ? -1 : 1));
      if (first) for (const other of rest) note(first, other, twin);
    }
  }

  const named = new Map<string, UsedTerm[]>();
  for (const term of terms)
    for (const key of new Set([term.term, ...term.labels].map(folded))) if (key !== '') push(named, key, term);
  for (const term of terms)
    for (const [words, source] of [
      [term.synonyms, 'a synonym'],
      [term.labels, 'a label'],
    ] as const)
      for (const word of words)
        for (const other of named.get(folded(word)) ?? [])
          if (other !== term)
            note(term, other, { sure: 0.95, why: `“${word}” is ${source} of ${term.term}`, isFirst: true });
}

/* ── spelling ────────────────────────────────────────────────────────────────────────────────────────────────── */

/** Words shorter than this differ by a letter for a reason: `port`, `sport`. */
const longEnough = { forOne: 5, forTwo: 9 };
const neighbours = 6;

function bySpelling(terms: readonly UsedTerm[], note: Note): void {
  const words = terms
    .map((term) => ({ term, text: folded(term.term) }))
    .filter(({ text }) => text.length >= longEnough.forOne);
  const judge = (a: (typeof words)[number], b: (typeof words)[number]): void => {
    if (a.term === b.term || a.text === b.text) return;
    const twin = misspelling(a.text, b.text);
    if (twin) note(a.term, b.term, twin);
  };

  const deletions = new Map<string, (typeof words)[number][]>();

  for (const word of words)
    for (const key of withoutOneLetter(word.text)) {
      for (const other of deletions.get(key) ?? []) judge(word, other);
      const bucket = deletions.get(key);
      // Words that many share the rest of say little about each other: `lens1`, `lens2` …
      if (!bucket) deletions.set(key, [word]);
      else if (bucket.length < 16) bucket.push(word);
    }

  for (const sortable of [(text: string) => text, (text: string) => [...text].reverse().join('')]) {
    const sorted = words
      .filter(({ text }) => text.length >= longEnough.forTwo)
      .map((word) => ({ one: word, key: sortable(word.text) }))
      .sort((a, b) => compareText(a.key, b.key));
    sorted.forEach(({ one: item }, index) => {
      for (const { one: other } of sorted.slice(index + 1, index + 1 + neighbours)) judge(item, other);
    });
  }
}

/** A text itself, and every text that is left when one letter is removed. */
const withoutOneLetter = (text: string): ReadonlySet<string> =>
  new Set([text, ...Array.from(text, (_, index) => text.slice(0, index) + text.slice(index + 1))]);

function misspelling(a: string, b: string): Twin | undefined {
  // Years and numbers are no slips.
  if (a.replace(/\D/gu, '') !== b.replace(/\D/gu, '')) return undefined;

  const shorter = Math.min(a.length, b.length);
  if (isSwapped(a, b)) return { sure: 0.9, why: 'two letters are swapped' };

  const far = distance(a, b);
  if (far === 1 && shorter >= longEnough.forOne)
    return { sure: Math.min(0.88, 0.6 + shorter / 40), why: 'they differ by one letter' };

  if (far === 2 && shorter >= longEnough.forTwo)
    return { sure: Math.min(0.8, 0.45 + shorter / 50), why: 'they differ by two letters' };
  return undefined;
}

function isSwapped(a: string, b: string): boolean {
  if (a.length !== b.length) return false;

  const position = [...a].findIndex((letter, index) => letter !== b[index]);
  return (
    position >= 0 &&
    a[position] === b[position + 1] &&
    a[position + 1] === b[position] &&
    a.slice(position + 2) === b.slice(position + 2)
  );
}

function push<T>(groups: Map<string, T[]>, key: string, item: T): void {
  const group = groups.get(key);
  if (group) group.push(item);
  else groups.set(key, [item]);
}
