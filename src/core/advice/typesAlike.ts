import { list, listSome } from '../plain/words.ts';
import { type Advice, isShared } from './define.ts';

/** Types with so few fields of their own are alike by chance. */
const [fewest, share] = [4, 0.7];

/** Two types with nearly the same fields. */
export const typesAlike: Advice = {
  name: 'types-alike',
  why: 'One thing in two types has to be changed and searched twice.',
  *find({ model }) {
    const types = [...model.types.values()].map(
      ({ name, fields, definition }): ComparedType => ({
        name,
        isSingle: definition.single === true,
        fields: new Map(
          [...fields.values()]
            .filter((field) => !isShared(model, name, field.name))
            .map((field) => [`${field.name} ${field.kind.name} ${field.common.many !== undefined}`, field.name]),
        ),
      }),
    );
    // Of many that are all alike, each would be reported with each.
    const reported = new Map<string, string>();
    for (const [index, type] of types.entries()) {
      const alike = types.slice(index + 1).flatMap((other) => {
        const isTold = reported.has(type.name) && reported.get(type.name) === reported.get(other.name);
        const shared = isTold ? undefined : inBoth(type, other);
        if (!shared) return [];
        return [{ name: other.name, both: shared }];
      });
      const [first] = alike;
      if (!first) continue;

      const group = reported.get(type.name) ?? type.name;
      for (const name of [type.name, ...alike.map((other) => other.name)])
        reported.set(name, reported.get(name) ?? group);
      const names = alike.map(({ name }) => name);
      yield {
        at: type.name,
        says: `${first.both.length} of its ${type.fields.size} fields are in ${listSome(names)} too, of the same kinds: ${list(first.both.slice(0, 5))}`,
        mend: 'Make them one type with a choice that tells them apart, or let one extend the other.',
        command: `lumbrik show ${first.name}`,
      };
    }
  },
};

interface ComparedType {
  readonly name: string;
  readonly isSingle: boolean;
  /** Its own fields, by the facts that are compared. */
  readonly fields: ReadonlyMap<string, string>;
}

/** The fields that two types have alike, where these are most of both. */
function inBoth(first: ComparedType, other: ComparedType): readonly string[] | undefined {
  if (first.isSingle || other.isSingle) return undefined;
  const shared = [...first.fields].filter(([key]) => other.fields.has(key)).map(([, name]) => name);
  const most = Math.max(first.fields.size, other.fields.size);
  if (shared.length < fewest || shared.length < share * most) return undefined;
  return shared;
}
