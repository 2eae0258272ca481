import { at, type Json, own, type Path } from '../json.ts';
import { reservedNames } from '../model/document.ts';
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
  storedCounts,
} from './derived.ts';
import { type Entry, type EntryAddress, keyOf, statusOf } from './entry.ts';
import { type Facts, gather, type LinkFact, nothing, speaksToOthers } from './facts.ts';
import { checkField, type ReportAt } from './field.ts';
import type { Finding, FindingName } from './findings.ts';
import { checkIdentity, type Find } from './identity.ts';

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

const reserved: ReadonlySet<string> = new Set(reservedNames);

function compileType(
  type: Type,
  model: Model,
  now: string | undefined,
  conditions: readonly Field[] | undefined,
): (entry: Entry, findings: Finding[], find: Find) => Facts {
  const fields = [...type.fields.values()].map((field) => ({
    field,
    check: checkField(field, model.around),
    speaks: speaksToOthers(field),
  }));
  const rules = compileRules(type);
  const eligibilities = eligibilitiesOf(type, conditions);
  const computed = computedFields(type);
  const counted = countingFields(type);
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
    for (const { field, check, speaks } of fields) {
      name = field.name;
      value = own(values, name);
      check(value, status, report);
      if (speaks) gather(field, value, facts);
    }
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

/** The values of an entry, with its prose as the value of the field that is the body. No field has a reserved name. */
const withProse = ({ values, prose }: Entry, { body }: Type): Entry['values'] =>
  body && prose !== undefined ? { ...values, [body.name]: prose } : values;
