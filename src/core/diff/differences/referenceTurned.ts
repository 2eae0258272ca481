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
  count: (one, { between }) =>
    filled(between, one, (hits, of) => `${share(hits, of)} a value, kept on the other side then`),
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: {
    step: ([one], { impactOf }) => {
      const impact = impactOf(one);
      return {
        data: { turn: addressOf(one), to: `${one.toType}.${one.toField}`, field: one.is },
        why: `\`${addressOf(one)}\` is gone, and \`${one.toType}.${one.toField}\` is new and leads the other way.${impact ? ` ${sentence(impact.says)}` : ''}${askedOf(`${one.toType}.${one.toField}`, one.is)}`,
        open: { question: 'Was it turned round?', how: howToRefuse(addressOf(one)) },
      };
    },
  },
});
