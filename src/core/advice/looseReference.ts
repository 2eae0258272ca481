import { list } from '../plain/words.ts';
import { type Advice, ownFields } from './define.ts';

/** A reference that may point at more types than these points at anything. */
const mostTypes = 4;

/** A reference that may point at any type. */
export const looseReference: Advice = {
  name: 'loose-reference',
  why: 'Readers of a reference to anything have to be ready for anything.',
  *find(reviewed) {
    for (const { field, profile } of ownFields(reviewed)) {
      const { types } = field.kind.pointsAt(field.options);
      if (types.length > mostTypes)
        yield {
          at: profile.address,
          says: `it may point at ${types.length} types: ${list(types)}`,
          mend: 'Name only those that are meant, or let them extend one type.',
          command: `lumbrik map --around ${profile.address.split('.')[0]}`,
        };
    }
  },
};
