import { own } from '../../core/json.ts';
import type { Term } from '../../core/model/link.ts';
import { wordsIn } from '../../core/model/wording.ts';
import { didYouMean } from '../../core/nearest.ts';
import { list } from '../../core/words.ts';
import type { EntryStore } from '../../store/store.ts';
import type { Workspace } from '../../workspace/open.ts';
import { Trouble } from '../../workspace/trouble.ts';
import { checkEntries } from '../checkEntries.ts';
import { command, type ShowResult, type TermShown } from './result.ts';

/** A taxonomy as a tree with counts, whole or from a term down. */
export async function showTaxonomy(
  { model }: Workspace,
  store: EntryStore,
  name: string,
  from?: string,
): Promise<ShowResult> {
  const taxonomy = model.taxonomies.get(name);
  if (!taxonomy)
    throw new Trouble('not-found', `there is no taxonomy \`${name}\``, {
      mend:
        didYouMean(name, model.taxonomies.keys()).trim() ||
        `There ${model.taxonomies.size === 1 ? 'is' : 'are'} ${list([...model.taxonomies.keys()])}.`,
    });
  const start = from === undefined ? undefined : taxonomy.terms.get(from);
  if (from !== undefined && !start)
    throw new Trouble('not-found', `there is no term \`${from}\` in ${name}`, {
      mend: didYouMean(from, taxonomy.terms.keys()).trim() || `See all of them: lumbrik show ${name}:`,
    });
  const { terms } = await checkEntries(store, model);
  const shown = (term: Term): TermShown => {
    const below = term.below.map(shown);
    const entries = terms.get(`${name}:${term.name}`) ?? 0;
    return {
      term: term.name,
      label: term.label,
      about: wordsIn(own(taxonomy.form.terms, term.name)?.about, model.form.languages),
      entries,
      withBelow: below.reduce((sum, one) => sum + one.withBelow, entries),
      terms: below,
    };
  };
  const fields = [...model.types.values()]
    .flatMap((type) => [...type.fields.values()])
    .filter(({ options, kind }) => kind.taxonomy(options) === name);
  return {
    ...command,
    what: 'taxonomy',
    name,
    label: taxonomy.label,
    about: wordsIn(taxonomy.form.about, model.form.languages),
    fields: fields.map(({ address }) => address),
    terms: (start ? [start] : taxonomy.roots).map(shown),
  };
}
