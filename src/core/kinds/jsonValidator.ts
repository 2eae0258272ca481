import { type Schema, Validator } from '@cfworker/json-schema';
import { isList, isObject, type Json, parsePointer } from '../json.ts';
import { findExponential } from '../patterns/exponential.ts';
import { quote } from '../words.ts';
import type { Report } from './define.ts';

/** Why a JSON Schema cannot be used to check values of a field. */
export function problemOf(schema: Json): { readonly says: string; readonly mend: string } | undefined {
  for (const [key, value] of entriesWithin(schema)) {
    if (key === '$ref' && typeof value === 'string' && !value.startsWith('#'))
      return {
        says: `\`schema\` refers to ${quote(value)}, and nothing is fetched from anywhere`,
        mend: 'Put what it refers to into `$defs`, and refer to it as #/$defs/….',
      };
    const patterns =
      key === 'pattern' ? [value] : key === 'patternProperties' && isObject(value) ? Object.keys(value) : [];
    for (const pattern of patterns) {
      const problem = problemOfPattern(pattern);
      if (problem) return problem;
    }
  }
  try {
    new Validator(schema as Schema, '2020-12').validate(null);
  } catch (error) {
    return {
      says: `\`schema\` is no JSON Schema that can be used: ${error instanceof RangeError ? 'it refers to itself without end' : reasonOf(error)}`,
      mend: 'Correct it (JSON Schema, draft 2020-12).',
    };
  }
  return undefined;
}

function problemOfPattern(pattern: Json | undefined): { readonly says: string; readonly mend: string } | undefined {
  if (typeof pattern !== 'string') return undefined;
  try {
    new RegExp(pattern, 'u');
  } catch {
    return { says: `in \`schema\`, ${quote(pattern)} is no regular expression`, mend: 'Correct the pattern.' };
  }
  const unsafe = findExponential(pattern);
  return (
    unsafe && {
      says: `in \`schema\`, the pattern ${quote(pattern)} ${unsafe.says}`,
      mend: 'Let each part of a text be matched in one way only.',
    }
  );
}

const reasonOf = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).replace(/\.$/u, '');

/** Every key in a value with what it holds, at any depth. */
function* entriesWithin(value: Json): Iterable<readonly [string, Json]> {
  if (isList(value)) for (const item of value) yield* entriesWithin(item);
  else if (isObject(value))
    for (const [key, inner] of Object.entries(value)) {
      yield [key, inner];
      yield* entriesWithin(inner);
    }
}

const lowered = (error: string): string => error.charAt(0).toLowerCase() + error.slice(1).replace(/\.$/u, '');

/** Compiles a schema into a check. The validator walks the schema; it makes no code from it. */
export function validatorOf(schema: Json): (value: Json, report: Report) => void {
  const validator = new Validator(schema as Schema, '2020-12', false);
  return (value, report) => {
    for (const { instanceLocation, error, keyword } of failures(validator, value))
      report('schema-broken', {
        says: `breaks the schema of the field: ${keyword === 'false' ? 'it may not stand here' : lowered(error)}`,
        limit: keyword,
        mend: 'Change the value, or the schema in the model.',
        inside: parsePointer(decodeURIComponent(instanceLocation)),
      });
  };
}

/** Keywords that only say that something inside is wrong, which is said on its own. */
const outer = new Set([
  'properties',
  'patternProperties',
  'additionalProperties',
  'items',
  'prefixItems',
  '$ref',
  'allOf',
]);

function failures(validator: Validator, value: Json) {
  try {
    const { errors } = validator.validate(value);
    return errors.filter(
      ({ instanceLocation, keyword }) =>
        !outer.has(keyword) || !errors.some((other) => other.instanceLocation.startsWith(`${instanceLocation}/`)),
    );
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return [{ instanceLocation: '#', keyword: '$ref', error: 'It refers to itself without end' }];
  }
}
