import { z } from 'zod';
import type { Branch } from '../../definition/taxonomy.ts';
import { equal, isList, isObject, type Json, ownValue, withKey } from '../../plain/json.ts';
import { defineStep, StepRefused } from '../step.ts';
import { addressed } from '../stepFields.ts';

/** Puts the terms of a taxonomy into another order or under other terms. No entry changes: terms keep their names. */
export const arrange = defineStep({
  verb: 'arrange',
  about: 'Puts the terms of a taxonomy into another order or under other terms. Entries stay as they are.',
  shape: {
    arrange: z.string().describe('The address of a taxonomy.'),
    tree: z
      .json()
      .describe(
        'All its terms, as [north: [skerries], south]; `also skerries` where one stands too that stands first elsewhere.',
      ),
  },
  say: ({ arrange: address }) => `The terms of \`${address}\` stand in another order or under other terms.`,
  model: (step, model) => {
    const { taxonomy: name } = addressed(step.arrange, 'arrange', ['taxonomy']);
    const taxonomy = ownValue(model.taxonomies, name);
    if (!taxonomy)
      throw new StepRefused(`there is no taxonomy \`${name}\` at this step`, 'Look at the steps before.', 'arrange');

    const tree = readTree(step.tree);
    if (!equal(namesIn(tree), Object.keys(taxonomy.terms).sort()))
      throw new StepRefused(
        '`tree` does not name each term exactly once',
        'Name every term of the taxonomy once.',
        'tree',
      );
    return { ...model, taxonomies: withKey(model.taxonomies, name, { ...taxonomy, tree }) };
  },
  inverse: ({ arrange: text }, { before }) => {
    const { taxonomy } = addressed(text, 'arrange', ['taxonomy']);
    return [{ arrange: text, tree: writeTree(ownValue(before.taxonomies, taxonomy)?.tree ?? []) }];
  },
});

/** The sign of a further place of a term. */
const again = 'also ';

/** A tree as it is written: a term alone, or a term with a list of those below it (`north: [skerries, holm]`). */
function readTree(data: Json): readonly Branch[] {
  if (!isList(data))
    throw new StepRefused('`tree` is no list of terms', 'Write `tree: [north: [skerries], south]`.', 'tree');
  return data.map((item): Branch => {
    if (typeof item === 'string')
      return item.startsWith(again) ? { term: item.slice(again.length), also: true } : { term: item };

    const [pair, ...rest] = isObject(item) ? Object.entries(item) : [];
    if (!pair || rest.length > 0)
      throw new StepRefused(
        '`tree` holds something that is no term',
        'Write a term alone, or one term with a list below it.',
        'tree',
      );

    const below = readTree(pair[1]);

    if (below.length > 0) return { term: pair[0], terms: below };
    return { term: pair[0] };
  });
}

/** The inverse of {@link readTree}. */
export const writeTree = (tree: readonly Branch[]): Json =>
  tree.map(({ term, also, terms }) => {
    if (also) return `${again}${term}`;
    if (terms && terms.length > 0) return Object.fromEntries([[term, writeTree(terms)]]);
    return term;
  });

const namesIn = (tree: readonly Branch[]): readonly string[] =>
  tree.flatMap(({ term, also, terms }) => (also ? [] : [term, ...namesIn(terms ?? [])])).sort();
