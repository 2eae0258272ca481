import { type Measure, mayHit, rate } from '../../kinds/compatibility.ts';
import { type Field, linkField, type Model } from '../../model/link.ts';
import { fieldAddressed } from '../../model/nestedFields.ts';
import { compatibilityOf, directionOf, splitMany } from '../../model/optionCompatibility.ts';
import { rewriter } from '../../model/rewriter.ts';
import { inLists, singleValues } from '../../model/traversal.ts';
import { compact, equal, type Json, ownValue, withKey, withoutKey } from '../../plain/json.ts';
import { quote } from '../../plain/words.ts';
import { type Counter, countEntries, type Example, type Impact, share } from '../counter.ts';
import { crossEntryCounter } from '../crossEntryCounter.ts';
import { areNew, type FieldPlace, faults, missing, valuesOf } from '../fieldValues.ts';
import { detailsOfOption, type OptionDifference, type OptionPart, sayOption } from '../optionText.ts';
import { worstOf } from '../rating.ts';
import { asksNewTargets, countBetweenEntries, type OptionOfField, optionsBetween } from './betweenEntries.ts';
import { changeOptions } from './changeOptions.ts';
import { type ComparedModels, defineDifference } from './define.ts';

/** An option of a field is another one. What that means is known to its kind alone. */
export interface FieldChanged extends OptionOfField {
  readonly name: 'field-changed';
  /** Whether the values take another shape before this: they are looked at in that one. */
  readonly isReshaped?: true;
}

export const fieldChanged = defineDifference<FieldChanged>({
  name: 'field-changed',
  address: ({ type, field }) => `${type}.${field}`,
  say: sayOption,
  rate: (difference, models) =>
    worstOf([
      ...partsOf(difference).map(({ option, before, after }) =>
        rate(compatibilityOf(difference.oldField.kind, option), before, after),
      ),
      { entries: asksNewTargets(difference, models) ? 'migrate' : 'valid', readers: 'unaffected' },
    ]),
  count: (difference, models) =>
    ownValue(optionsBetween, difference.option)
      ? countBetweenEntries(difference, models)
      : optionCounter(difference, models),
  carries: ({ type, field, oldField }, { after }) => {
    const [from, to] = [linkField({ type }, field, oldField), fieldAddressed(after, `${type}.${field}`)];
    return from && to && rewriter(from, to);
  },
  field: ({ type, field }) => ({ type, field, side: 'after' }),
  details: detailsOfOption,
  draft: { step: (group, context) => changeOptions(`${group[0].type}.${group[0].field}`, group, context) },
});

/** `many` has two bounds in one option; each counts on its own. */
const partsOf = ({ option, before, after }: OptionDifference): readonly OptionPart[] => {
  if (option === 'many') return splitMany(before, after);
  return [{ option, before, after }];
};

function optionCounter(difference: FieldChanged, models: ComparedModels): Counter | undefined {
  const { type, field, option, oldField, after, isReshaped = false } = difference;
  const isGate = isReshaped || option === 'when' || option === 'mayBeEmpty' || ownValue(oldField, 'when') !== undefined;
  if (isGate) return wholeCounter(difference, models);
  if (option === 'required') return requiredCounter(difference, models);

  const parts = partsOf(difference).filter((part) => mayHit(directionOf(oldField.kind, part)));
  const isListed = parts.some((part) => part.option === 'many.orOne');
  const part = parts.find((part) => part.option !== 'many.orOne');
  if (!part) return isListed ? loneCounter(difference, models.between) : undefined;

  const changed = after === undefined ? withoutKey(oldField, option) : withKey(oldField, option, after);
  // Whether an empty value is one decides whether the others look at it.
  const newer = fieldAddressed(models.after, `${type}.${field}`)?.common.mayBeEmpty ?? false;
  const newOptions = newer ? withKey(changed, 'mayBeEmpty', true) : withoutKey(changed, 'mayBeEmpty');

  return violations(
    models,
    linkField({ type }, field, oldField),
    linkField({ type }, field, { ...newOptions, kind: oldField.kind }),
    {
      measure: compatibilityOf(oldField.kind, part.option).measure,
      isListed,
    },
  );
}

/** Entries in which one value is alone where only lists may: the step puts it into one. */
function loneCounter(difference: FieldChanged, between: Model): Counter {
  const linked = linkField({ type: difference.type }, difference.field, difference.oldField);
  const counter = countEntries(
    difference.type,
    ({ fields }) => {
      const value = valuesOf(between, difference, fields).find(
        (value) => linked !== undefined && value !== undefined && !equal(value, inLists(linked, value)),
      );
      if (value === undefined) return false;
      return { value };
    },
    (hits, total) => `${share(hits, total)} one value alone, which becomes a list`,
  );

  return { see: counter.see, impact: () => ({ ...counter.impact(), isSettled: true }) };
}

/** What may be found at one field because of the value of another. */
const hangsOnOthers: ReadonlySet<string> = new Set(['rule-broken', 'not-applicable', 'not-eligible']);

/** Entries of a type of which something becomes wrong: what an empty value breaks may be a limit, or a rule. */
const wholeCounter = ({ type, field }: FieldChanged, models: ComparedModels): Counter =>
  crossEntryCounter(
    models,
    ({ finding, entry, severity, path, by }) => {
      const isHere = path[0] === field.split('.')[0] || hangsOnOthers.has(finding);
      // Where the field does not apply, its references lead nowhere any more.
      return severity === 'error' && (by === `${type}.${field}` || (entry.type === type && isHere));
    },
    (hits, total, example) => `${share(hits, total, ['breaks it', 'break it'])}, for example ${example}`,
    (name) => name === type,
  );

/**
 * Entries that newly lack a value. The newer model decides which languages need one: where a field becomes
 * required and a language does at once, neither of the two asks for anything alone.
 */
function requiredCounter(
  difference: FieldChanged,
  { between, after: { context } }: ComparedModels,
): Counter | undefined {
  const { type, field, oldField, after } = difference;
  if (after === undefined) return undefined;

  const old = linkField({ type }, field, oldField);
  const newField = linkField({ type }, field, { ...withKey(oldField, 'required', after), kind: oldField.kind });
  if (!old || !newField) return undefined;

  const [passed, passes] = [faults(old, context), faults(newField, context)];
  const counter = missing(type, after, ({ fields, status }) =>
    valuesOf(between, difference, fields).some((value) => areNew(passed(value, status), passes(value, status))),
  );

  return counter && withUsual(counter, difference, between);
}

/** How many entries have to have one value, and none another, before it is suggested for those that lack one. */
const fewestAlike = 3;

/** A counter that also tells the value which all entries have that have one. */
function withUsual(counter: Counter, place: FieldPlace, between: Model): Counter {
  const values = new Map<string, { readonly value: Json; count: number }>();
  return {
    see: (entry) => {
      counter.see(entry);
      if (entry.type !== place.type || values.size > 1) return;
      for (const value of valuesOf(between, place, entry.fields)) {
        if (value === undefined || value === null) continue;
        const key = JSON.stringify(value);
        const existing = values.get(key) ?? { value, count: 0 };
        existing.count += 1;
        values.set(key, existing);
      }
    },
    impact: () => {
      const [only, ...rest] = values.values();
      const isUsual = only !== undefined && rest.length === 0 && only.count >= fewestAlike;
      return compact({ ...counter.impact(), usual: isUsual ? only.value : undefined });
    },
  };
}

interface Narrowing {
  readonly measure: Measure | undefined;
  /** Whether values that are alone are put into lists before. */
  readonly isListed: boolean;
}

/** Entries whose value passes the older definition of a field and breaks the newer one. */
function violations(
  { between, after }: ComparedModels,
  oldField: Field | undefined,
  newField: Field | undefined,
  { measure, isListed }: Narrowing,
): Counter | undefined {
  if (!oldField || !newField) return undefined;

  const passed = faults(oldField, between.context);
  const passesAsItIs = faults(newField, after.context);
  const passes: typeof passesAsItIs = (value, status) =>
    passesAsItIs(isListed && value !== undefined ? inLists(oldField, value) : value, status);

  return countEntries(
    newField.type,
    ({ fields, status }) => {
      const value = valuesOf(between, { type: newField.type, field: newField.name }, fields).find(
        (value) => value !== undefined && areNew(passed(value, status), passes(value, status)),
      );
      if (value === undefined) return false;
      return measured(value, newField, measure);
    },
    (hits, total, worst, [first]) => sayViolations({ hits, of: total, worst, first }, measure),
    measure?.worst,
  );
}

function measured(value: Json, field: Field, measure: Measure | undefined): { value: Json; size?: number } {
  const items = [value, ...singleValues(field, value).map(({ item }) => item)];
  const sizes = items.flatMap((item) => measure?.of(item) ?? []);
  if (!measure || sizes.length === 0) return { value };
  return { value, size: measure.worst === 'largest' ? Math.max(...sizes) : Math.min(...sizes) };
}

interface Violations extends Pick<Impact, 'hits' | 'of'> {
  readonly worst: Impact['worst'];
  readonly first: Example | undefined;
}

function sayViolations({ hits, of: total, worst, first }: Violations, measure: Measure | undefined): string {
  if (!measure || !worst)
    return `${share(hits, total, ['breaks it', 'break it'])}, for example ${first?.entry} (${quote(first?.value)})`;
  const those = `${share(hits, total, ['is', 'are'])} ${measure.beyond}`;
  if (hits === 1) return `${those}: ${worst.entry} ${measure.has(worst.size)}`;
  return `${those}; ${measure.extreme}, ${worst.entry}, ${measure.has(worst.size)}`;
}
