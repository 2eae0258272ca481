import { compareText } from '../plain/compareText.ts';
import { countSketched, emptySketch, mergeSketch, sketch } from './distinct.ts';

/** How often which values stand: plain data. */
export interface CountedValues {
  readonly counts: ReadonlyMap<string, number>;
  /** By how much each count may be too low; nought where all are exact. */
  readonly under: number;
  /** What counts the different ones where not all are in `counts`. */
  readonly sketch: Uint8Array | undefined;
}

/** Of so many different values each is counted exactly. */
const mostExact = 4000;
/** So many of the most frequent are kept of more. */
const mostKept = 1000;

/**
 * Counts values: exactly as long as there are few different ones; of more, the most frequent, each at most `under` too low
 * (Misra and Gries 1982, merged as Agarwal et al. 2012 do it), and how many there are, about.
 */
export class ValueCounts {
  readonly #counts = new Map<string, number>();
  #under = 0;
  #seen: Uint8Array | undefined;

  add(value: string): void {
    this.#counts.set(value, (this.#counts.get(value) ?? 0) + 1);
    if (this.#seen) sketch(this.#seen, value);
    if (this.#counts.size > mostExact) this.#shorten();
  }

  /** Takes what others counted. */
  take({ counts, under, sketch: visited }: CountedValues): void {
    if (visited) mergeSketch(this.#sketched(), visited);
    for (const [value, times] of counts) {
      this.#counts.set(value, (this.#counts.get(value) ?? 0) + times);
      if (this.#seen) sketch(this.#seen, value);
    }

    this.#under += under;
    if (this.#counts.size > mostExact) this.#shorten();
  }

  done(): CountedValues {
    return { counts: this.#counts, under: this.#under, sketch: this.#seen };
  }

  #sketched(): Uint8Array {
    if (this.#seen) return this.#seen;
    const ownSketch = emptySketch();
    for (const value of this.#counts.keys()) sketch(ownSketch, value);
    this.#seen = ownSketch;
    return ownSketch;
  }

  #shorten(): void {
    this.#sketched();
    const [least = 0] = [...this.#counts.values()].sort((a, b) => b - a).slice(mostKept, mostKept + 1);
    for (const [value, times] of this.#counts)
      if (times > least) this.#counts.set(value, times - least);
      else this.#counts.delete(value);

    this.#under += least;
  }
}

/** How many different values were counted; `isExact` where that is no estimate. */
export const distinctOf = ({
  counts,
  sketch,
}: CountedValues): { readonly count: number; readonly isExact: boolean } => {
  if (sketch) return { count: countSketched(sketch), isExact: false };
  return { count: counts.size, isExact: true };
};

/** The most frequent values, those of one number in the order of their letters. */
export const mostFrequent = (
  { counts }: CountedValues,
  most: number,
  isWanted: (value: string) => boolean,
): readonly (readonly [value: string, count: number])[] =>
  [...counts]
    .filter(([value]) => isWanted(value))
    .sort(([a, times], [b, otherTimes]) => otherTimes - times || compareText(a, b))
    .slice(0, most);
