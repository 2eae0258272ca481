import type { FieldDoc } from '../../definition/field.ts';
import { list } from '../../plain/words.ts';
import { share } from '../counter.ts';
import { howToRefuse, sentence } from '../draftedStep.ts';
import { filled } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** Several fields became one, after which they were called. */
export interface FieldsJoined {
  readonly name: 'fields-joined';
  readonly type: string;
  /** Those that are gone, in order. */
  readonly fields: readonly string[];
  readonly field: string;
  readonly newField: FieldDoc;
}

const addressOf = ({ type, fields: [first = ''] }: FieldsJoined): string => `${type}.${first}`;
const namesOf = (names: readonly string[]): string => list(names.map((name) => `\`${name}\``));

export const fieldsJoined = defineDifference<FieldsJoined>({
  name: 'fields-joined',
  address: addressOf,
  say: ({ fields: [, ...rest], field }) => `joined with ${namesOf(rest)} into \`${field}\``,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: ({ type, fields: [first = ''] }, { between }) =>
    filled(between, { type, field: first }, (hits, total) => `${share(hits, total)} a value of the first`),
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: {
    step: ([difference], { impactOf }) => {
      const { fields, field, newField } = difference;
      const impact = impactOf(difference);

      return {
        data: { join: addressOf(difference), and: fields.slice(1), with: ' ', into: { [field]: newField } },
        why: `${sentence(`${namesOf(fields)} are gone, and \`${field}\` is new, after which they were called`)}${impact ? ` ${sentence(impact.says)}` : ''}`,
        open: {
          question: 'Are they joined, with a blank between?',
          how: howToRefuse(addressOf(difference)),
        },
      };
    },
  },
});
