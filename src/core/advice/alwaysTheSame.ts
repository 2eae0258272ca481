import { count, quote } from '../plain/words.ts';
import { type Advice, enough, ownFields } from './define.ts';

/** A field with the same value in every entry. */
export const alwaysTheSame: Advice = {
  name: 'always-the-same',
  why: 'A value that never differs tells nobody anything.',
  *find(reviewed) {
    for (const { field, profile } of ownFields(reviewed)) {
      const { of: total, filled, distinct, frequent, address } = profile;
      const [only] = frequent;
      if (filled < enough || filled < total || distinct?.count !== 1 || !only || field.name.includes('.')) continue;
      yield {
        at: address,
        says: `all ${count(filled, 'entry', 'entries')} have ${quote(only.value, 40)}`,
        mend: 'Leave it out, or say once for all what it says.',
        command: `lumbrik profile ${address}`,
      };
    }
  },
};
