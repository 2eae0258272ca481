import { list } from '../plain/words.ts';
import { type Advice, ownFields } from './define.ts';

export const manyNames: Advice = {
  name: 'many-names',
  why: 'One fact under one name is asked for, filtered and drawn by one piece of code.',
  *find(reviewed) {
    const byLabel = new Map<string, Map<string, string[]>>();
    for (const { field, profile } of ownFields(reviewed)) {
      if (field.name.includes('.')) continue;
      const key = `${field.label.toLowerCase()}\n${field.kind.name}`;
      const names = byLabel.get(key) ?? new Map<string, string[]>();
      byLabel.set(key, names);
      names.set(field.name, [...(names.get(field.name) ?? []), profile.address]);
    }
    for (const names of byLabel.values()) {
      const fields = [...names.values()].flat();
      const [first] = fields;
      if (names.size < 2 || first === undefined) continue;
      yield {
        at: first,
        says: `${list(fields)} have one label and ${names.size} names`,
        mend: 'Give them one name.',
        command: `lumbrik rename ${fields[1]} ${[...names.keys()][0]}`,
      };
    }
  },
};
