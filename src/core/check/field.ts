import type { Status } from '../definition/builtIn.ts';
import { wordsIn } from '../definition/wording.ts';
import { isEmpty } from '../entry/entry.ts';
import type { Finding, Fix } from '../entry/findings.ts';
import type { ModelContext, Report } from '../kinds/kindParts.ts';
import type { MessageData, MessageName } from '../messages/words.ts';
import { isNone } from '../model/emptiness.ts';
import { askedLanguages } from '../model/languages.ts';
import type { Field } from '../model/link.ts';
import { placeholder } from '../model/placeholder.ts';
import { meaningOf } from '../model/writtenTexts.ts';
import { compareText } from '../plain/compareText.ts';
import { compact, isList, isObject, type Json, ownValue, type Path } from '../plain/json.ts';
import { nearest } from '../plain/nearest.ts';
import { checkAsset } from './assets.ts';

/** Problems of a value, before anyone knows in which entry it stands. */
interface Complaint extends Pick<Finding, 'message' | 'data' | 'severity'> {
  readonly limit?: Json;
  readonly fix?: Fix;
  /** The key that is wrong, where it is not the value under it. */
  readonly key?: string;
}

/** Receives problems of a value, at a path inside it. */
export type ReportAt = (path: Path, complaint: Complaint) => void;

/** A complaint whose data are those of its message. */
const complaint = <M extends MessageName>(
  message: M,
  data: MessageData<M>,
  more: Omit<Partial<Complaint>, 'message' | 'data'> = {},
): Complaint => ({ message, data, severity: 'error', ...more });

type Required = NonNullable<Field['common']['required']>;

const noPath: Path = [];

/** Checks a field's whole value. No value is reported as missing where one is requested. */
export type CheckValue = (value: Json | undefined, status: Status, report: ReportAt) => void;

/** Compiles a field into a check of its whole value: its languages, presence, one or many, each single value by its kind. */
export function checkField(field: Field, context: ModelContext): CheckValue {
  const check = checkInOneLanguage(field, context);
  if (!field.common.localized) return check;
  return checkLanguages(field, context, check);
}

/** A value in each language: the main one is kept to everything, the others to the field's limits where they are there. */
function checkLanguages(field: Field, context: ModelContext, check: CheckValue): CheckValue {
  const { common } = field;
  const { languages } = context;
  const [main = 'en'] = languages;
  const help = wordsIn(common.help, languages);
  const requested = askedLanguages(context);

  return (value, status, report) => {
    if (isEmpty(value)) return check(undefined, status, report);
    if (!isObject(value)) {
      report([], complaint('language-expected', { main }, { fix: { set: { [main]: value ?? null } } }));
      return;
    }

    for (const [language, version] of Object.entries(value)) {
      if (!languages.includes(language)) report([language], complaint('unknown-language', { language, languages }));
      else if (!isNone(field, version)) check(version, status, (path, wrong) => report([language, ...path], wrong));
    }

    if (common.required === undefined) return;

    for (const { language, required } of requested)
      if (isNone(field, ownValue(value, language)))
        report([language], missing(weaker(common.required, required), status, help));
  };
}

/** Checks one value of a field, at a path inside the whole value. */
type CheckSingle = (value: Json, path: Path, status: Status, report: ReportAt) => void;

function singleChecker(field: Field, context: ModelContext): CheckSingle {
  const { kind, options } = field;
  const checkOne = kind.check(options, context);
  const limits = kind.assetLimits(options);
  const checkInner = innerChecker(field, context);

  return (value, path, status, report) => {
    if (typeof value === 'string' && value.startsWith(placeholder.start)) {
      report(path, complaint('placeholder', {}));
      return;
    }

    const complain: Report = (message, data, { isWarning, onlyPublished, inside = [], ...more } = {}) => {
      const isHeld = status === 'published' || !onlyPublished;
      const severity = isWarning || !isHeld ? 'warning' : 'error';
      const fix = writtenOtherwise.has(message) ? sureFix(value, field, context) : more.fix;
      report([...path, ...inside], complaint(message, data, compact({ severity, ...more, fix })));
    };

    checkOne(value, complain);
    if (kind.assets && context.assets)
      for (const named of kind.assets(value, context)) checkAsset(named, limits, context.assets, complain);
    checkInner?.(value, status, (inside, wrong) => report([...path, ...inside], wrong));
  };
}

function checkInOneLanguage(field: Field, context: ModelContext): CheckValue {
  const { common, kind } = field;
  const help = wordsIn(common.help, context.languages);
  const { many, required } = common;
  const single = singleChecker(field, context);

  return (value, status, report) => {
    if (isNone(field, value)) {
      if (required !== undefined) report([], missing(required, status, help));
      return;
    }
    if (value === undefined) return;
    if (!many) {
      if (isList(value) && !kind.takesLists) report([], oneBelongs(value));
      else single(value, noPath, status, report);
      return;
    }
    if (!isList(value)) {
      if (many.orOne) {
        checkSize(1, many, report);
        single(value, noPath, status, report);
        return;
      }

      report([], complaint('list-expected', {}, { fix: { set: [value] } }));
      return;
    }

    checkSize(value.length, many, report);
    if (many.distinct) checkDistinct(field, value, context, report);
    value.forEach((item, index) => {
      single(item, [index], status, report);
    });
  };
}

/** The messages about a value that may be written in another way than values of its kind are stored. */
const writtenOtherwise: ReadonlySet<string> = new Set<MessageName>([
  'number-in-quotes',
  'wrong-shape:number',
  'wrong-shape:boolean',
  'not-a-date',
  'not-a-date-time',
  'not-a-time',
  'not-a-duration',
  'not-a-web-address',
]);

/** The value that a text or a number means beyond doubt, as its field would have it; nothing where there is a doubt. */
function sureFix(value: Json, field: Field, context: ModelContext): Fix | undefined {
  if (typeof value !== 'string' && typeof value !== 'number') return undefined;
  const { values, isSure } = meaningOf(String(value), field, context);
  const [only] = values;
  if (isSure && only !== undefined) return { set: only };
  return undefined;
}

function innerChecker(field: Field, context: ModelContext): CheckValue | undefined {
  if (field.kind.nests) return checkFields(field, context);
  if (!field.kind.maps) return undefined;
  return checkMap(field, context);
}

/** The keys of a map, each checked as a value where its own value stands, and the values. */
function checkMap({ fields }: Field, context: ModelContext): CheckValue {
  const [keys, inner] = [fields.get('keys'), fields.get('value')];
  const [checkKey, checkInner] = [keys && checkField(keys, context), inner && checkField(inner, context)];
  return (value, status, report) => {
    if (!isObject(value)) return;
    for (const [key, item] of Object.entries(value)) {
      checkKey?.(key, status, (_path, wrong) => report([key], { ...wrong, key }));
      checkInner?.(item, status, (inside, wrong) => report([key, ...inside], wrong));
    }
  };
}

/** The fields inside an object: each checked like a field of a type, and no others. */
function checkFields({ fields, address }: Field, context: ModelContext): CheckValue {
  const checks = [...fields].map(([name, field]) => [name, checkField(field, context)] as const);
  const names = checks.map(([name]) => name);

  return (value, status, report) => {
    if (!isObject(value)) return;
    for (const key of Object.keys(value))
      if (!fields.has(key))
        report([key], complaint('unknown-field:inside', { address, near: nearest(key, fields), fields: names }));

    for (const [name, check] of checks)
      check(ownValue(value, name), status, (inside, wrong) => report([name, ...inside], wrong));
  };
}

/** What two demands ask together: always only if both do. */
const weaker = (a: Required, b: Required): Required => {
  if (a === true && b === true) return true;
  return 'published';
};

const missing = (required: Required, status: Status, help: string | undefined): Complaint => {
  if (required === true || status === 'published') return complaint('required-missing', { help });
  return complaint('required-missing:later', { help }, { severity: 'warning' });
};

function oneBelongs(value: readonly Json[]): Complaint {
  const [only] = value;
  const fix = value.length === 1 && only !== undefined ? { fix: { set: only } } : {};
  return complaint('single-value-expected', { size: value.length, only }, fix);
}

function checkDistinct(
  { kind, options }: Field,
  items: readonly Json[],
  context: ModelContext,
  report: ReportAt,
): void {
  const positions = new Map<string, number>();
  for (const [index, item] of items.entries()) {
    // Two references are the same where they lead to the same entry, however they are written.
    const [link, ...rest] = typeof item === 'string' ? (kind.links?.(item, options, context) ?? []) : [];
    const isReference = link !== undefined && rest.length === 0 && link.isWithin !== true;
    const key = isReference ? `→ ${link.to.type}/${link.to.id}` : canonical(item);
    const first = positions.get(key);
    if (first === undefined) positions.set(key, index);
    else report([index], complaint('repeated-item', { first }));
  }
}

/** A value as a text that is the same for all that are equal, whatever the order of their keys. */
const canonical = (value: Json): string =>
  JSON.stringify(value, (_key, index: unknown) =>
    typeof index === 'object' && index !== null && !Array.isArray(index)
      ? Object.fromEntries(Object.entries(index).sort(([a], [b]) => compareText(a, b)))
      : index,
  );

function checkSize(
  size: number,
  { min, max }: { readonly min?: number; readonly max?: number },
  report: ReportAt,
): void {
  if (max !== undefined && size > max) report([], complaint('too-many-items', { size, bound: max }, { limit: max }));
  if (min !== undefined && size < min) report([], complaint('too-few-items', { size, bound: min }, { limit: min }));
}
