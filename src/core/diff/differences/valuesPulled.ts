import { sayShape } from '../../model/traversal.ts';
import { compact, isList } from '../../plain/json.ts';
import { countEntries, share } from '../counter.ts';
import { howToRefuse, sentence } from '../draftedStep.ts';
import { itemsOf } from '../fieldValues.ts';
import { defineDifference } from './define.ts';
import type { FieldReshaped } from './fieldReshaped.ts';

/** The values of a field are entries of a new type, and it points there. */
export interface ValuesPulled extends Omit<FieldReshaped, 'name'> {
  readonly name: 'values-pulled';
  /** The field of the new type that holds a value; absent where it holds an object, by its parts. */
  readonly as: string | undefined;
}

const addressOf = ({ type, field }: ValuesPulled): string => `${type}.${field}`;
const targetOf = ({ is }: ValuesPulled): string => String(isList(is.to) ? is.to[0] : is.to);

export const valuesPulled = defineDifference<ValuesPulled>({
  name: 'values-pulled',
  address: addressOf,
  say: (one, arrow) => `${sayShape(one.was)} ${arrow} ${sayShape(one.is)} to ${targetOf(one)}, which is new`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: (one, { between }) => {
    const values = new Set<string>();
    const counter = countEntries(
      one.type,
      ({ fields }) => {
        const items =
          one.as === undefined ? [JSON.stringify(fields[one.field] ?? null)] : itemsOf(between, one, fields);
        for (const item of items) if (values.size < mostCounted) values.add(JSON.stringify(item));
        const [value] = items;
        return value === undefined || value === 'null' ? false : { value };
      },
      (hits, of) =>
        `${share(hits, of)} a value, ${values.size === 1 ? 'all the same' : `${values.size} different ones`}`,
    );
    return counter;
  },
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: {
    step: ([one], { impactOf }) => {
      const impact = impactOf(one);
      return {
        data: compact({ pull: addressOf(one), field: one.is, as: one.as }),
        why: `\`${one.field}\` points at \`${targetOf(one)}\`, which is new.${impact ? ` ${sentence(impact.says)}` : ''}`,
        open: {
          question: `Does each different value become an entry of \`${targetOf(one)}\`?`,
          how: howToRefuse(addressOf(one)),
        },
      };
    },
  },
});

/** So many values are told apart. */
const mostCounted = 10_000;
