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
  readonly was: FieldDoc;
  readonly is: FieldDoc;
}

const addressOf = ({ type, field }: FieldReshaped): string => `${type}.${field}`;

export const fieldReshaped = defineDifference<FieldReshaped>({
  name: 'field-reshaped',
  address: addressOf,
  say: ({ was, is }, arrow) => `${sayShape(was)} ${arrow} ${sayShape(is)}`,
  rate: ({ was, is }) => ({ entries: canConvert(was, is) ? 'migrate' : 'lose', readers: 'break' }),
  count: reshapedCounter,
  carries: reshaper,
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: { step },
});

const canConvert = (was: FieldDoc, is: FieldDoc): boolean =>
  canBecome(was.kind, is.kind) || partOfObject(was, is) !== undefined || keyOfMap(was, is, 'en') !== undefined;

function step([one]: readonly [FieldReshaped, ...unknown[]], { impactOf }: DraftContext): DraftedStep {
  const { was, is } = one;
  const impact = impactOf(one);
  const data = { convert: addressOf(one), field: is, ...impact?.way?.data };
  const what = capital(`${sayShape(was)} becomes ${sayShape(is)}`);
  if (impact?.way) return wayStep(one, data, impact);
  if (!impact || impact.hits === 0) {
    if (impact?.of === 0) return { data, why: `${what}; there are no entries.` };
    const such = impact?.carried === undefined ? '' : `, such as ${impact.carried}`;
    return { data, why: `${what}: every value can be carried over${such}.` };
  }

  return {
    data,
    why: `${what}; ${impact.says}.`,
    open: askForLost(one),
  };
}

const askForLost = (one: FieldReshaped): NonNullable<DraftedStep['open']> => ({
  question: 'What becomes of values that cannot be carried or do not fit? Yes loses or leaves them.',
  how: howToFill(one),
});

/** How a person says that values are not carried over as the step has it. */
function howToRefuseWay({ written, field }: JsonObject): string {
  const others = otherWriting(written, field);
  if (others.length === 0) return 'No: `answer: no`';
  const [names = [], ...more] = others;
  if (more.length === 0) return `No: \`answer: no\`; they are read as written ${list(names.map(sayStyle))} then`;
  return `No: that as well, with \`written: ${list(
    others.map((each) => `[${each.join(', ')}]`),
    'or',
  )}\``;
}

const howToFill = (one: FieldReshaped): string =>
  `Add \`value: …\` or \`cel: ${celStart(addressOf(one))}…\` for what they get, or \`answer: yes\` to let them be lost.`;

/** A step that carries values over as they say themselves; whether they are right in that is for a person to say. */
function wayStep(one: FieldReshaped, data: JsonObject, { way, hits, says }: Impact): DraftedStep {
  const rest = hits === 0 ? 'so every value can be carried over' : `even so, ${says}`;
  const others = hits === 0 ? '' : ` For what is left: ${howToFill(one)}`;
  const why = `${sentence(`${sayShape(one.was)} becomes ${sayShape(one.is)}`)} ${sentence(way?.says ?? '')} ${sentence(rest)}`;
  if (way?.asks === undefined) return hits === 0 ? { data, why } : { data, why, open: askForLost(one) };
  return {
    data,
    why,
    open: {
      question: hits === 0 ? way.asks : `${way.asks} Yes also loses what cannot be carried over.`,
      how: `Yes: add \`answer: yes\`. ${howToRefuseWay(data)}.${others}`,
    },
  };
}
