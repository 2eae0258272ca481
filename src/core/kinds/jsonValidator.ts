import { type Schema, Validator } from '@cfworker/json-schema';
import { type Json, parsePointer } from '../json.ts';
import type { Report } from './define.ts';
import { mistakesInSchema, type SchemaMistake } from './jsonKeywords.ts';

/** What keeps a JSON Schema from being used to check the values of a field. */
export function* problemsOf(schema: Json): Iterable<SchemaMistake> {
  const mistakes = [...mistakesInSchema(schema)];
  yield* mistakes;
  if (mistakes.length > 0) return;
  try {
    new Validator(schema as Schema, '2020-12').validate(null);
  } catch (error) {
    yield {
      inside: [],
      says: `cannot be used: ${error instanceof RangeError ? 'it refers to itself without end' : reasonOf(error)}`,
      mend: 'Correct it (JSON Schema, draft 2020-12).',
    };
  }
}

const reasonOf = (error: unknown): string => lowered(error instanceof Error ? error.message : String(error));
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
