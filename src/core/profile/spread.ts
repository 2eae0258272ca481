/** How often which numbers were met: plain data. */
export interface CountedNumbers {
  readonly counts: ReadonlyMap<number, number>;
  /** Whether they were rounded to three digits, because there are very many different ones. */
  readonly isRounded: boolean;
}

const mostExact = 4000;

/** Counts numbers: exactly as long as there are few different ones, to three digits where there are more. */
export class Spread {
  #counts = new Map<number, number>();
  #isRounded = false;

  add(number: number, times = 1): void {
    const key = this.#isRounded ? rounded(number) : number;
    this.#counts.set(key, (this.#counts.get(key) ?? 0) + times);
    if (!this.#isRounded && this.#counts.size > mostExact) this.#round();
  }

  take({ counts, isRounded }: CountedNumbers): void {
    if (isRounded && !this.#isRounded) this.#round();
    for (const [number, times] of counts) this.add(number, times);
  }

  done(): CountedNumbers {
    return { counts: this.#counts, isRounded: this.#isRounded };
  }

  #round(): void {
    const exact = this.#counts;
    this.#counts = new Map();
    this.#isRounded = true;
    for (const [number, times] of exact) this.add(number, times);
  }
}

const rounded = (number: number): number => Number(number.toPrecision(3));

/** The number in the middle: half of them are not more. `undefined` where there is none. */
export function medianOf({ counts }: CountedNumbers): number | undefined {
  const inOrder = [...counts].sort(([a], [b]) => a - b);
  const half = inOrder.reduce((sum, [, times]) => sum + times, 0) / 2;
  let below = 0;
  for (const [number, times] of inOrder) {
    below += times;
    if (below >= half) return number;
  }

  return undefined;
}

/** How many of them are above a limit. */
export const countAbove = ({ counts }: CountedNumbers, limit: number): number =>
  [...counts].reduce((sum, [number, times]) => sum + (number > limit ? times : 0), 0);
