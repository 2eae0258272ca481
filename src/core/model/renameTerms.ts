import type { Branch, TaxonomyDoc, TermDoc } from '../definition/taxonomy.ts';
import { mapValues, renameKey } from '../plain/json.ts';

/** A taxonomy in which a term has another name. */
export function renameTerm(taxonomy: TaxonomyDoc, from: string, to: string): TaxonomyDoc {
  const inBranch = (branch: Branch): Branch => ({
    ...branch,
    ...(branch.terms ? { terms: branch.terms.map(inBranch) } : {}),
    term: branch.term === from ? to : branch.term,
  });

  const inTerm = (term: TermDoc): TermDoc => {
    if (typeof term.retired === 'object' && term.retired.use === from) return { ...term, retired: { use: to } };
    return term;
  };

  return {
    ...taxonomy,
    ...(taxonomy.collections
      ? {
          collections: taxonomy.collections.map((collection) => ({
            ...collection,
            members: collection.members.map((member) => (member === from ? to : member)),
          })),
        }
      : {}),
    terms: mapValues(renameKey(taxonomy.terms, from, to), inTerm),
    tree: taxonomy.tree.map(inBranch),
  };
}

/** A taxonomy that borrows by other addresses: the taxonomy and the last term of each go through a function. */
export function withBorrows(
  taxonomy: TaxonomyDoc,
  change: (taxonomy: string, term: string) => readonly [string, string],
): TaxonomyDoc {
  if (!taxonomy.borrows) return taxonomy;

  const borrows = taxonomy.borrows.map((address) => {
    const colon = address.indexOf(':');
    const [term = '', ...above] = address
      .slice(colon + 1)
      .split('/')
      .reverse();
    const [lender, last] = change(address.slice(0, colon), term);
    return `${lender}:${[last, ...above].reverse().join('/')}`;
  });

  return { ...taxonomy, borrows };
}
