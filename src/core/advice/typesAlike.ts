import { list, listSome } from '../plain/words.ts';
import { type Advice, isShared } from './define.ts';

/** Types with so few fields of their own are alike by chance. */
const [fewest, share] = [4, 0.7];

export const typesAlike: Advice = {
  name: 'types-alike',
  why: 'What is one thing in two types has to be changed twice, and looked for twice.',
  *find({ model }) {
    const types = [...model.types.values()].map(
      ({ name, fields, definition }): Compared => ({
        name,
        isSingle: definition.single === true,
        fields: new Map(
          [...fields.values()]
            .filter((field) => !isShared(model, name, field.name))
            .map((field) => [`${field.name} ${field.kind.name} ${field.common.many !== undefined}`, field.name]),
        ),
      }),
    );
    // Of many that are all alike, each would be told with each.
    const told = new Map<string, string>();
    for (const [index, one] of types.entries()) {
      const alike = types.slice(index + 1).flatMap((other) => {
        const isTold = told.has(one.name) && told.get(one.name) === told.get(other.name);
        const both = isTold ? undefined : inBoth(one, other);
        return both ? [{ name: other.name, both }] : [];
      });
      const [first] = alike;
      if (!first) continue;
      const group = told.get(one.name) ?? one.name;
      for (const name of [one.name, ...alike.map((other) => other.name)]) told.set(name, told.get(name) ?? group);
      const names = alike.map(({ name }) => name);
      yield {
        at: one.name,
        says: `${first.both.length} of its ${one.fields.size} fields are in ${listSome(names)} too, of the same kinds: ${list(first.both.slice(0, 5))}`,
        mend: 'Make them one type with a choice that tells them apart, or let one extend the other.',
        command: `lumbrik show ${first.name}`,
      };
    }
  },
};

interface Compared {
  readonly name: string;
  readonly isSingle: boolean;
  /** Its own fields, by what is compared of them. */
  readonly fields: ReadonlyMap<string, string>;
}

/** The fields that two types have alike, where these are most of both. */
function inBoth(one: Compared, other: Compared): readonly string[] | undefined {
  if (one.isSingle || other.isSingle) return undefined;
  const both = [...one.fields].filter(([key]) => other.fields.has(key)).map(([, name]) => name);
  const most = Math.max(one.fields.size, other.fields.size);
  return both.length < fewest || both.length < share * most ? undefined : both;
}
