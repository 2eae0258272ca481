import { list } from '../plain/words.ts';
import { type Advice, ownFields } from './define.ts';

/** One fact under different names in several types. */
export const manyNames: Advice = {
  name: 'many-names',
  why: 'One fact under one name needs only one piece of code.',
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
      // The name that most of them have is the one to keep.
      const [usual, other] = [...names].sort(([, names], [, two]) => two.length - names.length);
      const [address] = other?.[1] ?? [];
      if (!usual || address === undefined) continue;
      yield {
        at: address,
        says: `${list(fields)} have one label and ${names.size} names`,
        mend: 'Give them one name.',
        command: `lumbrik rename ${address} ${usual[0]}`,
      };
    }
  },
};
