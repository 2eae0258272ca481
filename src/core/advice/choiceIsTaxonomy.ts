import { count, list } from '../plain/words.ts';
import { type Advice, ownFields } from './define.ts';

/** More choices than these want an order of their own. */
const mostChoices = 20;

/** A list of choices that several fields repeat. */
export const choiceIsTaxonomy: Advice = {
  name: 'choice-is-taxonomy',
  why: 'A taxonomy is kept in one place, may be a tree, and its terms can be merged and retired.',
  *find(reviewed) {
    const byChoices = new Map<string, string[]>();
    for (const { field, profile } of ownFields(reviewed)) {
      if (field.kind.name !== 'choice') continue;

      const names = field.kind.members(field.options).map(({ name }) => name);
      if (names.length > mostChoices)
        yield {
          at: profile.address,
          says: `it offers ${count(names.length, 'choice')}`,
          mend: 'Make it a term of a taxonomy, which can put them under headings.',
          command: `lumbrik profile ${profile.address}`,
        };

      const key = [...names].sort().join('\n');
      byChoices.set(key, [...(byChoices.get(key) ?? []), profile.address]);
    }

    for (const [key, fields] of byChoices) {
      const [first] = fields;
      if (first === undefined || fields.length < 2 || key.split('\n').length < 3) continue;
      yield {
        at: first,
        says: `${list(fields)} offer the same ${key.split('\n').length} choices`,
        mend: 'Keep them once: as a taxonomy, or as a shared field.',
      };
    }
  },
};
