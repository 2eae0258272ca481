import { z } from 'zod';
import type { StepEffect } from '../../core/migration/plan.ts';
import { compact, pointer } from '../../core/plain/json.ts';
import { JsonValue } from '../../core/plain/jsonValue.ts';

/** What a step does to one value of an entry, as an example of what it does to others. */
export const Sample = z.strictObject({
  entry: z.string(),
  pointer: z.string(),
  before: JsonValue.optional(),
  after: JsonValue.optional(),
  movedTo: z.string().optional(),
  /** The address that the entry has then, where it becomes one of another type. */
  becomes: z.string().optional(),
});
export type Sample = z.output<typeof Sample>;

const entriesShown = 3;
const valuesOfEach = 3;

interface Seen {
  readonly order: number;
  readonly entry: string;
  readonly effect: StepEffect;
}

/**
 * Keeps the entries that tell most of a step: the first of which something is lost or replaced, the one with the longest
 * values, and the first; such that have a value afterwards before those that only lose one. No more than these are held.
 */
export class Samples {
  #order = 0;
  #odd: Seen | undefined;
  #longest: (Seen & { readonly size: number }) | undefined;
  readonly #first: Seen[] = [];
  readonly #gone: Seen[] = [];

  see(effect: StepEffect, entry: string): void {
    if (effect.changes.length === 0 && effect.becomes === undefined) return;
    this.#order += 1;
    const seen = { order: this.#order, entry, effect };
    if (effect.losses > 0) this.#odd ??= seen;
    const stays =
      effect.becomes !== undefined || effect.changes.some(({ after, movedTo }) => after !== undefined || movedTo);
    const kept = stays ? this.#first : this.#gone;
    if (kept.length < entriesShown) kept.push(seen);
    if (!stays) return;
    const size = sizeOf(effect);
    if (size > (this.#longest?.size ?? 0)) this.#longest = { ...seen, size };
  }

  all(): readonly Sample[] {
    const [first, ...others] = [...this.#first, ...this.#gone];
    const wanted = [first, this.#odd, this.#longest, ...others].filter((one) => one !== undefined);
    const different = [...new Map(wanted.map((one) => [one.entry, one])).values()].slice(0, entriesShown);
    return different.toSorted((a, b) => a.order - b.order).flatMap(rowsOf);
  }
}

/** So much of a value is looked at to tell how long it is. */
const measured = 2_000;

const sizeOf = ({ changes }: StepEffect): number =>
  changes.reduce((sum, { before, after }) => sum + textLength(before) + textLength(after), 0);

const textLength = (value: unknown): number =>
  typeof value === 'string' ? Math.min(measured, value.length) : Math.min(measured, JSON.stringify(value)?.length ?? 0);

function rowsOf({ entry, effect: { changes, becomes } }: Seen): readonly Sample[] {
  if (becomes !== undefined) return [{ entry, pointer: '', becomes }];
  return changes
    .slice(0, valuesOfEach)
    .map(({ path, before, after, movedTo }) =>
      compact({ entry, pointer: pointer(path), before, after, movedTo: movedTo && pointer(movedTo) }),
    );
}
