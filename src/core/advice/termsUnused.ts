import { shellWord } from '../plain/shellWord.ts';
import { count, groupThousands, list } from '../plain/words.ts';
import type { Advice } from './define.ts';

/** Fewer terms than these are looked through at a glance; a term that so large a share of all uses have says little. */
const [fewTerms, most, fewUses] = [4, 0.6, 20];

/** Terms that few or no entries use. */
export const termsUnused: Advice = {
  name: 'terms-unused',
  why: 'Terms that nobody uses are in the way of those that are; a term that nearly all use tells nothing apart.',
  *find({ model, terms }) {
    for (const { name, terms: allTerms } of model.taxonomies.values()) {
      const ownTerms = [...allTerms.values()].filter(
        ({ borrowedFrom, isRetired }) => borrowedFrom === undefined && !isRetired,
      );
      const uses = ownTerms.map((term) => ({ term, times: terms.get(`${name}:${term.name}`) ?? 0 }));
      const leaves = uses.filter(({ term }) => term.below.length === 0);
      const unused = leaves.filter(({ times }) => times === 0).map(({ term }) => term.name);
      const rare = leaves.filter(({ times }) => times < 2).map(({ term }) => term.name);
      const total = uses.reduce((sum, { times }) => sum + times, 0);
      const [some, users] = unused.length * 2 > ownTerms.length ? [unused, 'no entry'] : [rare, 'one entry at most'];
      if (total >= fewUses && ownTerms.length >= fewTerms && some.length * 2 > ownTerms.length)
        yield {
          at: `${name}:`,
          says: `${some.length} of ${count(ownTerms.length, 'term')} are used by ${users}, such as ${list(some.slice(0, 3))}`,
          mend: 'Remove or merge those that nobody will miss.',
          command: `lumbrik terms ${name}`,
        };

      const crowded = uses.find(({ times }) => times > most * total);
      if (crowded && total >= fewUses && ownTerms.length >= fewTerms)
        yield {
          at: `${name}:${crowded.term.name}`,
          says: `${groupThousands(crowded.times)} of ${groupThousands(total)} uses are this one term`,
          mend: 'Split it into what it is really used for, if readers look for that.',
          command: `lumbrik list ${shellWord(`${name}:${crowded.term.name}`)}`,
        };
    }
  },
};
