import type { Status } from '../definition/builtIn.ts';
import { wordsIn } from '../definition/wording.ts';
import { isEmpty } from '../entry/entry.ts';
import type { FindingName, Severity } from '../entry/findings.ts';
import type { Complaint, ModelContext, Report } from '../kinds/define.ts';
import { askedLanguages } from '../model/languages.ts';
import type { Field } from '../model/link.ts';
import { placeholder } from '../model/placeholder.ts';
import { isList, isObject, type Json, own, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import { count, list } from '../plain/words.ts';
import { checkAsset } from './assets.ts';

/** Receives what is wrong with a value, at a path inside it. */
export type ReportAt = (path: Path, finding: FindingName, complaint: Complaint, severity: Severity) => void;

type Required = NonNullable<Field['common']['required']>;

const noPath: Path = [];

/** Checks a field's whole value. No value is told as missing where one is asked for. */
export type CheckValue = (value: Json | undefined, status: Status, report: ReportAt) => void;

/** Compiles a field into a check of its whole value: its languages, presence, one or many, each single value by its kind. */
export function checkField(field: Field, context: ModelContext): CheckValue {
  const check = checkInOneLanguage(field, context);
  return field.common.localized ? checkLanguages(field, context, check) : check;
}

/** A value in each language: the main one is held to everything, the others to the field's limits where they are there. */
function checkLanguages({ common }: Field, context: ModelContext, check: CheckValue): CheckValue {
  const { languages } = context;
  const [main = 'en'] = languages;
  const help = wordsIn(common.help, languages);
  const asked = askedLanguages(context);
  return (value, status, report) => {
    if (isEmpty(value)) return check(undefined, status, report);
    if (!isObject(value)) {
      report(
        [],
        'language-expected',
        { says: 'is one value, and one in each language belongs here', mend: `Write { ${main}: … }` },
        'error',
      );
      return;
    }
    for (const [language, one] of Object.entries(value)) {
      if (!languages.includes(language))
        report(
          [language],
          'unknown-language',
          {
            says: `is in a language (${language}) that the workspace does not have`,
            mend: `Its languages are ${list(languages)} (lumbrik.yaml).`,
          },
          'error',
        );
      else if (!isEmpty(one)) check(one, status, (path, ...rest) => report([language, ...path], ...rest));
    }
    if (common.required === undefined) return;
    for (const { language, required } of asked)
      if (isEmpty(own(value, language)))
        reportMissing(weaker(common.required, required), status, help, (path, ...rest) =>
          report([language, ...path], ...rest),
        );
  };
}

function checkInOneLanguage(field: Field, context: ModelContext): CheckValue {
  const { common, kind, options } = field;
  const checkOne = kind.check(options, context);
  const limits = kind.assetLimits(options);
  const checkInner = kind.nests ? checkFields(field, context) : undefined;
  const help = wordsIn(common.help, context.languages);
  const { many, required } = common;
  const single = (value: Json, path: Path, status: Status, report: ReportAt): void => {
    if (typeof value === 'string' && value.startsWith(placeholder.start)) {
      report(path, 'placeholder', { says: 'waits to be filled in', mend: 'Write the value.' }, 'error');
      return;
    }
    const complain: Report = (finding, complaint) => {
      const isHeld = status === 'published' || !complaint.onlyPublished;
      const severity = complaint.isWarning || !isHeld ? 'warning' : 'error';
      report([...path, ...(complaint.inside ?? [])], finding, complaint, severity);
    };
    checkOne(value, complain);
    if (kind.assets && context.assets)
      for (const named of kind.assets(value)) checkAsset(named, limits, context.assets, complain);
    checkInner?.(value, status, (inside, ...rest) => report([...path, ...inside], ...rest));
  };

  return (value, status, report) => {
    if (isEmpty(value)) {
      if (required !== undefined) reportMissing(required, status, help, report);
      return;
    }
    if (value === undefined) return;
    if (!many) {
      if (isList(value) && !kind.takesLists) report([], 'single-value-expected', oneBelongs(value), 'error');
      else single(value, noPath, status, report);
      return;
    }
    if (!isList(value)) {
      report(
        [],
        'list-expected',
        { says: 'is one value, and a list belongs here', mend: 'Put it in brackets: [ … ]' },
        'error',
      );
      return;
    }
    checkSize(value.length, many, report);
    value.forEach((item, index) => {
      single(item, [index], status, report);
    });
  };
}

/** The fields inside an object: each checked like a field of a type, and no others. */
function checkFields({ fields, address }: Field, context: ModelContext): CheckValue {
  const checks = [...fields].map(([name, field]) => [name, checkField(field, context)] as const);
  return (value, status, report) => {
    if (!isObject(value)) return;
    for (const key of Object.keys(value))
      if (!fields.has(key))
        report(
          [key],
          'unknown-field',
          {
            says: `is no field of ${address}`,
            mend: didYouMean(key, fields) ?? `Remove it. The fields are ${list([...fields.keys()])}.`,
          },
          'error',
        );
    for (const [name, check] of checks)
      check(own(value, name), status, (inside, ...rest) => report([name, ...inside], ...rest));
  };
}

/** What two demands ask together: always only if both do. */
const weaker = (a: Required, b: Required): Required => (a === true && b === true ? true : 'published');

function reportMissing(required: Required, status: Status, help: string | undefined, report: ReportAt): void {
  const hint = help === undefined ? '' : ` ${help}`;
  if (required === true || status === 'published')
    report([], 'required-missing', { says: 'is required and has no value', mend: `Give it a value.${hint}` }, 'error');
  else
    report(
      [],
      'required-missing',
      { says: 'has no value and is required once published', mend: `Give it a value before publishing.${hint}` },
      'warning',
    );
}

const oneBelongs = (value: readonly Json[]): Complaint => ({
  says: `is a list of ${count(value.length, 'item')}, and one value belongs here`,
  mend:
    value.length === 1
      ? `Take it out of the list: ${JSON.stringify(value[0])}`
      : 'Keep one of them, or let the field take many.',
});

function checkSize(
  size: number,
  { min, max }: { readonly min?: number; readonly max?: number },
  report: ReportAt,
): void {
  if (max !== undefined && size > max)
    report(
      [],
      'too-many-items',
      { says: `has ${count(size, 'item')}, at most ${max} are allowed`, limit: max, mend: `Remove ${size - max}.` },
      'error',
    );
  if (min !== undefined && size < min)
    report(
      [],
      'too-few-items',
      { says: `has ${count(size, 'item')}, at least ${min} are needed`, limit: min, mend: `Add ${min - size} more.` },
      'error',
    );
}
