import { listSome } from '../plain/words.ts';
import { type Advice, isShared } from './define.ts';

/** So many fields that stand together in so many types want to be a kit. */
const [fewestFields, fewestTypes] = [3, 3];

/** Equal fields in several types that could be a kit. */
export const repeatedFields: Advice = {
  name: 'repeated-fields',
  why: 'A kit keeps fields once that many types have, so that they stay the same.',
  *find({ model }) {
    const typesOf = new Map<string, string[]>();
    for (const type of model.types.values())
      for (const field of type.fields.values()) {
        if (isShared(model, type.name, field.name) || field.name === type.definition.titled) continue;
        const key = `${field.name}\n${field.kind.name}\n${JSON.stringify(field.options)}`;
        typesOf.set(key, [...(typesOf.get(key) ?? []), type.name]);
      }

    const together = new Map<string, string[]>();
    for (const [key, types] of typesOf) {
      if (types.length < fewestTypes) continue;
      const group = types.join(', ');
      together.set(group, [...(together.get(group) ?? []), key.split('\n')[0] ?? '']);
    }

    for (const [group, fields] of together) {
      const types = group.split(', ');
      if (fields.length < fewestFields) continue;
      yield {
        at: `${types[0]}.${fields[0]}`,
        says: `${listSome(fields, 8)} stand in ${listSome(types, 5)}, each time the same`,
        mend: 'Keep them in a kit that these types have.',
        command: 'lumbrik explain kit',
      };
    }
  },
};
