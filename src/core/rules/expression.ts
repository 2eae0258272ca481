import { type ASTNode, Environment, type ParseError } from '@marcbachmann/cel-js';
import { isObject, type Json, type JsonObject, mapValues, own } from '../json.ts';
import { mapSingles } from '../model/layers.ts';
import type { Field, Type } from '../model/link.ts';
import { didYouMean } from '../nearest.ts';
import { findExponential } from '../patterns/exponential.ts';

/** A CEL expression (Common Expression Language, cel-spec) that was type-checked against a type's fields. */
export interface Expression {
  readonly source: string;
  /** The type of what it gives, in CEL's words: `string`, `int`, `list<string>`. */
  readonly gives: string;
  /** Fields without which it cannot be computed, whatever the others say: known beforehand, so that it need not fail. */
  readonly needs: readonly string[];
  /** Computes the value for one entry. @throws {ExpressionFailed} where the entry makes that impossible. */
  readonly evaluate: (entry: EntryView) => Json;
}

/** What an expression sees as `entry`: the fields by name, and what every entry has. */
export interface EntryView {
  readonly id: string;
  readonly type: string;
  readonly status: string;
  /** Whether readers can see it now: published, and inside the time that it is public. Absent: if it is published. */
  readonly isPublic?: boolean | undefined;
  readonly fields: JsonObject;
}

/** Why an expression cannot be used: what is wrong, and where in it (offsets count from 0, in UTF-16 code units). */
export interface ExpressionProblem {
  readonly problem: string;
  readonly offset: number;
  readonly mend: string;
  /** The field that it names and that is not there, where that is the problem. */
  readonly misses?: string;
}

/** An expression that is right in itself could not be computed for an entry. */
export class ExpressionFailed extends Error {
  override readonly name = 'ExpressionFailed';
}

const limits = { maxAstNodes: 2_000, maxDepth: 60 };

/**
 * Compiles expressions over the entries of one type. They can reach the entry's own values and nothing else.
 * @param variable what the entry is called in them.
 */
export function expressionsOver(type: Type, variable = 'entry'): (source: string) => Expression | ExpressionProblem {
  const schema: Record<string, string> = { id: 'string', type: 'string', status: 'string', isPublic: 'bool' };
  for (const field of type.fields.values()) schema[field.name] = celTypeOf(field);
  const environment = new Environment({ limits, homogeneousAggregateLiterals: false })
    .registerVariable({ name: variable, schema })
    .registerOperator('double * int', (a: number, b: bigint) => a * Number(b))
    .registerOperator('int * double', (a: bigint, b: number) => Number(a) * b)
    .registerOperator('double + int', (a: number, b: bigint) => a + Number(b))
    .registerOperator('int + double', (a: bigint, b: number) => Number(a) + b)
    .registerOperator('double - int', (a: number, b: bigint) => a - Number(b))
    .registerOperator('int - double', (a: bigint, b: number) => Number(a) - b)
    .registerOperator('double / int', (a: number, b: bigint) => a / Number(b))
    .registerOperator('int / double', (a: bigint, b: number) => Number(a) / b)
    .registerFunction('round(double): int', (value: number) => BigInt(Math.round(value)));
  return (source) => {
    const checked = environment.check(source);
    if (!checked.valid) return problemOf(checked.error as ParseError, Object.keys(schema));
    const run = environment.parse(source);
    const harmful = harmfulPattern(run.ast);
    if (harmful) return harmful;
    const named = fieldsIn(source, type, variable);
    return {
      source,
      gives: checked.type ?? 'dyn',
      needs: isStraight(run.ast) ? fieldsNamed(run.ast, variable) : [],
      evaluate: (entry) => {
        try {
          return fromCel(run({ [variable]: toCel(entry, named) }));
        } catch (error) {
          if (error instanceof ExpressionFailed) throw error;
          throw new ExpressionFailed(summaryOf(error));
        }
      },
    };
  };
}

/** Whether every part of an expression is always computed: nothing in it decides about the rest. */
function isStraight(node: ASTNode): boolean {
  if (['&&', '||', '?:', 'call', 'rcall', 'comprehension'].includes(node.op)) return false;
  return childrenOf(node.args).every(isStraight);
}

const fieldsNamed = (node: ASTNode, variable: string): readonly string[] =>
  node.op === '.' && isNode(node.args[0]) && node.args[0].op === 'id' && node.args[0].args === variable
    ? [String(node.args[1])]
    : childrenOf(node.args).flatMap((child) => fieldsNamed(child, variable));

/** The first regular expression in an expression that may not be run: only what is written out can be judged before. */
function harmfulPattern(node: ASTNode): ExpressionProblem | undefined {
  const pattern =
    (node.op === 'rcall' || node.op === 'call') && node.args[0] === 'matches' ? node.args.at(-1) : undefined;
  const [argument] = Array.isArray(pattern) ? pattern.slice(-1) : [];
  const problem = isNode(argument) ? problemOfPattern(argument) : undefined;
  if (problem && isNode(argument)) return { ...problem, offset: argument.range.start };
  return childrenOf(node.args)
    .map(harmfulPattern)
    .find((found) => found !== undefined);
}

function problemOfPattern(node: ASTNode): Omit<ExpressionProblem, 'offset'> | undefined {
  if (node.op !== 'value' || typeof node.args !== 'string')
    return { problem: 'the pattern is not written out', mend: 'Write the regular expression itself between quotes.' };
  try {
    new RegExp(node.args, 'u');
  } catch {
    return { problem: 'it is no regular expression', mend: 'Correct the pattern.' };
  }
  const unsafe = findExponential(node.args);
  return (
    unsafe && {
      problem: `the pattern ${unsafe.says}`,
      mend: 'Let each part of the text be matched in one way only: no repetition inside a repetition.',
    }
  );
}

/** The CEL type of a field's whole value: `string`, `list<int>`, `map<string, string>` by language. */
export function celTypeOf({ kind, common }: Field): string {
  const inOneLanguage = common.many ? `list<${kind.cel}>` : kind.cel;
  return common.localized ? `map<string, ${inOneLanguage}>` : inOneLanguage;
}

function problemOf(error: ParseError, names: readonly string[]): ExpressionProblem {
  const summary = summaryOf(error);
  const unknown = /no such key: (\w+)/iu.exec(summary)?.[1];
  const offset = error.range?.start ?? 0;
  if (unknown === undefined)
    return { problem: summary, offset, mend: 'Correct the expression (CEL, the Common Expression Language).' };
  return {
    problem: `there is no field \`${unknown}\``,
    misses: unknown,
    offset,
    mend: didYouMean(unknown, names).trim() || `An entry has ${names.join(', ')}.`,
  };
}

const summaryOf = (error: unknown): string => {
  const summary = error instanceof Error && 'summary' in error ? String(error.summary) : String(error);
  return summary.charAt(0).toLowerCase() + summary.slice(1);
};

/** The fields that an expression can look at: those that its text names, or all where it takes the entry as a whole. */
function fieldsIn(source: string, { fields }: Type, variable: string): readonly Field[] {
  const all = [...fields.values()];
  if (new RegExp(`\\b${variable}\\b(?!\\s*\\.)`, 'u').test(source)) return all;
  const words = new Set(source.match(/\w+/gu));
  return all.filter(({ name }) => words.has(name));
}

/** Values as CEL wants them: integers of integer fields as 64-bit integers, what is not filled not there at all. */
function toCel(
  { id, type, status, isPublic, fields }: EntryView,
  named: readonly Field[],
): Readonly<Record<string, unknown>> {
  const view: Record<string, unknown> = { id, type, status, isPublic: isPublic ?? status === 'published' };
  for (const field of named) {
    const value = own(fields, field.name);
    if (value === undefined || value === null) continue;
    view[field.name] = mapSingles(field, value, (item) => oneToCel(item, field));
  }
  return view;
}

function oneToCel(value: Json, { kind, fields }: Field): unknown {
  if (kind.nests && isObject(value))
    return mapValues(value, (one, name) => {
      const inner = fields.get(name);
      return inner ? mapSingles(inner, one, (item) => oneToCel(item, inner)) : one;
    });
  return kind.cel === 'int' && typeof value === 'number' && Number.isInteger(value) ? BigInt(value) : value;
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

/** An expression after a field of `entry` got another name: the name alone is exchanged, wherever it stands. */
export function renameInExpression(source: string, from: string, to: string, variable = 'entry'): string {
  let root: ASTNode;
  try {
    root = new Environment({ limits, unlistedVariablesAreDyn: true }).parse(source).ast;
  } catch {
    return source; // An expression that cannot be read is reported where the model is verified.
  }
  const places = namesOf(root, from, variable).sort((a, b) => b.start - a.start);
  return places.reduce(
    (text, { start, end, quoted }) => text.slice(0, start) + (quoted ? JSON.stringify(to) : to) + text.slice(end),
    source,
  );
}

interface NamePlace {
  readonly start: number;
  readonly end: number;
  readonly quoted: boolean;
}

/** Where an expression names a field: `entry.name` or `entry["name"]`, whatever the variable is called. */
function namesOf(node: ASTNode, field: string, variable: string): NamePlace[] {
  const isEntry = ({ op, args }: ASTNode): boolean => op === 'id' && args === variable;
  if (node.op === '.' && isEntry(node.args[0]) && node.args[1] === field)
    return [{ start: node.range.end - field.length, end: node.range.end, quoted: false }];
  if (node.op === '[]' && isEntry(node.args[0]) && node.args[1].op === 'value' && node.args[1].args === field)
    return [{ ...node.args[1].range, quoted: true }];
  return childrenOf(node.args).flatMap((child) => namesOf(child, field, variable));
}

const childrenOf = (args: unknown): readonly ASTNode[] =>
  Array.isArray(args) ? args.flatMap(childrenOf) : isNode(args) ? [args] : [];
const isNode = (value: unknown): value is ASTNode =>
  typeof value === 'object' && value !== null && 'op' in value && 'range' in value;
