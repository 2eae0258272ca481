import { at, isObject, type Json, own, type Path } from '../json.ts';
import type { EntryLink } from '../kinds/define.ts';
import { idRule, isId } from '../model/address.ts';
import { reservedNames, type Status, statuses } from '../model/document.ts';
import { leaves } from '../model/layers.ts';
import type { Field, Model, Type } from '../model/link.ts';
import { wordsIn } from '../model/wording.ts';
import { didYouMean } from '../nearest.ts';
import type { EntryView } from '../rules/expression.ts';
import { type CompiledRule, compileRules, isBroken } from '../rules/rules.ts';
import { list, quote } from '../words.ts';
import type { Assets } from './assets.ts';
import {
  computedFields,
  conditionsByTarget,
  countingFields,
  differing,
  eligibilitiesOf,
  ineligibleFor,
  isPublicAt,
  type StoredCount,
  storedCounts,
} from './derived.ts';
import { type Entry, type EntryAddress, isEmpty, keyOf, statusOf } from './entry.ts';
import { checkField, type ReportAt } from './field.ts';
import type { Finding, FindingName } from './findings.ts';

/** What pass two needs to know of an entry, and nothing more: it is kept for every entry at once. */
export interface Facts {
  readonly entry: string;
  readonly status: Status;
  /** `field` is its name, with the language behind a slash where the value differs by language. */
  readonly unique: readonly { readonly field: string; readonly value: string }[];
  readonly links: readonly LinkFact[];
  readonly terms: readonly string[];
  /** The addresses of fields that may not point at it. */
  readonly ineligible: readonly string[];
  readonly counts: readonly StoredCount[];
  /** The files below `assets/` that it names. */
  readonly assets: readonly string[];
}

interface LinkFact {
  readonly path: Path;
  readonly to: EntryLink;
  /** The address of the field that the reference stands in. */
  readonly field: string;
}

const nothing = { unique: [], links: [], terms: [], ineligible: [], counts: [], assets: [] } as const;

/** Pass one of checking: looks at each entry alone, in any order, on any slice of any store. */
export interface Checker {
  readonly check: (entry: Entry) => { readonly findings: readonly Finding[]; readonly facts: Facts };
}

/** What checking depends on beside the model and the entry. */
export interface Circumstances {
  /** The moment (RFC 3339) at which an entry counts as public or not. */
  readonly now?: string;
  /** The files below `assets/`. */
  readonly assets?: Assets;
}

/**
 * Compiles a model into a checker of single entries. What is not known of the circumstances is not looked at.
 */
export function compile(model: Model, { now, assets }: Circumstances = {}): Checker {
  const around = assets ? { ...model.around, assets } : model.around;
  const conditions = conditionsByTarget(model);
  // A type is compiled when its first entry comes: most commands never meet most types.
  const compiled = new Map<string, ReturnType<typeof compileType>>();
  const checkerOf = (name: string): ReturnType<typeof compileType> | undefined => {
    const type = compiled.has(name) ? undefined : model.types.get(name);
    if (type) compiled.set(name, compileType(type, { ...model, around }, now, conditions.get(name)));
    return compiled.get(name);
  };
  return {
    check: (entry) => {
      const findings: Finding[] = [];
      const find = (finding: FindingName, path: Path, says: string, mend: string): void => {
        findings.push({ finding, severity: 'error', entry: { type: entry.type, id: entry.id }, path, says, mend });
      };
      checkIdentity(entry, find);
      const type = checkerOf(entry.type);
      if (!type) {
        const near = didYouMean(entry.type, model.types.keys()).trim();
        find(
          'unknown-type',
          'type' in entry.values ? ['type'] : [],
          `is of the type \`${entry.type}\`, and the model has no such type`,
          near || `Define it in model/types/${entry.type}.yaml, or move the entry to the folder of its type.`,
        );
        return { findings, facts: { entry: keyOf(entry), status: statusOf(entry), ...nothing } };
      }
      return { findings, facts: type(entry, findings, find) };
    },
  };
}

type Find = (finding: FindingName, path: Path, says: string, mend: string) => void;

const times = ['created', 'changed', 'publicFrom', 'publicUntil'] as const;

function checkIdentity(entry: Entry, find: Find): void {
  checkWindow(entry, find);
  if (!isId(entry.id))
    find(
      'malformed-identifier',
      'id' in entry.values ? ['id'] : [],
      `has the identifier ${quote(entry.id)}`,
      `Rename it: ${idRule}.`,
    );
  const status = own(entry.values, 'status');
  if (status !== undefined && !statuses.some((one) => one === status))
    find(
      'unknown-status',
      ['status'],
      `is ${quote(status)}, none of ${list(statuses, 'or')}`,
      `Write ${list(statuses, 'or')}.${didYouMean(String(status), statuses)}`,
    );
  for (const name of times) {
    const time = own(entry.values, name);
    if (time !== undefined && !isEmpty(time) && !isTime(time))
      find(
        'malformed-time',
        [name],
        `is ${quote(time)}, no time`,
        'Write it as RFC 3339 says: 2026-03-01T09:30:00Z, or a day alone: 2026-03-01.',
      );
  }
}

/** When an entry starts and stops being public, where both are said: not the wrong way round. */
function checkWindow(entry: Entry, find: Find): void {
  const from = own(entry.values, 'publicFrom');
  const until = own(entry.values, 'publicUntil');
  if (
    from === undefined ||
    until === undefined ||
    !isTime(from) ||
    !isTime(until) ||
    Date.parse(String(from)) < Date.parse(String(until))
  )
    return;
  find(
    'window-reversed',
    ['publicUntil'],
    `is ${quote(until)}, and the entry is public only from ${String(from)}`,
    'Swap the two, or correct one.',
  );
}

/** RFC 3339, section 5.6: a date-time with its offset, or a full date alone. */
const isTime = (value: Json | undefined): boolean =>
  typeof value === 'string' &&
  /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])(?:[Tt ](?:[01]\d|2[0-3]):[0-5]\d:(?:[0-5]\d|60)(?:\.\d+)?(?:[Zz]|[+-]\d{2}:\d{2}))?$/u.test(
    value,
  );

const reserved: ReadonlySet<string> = new Set(reservedNames);

function compileType(
  type: Type,
  model: Model,
  now: string | undefined,
  conditions: readonly Field[] | undefined,
): (entry: Entry, findings: Finding[], find: Find) => Facts {
  const fields = [...type.fields.values()].map((field) => ({ field, check: checkField(field, model.around) }));
  const rules = compileRules(type);
  const eligibilities = eligibilitiesOf(type, conditions);
  const computed = computedFields(type);
  const counted = countingFields(type);
  const gathered = [...type.fields.values()].filter(speaksToOthers);
  const { languages } = model.form;
  return (entry, findings, find) => {
    const values = withProse(entry, type);
    for (const key of Object.keys(entry.values)) {
      if (type.fields.has(key) && key !== type.body?.name) continue;
      if (reserved.has(key) || key === schemaKey) continue;
      if (!type.fields.has(key))
        find('unknown-field', [key], `is no field of ${type.name}`, unknownFieldMend(key, type));
      else if (key === type.body?.name && entry.prose !== undefined)
        find(
          'unknown-field',
          [key],
          'is the text below the front matter, and stands here as well',
          'Keep one of the two.',
        );
    }
    if (entry.prose !== undefined && !type.body)
      find(
        'body-not-expected',
        [],
        `has text below the front matter, and no field of ${type.name} takes it`,
        'Move the text to a field, or mark a Markdown field of the type with `body: true`.',
      );
    const status = statusOf(entry);
    const view = {
      type: entry.type,
      id: entry.id,
      status,
      isPublic: now === undefined ? undefined : isPublicAt(entry, now),
      fields: values,
    };
    const facts = {
      entry: keyOf(entry),
      status,
      unique: [] as Facts['unique'][number][],
      links: [] as LinkFact[],
      terms: [] as string[],
      ineligible: ineligibleFor(view, eligibilities),
      counts: storedCounts(view, counted),
      assets: [] as string[],
    };
    let name = '';
    let value: Json | undefined;
    const report: ReportAt = (inside, finding, { says, mend, limit }, severity) => {
      const wrong = value === undefined ? undefined : at(value, inside);
      findings.push({
        finding,
        severity,
        entry: { type: entry.type, id: entry.id },
        path: [name, ...inside],
        says,
        mend,
        ...(wrong === undefined ? {} : { value: wrong }),
        ...(limit === undefined ? {} : { limit }),
      });
    };
    for (const { field, check } of fields) {
      name = field.name;
      value = own(values, name);
      check(value, status, report);
    }
    for (const field of gathered) gather(field, own(values, field.name), facts);
    for (const { field, stored, computed: value } of differing(view, computed))
      findings.push({
        ...notComputed(entry, [field.name], stored, value),
        mend: `Write ${quote(value)}, or leave it out.`,
      });
    findings.push(...brokenRules(view, rules, languages));
    return facts;
  };
}

/** What is stored is not what it should be by computing, with both values. */
export const notComputed = (
  { type, id }: EntryAddress,
  path: Path,
  stored: Json,
  value: Json,
): Omit<Finding, 'mend'> => ({
  finding: 'not-computed',
  severity: 'warning',
  entry: { type, id },
  path,
  says: `is ${quote(stored)}, and ${quote(value)} is what it comes to`,
  value: stored,
  limit: value,
});

function brokenRules(
  view: EntryView,
  rules: readonly CompiledRule[],
  languages: readonly string[],
): readonly Finding[] {
  return rules
    .filter((rule) => isBroken(rule, view))
    .map(({ rule }) => ({
      finding: 'rule-broken',
      severity: view.status === 'published' ? 'error' : 'warning',
      entry: { type: view.type, id: view.id },
      path: rule.at === undefined ? [] : [rule.at],
      says: `breaks a rule: ${wordsIn(rule.say, languages)}`,
      limit: rule.expect,
      mend: `Change the entry so that ${rule.expect}`,
    }));
}

/** The key by which a file names its JSON Schema; it says nothing about the entry. */
const schemaKey = '$schema';

const unknownFieldMend = (key: string, type: Type): string =>
  didYouMean(key, type.fields.keys()).trim() ||
  `Remove it, or add it to model/types/${type.name}.yaml. The fields are ${list([...type.fields.keys()])}.`;

interface Gathered {
  readonly unique: { field: string; value: string }[];
  readonly links: LinkFact[];
  readonly terms: string[];
  readonly assets: string[];
}

const hasParts = ({ links, term, assets, nests }: Field['kind']): boolean =>
  links !== undefined || term !== undefined || assets !== undefined || nests;

/** Whether the values of a field say anything to other entries. */
const speaksToOthers = ({ kind, common }: Field): boolean => common.unique === true || kind.unique || hasParts(kind);

/** The values of an entry, with its prose as the value of the field that is the body. No field has a reserved name. */
const withProse = ({ values, prose }: Entry, { body }: Type): Entry['values'] =>
  body && prose !== undefined ? { ...values, [body.name]: prose } : values;

/** Notes what a value says to other entries: what it must not share, what it points at, how it is classified. */
function gather(field: Field, value: Json | undefined, facts: Gathered): void {
  const { kind, common, name } = field;
  if (isEmpty(value) || value === undefined) return;
  if (common.unique || kind.unique) facts.unique.push(...uniqueValues(field, value));
  if (!hasParts(kind)) return;
  const isSingle = !common.many && !common.localized && !kind.nests;
  if (isSingle) gatherOne(field, value, [name], facts);
  else for (const leaf of leaves(field, value)) gatherOne(leaf.field, leaf.item, [name, ...leaf.path], facts);
}

function gatherOne({ kind, options, address }: Field, item: Json, path: Path, facts: Gathered): void {
  if (kind.links)
    for (const { to, inside } of kind.links(item, options))
      facts.links.push({ path: inside.length > 0 ? [...path, ...inside] : path, to, field: address });
  const used = kind.term?.(item, options);
  if (used) facts.terms.push(`${used.taxonomy}:${used.term}`);
  if (kind.assets) for (const { file } of kind.assets(item)) facts.assets.push(file);
}

/** What must not be shared: the value as a whole, or in each language on its own. */
function uniqueValues({ name, common }: Field, value: Json): Gathered['unique'] {
  if (!common.localized || !isObject(value)) return [{ field: name, value: JSON.stringify(value) }];
  return Object.entries(value).flatMap(([language, one]) =>
    isEmpty(one) ? [] : [{ field: `${name}/${language}`, value: JSON.stringify(one) }],
  );
}
