import { count, groupThousands } from '../plain/words.ts';
import { type Advice, enough, ownFields } from './define.ts';

/** A limit that no value comes near by this share is no limit. */
const near = 0.25;

/** A limit far above all values. */
export const farLimit: Advice = {
  name: 'far-limit',
  why: 'A limit tells authors the intended length; a limit far above all texts tells nothing.',
  *find(reviewed) {
    for (const { field, profile } of ownFields(reviewed)) {
      const { max } = field.options;
      const { sizes, values, address } = profile;
      if (typeof max !== 'number' || sizes?.of !== 'characters' || values < 2 * enough) continue;
      if (sizes.largest.size >= near * max) continue;
      yield {
        at: address,
        says: `the longest of ${count(values, 'text')} has ${groupThousands(sizes.largest.size)} characters, and ${groupThousands(max)} are allowed`,
        mend: 'Choose a limit by what the texts need.',
        command: `lumbrik profile ${address}`,
      };
    }
  },
};
