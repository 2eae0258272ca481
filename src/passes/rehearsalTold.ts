import { keyOf } from '../core/entry/entry.ts';
import type { Loss } from '../core/migration/operation.ts';
import type { Migrated, StepEffect } from '../core/migration/plan.ts';
import type { Stored } from '../stores/store.ts';
import { type HeldSamples, StepSamples } from './stepSamples.ts';

/** A value that is lost by a migration, with the address that its entry has then. */
export interface LossOfEntry extends Loss {
  readonly entry: string;
}

/** What a step does to some entries, as plain data. */
interface StepTold {
  /** How many it changes. */
  readonly entries: number;
  /** The addresses of those that it makes. */
  readonly made: readonly string[];
  readonly samples: HeldSamples;
}

/** What a migration does to some entries, as plain data. */
export interface RehearsalTally {
  readonly perStep: ReadonlyMap<number, StepTold>;
  readonly lost: readonly LossOfEntry[];
  /** The addresses that entries have now, by those that they have then, where these are others. */
  readonly renamed: ReadonlyMap<string, string>;
  /** The files of the entries that change. */
  readonly files: ReadonlySet<string>;
  readonly entries: number;
  readonly changed: number;
  /** How many entries come that are new. */
  readonly made: number;
}

interface StepTally {
  entries: number;
  readonly made: string[];
  readonly samples: StepSamples;
}

/** Gathers what a migration does to entries, one after another or many at once. */
export class RehearsalTeller {
  readonly #perStep = new Map<number, StepTally>();
  readonly #lost: LossOfEntry[] = [];
  readonly #renamed = new Map<string, string>();
  readonly #files = new Set<string>();
  #entries = 0;
  #changed = 0;
  #made = 0;

  see({ entry, place }: Stored, { draft, effects, newEntries }: Migrated): void {
    const address = keyOf(entry);
    const after = keyOf(draft);
    this.#entries += 1;
    for (const effect of effects) this.#seeEffect(effect, address);
    for (const entryDraft of [draft, ...newEntries])
      for (const loss of entryDraft.losses) this.#lost.push({ entry: keyOf(entryDraft), ...loss });
    for (const entryDraft of newEntries) this.#made += entryDraft.isDeleted ? 0 : 1;
    if (after !== address) this.#renamed.set(after, address);
    if (draft.operations.length === 0) return;

    this.#changed += 1;
    this.#files.add(place.file);
  }

  #seeEffect(effect: StepEffect, entry: string): void {
    const { step, changes, becomes, newEntries } = effect;
    const telling = this.#tellingOf(step);
    telling.entries += changes.length > 0 || becomes !== undefined ? 1 : 0;
    for (const entryDraft of newEntries) telling.made.push(keyOf(entryDraft));
    telling.samples.see(effect, entry);
  }

  /** Adds the report of later entries. */
  take({ perStep, lost, renamed, files, entries, changed, made: createdCount }: RehearsalTally): void {
    for (const [step, theirs] of perStep) {
      const telling = this.#tellingOf(step);
      telling.entries += theirs.entries;
      for (const entry of theirs.made) telling.made.push(entry);
      telling.samples.take(theirs.samples);
    }

    for (const loss of lost) this.#lost.push(loss);
    for (const [newName, oldName] of renamed) this.#renamed.set(newName, oldName);
    for (const file of files) this.#files.add(file);
    this.#entries += entries;
    this.#changed += changed;
    this.#made += createdCount;
  }

  #tellingOf(step: number): StepTally {
    const telling = this.#perStep.get(step) ?? { entries: 0, made: [], samples: new StepSamples() };
    this.#perStep.set(step, telling);
    return telling;
  }

  told(): RehearsalTally {
    const steps = [...this.#perStep].map(([step, { samples, ...rest }]) => [
      step,
      { ...rest, samples: samples.held() },
    ]) as [number, StepTold][];
    return {
      perStep: new Map(steps),
      lost: this.#lost,
      renamed: this.#renamed,
      files: this.#files,
      entries: this.#entries,
      changed: this.#changed,
      made: this.#made,
    };
  }
}
