import type { FieldDoc } from '../../definition/field.ts';
import { share } from '../counter.ts';
import { howToRefuse, sentence } from '../draftedStep.ts';
import { type FieldPlace, filled } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A field went to another type, to which a reference leads. */
export interface FieldMovedAlong extends FieldPlace {
  readonly name: 'field-moved-along';
  readonly was: FieldDoc;
  readonly toType: string;
  readonly toField: string;
  /** The reference between the two, by its address. */
  readonly along: string;
}

const addressOf = ({ type, field }: FieldMovedAlong): string => `${type}.${field}`;

export const fieldMovedAlong = defineDifference<FieldMovedAlong>({
  name: 'field-moved-along',
  address: addressOf,
  say: ({ toType, toField, along }) => `moved to ${toType}.${toField}, along ${along}`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: (one, { between }) => filled(between, one, (hits, of) => `${share(hits, of)} a value, which goes there`),
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: {
    step: ([one], { impactOf }) => {
      const impact = impactOf(one);
      const to = `${one.toType}.${one.toField}`;
      return {
        data: { move: addressOf(one), to, along: one.along },
        why: `\`${addressOf(one)}\` is gone, \`${to}\` is new and called so too, and \`${one.along}\` leads from one to the other.${impact ? ` ${sentence(impact.says)}` : ''}`,
        open: { question: `Did it move to \`${one.toType}\`?`, how: howToRefuse(`--not-renamed ${addressOf(one)}`) },
      };
    },
  },
});
