import type { FieldDoc } from '../../definition/field.ts';
import { partsIn, saySeparator } from '../../model/separators.ts';
import { groupThousands, list } from '../../plain/words.ts';
import { countEntries, share } from '../counter.ts';
import { howToRefuse, sentence } from '../draftedStep.ts';
import { type FieldPlace, valuesOf } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A text became several fields, each called after it. */
export interface FieldSplit extends FieldPlace {
  readonly name: 'field-split';
  readonly was: FieldDoc;
  readonly into: Readonly<Record<string, FieldDoc>>;
}

const addressOf = ({ type, field }: FieldSplit): string => `${type}.${field}`;
const namesOf = ({ into }: FieldSplit): string => list(Object.keys(into).map((name) => `\`${name}\``));

export const fieldSplit = defineDifference<FieldSplit>({
  name: 'field-split',
  address: addressOf,
  say: (one) => `split into ${namesOf(one)}`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: (one, models) => {
    const parts = Object.keys(one.into).length;
    const texts: string[] = [];
    const counter = countEntries(
      one.type,
      ({ fields }) => {
        const values = valuesOf(models.between, one, fields).filter((value) => typeof value === 'string');
        if (texts.length < mostAsked) texts.push(...values);
        return values[0] === undefined ? false : { value: values[0] };
      },
      (hits, of) => `${share(hits, of)} a value`,
    );
    return {
      see: counter.see,
      impact: () => {
        const impact = counter.impact();
        const found = partsIn(texts, parts);
        if (!found) return impact;
        const { at, fits } = found;
        const asked = texts.length < mostAsked ? '' : 'the first ';
        const says = `${groupThousands(fits)} of ${asked}${groupThousands(texts.length)} have exactly ${parts} parts, with ${saySeparator(at)} between`;
        return { ...impact, way: { data: { at }, says, asks: '' } };
      },
    };
  },
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: {
    step: ([one], { impactOf }) => {
      const impact = impactOf(one);
      const data = { split: addressOf(one), at: ' ', ...impact?.way?.data, into: { ...one.into } };
      const says = [impact?.says, impact?.way?.says].flatMap((text) =>
        text === undefined ? [] : [` ${sentence(text)}`],
      );
      return {
        data,
        why: `\`${one.field}\` is gone, and ${namesOf(one)} are new and called after it.${says.join('')}`,
        open: {
          question: `Is it split into ${namesOf(one)}?`,
          how: howToRefuse(addressOf(one)),
        },
      };
    },
  },
});

/** So many values are asked what stands between their parts. */
const mostAsked = 10_000;
