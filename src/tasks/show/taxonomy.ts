import type { TermUsage } from '../../core/check/termUsage.ts';
import type { Model } from '../../core/model/link.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import type { Taxonomy } from '../../core/taxonomy/linkTaxonomy.ts';
import type { EntryStore } from '../../stores/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { taxonomyNamed, termsTree, treeOf } from '../terms/count.ts';
import { command, type ShowResult, type TaxonomyShown } from './result.ts';

/** A taxonomy as a tree with counts, whole or from a term down. */
export async function showTaxonomy(
  { model }: Workspace,
  store: EntryStore,
  name: string,
  from?: string,
): Promise<ShowResult> {
  const { terms } = taxonomyNamed(model, name);
  if (from !== undefined && !terms.has(from))
    throw new Trouble('not-found', `there is no term \`${from}\` in ${name}`, {
      mend: didYouMean(from, terms.keys()) ?? `See all of them: lumbrik show ${name}:`,
    });
  return { ...(await termsTree(model, store, name, from)), ...command, what: 'taxonomy' };
}

/** The same of terms that were counted. */
export const taxonomyShown = (model: Model, usage: TermUsage, taxonomy: Taxonomy): TaxonomyShown => ({
  ...treeOf(model, usage, taxonomy),
  ...command,
  what: 'taxonomy',
});
