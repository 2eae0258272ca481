import type { FieldDoc } from '../../definition/field.ts';
import { beside } from '../../definition/fieldName.ts';
import { linkField } from '../../model/link.ts';
import { partsIn, partsOfText, saySeparator } from '../../model/separators.ts';
import { textWeighing } from '../../model/writtenTexts.ts';
import { compact } from '../../plain/json.ts';
import { groupThousands, list } from '../../plain/words.ts';
import type { Weighed } from '../../writing/weighing.ts';
import { countEntries, share } from '../counter.ts';
import { howToRefuse, sentence } from '../draftedStep.ts';
import { type FieldPlace, valuesOf } from '../fieldValues.ts';
import { type ComparedModels, defineDifference } from './define.ts';

/** A text became several fields, each called after it. */
export interface FieldSplit extends FieldPlace {
  readonly name: 'field-split';
  readonly oldField: FieldDoc;
  readonly into: Readonly<Record<string, FieldDoc>>;
  /** Another text that is gone, and has as many parts. */
  readonly rival?: string;
}

const addressOf = ({ type, field }: FieldSplit): string => `${type}.${field}`;
/** Whether its parts say its name more closely, as `zeitVon` does `zeit`. */
const isCalledAfter = ({ field, into }: FieldSplit): boolean =>
  Object.keys(into).every((name) => name.toLowerCase().includes(field.toLowerCase()));

const namesOf = ({ into }: FieldSplit): string => list(Object.keys(into).map((name) => `\`${name}\``));

export const fieldSplit = defineDifference<FieldSplit>({
  name: 'field-split',
  address: addressOf,
  say: (difference) => `split into ${namesOf(difference)}`,
  rate: () => ({ entries: 'migrate', readers: 'break' }),
  count: (difference, models) => {
    const parts = Object.keys(difference.into).length;
    const texts: string[] = [];
    const counter = countEntries(
      difference.type,
      ({ fields }) => {
        const values = valuesOf(models.between, difference, fields).filter((value) => typeof value === 'string');
        if (texts.length < mostAsked) texts.push(...values);
        if (values[0] === undefined) return false;
        return { value: values[0] };
      },
      (hits, total) => `${share(hits, total)} a value`,
    );

    return {
      see: counter.see,
      impact: () => {
        const impact = counter.impact();
        const split = partsIn(texts, parts);
        if (!split) return impact;

        const { separator, fitting } = split;
        const sampled = texts.length < mostAsked ? '' : 'the first ';
        const has = `${groupThousands(fitting)} of ${sampled}${groupThousands(texts.length)} have exactly ${parts} parts, with ${saySeparator(separator)} between`;
        const read = weighedParts(difference, models, { separator, texts });
        const written = [...new Set(read.flatMap((part) => part.written))];
        const sentence = [has, ...read.map((part) => part.says)].join('. ');

        return {
          ...impact,
          way: {
            data: compact({ at: separator, written: written.length > 0 ? written : undefined }),
            says: sentence,
            asks: '',
          },
        };
      },
    };
  },
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: {
    step: ([difference], { impactOf }) => {
      const impact = impactOf(difference);
      const data = { split: addressOf(difference), at: ' ', ...impact?.way?.data, into: { ...difference.into } };
      const sentences = [impact?.says, impact?.way?.says].flatMap((text) =>
        text === undefined ? [] : [` ${sentence(text)}`],
      );

      return {
        data,
        why: `\`${difference.field}\` is gone, and ${namesOf(difference)} are new${isCalledAfter(difference) ? ' and called after it' : ''}.${difference.rival === undefined ? '' : ` \`${difference.rival}\` would fit as well.`}${sentences.join('')}`,
        open: {
          question: `Is it split into ${namesOf(difference)}?`,
          how: howToRefuse(addressOf(difference)),
        },
      };
    },
  },
});

/** How those parts are written that become other values than texts. */
function weighedParts(
  { type, field, oldField, into }: FieldSplit,
  { after }: ComparedModels,
  { separator, texts }: { readonly separator: string; readonly texts: readonly string[] },
): readonly Weighed[] {
  const from = linkField({ type }, field, oldField);
  const names = Object.keys(into);

  return names.flatMap((name, index): readonly Weighed[] => {
    const to = linkField({ type }, beside(field, name), into[name] ?? oldField);
    const weighing = from && to && textWeighing(from, to, after.context);
    if (!weighing) return [];

    for (const text of texts) {
      const part = partsOfText(text, separator, names.length)[index];
      if (part !== undefined && part !== '') weighing.read(part);
    }

    const { weighed } = weighing;

    if (!weighed) return [];
    return [{ ...weighed, says: `As \`${name}\`: ${weighed.says}` }];
  });
}

/** The number of values whose separators are compared. */
const mostAsked = 10_000;
