import { count } from '../plain/words.ts';
import type { Term } from '../taxonomy/linkTaxonomy.ts';
import type { Advice } from './define.ts';

/** Deeper than this nobody looks; a longer list without any order nobody reads. */
const [deepest, longestFlat] = [4, 30];

/** A taxonomy that is too flat or too deep. */
export const hierarchy: Advice = {
  name: 'hierarchy',
  why: 'People find a term by going down two or three steps, and by reading a dozen names.',
  *find({ model }) {
    for (const { name, terms } of model.taxonomies.values()) {
      const ownTerms = [...terms.values()].filter(({ borrowedFrom }) => borrowedFrom === undefined);
      const depth = Math.max(0, ...ownTerms.map((term) => depthOf(term, 1)));
      if (depth > deepest)
        yield {
          at: `${name}:`,
          says: `its tree is ${depth} steps deep`,
          mend: 'Take steps out that hold one term, or that nobody chooses by.',
          command: `lumbrik show ${name}:`,
        };

      if (depth === 1 && ownTerms.length > longestFlat)
        yield {
          at: `${name}:`,
          says: `${count(ownTerms.length, 'term')} stand in one list without an order`,
          mend: 'Put them under a few broader terms.',
          command: `lumbrik terms ${name} --alike`,
        };
    }
  },
};

const depthOf = ({ below }: Term, index: number): number => {
  if (below.length === 0 || index > 50) return index;
  return Math.max(...below.map((term) => depthOf(term, index + 1)));
};
