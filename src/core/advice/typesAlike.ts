import { list } from '../plain/words.ts';
import { type Advice, isShared } from './define.ts';

/** Types with so few fields of their own are alike by chance. */
const [fewest, share] = [4, 0.7];

export const typesAlike: Advice = {
  name: 'types-alike',
  why: 'What is one thing in two types has to be changed twice, and looked for twice.',
  *find({ model }) {
    const types = [...model.types.values()].map(({ name, fields, definition }) => ({
      name,
      isSingle: definition.single === true,
      fields: new Map(
        [...fields.values()]
          .filter((field) => !isShared(model, name, field.name))
          .map((field) => [`${field.name} ${field.kind.name} ${field.common.many !== undefined}`, field.name]),
      ),
    }));
    for (const [index, one] of types.entries())
      for (const other of types.slice(index + 1)) {
        const both = [...one.fields].filter(([key]) => other.fields.has(key)).map(([, name]) => name);
        const least = Math.max(one.fields.size, other.fields.size);
        if (one.isSingle || other.isSingle || both.length < fewest || both.length < share * least) continue;
        yield {
          at: one.name,
          says: `${both.length} of its ${one.fields.size} fields are in ${other.name} too, of the same kinds: ${list(both.slice(0, 5))}`,
          mend: 'Make them one type with a choice that tells them apart, or let one extend the other.',
          command: `lumbrik show ${other.name}`,
        };
      }
  },
};
