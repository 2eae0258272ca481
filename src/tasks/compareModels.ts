import { keyOfField } from '../core/definition/fieldName.ts';
import { type Comparison, compare } from '../core/diff/compare.ts';
import type { ImpactOf } from '../core/diff/differences/define.ts';
import { ValueSamples } from '../core/diff/evidence.ts';
import { fieldsInDoubt } from '../core/diff/fieldsToSample.ts';
import type { Misstated, StatedRenames } from '../core/diff/statedRenames.ts';
import type { Assets } from '../core/entry/assets.ts';
import { link } from '../core/model/link.ts';
import { didYouMean } from '../core/plain/nearest.ts';
import { thereAre } from '../core/plain/words.ts';
import { countPass } from '../passes/countDifferences.ts';
import { prepareConversion } from '../passes/prepareConversion.ts';
import { entriesOf, type WalkOptions, walk } from '../passes/walk.ts';
import type { EntryStore } from '../stores/store.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { NamedModel } from './models.ts';

/** A comparison with the effects on entries. */
export interface CountedComparison {
  readonly comparison: Comparison;
  /** What a difference does to the entries; `undefined` where nothing was counted. */
  readonly impactOf: ImpactOf;
}

/** What differences are counted on. */
export interface CountedOn {
  readonly store: EntryStore;
  /** The files that entries may name. */
  readonly assets: Assets;
}

interface CompareOptions extends WalkOptions {
  readonly stated?: StatedRenames;
}

/** Compares two models and counts on entries what each difference does to them. */
export async function compareAndCount(
  from: NamedModel,
  to: NamedModel,
  on: CountedOn | undefined,
  { stated, ...options }: CompareOptions = {},
): Promise<CountedComparison> {
  await prepareConversion(from.definition, to.definition);
  const comparison = await compareBySamples(from, to, on?.store, stated);
  const [wrong] = comparison.misstated;
  if (wrong) throw misstatedTrouble(wrong, from, to);

  const [misplaced] = comparison.misplaced;
  if (misplaced)
    throw new Trouble(
      'malformed-move',
      `--moved says that \`${misplaced.type}.${misplaced.from}\` stands at \`${misplaced.type}.${misplaced.to}\`, and that cannot be`,
      {
        mend: 'The one has to be there before and not after, the other after and not before; and what they stand in is one object, not a list of them.',
      },
    );
  if (!on || comparison.differences.length === 0) return { comparison, impactOf: () => undefined };

  const pass = countPass(link(from.definition), comparison, on.assets);
  const [impactOf] = await walk(on.store, [pass], options);

  return { comparison, impactOf };
}

/** Compares two models; where something seems renamed, the values of some entries are asked as well. */
async function compareBySamples(
  from: NamedModel,
  to: NamedModel,
  store: EntryStore | undefined,
  stated: StatedRenames | undefined,
): Promise<Comparison> {
  const comparison = compare(from.definition, to.definition, stated);
  const inDoubt = store ? fieldsInDoubt(comparison) : [];
  if (!store || inDoubt.length === 0) return comparison;

  const samples = new ValueSamples(link(from.definition), inDoubt);
  for await (const { entry } of entriesOf(store)) {
    samples.see(entry);
    if (samples.isFull) break;
  }

  if (samples.isEmpty) return comparison;
  return compare(from.definition, to.definition, stated, samples.evidence);
}

/** A rename can only be stated of something that is there before, to something that is there after. */
function misstatedTrouble({ rename, missing, names }: Misstated, from: NamedModel, to: NamedModel): Trouble {
  const model = missing === 'before' ? from : to;
  const name =
    missing === 'before' && rename.what === 'field'
      ? keyOfField(rename.from)
      : rename[missing === 'before' ? 'from' : 'to'];

  return new Trouble(
    'malformed-rename',
    `--renamed names a ${rename.what} \`${name}\`, and ${model.name} ${model.revision === undefined ? 'have' : 'has'} none`,
    { mend: didYouMean(name, names) ?? thereAre(names) ?? 'Look at the model: lumbrik show' },
  );
}
