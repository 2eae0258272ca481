import { sayShape } from '../../model/traversal.ts';
import { compact, isList } from '../../plain/json.ts';
import { listSome, quote } from '../../plain/words.ts';
import { alikeValues, type Variants } from '../alikeValues.ts';
import { countEntries, type Impact, share } from '../counter.ts';
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
const targetOf = ({ newField }: ValuesPulled): string => String(isList(newField.to) ? newField.to[0] : newField.to);

export const valuesPulled = defineDifference<ValuesPulled>({
  name: 'values-pulled',
  address: addressOf,
  say: (difference, arrow) =>
    `${sayShape(difference.oldField)} ${arrow} ${sayShape(difference.newField)} to ${targetOf(difference)}, which is new`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: (difference, { between }) => {
    const values = new Map<string, number>();
    const counter = countEntries(
      difference.type,
      ({ fields }) => {
        const items =
          difference.as === undefined
            ? [JSON.stringify(fields[difference.field] ?? null)]
            : itemsOf(between, difference, fields);
        for (const item of items) {
          const key = JSON.stringify(item);
          if (values.size < mostCounted || values.has(key)) values.set(key, (values.get(key) ?? 0) + 1);
        }

        const [value] = items;

        if (value === undefined || value === 'null') return false;
        return { value };
      },
      (hits, total) =>
        `${share(hits, total)} a value, ${values.size === 1 ? 'all the same' : `${values.size} different ones`}`,
    );

    return {
      see: counter.see,
      impact: () => {
        const merge = difference.as === undefined ? {} : alikeValues(textsIn(values));
        if (Object.keys(merge).length === 0) return counter.impact();
        return withMerge(counter.impact(), merge);
      },
    };
  },
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: {
    step: ([difference], { impactOf }) => {
      const impact = impactOf(difference);
      return {
        data: compact({
          pull: addressOf(difference),
          field: difference.newField,
          as: difference.as,
          ...impact?.way?.data,
        }),
        why: `\`${difference.field}\` points at \`${targetOf(difference)}\`, which is new.${impact ? ` ${sentence(impact.says)}` : ''}${impact?.way ? ` ${sentence(impact.way.says)}` : ''}`,
        open: {
          question: `Does each different value become an entry of \`${targetOf(difference)}\`?${impact?.way ? ` ${impact.way.asks}` : ''}`,
          how: `${impact?.way ? 'Look at the line `merge` first, and take out what is not meant. ' : ''}${howToRefuse(addressOf(difference))}`,
        },
      };
    },
  },
});

/** So many values are distinguished. */
const mostCounted = 10_000;

/** The texts among some values, which are known as JSON. */
const textsIn = (values: ReadonlyMap<string, number>): ReadonlyMap<string, number> =>
  new Map(
    [...values].flatMap(([json, times]) => {
      const value: unknown = JSON.parse(json);
      if (typeof value !== 'string') return [];
      return [[value, times] as const];
    }),
  );

/** The counts, with values that become one entry since they are other ways of writing one. */
function withMerge(impact: Impact, merge: Variants): Impact {
  const pairs = Object.entries(merge).map(([variant, value]) => `${quote(variant)} as ${quote(value)}`);
  return {
    ...impact,
    way: {
      data: { merge },
      says: `Some look like other ways of writing one: ${listSome(pairs, 5)}`,
      asks: 'Are those in `merge` other ways of writing one?',
    },
  };
}
