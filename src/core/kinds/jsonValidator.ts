import { type Schema, Validator } from '@cfworker/json-schema';
import { type Json, parsePointer } from '../plain/json.ts';
import type { Report } from './define.ts';
import { mistakesInSchema, type SchemaMistake } from './jsonKeywords.ts';
import { bare, hasKeyPatterns, keywordOf, SchemaTooCostly, safeSchema, Visits, withKeysOf } from './jsonSafety.ts';

/** What keeps a JSON Schema from being used to check the values of a field. */
export function* problemsOf(schema: Json): Iterable<SchemaMistake> {
  const mistakes = [...mistakesInSchema(schema)];
  yield* mistakes;
  if (mistakes.length > 0) return;
  try {
    const visits = new Visits();
    new Validator(safeSchema(schema, visits) as Schema, '2020-12').validate(null);
  } catch (error) {
    yield {
      inside: [],
      says: `cannot be used: ${isEndless(error) ? 'it refers to itself without end' : reasonOf(error)}`,
      mend: 'Correct it (JSON Schema, draft 2020-12).',
    };
  }
}

const isEndless = (error: unknown): boolean => error instanceof RangeError || error instanceof SchemaTooCostly;

const reasonOf = (error: unknown): string => lowered(error instanceof Error ? error.message : String(error));
const lowered = (error: string): string => error.charAt(0).toLowerCase() + error.slice(1).replace(/\.$/u, '');

/** Compiles a schema into a check. The validator walks the schema; it makes no code from it. */
export function validatorOf(schema: Json): (value: Json, report: Report) => void {
  const visits = new Visits();
  const safe = safeSchema(schema, visits);
  const always = hasKeyPatterns(schema) ? undefined : new Validator(safe as Schema, '2020-12', false);
  return (value, report) => {
    visits.start();
    const validator = always ?? new Validator(withKeysOf(safe, value, visits) as Schema, '2020-12', false);
    for (const { instanceLocation, error, keyword } of failures(validator, value))
      report(
        'schema-broken',
        { problem: sayError(keyword, error) },
        { limit: keywordOf(keyword, error), inside: parsePointer(decodeURIComponent(instanceLocation)) },
      );
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

function sayError(keyword: string, error: string): string {
  if (keyword === 'false') return 'it may not stand here';
  return keywordOf(keyword, error) === 'pattern' ? 'string does not match pattern' : lowered(error);
}

function failures(validator: Validator, value: Json) {
  try {
    const { errors } = validator.validate(bare(value));
    return errors.filter(
      ({ instanceLocation, keyword }) =>
        !outer.has(keyword) ||
        !errors.some(
          (other) =>
            other.instanceLocation.startsWith(`${instanceLocation}/`) ||
            (keyword === 'allOf' && other.instanceLocation === instanceLocation && !outer.has(other.keyword)),
        ),
    );
  } catch (error) {
    if (!isEndless(error)) throw error;
    return [{ instanceLocation: '#', keyword: '$ref', error: 'It refers to itself without end, or too often' }];
  }
}
