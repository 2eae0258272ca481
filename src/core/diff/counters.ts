import { checkField } from '../check/field.ts';
import type { Status } from '../definition/builtIn.ts';
import type { FieldDoc } from '../definition/field.ts';
import { beside, keyOfField } from '../definition/fieldName.ts';
import type { Rename } from '../definition/rename.ts';
import type { Rule } from '../definition/type.ts';
import { isEmpty } from '../entry/entry.ts';
import type { Finding, FindingName } from '../entry/findings.ts';
import type { ModelContext } from '../kinds/define.ts';
import { asks, converter } from '../model/convertValue.ts';
import { type Field, linkField, type Model } from '../model/link.ts';
import { fieldNamed, fieldsWithin, holdersOf } from '../model/nestedFields.ts';
import { compatibilityOf, splitMany } from '../model/optionCompatibility.ts';
import { inMainLanguage, leaves, singleValues } from '../model/traversal.ts';
import { type Json, type JsonObject, own, type Path, withKey, withoutKey } from '../plain/json.ts';
import { count, quote } from '../plain/words.ts';
import { compileRules, judgeRule } from '../rules/rules.ts';
import { type Counter, counting, type SeenEntry, share } from './counting.ts';
import type { Difference } from './difference.ts';
import { crossEntryCounter } from './jointCounter.ts';
import { addedRules, leavesBase, rateDifference } from './rating.ts';

/** The counter that a difference calls for; `undefined` where it hits nobody. */
export function counterFor(difference: Difference, between: Model, after: Model): Counter | undefined {
  switch (difference.name) {
    case 'renamed':
      return renameCounter(difference.rename, between);
    case 'languages-changed':
      return contextCounter(between, after, isLocalized);
    case 'language-changed':
      return difference.option === 'required' ? contextCounter(between, after, isLocalized) : undefined;
    case 'shared-changed':
      return leavesBase(difference) ? contextCounter(between, after, isReference) : undefined;
    case 'type-removed':
      return counting(
        difference.type,
        () => true,
        (hits) => `${count(hits, 'entry', 'entries')} would be removed`,
      );
    case 'field-removed':
      return filled(between, difference, (hits, of) => `${share(hits, of)} a value, which would be lost`);
    case 'field-added':
      return missing(
        difference.type,
        difference.definition.required,
        ({ fields }) => holders(between, difference, fields).length > 0,
      );
    case 'field-reshaped':
      return reshaped(difference, between, after);
    case 'field-changed':
      return crossEntryCounterOf(difference, between, after) ?? optionCounter(difference, between, after);
    case 'type-changed':
      if (difference.option === 'single')
        return difference.after === true ? severalCounter(difference.type) : undefined;
      return ruleCounter(difference.type, addedRules(difference), after);
    case 'taxonomy-changed':
      return rateDifference(difference).entries === 'valid'
        ? undefined
        : contextCounter(between, after, (field) => field.kind.taxonomy(field.options) === difference.taxonomy);
    case 'term-removed':
      return termCounter(difference.taxonomy, difference.path.at(-1) ?? '', between);
    default:
      return undefined;
  }
}

function renameCounter(rename: Rename, between: Model): Counter | undefined {
  switch (rename.what) {
    case 'type':
      return counting(
        rename.to,
        () => true,
        (hits) => `${count(hits, 'entry moves', 'entries move')} along`,
      );
    case 'field':
      return filled(
        between,
        { type: rename.type, field: beside(rename.from, rename.to) },
        (hits, of) => `${share(hits, of)} a value, which stays`,
      );
    case 'term':
      return termCounter(rename.taxonomy, rename.to, between);
    case 'choice':
      return counting(
        rename.type,
        ({ fields }) => itemsOf(between, rename, fields).includes(rename.to),
        (hits, of) => `${share(hits, of)} it, and ${hits === 1 ? 'keeps' : 'keep'} it`,
      );
    case 'taxonomy':
      return undefined;
  }
}

/** What a difference of a field is about. */
interface Concerned {
  readonly type: string;
  readonly field: string;
}

/** The groups of keys of an entry in which a field stands: the entry itself, or the objects that it is inside of. */
const holders = (model: Model, { type, field }: Concerned, fields: JsonObject): readonly JsonObject[] =>
  holdersOf(model.types.get(type), field, fields);

/** The values of a field in an entry: one for each of its holders, also where there is none. */
const valuesOf = (model: Model, concerned: Concerned, fields: JsonObject): readonly (Json | undefined)[] =>
  holders(model, concerned, fields).map((holder) => own(holder, keyOfField(concerned.field)));

const filled = (model: Model, concerned: Concerned, say: (hits: number, of: number) => string): Counter =>
  counting(
    concerned.type,
    ({ fields }) => {
      const value = valuesOf(model, concerned, fields).find((one) => !isEmpty(one));
      return value === undefined ? false : { value };
    },
    say,
  );

/** Entries that lack a value which is required of them. */
function missing(type: string, required: Json | undefined, lacks: (entry: SeenEntry) => boolean): Counter | undefined {
  if (required === undefined) return undefined;
  return counting(
    type,
    (entry) => isRequiredOf(required, entry.status) && lacks(entry),
    (hits, of) => `${share(hits, of)} no value`,
  );
}

const isRequiredOf = (required: Json | undefined, status: Status): boolean =>
  required === true || (required === 'published' && status === 'published');

function optionCounter(
  difference: Extract<Difference, { name: 'field-changed' }>,
  between: Model,
  { context: contextAfter }: Model,
): Counter | undefined {
  const { type, field, option, was, before, after } = difference;
  const { context } = between;
  const linked = linkField(type, field, was);
  const mainOf = (value: Json | undefined): Json | undefined =>
    linked ? inMainLanguage(linked, value, context.languages[0] ?? 'en') : value;
  if (option === 'required')
    return missing(
      type,
      after,
      ({ fields, status }) =>
        valuesOf(between, difference, fields).some((value) => isEmpty(mainOf(value))) && !isRequiredOf(before, status),
    );
  if (option === 'unique') return after === true ? repeated(type, field) : undefined;
  const part =
    option === 'many'
      ? splitMany(before, after).find((one) => directionOf(was.kind, one) !== 'wider')
      : { option, before, after };
  if (!part) return undefined;
  const direction = directionOf(was.kind, part);
  if (direction === 'wider' || direction === 'presentation') return undefined;
  const definition = after === undefined ? withoutKey(was, option) : withKey(was, option, after);
  return violations(
    between,
    [linkField(type, field, was), context],
    [linkField(type, field, { ...definition, kind: was.kind }), contextAfter],
    part.option,
  );
}

/** Options that hold between entries, and what is found where they are broken. */
const crossEntryOptions: Readonly<Record<string, readonly FindingName[]>> = {
  eligible: ['not-eligible'],
  inverse: ['too-many-pointing', 'too-few-pointing'],
  computed: ['not-computed'],
};

function crossEntryCounterOf(
  { type, field, option, was, before, after: set }: Extract<Difference, { name: 'field-changed' }>,
  between: Model,
  after: Model,
): Counter | undefined {
  const names = own(crossEntryOptions, option);
  if (!names) return undefined;
  const direction = directionOf(was.kind, { option, before, after: set });
  if (direction === 'wider' || direction === 'presentation') return undefined;
  const isHere = (finding: Finding): boolean =>
    finding.finding === 'too-few-pointing'
      ? finding.by === `${type}.${field}`
      : finding.entry.type === type && isInField(finding.path, field);
  return crossEntryCounter(
    between,
    after,
    (finding) => names.includes(finding.finding) && isHere(finding),
    (hits, of, example) => `${share(hits, of, ['breaks it', 'break it'])}, for example ${example}`,
  );
}

/** Whether a path into an entry leads to a field, through whatever languages and lists. */
function isInField(path: Path, field: string): boolean {
  const [outer, ...inner] = field.split('.');
  const key = inner.at(-1);
  return path[0] === outer && (key === undefined || path.slice(1).includes(key));
}

const directionOf = (
  kind: string,
  { option, before, after }: { option: string; before?: Json | undefined; after?: Json | undefined },
) => compatibilityOf(kind, option).direction(before, after);

/** Entries whose values no longer fit because of what is around their fields, which themselves stay as they are. */
function contextCounter(between: Model, after: Model, isConcerned: (field: Field) => boolean): Counter {
  const perType = new Map(
    [...between.types].map(([name, { fields }]) => [
      name,
      [...fields.values()]
        .filter((field) => [field, ...fieldsWithin(field.fields)].some(isConcerned))
        .map((field) => ({
          name: field.name,
          passed: faults(field, between.context),
          passes: faults(field, after.context),
        })),
    ]),
  );
  return counting(
    undefined,
    ({ type, fields, status }) =>
      (perType.get(type) ?? []).some(
        ({ name, passed, passes }) => passes(own(fields, name), status) > passed(own(fields, name), status),
      ),
    (hits, of) => `${share(hits, of)} values that no longer fit`,
  );
}

const isLocalized = ({ common }: Field): boolean => common.localized === true;
const isReference = ({ kind, options }: Field): boolean => kind.pointsAt(options).types.length > 0;

/** Entries whose value passes the older definition of a field and breaks the newer one. */
function violations(
  between: Model,
  [was, context]: readonly [Field | undefined, ModelContext],
  [is, contextAfter]: readonly [Field | undefined, ModelContext],
  option: string,
): Counter | undefined {
  if (!was || !is) return undefined;
  const measure = compatibilityOf(was.kind.name, option).measure;
  const passed = faults(was, context);
  const passes = faults(is, contextAfter);
  return counting(
    is.type,
    ({ fields, status }) => {
      const value = valuesOf(between, { type: is.type, field: is.name }, fields).find(
        (one) => one !== undefined && passes(one, status) > passed(one, status),
      );
      if (value === undefined) return false;
      const sizes = [value, ...singleValues(is, value).map(({ item }) => item)].flatMap(
        (item) => measure?.of(item) ?? [],
      );
      if (!measure || sizes.length === 0) return { value };
      return { value, size: measure.worst === 'largest' ? Math.max(...sizes) : Math.min(...sizes) };
    },
    (hits, of, worst, examples) => {
      if (!measure || !worst)
        return `${share(hits, of, ['breaks it', 'break it'])}, for example ${examples[0]?.entry} (${quote(examples[0]?.value)})`;
      if (hits === 1)
        return `${share(hits, of, ['is', 'are'])} ${measure.beyond}: ${worst.entry} ${measure.has(worst.size)}`;
      return `${share(hits, of, ['is', 'are'])} ${measure.beyond}; ${measure.extreme}, ${worst.entry}, ${measure.has(worst.size)}`;
    },
    measure?.worst,
  );
}

/** The number of things that are wrong with a value. */
function faults(field: Field, context: ModelContext): (value: Json | undefined, status: Status) => number {
  const check = checkField(field, context);
  return (value, status) => {
    let wrong = 0;
    check(value, status, () => {
      wrong += 1;
    });
    return wrong;
  };
}

function repeated(type: string, field: string): Counter {
  const seen = new Set<string>();
  return counting(
    type,
    ({ fields }) => {
      const value = own(fields, field);
      if (value === undefined || isEmpty(value)) return false;
      const key = JSON.stringify(value);
      if (seen.has(key)) return { value };
      seen.add(key);
      return false;
    },
    (hits, of, _worst, examples) =>
      `${share(hits, of)} a value that another has too, for example ${examples[0]?.entry} (${quote(examples[0]?.value)})`,
  );
}

/** Values that cannot be carried to another kind, or that do not fit there, and entries that newly lack one. */
function reshaped(
  {
    type,
    field,
    was,
    is,
  }: { readonly type: string; readonly field: string; readonly was: FieldDoc; readonly is: FieldDoc },
  between: Model,
  after: Model,
): Counter | undefined {
  const from = linkField(type, field, was);
  const to = linkField(type, field, is);
  if (!from || !to) return undefined;
  const carry = converter(from, to, after.context);
  const breaks = faults(to, after.context);
  return counting(
    type,
    ({ fields, status }) => {
      const isHit = (value: Json | undefined): boolean => {
        const carried = value === undefined || isEmpty(value) ? { value: undefined, lost: [] } : carry(value);
        const isMissing = carried.value === undefined && asks(to, status) && !asks(from, status);
        const isUnfit = carried.value !== undefined && breaks(carried.value, status) > 0;
        return carried.lost.length > 0 || isMissing || isUnfit;
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

/** Entries of a type that shall have exactly one, beyond the first. */
function severalCounter(type: string): Counter {
  let seen = 0;
  return counting(
    type,
    () => {
      seen += 1;
      return seen > 1;
    },
    (hits) => `${count(hits, 'entry is', 'entries are')} one too many`,
  );
}

/** Entries that break rules which are new. */
function ruleCounter(type: string, rules: readonly Rule[], after: Model): Counter | undefined {
  const linked = after.types.get(type);
  if (rules.length === 0 || !linked) return undefined;
  const compiled = compileRules(linked, rules);
  return counting(
    type,
    (entry) => compiled.some((rule) => judgeRule(rule, entry) !== 'holds'),
    (hits, of, _worst, [first]) =>
      `${share(hits, of, ['breaks the new rule', 'break the new rule'])}${rules.length > 1 ? 's' : ''}, for example ${first?.entry}`,
  );
}

function termCounter(taxonomy: string, term: string, between: Model): Counter {
  const fieldsOf = (type: string): readonly Field[] =>
    [...(between.types.get(type)?.fields.values() ?? [])].filter(({ kind }) => kind.term || kind.nests);
  const uses = ({ type, fields }: SeenEntry): boolean =>
    fieldsOf(type).some((field) =>
      leaves(field, own(fields, field.name)).some(({ item, field: { kind, options } }) => {
        const used = kind.term?.(item, options);
        return used?.taxonomy === taxonomy && used.term === term;
      }),
    );
  return counting(undefined, uses, (hits) => `${count(hits, 'entry uses', 'entries use')} it`);
}

/** Every single value of a field in an entry. */
function itemsOf(model: Model, concerned: Concerned, fields: JsonObject): readonly Json[] {
  const type = model.types.get(concerned.type);
  const field = type && fieldNamed(type, concerned.field);
  if (!field) return [];
  return valuesOf(model, concerned, fields).flatMap((value) => singleValues(field, value).map(({ item }) => item));
}
