import type { FieldDoc } from '../../definition/field.ts';
import type { FindingName } from '../../definition/findingNames.ts';
import type { Finding } from '../../entry/findings.ts';
import { mayHit } from '../../kinds/compatibility.ts';
import { type Field, linkField, type Model } from '../../model/link.ts';
import { fieldAddressed } from '../../model/nestedFields.ts';
import { directionOf } from '../../model/optionCompatibility.ts';
import { isList, type Json, ownValue, type Path } from '../../plain/json.ts';
import { type Counter, countEntries, share } from '../counter.ts';
import { crossEntryCounter } from '../crossEntryCounter.ts';
import { type FieldPlace, itemsOf } from '../fieldValues.ts';
import type { OptionDifference } from '../optionText.ts';
import type { ComparedModels } from './define.ts';

/** An option of a field that is another one, with the field as it was. */
export interface OptionOfField extends FieldPlace, OptionDifference {
  readonly oldField: FieldDoc;
}

/** Whether a reference comes to types to whose entries some have to lead. */
export function asksNewTargets({ type, field, option }: OptionOfField, { between, after }: ComparedModels): boolean {
  if (option !== 'to') return false;

  const pointsAt = (model: Model): ReturnType<Field['kind']['pointsAt']> | undefined => {
    const linked = fieldAddressed(model, `${type}.${field}`);
    return linked?.kind.pointsAt(linked.options);
  };

  const [oldTargets, newTargets] = [pointsAt(between), pointsAt(after)];
  return (
    (newTargets?.inverseMin ?? 0) > 0 && (newTargets?.types ?? []).some((type) => !oldTargets?.types.includes(type))
  );
}

/** Options that hold between entries, with the findings of entries that break them. */
export const optionsBetween: Readonly<Record<string, readonly FindingName[]>> = {
  eligible: ['not-eligible'],
  inverse: ['too-many-pointing', 'too-few-pointing'],
  computed: ['not-computed'],
  unique: ['not-unique'],
  to: ['wrong-target', 'malformed-reference', 'too-few-pointing'],
};

/** The same, with options that hold in an entry alone and whose findings do not name the limit. */
export const foundByOption: Readonly<Record<string, readonly FindingName[]>> = {
  ...optionsBetween,
  required: ['required-missing'],
  pattern: ['pattern'],
};

/** Counts entries that an option hits which holds between entries: those that come to break it, and those that a step rewrites. */
export function countBetweenEntries(difference: OptionOfField, models: ComparedModels): Counter | undefined {
  const { between } = models;
  const { option, oldField } = difference;
  const isAsked = asksNewTargets(difference, models);
  if (!mayHit(directionOf(oldField.kind, difference)) && !isAsked) return undefined;
  if (option === 'to' && staysAmong(ownValue(oldField, 'to'), difference.after)) {
    const settled = writtenOut(difference, between);
    if (!isAsked) return settled;
    return settledBeside(brokenBetween(difference, models), settled);
  }
  return brokenBetween(difference, models);
}

/** Counts entries in which an option comes to be broken that holds between entries. */
function brokenBetween({ type, field, option }: OptionOfField, models: ComparedModels): Counter {
  const names = ownValue(optionsBetween, option) ?? [];
  const isHere = (finding: Finding): boolean => {
    if (finding.finding === 'too-few-pointing') return finding.by === `${type}.${field}`;
    return finding.entry.type === type && isInField(finding.path, field);
  };

  return crossEntryCounter(
    models,
    (finding) => names.includes(finding.finding) && isHere(finding),
    (hits, total, example) =>
      option === 'unique'
        ? `${share(hits, total)} a value that another has too, for example ${example}`
        : `${share(hits, total, ['breaks it', 'break it'])}, for example ${example}`,
  );
}

/** Counts what breaks, and says with it what the step settles by itself; where nothing breaks, that is all there is. */
const settledBeside = (broken: Counter, settled: Counter): Counter => ({
  see: (entry) => {
    broken.see(entry);
    settled.see(entry);
  },
  impact: () => {
    const [breaks, settles] = [broken.impact(), settled.impact()];
    if (breaks.hits === 0) return settles;
    if (settles.hits === 0) return breaks;
    return { ...breaks, says: `${breaks.says}; ${settles.says}` };
  },
});

/** Whether the only target of a reference is one of several afterwards. */
const staysAmong = (before: Json | undefined, after: Json | undefined): boolean =>
  isList(before) && isList(after) && before.length === 1 && after.includes(before[0] ?? null);

/** Entries in which an identifier alone no longer says which type is intended: the step writes the type before it. */
function writtenOut(difference: OptionOfField, between: Model): Counter {
  const { type, field, oldField } = difference;
  const linked = linkField({ type }, field, oldField);
  const [target] = linked?.kind.pointsAt(linked.options).types ?? [];
  const isAlone = (item: Json): boolean => typeof item === 'string' && item !== '' && !item.includes('/');
  const counter = countEntries(
    type,
    ({ fields }) => {
      const value = itemsOf(between, difference, fields).find(isAlone);
      if (value === undefined) return false;
      return { value };
    },
    (hits, total, _worst, [first]) =>
      `${share(hits, total, ['says', 'say'])} an identifier alone, which gets its type: “${String(first?.value)}” becomes “${target}/${String(first?.value)}”`,
  );

  return { see: counter.see, impact: () => ({ ...counter.impact(), isSettled: true }) };
}

/** Whether a path into an entry leads to a field, through whatever languages and lists. */
function isInField(path: Path, field: string): boolean {
  const [outer, ...inner] = field.split('.');
  const key = inner.at(-1);
  return path[0] === outer && (key === undefined || path.slice(1).includes(key));
}
