import { keyOfField } from '../definition/fieldName.ts';
import { groupThousands } from '../plain/words.ts';
import { type Advice, enough } from './define.ts';

/** So many entries of a type are wrong by chance. */
const share = 0.1;

/** A field in which many entries have the same problem. */
export const stumblingField: Advice = {
  name: 'stumbling-field',
  why: 'Where many are wrong in one place, it is the form that is wrong.',
  *find({ model, profiles, stumbles }) {
    for (const type of model.types.values()) {
      const profile = profiles.get(type.name);
      const entries = profile?.entries ?? 0;
      const filled = new Map(profile?.fields.map((field) => [field.address, field.filled]));
      for (const field of type.fields.values()) {
        const wrong = stumbles.of(type.name, keyOfField(field.name));
        const { help, example } = field.common;
        // Where nobody has written anything, nobody has stumbled.
        if ((filled.get(`${type.name}.${field.name}`) ?? 0) === 0) continue;
        if (wrong < enough / 2 || wrong < share * entries || (help !== undefined && example !== undefined)) continue;
        yield {
          at: `${type.name}.${field.name}`,
          says: `${groupThousands(wrong)} of ${groupThousands(entries)} entries have something wrong in it, and it has no ${help === undefined ? 'help' : 'example'}`,
          mend:
            help === undefined
              ? 'Say how it is meant where it is written: `help: …`.'
              : 'Show one that fits: `example: …`.',
          command: `lumbrik check ${type.name}`,
        };
      }
    }
  },
};
