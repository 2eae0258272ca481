import type { ASTNode } from '@marcbachmann/cel-js';
import { TooCostly } from '../cel/stepBudget.ts';
import { childrenOf, isNode } from '../cel/syntax.ts';
import { celName } from '../definition/fieldName.ts';
import { countedValue } from '../model/emptiness.ts';
import type { Field, Type } from '../model/link.ts';
import { mapSingles } from '../model/traversal.ts';
import { isObject, type Json, type JsonObject, mapValues, ownValue } from '../plain/json.ts';
import { usualLimits } from '../plain/limits.ts';
import { summaryOf } from './celErrors.ts';
import type { ExpressionProblem } from './expressionProblem.ts';
import { type ExpressionScope, everywhere, judgeOver } from './judge.ts';
import type { Look, LookedUp } from './lookUp.ts';

/** A CEL expression (Common Expression Language, cel-spec) that was type-checked against a type's fields. */
export interface Expression {
  readonly source: string;
  /** The type of its result, in CEL's words: `string`, `int`, `list<string>`. */
  readonly gives: string;
  /** Whether an entry has no value in a field without which it cannot be computed, whatever the others say. */
  readonly lacks: (entry: EntryView) => boolean;
  /** Every field that it names, whether or not it looks at it in the end. */
  readonly names: readonly string[];
  /** Its lookups in other entries: it can be computed only where the view of an entry can look there. */
  readonly looksUp: readonly LookedUp[];
  /**
   * Computes the value for one entry, and one value of an object in it where the expression sees one.
   * @throws {ExpressionFailed} where the entry makes that impossible.
   */
  readonly evaluate: (entry: EntryView, item?: JsonObject) => Json;
}

/** What an expression sees as `entry`: the fields by name, and what every entry has. */
export interface EntryView {
  readonly id: string;
  readonly type: string;
  readonly status: string;
  /** Whether readers can see it now: published, and inside the time that it is public. Absent: if it is published. */
  readonly isPublic?: boolean | undefined;
  readonly fields: JsonObject;
  /** Fields with an error: where an expression over them fails, that is no finding. */
  readonly faulty?: readonly string[] | undefined;
  /** How many steps an expression may take; the usual number where nothing is stated. */
  readonly expressionSteps?: number | undefined;
  /** Looks into other entries, where these are known. */
  readonly look?: Look | undefined;
}

/** An expression that is right in itself could not be computed for an entry. */
export class ExpressionFailed extends Error {
  override readonly name = 'ExpressionFailed';
}

/** An expression ended in an error for an entry, though the entry has every value that it names. */
export class ExpressionUnjudged extends ExpressionFailed {
  /** Whether these values have findings of their own. */
  readonly isTold: boolean;

  constructor(message: string, isTold = false) {
    super(message);
    this.isTold = isTold;
  }
}

/** An expression was given up, since it took more steps than the workspace allows. */
export class ExpressionTooCostly extends ExpressionUnjudged {}

/** How CEL calls the errors that say no more than that a value is absent, or of another kind than its field. */
const absences: ReadonlySet<unknown> = new Set([
  'no_such_key',
  'index_out_of_bounds',
  'optional_value_missing',
  'unknown_variable',
  'no_such_overload',
  'no_matching_overload',
  'invalid_logical_operand',
  'invalid_condition_type',
  'invalid_comprehension_range',
  'field_type_mismatch',
  'variable_type_mismatch',
  'list_item_type_mismatch',
  'invalid_list_element_type',
]);

/** @param isTold whether the values that the expression names have findings already. */
function failureOf(error: unknown, isTold: boolean): ExpressionFailed {
  if (error instanceof ExpressionFailed) return error;
  if (error instanceof TooCostly) return new ExpressionTooCostly(error.message);
  const isAbsence = error instanceof Error && 'code' in error && absences.has(error.code);
  if (isAbsence) return new ExpressionFailed(summaryOf(error));
  return new ExpressionUnjudged(summaryOf(error), isTold);
}

/**
 * Compiles expressions over the entries of one type. They can reach only the entry's own values.
 * @param variable what the entry is called in them.
 * @param more what else they see, and the texts that they may name.
 */
export function expressionsOver(
  type: Type,
  variable = 'entry',
  more: ExpressionScope = {},
): (source: string) => Expression | ExpressionProblem {
  const { item } = more;
  const judge = judgeOver(type, variable, more);

  return (source) => {
    const judged = judge(source);
    if ('problem' in judged) return judged;

    const { gives, ast, looksUp, run } = judged;
    const fieldsLookedUp = new Map(looksUp.map(({ type: typeName, field }) => [`${typeName}.${field.name}`, field]));
    const named = fieldsIn(source, type, variable);
    const names = namesOf(fieldsNamed(ast, variable), type);

    return {
      source,
      gives,
      lacks: lacking(isStraight(ast) ? names : [], type),
      names,
      looksUp,
      evaluate: (entry, subItem) => {
        try {
          const beside = item && subItem ? { item: groupToCel(subItem, item) } : {};
          return fromCel(
            run(
              { [variable]: toCel(entry, named), ...beside },
              entry.expressionSteps ?? usualLimits.expressionSteps,
              looker(entry.look, fieldsLookedUp),
            ),
          );
        } catch (error) {
          throw failureOf(
            error,
            names.some((name) => entry.faulty?.includes(name) === true),
          );
        }
      },
    };
  };
}

/** Lookups in other entries, as CEL wants it. */
function looker(look: Look | undefined, fields: ReadonlyMap<string, Field>) {
  return (
    look &&
    ((entry: string, address: string): unknown => {
      const field = fields.get(address);
      const value = field && countedValue(field, look.valueOf(entry, field.name));
      if (field && value !== undefined) return wholeToCel(field, value);
      return undefined;
    })
  );
}

/** Whether an entry lacks one of some fields; what every entry has of itself is never absent. */
function lacking(names: readonly string[], { fields }: Type): (entry: EntryView) => boolean {
  const needed = names.filter((name) => !Object.hasOwn(everywhere, name));
  return (entry) =>
    needed.some((name) => countedValue(fields.get(name) ?? { common: {} }, ownValue(entry.fields, name)) === undefined);
}

/** Whether every part of an expression is always computed: nothing in it decides about the rest. */
function isStraight(node: ASTNode): boolean {
  if (['&&', '||', '?:', 'call', 'rcall', 'comprehension'].includes(node.op)) return false;
  return childrenOf(node.args).every(isStraight);
}

const fieldsNamed = (node: ASTNode, variable: string): readonly string[] => {
  if (node.op === '.' && isNode(node.args[0]) && node.args[0].op === 'id' && node.args[0].args === variable)
    return [String(node.args[1])];
  return childrenOf(node.args).flatMap((child) => fieldsNamed(child, variable));
};

/** Names as expressions write them as the names of fields, each once. */
function namesOf(words: readonly string[], { fields }: Type): readonly string[] {
  const byWord = new Map([...fields.keys()].map((name) => [celName(name), name] as const));
  return [...new Set(words.map((word) => byWord.get(word) ?? word))];
}

/** The fields that an expression can look at: those that its text names, or all where it takes the entry as a whole. */
function fieldsIn(source: string, { fields }: Type, variable: string): readonly Field[] {
  const list = [...fields.values()];
  if (new RegExp(`\\b${variable}\\b(?!\\s*\\.)`, 'u').test(source)) return list;
  const words = new Set(source.match(/\w+/gu));
  return list.filter(({ name }) => words.has(celName(name)));
}

/** Values as CEL wants them: integers of integer fields as 64-bit integers, empty ones are absent. */
function toCel(
  { id, type, status, isPublic, fields }: EntryView,
  named: readonly Field[],
): Readonly<Record<string, unknown>> {
  const view: Record<string, unknown> = { id, type, status, isPublic: isPublic ?? status === 'published' };
  for (const field of named) {
    const value = countedValue(field, ownValue(fields, field.name));
    if (value === undefined) continue;
    view[celName(field.name)] = wholeToCel(field, value);
  }

  return view;
}

/** A whole value; of a field that holds one alone or a list, always the list. */
function wholeToCel(field: Field, value: Json): unknown {
  const { many, localized } = field.common;
  const converted = mapSingles<unknown>(field, value, (item) => oneToCel(item, field));
  if (!many?.orOne) return converted;
  const listed = (value: unknown): unknown => {
    if (Array.isArray(value)) return value;
    return [value];
  };
  if (localized && isObject(value)) return mapValues(converted as JsonObject, listed);
  return listed(converted);
}

function oneToCel(value: Json, { kind, fields }: Field): unknown {
  if (kind.nests && isObject(value)) return groupToCel(value, fields);
  if (kind.maps && isObject(value)) return mapToCel(value, fields.get('value'));
  if (kind.cel === 'int' && typeof value === 'number' && Number.isInteger(value)) return BigInt(value);
  return value;
}

function groupToCel(
  group: JsonObject,
  fields: ReadonlyMap<string, Field>,
  isKey = false,
): Readonly<Record<string, unknown>> {
  const view: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(group)) {
    const inner = fields.get(name);
    const counted = inner ? countedValue(inner, value) : value;
    if (counted === undefined || counted === null) continue;
    view[inner && !isKey ? celName(name) : name] = inner ? wholeToCel(inner, counted) : counted;
  }

  return view;
}

function mapToCel(map: JsonObject, field: Field | undefined): Readonly<Record<string, unknown>> {
  const fieldsByKey = new Map(Object.keys(map).flatMap((key) => (field ? [[key, field] as const] : [])));
  return groupToCel(map, fieldsByKey, true);
}

function fromCel(value: unknown): Json {
  if (typeof value === 'bigint') {
    if (value > BigInt(Number.MAX_SAFE_INTEGER) || value < BigInt(Number.MIN_SAFE_INTEGER))
      throw new ExpressionFailed(`the result ${value} is too large`);
    return Number(value);
  }
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return value;
  if (typeof value === 'number') {
    if (!Number.isFinite(value)) throw new ExpressionFailed('the result is no finite number');
    return value;
  }
  if (Array.isArray(value)) return value.map(fromCel);
  if (value instanceof Map) return Object.fromEntries([...value].map(([key, inner]) => [String(key), fromCel(inner)]));
  if (typeof value === 'object' && Object.getPrototypeOf(value) === Object.prototype)
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, fromCel(inner)]));
  throw new ExpressionFailed('the result is neither a text, a number, true or false, nor a list of these');
}

/** Compiled code, where it looks at its entry alone. */
export function lookingNowhere(compiled: Expression | ExpressionProblem): Expression | ExpressionProblem {
  if ('problem' in compiled || compiled.looksUp.length === 0) return compiled;
  return {
    problem: 'other entries cannot be looked at here',
    offset: compiled.source.indexOf('lookUp('),
    mend: 'Let a rule say it, or a computed field that this one names.',
  };
}

/** Compiled code, where it can be a condition. @param example one that is right, in words. */
export function asCondition(compiled: Expression | ExpressionProblem, example: string): Expression | ExpressionProblem {
  if ('problem' in compiled || compiled.gives === 'bool' || compiled.gives === 'dyn') return compiled;
  const mend = `Write a condition, for example \`${example}\`.`;
  return { problem: `it gives ${compiled.gives}, not true or false`, offset: 0, mend };
}
