import { distance } from 'fastest-levenshtein';

/**
 * The candidate that a person most likely meant, or `undefined` where none is near enough: one letter of a short word
 * may differ, a third of a longer one, never more than three (Levenshtein distance, but that two neighbours
 * in the wrong order count once; upper and lower case are equal).
 */
export function nearest(meant: string, candidates: Iterable<string>): string | undefined {
  const limit = meant.length < 5 ? 1 : Math.min(3, Math.ceil(meant.length / 3));
  let best: { readonly name: string; readonly far: number } | undefined;
  for (const name of candidates) {
    const far = howFar(meant.toLowerCase(), name.toLowerCase());
    if (far <= limit && (!best || far < best.far)) best = { name, far };
  }
  return best?.name;
}

function howFar(a: string, b: string): number {
  const far = distance(a, b);
  const isSwap = far === 2 && a.length === b.length && [...a].sort().join('') === [...b].sort().join('');
  return isSwap ? 1 : far;
}

/** ` Did you mean …?` with a space before it, or nothing. */
export function didYouMean(meant: string, candidates: Iterable<string>): string {
  const name = nearest(meant, candidates);
  return name === undefined ? '' : ` Did you mean \`${name}\`?`;
}
