import { z } from 'zod';
import { at, isObject, type Json, type Path } from '../plain/json.ts';
import { didYouMean } from '../plain/nearest.ts';
import type { Outcome } from '../plain/outcome.ts';
import { list, listSome, quote } from '../plain/words.ts';

/** A mistake in the model, at a path inside the data it was found in. */
export interface Mistake {
  readonly path: Path;
  /** Whether the key at the path is wrong rather than its value. */
  readonly atKey?: boolean;
  /** How far into a text the mistake stands, in UTF-16 code units. */
  readonly offset?: number;
  readonly says: string;
  readonly mend: string;
  /** The field that is named and is not there, where that is the mistake. */
  readonly misses?: string;
  /** Whether it says that something is defined in no file. */
  readonly isUndefined?: true;
}

/**
 * Reads data with a schema. The result is the parsed value, or every mistake, in words that follow from the
 * schema itself: the values of the key, the value found, and the nearest valid key.
 */
export function parseWith<T>(schema: z.ZodType<T>, data: Json, name: string): Outcome<T, readonly Mistake[]> {
  const parsed = schema.safeParse(withoutProto(data));
  if (parsed.success) return { value: parsed.data };
  const read = { schema, data, name };
  const mistakes = parsed.error.issues.flatMap((issue) => inWords(issue, read, []));
  return { problem: mistakes };
}

/** Zod passes over a key called `__proto__`; under another name it is refused like every unknown key. */
function withoutProto(data: Json): Json {
  if (!isObject(data) || !Object.hasOwn(data, '__proto__')) return data;
  return Object.fromEntries(
    Object.entries(data).map(([key, value]) => [key === '__proto__' ? '"__proto__"' : key, value]),
  );
}

type Issue = z.core.$ZodIssue;

/** The data, its schema, and the name of that schema. */
interface ReadWith {
  readonly schema: z.core.$ZodType;
  readonly data: Json;
  readonly name: string;
}

function nameOf(path: Path, name: string): string {
  const last = path.at(-1);
  if (last === undefined) return name;
  if (typeof last === 'number') return `item ${last + 1} of \`${String(path.at(-2))}\``;
  return `\`${last}\``;
}

function inWords(issue: Issue, read: ReadWith, prefix: Path): readonly Mistake[] {
  const { schema, data, name } = read;
  const path = [...prefix, ...issue.path.map((part) => (typeof part === 'number' ? part : String(part)))];
  const last = path.at(-1);
  const key = nameOf(path, name);
  switch (issue.code) {
    case 'unrecognized_keys':
      return issue.keys.map((unknown) =>
        unknownOption(unknown, keysAt(schemaAt(schema, path)), path, last === undefined ? `for ${name}` : `in ${key}`),
      );
    case 'invalid_union': {
      const branches = issue.errors.filter(
        (errors) => errors.length > 0 && errors.every((error) => error.path.length > 0 || !isAboutShape(error)),
      );
      const [branch, next] = branches.toSorted((a, b) => unknownKeys(a) - unknownKeys(b));
      const lacking = branches.map((errors) => keyMissing(errors, at(data, path)));
      // Where one form is as near as another, no key says which is intended.
      if (branch && next && unknownKeys(branch) === unknownKeys(next) && lacking.every((key) => key !== undefined))
        return [noneOf(path, key, lacking)];
      if (branch) return branch.flatMap((inner) => inWords(inner, read, path));
      return [wrongValue(schema, path, key, data)];
    }
    case 'custom':
    case 'invalid_format':
      return [
        {
          path,
          says: `${key} is ${quote(at(data, path))}, not right here`,
          mend: `Write ${lowerFirst(issue.message)}.`,
        },
      ];
    case 'too_small':
    case 'too_big':
      return [outOfBounds(issue, path, key)];
    default:
      return [wrongValue(schema, path, key, data)];
  }
}

/** An option that does not exist. @param place what it is written in. */
function unknownOption(unknown: string, keys: readonly string[], path: Path, place: string): Mistake {
  const knownKeys = [...new Set(keys)];
  // One of several forms may have it, and this is another one.
  const otherKeys = knownKeys.filter((key) => key !== unknown);
  const mend = knownKeys.length > otherKeys.length ? '' : didYouMean(unknown, knownKeys);

  return {
    path: [...path, unknown],
    atKey: true,
    says: `there is no option \`${unknown}\` ${place}`,
    mend: mend || `Remove it; the options are ${listSome(otherKeys, mostNamed)}.`,
  };
}

/** A value, or a number of items, beyond a bound. */
function outOfBounds(issue: Extract<Issue, { code: 'too_small' | 'too_big' }>, path: Path, key: string): Mistake {
  const isTooSmall = issue.code === 'too_small';
  const bound = isTooSmall ? `at least ${issue.minimum}` : `at most ${issue.maximum}`;
  const items = countedAs(issue.origin, Number(isTooSmall ? issue.minimum : issue.maximum));

  return {
    path,
    says: `${key} needs ${[bound, items].filter(Boolean).join(' ')}`,
    mend: 'Correct the value, or remove the key.',
  };
}

/** So many options are named; nobody reads on to the end of more. */
const mostNamed = 24;

/** How many keys one form of a value does not know: the form with the fewest is the one that was intended. */
/** The key that a form of an object needs first, and that is not there. */
function keyMissing(issues: readonly Issue[], value: Json | undefined): string | undefined {
  if (!isObject(value ?? null)) return undefined;
  const keys = issues.flatMap(({ path: [key, ...deeper] }) =>
    typeof key === 'string' && deeper.length === 0 ? key : [],
  );
  return keys.find((key) => at(value, [key]) === undefined);
}

/** An object that may have several forms, and has the key of none. */
const noneOf = (path: Path, key: string, keys: readonly string[]): Mistake => ({
  path,
  says: `${key} has none of ${list([...new Set(keys)].map((key) => `\`${key}\``))}`,
  mend: 'Write one of them: it says which of several it is.',
});

const unknownKeys = (issues: readonly Issue[]): number =>
  issues.reduce((sum, issue) => sum + (issue.code === 'unrecognized_keys' ? issue.keys.length : 0), 0);

const isAboutShape = (issue: Issue): boolean => issue.code === 'invalid_type' || issue.code === 'invalid_value';
/** What a bound counts: items of a list, characters of a text; a number counts nothing but itself. */
function countedAs(origin: string, number: number): string {
  if (origin === 'array') return number === 1 ? 'item' : 'items';
  if (origin === 'string') return number === 1 ? 'character' : 'characters';
  return '';
}

const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1);

function wrongValue(schema: z.core.$ZodType, path: Path, key: string, data: Json): Mistake {
  const takes = describe(schemaAt(schema, path));
  const value = at(data, path);
  const about = takes === anyValue ? aboutAt(schema, path) : undefined;
  if (value === undefined)
    return { path, says: `${key} is missing`, mend: about ? `Add it: ${about}` : `Add it: it takes ${takes}.` };

  const wrong = `${key} is ${value === null ? 'empty' : quote(value)}`;
  if (about) return { path, says: `${wrong}, not right here`, mend: `Write ${about}` };
  return {
    path,
    says: `${wrong}, it takes ${takes}`,
    mend: takes === 'a list' && !isObject(value) ? `Put it in brackets: [${String(value)}]` : `Write ${takes}.`,
  };
}

/* ── what a schema says of itself ────────────────────────────────────────────────────────────────────────────── */

type Schema = z.core.$ZodTypes;

const anyValue = 'any value';

/** The alternatives of a schema, with everything unwrapped that only says "may be absent" or "is then changed". */
function alternatives(schema: z.core.$ZodType): readonly Schema[] {
  const { def } = (schema as Schema)._zod;
  switch (def.type) {
    case 'optional':
    case 'nullable':
    case 'default':
    case 'nonoptional':
      return alternatives(def.innerType);
    case 'pipe':
      return alternatives(def.in);
    case 'lazy':
      return alternatives(def.getter());
    case 'union':
      return def.options.flatMap(alternatives);
    default:
      return [schema as Schema];
  }
}

function schemaAt(schema: z.core.$ZodType, path: Path): readonly Schema[] {
  let schemas = alternatives(schema);
  for (const part of path) {
    schemas = schemas.flatMap((schema) => {
      const { def } = schema._zod;
      if (def.type === 'object') {
        const inner = Object.hasOwn(def.shape, part) ? def.shape[String(part)] : undefined;
        if (!inner) return [];
        return alternatives(inner);
      }
      if (def.type === 'array') return alternatives(def.element);
      if (def.type === 'record') return alternatives(def.valueType);
      return [];
    });
  }

  return schemas;
}

/** What the value at a path is for, as its schema describes it for people. */
function aboutAt(schema: z.core.$ZodType, path: Path): string | undefined {
  for (const { _zod: holder } of schemaAt(schema, path.slice(0, -1))) {
    const { def } = holder;
    const part = def.type === 'object' ? def.shape[String(path.at(-1))] : undefined;
    const { description } = (part && z.globalRegistry.get(part)) ?? {};
    if (description) return lowerFirst(description);
  }

  return undefined;
}

const keysAt = (schemas: readonly Schema[]): readonly string[] =>
  schemas.flatMap(({ _zod: { def } }) => {
    if (def.type === 'object') return Object.keys(def.shape).filter((key) => key !== '$schema');
    const keys = def.type === 'record' ? (def.keyType as Schema)._zod.def : undefined;
    if (keys?.type !== 'enum') return [];
    return Object.keys(keys.entries);
  });

/** What a schema takes, in words: `a whole number`, `a text or a list`. */
export const takes = (schema: z.core.$ZodType): string => describe(alternatives(schema));

function describe(schemas: readonly Schema[]): string {
  const words = schemas.flatMap((schema): string | readonly string[] => {
    const { def } = schema._zod;
    switch (def.type) {
      case 'string':
        return 'a text';
      case 'number':
        if ('format' in def || (def.checks ?? []).some((check) => check._zod.def.check === 'number_format'))
          return 'a whole number';
        return 'a number';
      case 'boolean':
        return ['`true`', '`false`'];
      case 'literal':
        return list(
          def.values.map((value) => `\`${String(value)}\``),
          'or',
        );
      case 'enum':
        return list(
          Object.values(def.entries).map((value) => `\`${value}\``),
          'or',
        );
      case 'array':
        return 'a list';
      case 'record':
        return 'a group of keys';
      case 'lazy':
      case 'any':
      case 'unknown':
        return anyValue;
      case 'object':
        return `keys (${Object.keys(def.shape)
          .filter((key) => key !== '$schema')
          .join(', ')})`;
      default:
        return anyValue;
    }
  });
  if (words.length > 4) return anyValue;
  return list([...new Set(words)], 'or');
}
