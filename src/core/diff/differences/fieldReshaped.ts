import type { FieldDoc } from '../../definition/field.ts';
import { canBecome } from '../../model/convertValue.ts';
import { keyOfMap, partOfObject } from '../../model/partOfObject.ts';
import { sayShape } from '../../model/traversal.ts';
import type { JsonObject } from '../../plain/json.ts';
import { capital, list } from '../../plain/words.ts';
import { sayStyle } from '../../writing/index.ts';
import { otherWriting } from '../../writing/others.ts';
import type { Impact } from '../counter.ts';
import { celStart, type DraftedStep, sentence } from '../draftedStep.ts';
import type { FieldPlace } from '../fieldValues.ts';
import { reshapedCounter, reshaper } from '../reshaped.ts';
import { type DraftContext, defineDifference } from './define.ts';

/** A field stores its values in another shape: as another kind, as many or one, by language or not. */
export interface FieldReshaped extends FieldPlace {
  readonly name: 'field-reshaped';
  readonly oldField: FieldDoc;
  readonly newField: FieldDoc;
}

const addressOf = ({ type, field }: FieldReshaped): string => `${type}.${field}`;

export const fieldReshaped = defineDifference<FieldReshaped>({
  name: 'field-reshaped',
  address: addressOf,
  say: ({ oldField, newField }, arrow) => `${sayShape(oldField)} ${arrow} ${sayShape(newField)}`,
  rate: ({ oldField, newField }) => ({
    entries: canConvert(oldField, newField) ? 'migrate' : 'lose',
    readers: 'break',
  }),
  count: reshapedCounter,
  carries: reshaper,
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: { step },
});

const canConvert = (oldField: FieldDoc, newField: FieldDoc): boolean =>
  canBecome(oldField.kind, newField.kind) ||
  partOfObject(oldField, newField) !== undefined ||
  keyOfMap(oldField, newField, 'en') !== undefined;

function step([difference]: readonly [FieldReshaped, ...unknown[]], { impactOf }: DraftContext): DraftedStep {
  const { oldField, newField } = difference;
  const impact = impactOf(difference);
  const data = { convert: addressOf(difference), field: newField, ...impact?.way?.data };
  const subject = capital(`${sayShape(oldField)} becomes ${sayShape(newField)}`);
  if (impact?.way) return wayStep(difference, data, impact);
  if (!impact || impact.hits === 0) {
    if (impact?.of === 0) return { data, why: `${subject}; there are no entries.` };
    const such = impact?.carried === undefined ? '' : `, such as ${impact.carried}`;
    return { data, why: `${subject}: every value can be carried over${such}.` };
  }

  return {
    data,
    why: `${subject}; ${impact.says}.`,
    open: askForLost(difference),
  };
}

const askForLost = (difference: FieldReshaped): NonNullable<DraftedStep['open']> => ({
  question: 'What becomes of values that cannot be carried or do not fit? Yes loses or leaves them.',
  how: howToFill(difference),
});

/** How a person says that values are not carried over as the step has it. */
function howToRefuseWay({ written, field }: JsonObject): string {
  const otherWritings = otherWriting(written, field);
  if (otherWritings.length === 0) return 'No: `answer: no`';

  const [names = [], ...more] = otherWritings;
  if (more.length === 0) return `No: \`answer: no\`; they are read as written ${list(names.map(sayStyle))} then`;
  return `No: that as well, with \`written: ${list(
    otherWritings.map((writing) => `[${writing.join(', ')}]`),
    'or',
  )}\``;
}

const howToFill = (difference: FieldReshaped): string =>
  `Add \`value: …\` or \`cel: ${celStart(addressOf(difference))}…\` for what they get, or \`answer: yes\` to let them be lost.`;

/** A step that carries values over as they say themselves; whether they are right in that is for a person to say. */
function wayStep(difference: FieldReshaped, data: JsonObject, { way, hits, says: message }: Impact): DraftedStep {
  const rest = hits === 0 ? 'so every value can be carried over' : `even so, ${message}`;
  const forTheRest = hits === 0 ? '' : ` For what is left: ${howToFill(difference)}`;
  const reason = `${sentence(`${sayShape(difference.oldField)} becomes ${sayShape(difference.newField)}`)} ${sentence(way?.says ?? '')} ${sentence(rest)}`;
  if (way?.asks === undefined)
    return hits === 0 ? { data, why: reason } : { data, why: reason, open: askForLost(difference) };
  return {
    data,
    why: reason,
    open: {
      question: hits === 0 ? way.asks : `${way.asks} Yes also loses what cannot be carried over.`,
      how: `Yes: add \`answer: yes\`. ${howToRefuseWay(data)}.${forTheRest}`,
    },
  };
}
