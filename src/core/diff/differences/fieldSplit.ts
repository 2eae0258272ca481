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
import { type Compared, defineDifference } from './define.ts';

/** A text became several fields, each called after it. */
export interface FieldSplit extends FieldPlace {
  readonly name: 'field-split';
  readonly was: FieldDoc;
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
        const has = `${groupThousands(fits)} of ${asked}${groupThousands(texts.length)} have exactly ${parts} parts, with ${saySeparator(at)} between`;
        const read = weighedParts(one, models, { at, texts });
        const written = [...new Set(read.flatMap((part) => part.written))];
        const says = [has, ...read.map((part) => part.says)].join('. ');
        return {
          ...impact,
          way: { data: compact({ at, written: written.length > 0 ? written : undefined }), says, asks: '' },
        };
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
        why: `\`${one.field}\` is gone, and ${namesOf(one)} are new${isCalledAfter(one) ? ' and called after it' : ''}.${one.rival === undefined ? '' : ` \`${one.rival}\` would fit as well.`}${says.join('')}`,
        open: {
          question: `Is it split into ${namesOf(one)}?`,
          how: howToRefuse(addressOf(one)),
        },
      };
    },
  },
});

/** How those parts are written that become other values than texts. */
function weighedParts(
  { type, field, was, into }: FieldSplit,
  { after }: Compared,
  { at, texts }: { readonly at: string; readonly texts: readonly string[] },
): readonly Weighed[] {
  const from = linkField({ type }, field, was);
  const names = Object.keys(into);
  return names.flatMap((name, index): readonly Weighed[] => {
    const to = linkField({ type }, beside(field, name), into[name] ?? was);
    const weighing = from && to && textWeighing(from, to, after.context);
    if (!weighing) return [];
    for (const text of texts) {
      const part = partsOfText(text, at, names.length)[index];
      if (part !== undefined && part !== '') weighing.read(part);
    }

    const { weighed } = weighing;
    return weighed ? [{ ...weighed, says: `As \`${name}\`: ${weighed.says}` }] : [];
  });
}

/** So many values are asked what stands between their parts. */
const mostAsked = 10_000;
