import { type OutputUnit, type Schema, Validator } from '@cfworker/json-schema';
import { type Json, parsePointer } from '../plain/json.ts';
import { mistakesInSchema, type SchemaMistake } from './jsonKeywords.ts';
import { bare, hasKeyPatterns, keywordOf, SchemaTooCostly, safeSchema, Visits, withKeysOf } from './jsonSafety.ts';
import type { Report } from './kindParts.ts';

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

/** Keywords that only say that something inside is wrong, which is stated on its own. */
const outer = new Set([
  'properties',
  'patternProperties',
  'additionalProperties',
  'items',
  'prefixItems',
  '$ref',
  'allOf',
]);

/** What the validator says of an instance, as it is stated of a value. */
const plainer: readonly (readonly [RegExp, string])[] = [
  [/^Instance type "(.+?)" is invalid\. Expected "(.+)"\.$/su, 'it is of type $1, not $2'],
  [/^Instance does not match exactly one subschema \(0 matches\)\.$/u, 'no alternative fits'],
  [/^Instance does not match exactly one subschema \((\d+) matches\)\.$/u, '$1 alternatives fit, where one alone may'],
  [/^Instance does not match /u, 'it is not '],
];

function sayError(keyword: string, error: string): string {
  if (keyword === 'false') return 'it may not stand here';
  const [pattern, words] = plainer.find(([pattern]) => pattern.test(error)) ?? [];
  if (pattern && words) return error.replace(pattern, words).replace(/\.$/u, '').replaceAll('", "', ' or ');
  if (keywordOf(keyword, error) === 'pattern') return 'string does not match pattern';
  return lowered(error);
}

function failures(validator: Validator, value: Json) {
  try {
    const errors = byAlternatives(validator.validate(bare(value)).errors);
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

/**
 * Where no alternative of `anyOf` or `oneOf` fits: one failure, which says of each why it does not, instead of all that
 * is wrong in each. The validator tells the content of a keyword right after it.
 */
function byAlternatives(errors: readonly OutputUnit[]): readonly OutputUnit[] {
  const reported: OutputUnit[] = [];
  for (let index = 0; index < errors.length; ) {
    const error = errors[index++] as OutputUnit;
    const reasons = new Map<string, string>();
    while (isAlternatives(error) && isInside(errors[index], error)) {
      const { keyword, keywordLocation, error: message } = errors[index++] as OutputUnit;
      const alternative = keywordLocation.slice(error.keywordLocation.length + 1).split('/', 1)[0] ?? '';
      if (!outer.has(keyword) && !reasons.has(alternative)) reasons.set(alternative, sayError(keyword, message));
    }

    reported.push(
      reasons.size === 0 ? error : { ...error, error: `No alternative fits: ${[...reasons.values()].join('; ')}` },
    );
  }

  return reported;
}

const isAlternatives = ({ keyword }: OutputUnit): boolean => keyword === 'anyOf' || keyword === 'oneOf';

const isInside = (error: OutputUnit | undefined, around: OutputUnit): boolean =>
  error?.keywordLocation.startsWith(`${around.keywordLocation}/`) === true &&
  `${error.instanceLocation}/`.startsWith(`${around.instanceLocation}/`);
