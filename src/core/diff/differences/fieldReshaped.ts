import type { FieldDoc } from '../../definition/field.ts';
import { kinds } from '../../kinds/index.ts';
import { asks, converter } from '../../model/convertValue.ts';
import { isNone } from '../../model/emptiness.ts';
import { linkField } from '../../model/link.ts';
import { sayShape } from '../../model/traversal.ts';
import type { Json } from '../../plain/json.ts';
import { quote } from '../../plain/words.ts';
import { type Counter, countEntries, share } from '../counter.ts';
import { celStart, type DraftedStep } from '../draftedStep.ts';
import { type FieldPlace, faults, valuesOf } from '../fieldValues.ts';
import { type Compared, type DraftContext, defineDifference } from './define.ts';

/** A field stores its values in another shape: as another kind, as many or one, by language or not. */
export interface FieldReshaped extends FieldPlace {
  readonly name: 'field-reshaped';
  readonly was: FieldDoc;
  readonly is: FieldDoc;
}

const addressOf = ({ type, field }: FieldReshaped): string => `${type}.${field}`;

export const fieldReshaped = defineDifference<FieldReshaped>({
  name: 'field-reshaped',
  address: addressOf,
  say: ({ was, is }, arrow) => `${sayShape(was)} ${arrow} ${sayShape(is)}`,
  rate: ({ was, is }) => ({ entries: canConvert(was, is) ? 'migrate' : 'lose', readers: 'break' }),
  count,
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: { step },
});

const canConvert = (was: FieldDoc, is: FieldDoc): boolean =>
  was.kind === is.kind || kinds.get(is.kind)?.from[was.kind] !== undefined;

/** Values that cannot be converted, or that do not fit then, and entries that newly lack one. */
function count({ type, field, was, is }: FieldReshaped, { between, after }: Compared): Counter | undefined {
  const from = linkField({ type }, field, was);
  const to = linkField({ type }, field, is);
  if (!from || !to) return undefined;
  const convert = converter(from, to, after.context);
  const breaks = faults(to, after.context);

  return countEntries(
    type,
    ({ fields, status }) => {
      const isHit = (value: Json | undefined): boolean => {
        const converted = value === undefined || isNone(from, value) ? { value: undefined, lost: [] } : convert(value);
        if (converted.lost.length > 0) return true;
        if (converted.value === undefined) return asks(to, status) && !asks(from, status);
        return breaks(converted.value, status) > 0;
      };
      const [hit] = valuesOf(between, { type, field }, fields)
        .filter(isHit)
        .map((value) => ({ value }));
      if (!hit) return false;
      return hit.value === undefined ? true : { value: hit.value };
    },
    (hits, of, _worst, [first]) =>
      `${share(hits, of)} a value that cannot be carried over or does not fit${first?.value === undefined ? '' : `, for example ${first.entry} (${quote(first.value)})`}`,
  );
}

function step([one]: readonly [FieldReshaped, ...unknown[]], { impactOf }: DraftContext): DraftedStep {
  const { was, is } = one;
  const impact = impactOf(one);
  const data = { convert: addressOf(one), field: is };
  const what = `${sayShape(was)} becomes ${sayShape(is)}`;
  if (!impact || impact.hits === 0) return { data, why: `${what}: every value can be carried over.` };

  return {
    data,
    why: `${what}; ${impact.says}.`,
    open: {
      question: 'What becomes of the values that cannot be carried over or do not fit?',
      how: `Add \`value: …\` or \`cel: ${celStart(addressOf(one))}…\` for what they get, or let them be lost; then delete the line \`open\`.`,
    },
  };
}
