import { compact } from '../../plain/json.ts';
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
}

export const entriesSent = defineDifference<EntriesSent>({
  name: 'entries-sent',
  address: ({ from }) => from,
  say: ({ to, where }) => (where === undefined ? `entries go to ${to}` : `entries go to ${to}, where ${where}`),
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: ({ from, to, where }, { between }) =>
    countEntries(
      from,
      conditionOn(where, from, between),
      (hits, of) => `${share(hits, of, ['is', 'are'])} such, and would be of ${to}`,
    ),
  draft: {
    step: ([one], { impactOf }) => {
      const { from, to, where } = one;
      const impact = impactOf(one);
      const reach = impact ? ` ${sentence(impact.says)}` : '';
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
