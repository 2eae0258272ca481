import type { EntryChange } from '../core/migration/entryChanges.ts';
import type { StepEffect } from '../core/migration/plan.ts';
import type { Json } from '../core/plain/json.ts';

/** So many entries are shown of a step. */
const entriesShown = 3;

/** What a step does to one entry, as an example of its effect on others: plain data. */
export interface StepSample {
  /** How many entries before it the step changes, from 1. */
  readonly order: number;
  readonly entry: string;
  readonly changes: readonly EntryChange[];
  /** The address that the entry has then, where it becomes one of another type. */
  readonly becomes?: string | undefined;
}

interface Sized extends StepSample {
  readonly size: number;
}

/** Samples of the entries that a step changes, as plain data. */
export interface HeldSamples {
  /** How many it changes. */
  readonly count: number;
  /** The first of which something is lost or replaced. */
  readonly unusual: StepSample | undefined;
  readonly longest: Sized | undefined;
  /** The first that have a value afterwards, and the first that only lose one. */
  readonly first: readonly StepSample[];
  readonly removed: readonly StepSample[];
}

/**
 * Keeps the entries that tell most of a step: the first of which something is lost or replaced, the one with the longest
 * values, and the first; such that have a value afterwards before those that only lose one. No more than these are kept.
 */
export class StepSamples {
  #count = 0;
  #odd: StepSample | undefined;
  #longest: Sized | undefined;
  readonly #first: StepSample[] = [];
  readonly #gone: StepSample[] = [];

  see({ changes, becomes, losses }: StepEffect, entry: string): void {
    if (changes.length === 0 && becomes === undefined) return;

    this.#count += 1;
    const sample = { order: this.#count, entry, changes, becomes };
    if (losses > 0) this.#odd ??= sample;
    const stays = becomes !== undefined || changes.some(({ after, movedTo }) => after !== undefined || movedTo);
    const list = stays ? this.#first : this.#gone;
    if (list.length < entriesShown) list.push(sample);
    if (!stays) return;

    const size = sizeOf(changes);
    if (size > (this.#longest?.size ?? 0)) this.#longest = { ...sample, size };
  }

  /** Adds the samples of later entries. */
  take({ count, unusual, longest, first, removed }: HeldSamples): void {
    const behind = <S extends StepSample>(sample: S): S => ({ ...sample, order: sample.order + this.#count });
    if (unusual) this.#odd ??= behind(unusual);
    if (longest && longest.size > (this.#longest?.size ?? 0)) this.#longest = behind(longest);
    for (const sample of first) if (this.#first.length < entriesShown) this.#first.push(behind(sample));
    for (const sample of removed) if (this.#gone.length < entriesShown) this.#gone.push(behind(sample));
    this.#count += count;
  }

  held(): HeldSamples {
    return { count: this.#count, unusual: this.#odd, longest: this.#longest, first: this.#first, removed: this.#gone };
  }
}

/** The tellingest of the entries that are kept, in their order. */
export function tellingest({ unusual, longest, first, removed }: HeldSamples): readonly StepSample[] {
  const [foremost, ...rest] = [...first, ...removed];
  const candidates = [foremost, unusual, longest, ...rest].filter((sample) => sample !== undefined);
  const different = [...new Map(candidates.map((sample) => [sample.entry, sample])).values()].slice(0, entriesShown);
  return different.toSorted((a, b) => a.order - b.order);
}

/** So much of a value is looked at to tell how long it is. */
const measured = 2_000;

const sizeOf = (changes: readonly EntryChange[]): number =>
  changes.reduce((sum, { before, after }) => sum + textLength(before) + textLength(after), 0);

function textLength(value: Json | undefined): number {
  if (value === undefined) return 0;
  const text = typeof value === 'object' ? JSON.stringify(value) : String(value);
  return Math.min(measured, text.length);
}
