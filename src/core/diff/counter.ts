import type { Status } from '../definition/builtIn.ts';
import { compact, type Json, type JsonObject } from '../plain/json.ts';
import { count, groupThousands } from '../plain/words.ts';

/** What a difference does to the entries that exist, counted on them. */
export interface Impact {
  /** How many entries it hits, of how many that it could. */
  readonly hits: number;
  readonly of: number;
  /** The value that is furthest off, where values can be measured. */
  readonly worst?: Example & { readonly size: number };
  /** Up to three of the entries it hits. */
  readonly examples: readonly Example[];
  /** All of it in one sentence: "4 of 11 entries are longer; the longest, lighthouse/skerry-point, has 287". */
  readonly says: string;
  /** Whether the step does everything by itself, without a question. */
  readonly isSettled?: true;
  /** A better way to convert, as the values show; then this way is counted. */
  readonly way?: Way;
  /** A value and its new form, where values are converted: “21” as “PT21M”. */
  readonly carried?: string;
  /** The value that all entries have that have one, where some lack it. */
  readonly usual?: Json;
  /** In how many entries the step changes something, where these are not the ones that it hits. */
  readonly changed?: number;
}

/** A way in which values are carried over, as a step of a migration says it, and why. */
export interface Way {
  readonly data: JsonObject;
  readonly says: string;
  /** The question whether that is so; absent where the values leave no doubt. */
  readonly asks?: string;
}

/** An entry as an example of an effect, with its value. */
export interface Example {
  readonly entry: string;
  readonly value?: Json;
  /** Why the value cannot be kept as it is. */
  readonly why?: string;
}

/** An entry as counting sees it: in the names that the newer model gives to renamed parts. */
export interface SampledEntry {
  readonly type: string;
  readonly id: string;
  readonly status: Status;
  readonly fields: JsonObject;
  readonly expressionSteps?: number | undefined;
}

/** Counts, among entries that are shown to it one by one, those that a difference hits. */
export interface Counter {
  readonly see: (entry: SampledEntry) => void;
  readonly impact: () => Impact;
}

/** `4 of 11 entries have`, `the only entry has` */
export const share = (
  hits: number,
  total: number,
  verb: readonly [one: string, many: string] = ['has', 'have'],
): string => {
  if (hits === 1 && total === 1) return `the only entry ${verb[0]}`;
  return `${groupThousands(hits)} of ${count(total, 'entry', 'entries')} ${hits === 1 ? verb[0] : verb[1]}`;
};

interface Hit extends Pick<Example, 'value' | 'why'> {
  readonly size?: number;
}

/** Makes a counter: whom it looks at, what hits, and how the result is stated. */
export function countEntries(
  type: string | undefined,
  isHit: (entry: SampledEntry) => Hit | boolean,
  describe: (hits: number, total: number, worst: Impact['worst'], examples: readonly Example[]) => string,
  worstIs: 'largest' | 'smallest' = 'largest',
): Counter {
  let hits = 0;
  let total = 0;
  let worst: Impact['worst'];
  const examples: Example[] = [];

  return {
    see: (entry) => {
      if (type !== undefined && entry.type !== type) return;

      total += 1;
      const hit = isHit(entry);
      if (hit === false) return;

      hits += 1;
      const { value, size, why: reason } = hit === true ? {} : hit;
      const example: Example = compact({ entry: `${entry.type}/${entry.id}`, value, why: reason });
      if (examples.length < 3) examples.push(example);
      if (size !== undefined && (!worst || (worstIs === 'largest' ? size > worst.size : size < worst.size)))
        worst = { ...example, size };
    },
    impact: () =>
      compact({
        hits,
        of: total,
        worst,
        examples,
        says: hits === 0 ? sayNone(total) : describe(hits, total, worst, examples),
      }),
  };
}

const sayNone = (total: number): string => {
  if (total === 0) return 'there are no entries';
  return `none of ${count(total, 'entry', 'entries')} is affected`;
};
