import type { FieldDoc } from '../../definition/field.ts';
import { celName } from '../../definition/fieldName.ts';
import type { ModelDoc } from '../../definition/model.ts';
import { isLine, isYesOrNo } from '../../kinds/traits.ts';
import type { Model } from '../../model/link.ts';
import { fieldNamed } from '../../model/nestedFields.ts';
import { sayShape } from '../../model/traversal.ts';
import { type JsonObject, ownValue } from '../../plain/json.ts';
import { slugCall } from '../../plain/slugify.ts';
import { count } from '../../plain/words.ts';
import { type Counter, type Impact, share } from '../counter.ts';
import { crossEntryCounter, pointingCounter } from '../crossEntryCounter.ts';
import { askForSteps, celVariable, type DraftedStep, withSuggestion } from '../draftedStep.ts';
import { type FieldPlace, holders, missing } from '../fieldValues.ts';
import { type ComparedModels, defineDifference } from './define.ts';

/** A type has a new field. */
export interface FieldAdded extends FieldPlace {
  readonly name: 'field-added';
  readonly definition: FieldDoc;
}

const addressOf = ({ type, field }: FieldAdded): string => `${type}.${field}`;

export const fieldAdded = defineDifference<FieldAdded>({
  name: 'field-added',
  address: addressOf,
  say: ({ definition }) => `new field, ${gistOf(definition)}`,
  rate: (difference, { after }) => ({
    entries: difference.definition.required === undefined && !asksPointing(difference, after) ? 'valid' : 'migrate',
    readers: 'notice',
  }),
  count: (difference, models) => {
    const by = asksPointing(difference, models.after);
    const lacking = lackingCounter(difference, models);
    if (!by) return lacking;
    const pointing = pointingCounter(models, by);
    if (!lacking) return pointing;
    return eitherCounter(lacking, pointing);
  },
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  draft: {
    step: ([fieldAdded], { impactOf, takes, after }) => {
      const address = addressOf(fieldAdded);
      const drafted = step(address, fieldAdded.definition, impactOf(fieldAdded));
      const suggest = suggestedFill(fieldAdded, after);
      const isTaken = suggest?.value === undefined || takes(address, suggest.value);
      if (suggest && isTaken) return withSuggestion(drafted, suggest);
      return drafted;
    },
  },
});

/** The address of a new reference that has to lead to its targets, anyone who they are. */
function asksPointing({ type, field }: FieldAdded, after: Model): string | undefined {
  const linked = after.types.get(type);
  const added = linked && fieldNamed(linked, field);
  if (added && (added.kind.pointsAt(added.options).inverseMin ?? 0) > 0) return added.address;
  return undefined;
}

/** Entries that lack a value that they have to have. */
function lackingCounter(difference: FieldAdded, models: ComparedModels): Counter | undefined {
  const { required, when } = difference.definition;
  if (required === undefined) return undefined;
  if (when !== undefined) return whereItAppliesCounter(difference, models);
  return missing(difference.type, required, ({ fields }) => holders(models.between, difference, fields).length > 0);
}

/** Entries that one condition or another applies to. */
const eitherCounter = (first: Counter, second: Counter): Counter => ({
  see: (entry) => {
    first.see(entry);
    second.see(entry);
  },
  impact: () => {
    const [firstImpact, other] = [first.impact(), second.impact()];
    if (firstImpact.hits === 0) return other;
    if (other.hits === 0) return firstImpact;
    return { ...firstImpact, says: `${firstImpact.says}; ${other.says}` };
  },
});

/** Entries that lack it, of those that it applies to. */
const whereItAppliesCounter = ({ type, field }: FieldAdded, models: ComparedModels): Counter =>
  crossEntryCounter(
    models,
    ({ finding, entry, path, severity }) =>
      finding === 'required-missing' && severity === 'error' && entry.type === type && path[0] === field,
    (hits, total) => `${share(hits, total)} no value`,
  );

const gistOf = (field: FieldDoc): string =>
  [sayShape(field), requirement(field, 'required')].filter((text) => text !== '').join(', ');

function requirement({ required }: FieldDoc, word: string): string {
  if (required === undefined) return '';
  if (required !== 'published') return word;
  return `${word} once published`;
}

/** What entries may get in a new field, as far as its definition and its neighbours tell; `undefined` where they do not. */
function suggestedFill({ type, field, definition }: FieldAdded, after: ModelDoc): JsonObject | undefined {
  const { kind, many, mayBeEmpty, default: usual } = definition;
  if (usual !== undefined) return { value: usual };
  if (isYesOrNo(definition) && many === undefined) return { value: false };
  if (many !== undefined) return mayBeEmpty === true ? { value: [] } : undefined;
  if (kind !== 'slug' || field.includes('.')) return undefined;

  const { titled, fields = {} } = ownValue(after.types, type) ?? {};
  const source = typeof definition.from === 'string' ? definition.from : titled;
  const isText =
    source !== undefined && isLine(ownValue(fields, source) ?? {}) && ownValue(fields, source)?.localized === undefined;

  if (!isText) return undefined;
  return { cel: `entry.${celName(source)}.${slugCall(after.languages[0] ?? '')}` };
}

/** What fills a new field: of a slug, its source. */
function fillOf(address: string, { kind, from }: FieldDoc): string {
  if (kind === 'slug' && typeof from === 'string') return `\`cel: ${celVariable(address)}.${celName(from)}.slug()\``;
  return `\`value: …\` (the same for all) or \`cel: ${celVariable(address)}.…\` (computed from each)`;
}

function step(address: string, field: FieldDoc, impact: Impact | undefined): DraftedStep {
  const data = { add: address, field };
  if (!impact) return { data, why: 'New and optional: the entries that exist stay without it.' };

  const demand = requirement(field, 'required');
  const reason = `New${demand === '' ? '' : ` and ${demand}`}; ${impact.says}.`;
  if (impact.hits === 0) return { data, why: reason };
  if (demand === '') return { data, why: reason, open: askForSteps };

  const who = impact.hits === 1 ? 'does the entry' : `do the ${count(impact.hits, 'entry', 'entries')}`;

  return {
    data,
    why: reason,
    open: {
      question: `What ${who} without a value get? Yes leaves them to their authors.`,
      how: `Add ${fillOf(address, field)}, or \`answer: yes\` to leave them to their authors (the check will list them).`,
    },
  };
}
