import type { FieldDoc } from '../../definition/field.ts';
import { sayShape } from '../../model/traversal.ts';
import { count } from '../../plain/words.ts';
import type { Impact } from '../counter.ts';
import { celVariable, type DraftedStep } from '../draftedStep.ts';
import { type FieldPlace, holders, missing } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A type has a new field. */
export interface FieldAdded extends FieldPlace {
  readonly name: 'field-added';
  readonly definition: FieldDoc;
}

export const fieldAdded = defineDifference<FieldAdded>({
  name: 'field-added',
  address: ({ type, field }) => `${type}.${field}`,
  say: ({ definition }) => `new field, ${gistOf(definition)}`,
  rate: ({ definition }) => ({ entries: definition.required === undefined ? 'valid' : 'migrate', readers: 'notice' }),
  count: (difference, { between }) =>
    missing(
      difference.type,
      difference.definition.required,
      ({ fields }) => holders(between, difference, fields).length > 0,
    ),
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: { step: ([one], { impactOf }) => step(`${one.type}.${one.field}`, one.definition, impactOf(one)) },
});

const gistOf = (field: FieldDoc): string =>
  [sayShape(field), requirement(field, 'required')].filter((one) => one !== '').join(', ');

function requirement({ required }: FieldDoc, word: string): string {
  if (required === undefined) return '';
  return required === 'published' ? `${word} once published` : word;
}

function step(address: string, field: FieldDoc, impact: Impact | undefined): DraftedStep {
  const data = { add: address, field };
  if (!impact) return { data, why: 'New and optional: the entries that exist stay without it.' };
  const why = `New and ${requirement(field, 'required')}; ${impact.says}.`;
  if (impact.hits === 0) return { data, why };

  const who = impact.hits === 1 ? 'does the entry' : `do the ${count(impact.hits, 'entry', 'entries')}`;

  return {
    data,
    why,
    open: {
      question: `What ${who} without a value get?`,
      how: `Add \`value: …\` (the same for all) or \`cel: ${celVariable(address)}.…\` (computed from each), then delete the line \`open\`.`,
    },
  };
}
