import { distance } from 'fastest-levenshtein';

/**
 * The candidate that a person most likely meant, or `undefined` where none is near enough: at most a third of the
 * letters (and never more than three) differ by Levenshtein distance, upper and lower case being equal.
 */
export function nearest(meant: string, candidates: Iterable<string>): string | undefined {
  const limit = Math.min(3, Math.max(1, Math.floor(meant.length / 3)));
  let best: { readonly name: string; readonly far: number } | undefined;
  for (const name of candidates) {
    const far = distance(meant.toLowerCase(), name.toLowerCase());
    if (far <= limit && (!best || far < best.far)) best = { name, far };
  }
  return best?.name;
}

/** ` Did you mean …?` with a space before it, or nothing. */
export function didYouMean(meant: string, candidates: Iterable<string>): string {
  const name = nearest(meant, candidates);
  return name === undefined ? '' : ` Did you mean \`${name}\`?`;
}
