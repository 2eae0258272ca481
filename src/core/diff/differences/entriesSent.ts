import { isRequiredOf } from '../../definition/field.ts';
import { isEmpty } from '../../entry/entry.ts';
import { countedValue } from '../../model/emptiness.ts';
import { compact, ownValue } from '../../plain/json.ts';
import { groupThousands, listSome } from '../../plain/words.ts';
import { countEntries, share } from '../counter.ts';
import { sentence } from '../draftedStep.ts';
import { conditionOn } from '../entryCondition.ts';
import { defineDifference } from './define.ts';

/** Entries of a type belong to another one, by all that can be seen. */
export interface EntriesSent {
  readonly name: 'entries-sent';
  readonly from: string;
  readonly to: string;
  /** Which, by a condition that is guessed; absent where it is all of them. */
  readonly where: string | undefined;
  /** Another type that has nearly as many of the fields. */
  readonly rival?: string;
}

/** What entries would lack where they go. */
const sayLacking = (lacking: ReadonlyMap<string, number>): string => {
  if (lacking.size === 0) return '';
  return `; required there is ${listSome([...lacking].map(([name, times]) => `\`${name}\`, which ${groupThousands(times)} would lack`))}`;
};

/** What entries have that finds no place where they go. */
const sayLost = (lost: ReadonlyMap<string, number>): string => {
  if (lost.size === 0) return '';
  return `; lost would be ${listSome([...lost].map(([name, times]) => `\`${name}\` of ${groupThousands(times)}`))}, for which it has no field`;
};

export const entriesSent = defineDifference<EntriesSent>({
  name: 'entries-sent',
  address: ({ from }) => from,
  say: ({ to, where }) => (where === undefined ? `entries go to ${to}` : `entries go to ${to}, where ${where}`),
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: ({ from, to, where }, { between, after }) => {
    const isSent = conditionOn(where, from, between);
    const required = [...(after.types.get(to)?.fields.values() ?? [])].filter(
      ({ common }) => common.when === undefined && common.computed === undefined,
    );
    const lacking = new Map<string, number>();
    const lost = new Map<string, number>();
    const targetFields = after.types.get(to)?.fields;
    const leftBehind = [...(between.types.get(from)?.fields.values() ?? [])].filter(
      (field) => !targetFields?.has(field.name) && field.common.computed === undefined,
    );

    return countEntries(
      from,
      (entry) => {
        if (!isSent(entry)) return false;

        for (const { name, common } of required)
          if (isRequiredOf(common.required, entry.status) && isEmpty(ownValue(entry.fields, name)))
            lacking.set(name, (lacking.get(name) ?? 0) + 1);

        for (const field of leftBehind)
          if (countedValue(field, ownValue(entry.fields, field.name)) !== undefined)
            lost.set(field.name, (lost.get(field.name) ?? 0) + 1);

        return true;
      },
      (hits, total) =>
        `${share(hits, total, ['is', 'are'])} such, and would be of ${to}${sayLacking(lacking)}${sayLost(lost)}`,
    );
  },
  draft: {
    step: ([entriesSent], { impactOf }) => {
      const { from, to, where, rival } = entriesSent;
      const impact = impactOf(entriesSent);
      const beside = rival === undefined ? '' : ` \`${rival}\` would fit as well.`;
      const reach = `${beside}${impact ? ` ${sentence(impact.says)}` : ''}`;

      return {
        data: compact({ send: from, to, where }),
        why:
          where === undefined
            ? `\`${from}\` is gone, and \`${to}\` has most of its fields.${reach}`
            : `\`${to}\` is new, and has fields of \`${from}\`.${reach}`,
        open: {
          question:
            where === undefined
              ? `Do its entries become entries of \`${to}\`?`
              : `Which entries of \`${from}\` become entries of \`${to}\`?`,
          how: `As \`${where === undefined ? 'send' : 'where'}\` says: add \`answer: yes\`. Others: change \`where\`, a condition over \`entry\`. None: lumbrik migration answer --no; the rest of the file stays.`,
        },
      };
    },
  },
});
