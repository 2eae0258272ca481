import type { FieldDoc } from '../../definition/field.ts';
import { share } from '../counter.ts';
import { askedOf, howToRefuse, sentence } from '../draftedStep.ts';
import { type FieldPlace, filled } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A reference is kept on its other side. */
export interface ReferenceTurned extends FieldPlace {
  readonly name: 'reference-turned';
  readonly was: FieldDoc;
  readonly toType: string;
  readonly toField: string;
  readonly is: FieldDoc;
}

const addressOf = ({ type, field }: ReferenceTurned): string => `${type}.${field}`;

export const referenceTurned = defineDifference<ReferenceTurned>({
  name: 'reference-turned',
  address: addressOf,
  say: ({ toType, toField }) => `turned round to ${toType}.${toField}`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: (difference, { between }) =>
    filled(between, difference, (hits, total) => `${share(hits, total)} a value, kept on the other side then`),
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: {
    step: ([difference], { impactOf }) => {
      const impact = impactOf(difference);
      return {
        data: { turn: addressOf(difference), to: `${difference.toType}.${difference.toField}`, field: difference.is },
        why: `\`${addressOf(difference)}\` is gone, and \`${difference.toType}.${difference.toField}\` is new and leads the other way.${impact ? ` ${sentence(impact.says)}` : ''}${askedOf(`${difference.toType}.${difference.toField}`, difference.is)}`,
        open: { question: 'Was it turned round?', how: howToRefuse(addressOf(difference)) },
      };
    },
  },
});
