import { z } from 'zod';
import { commonOptions, type FieldDoc } from '../definition/field.ts';
import { kinds } from '../kinds/index.ts';
import { compact, isList, isObject, type Json, type JsonObject } from '../plain/json.ts';
import type { Outcome } from '../plain/outcome.ts';
import { type Mistake, parseWith } from './mistakes.ts';

/** Fields are often written alike, so parsed ones are cached. The results are read-only, so they can be shared. */
const parsedBefore = new Map<string, { readonly value: FieldDoc }>();
const mostRemembered = 50_000;

/** The options of a field of a kind, in their normal form. */
export function parseOptions(kind: string, data: JsonObject): Outcome<FieldDoc, readonly Mistake[]> {
  const text = JSON.stringify(data);
  const existing = parsedBefore.get(text);
  if (existing) return existing;

  const parsed = parseWith(fieldSchema(kind), data, `a field of kind ${kind}`);
  if ('problem' in parsed) return parsed;

  const read = { value: { kind, ...normal(parsed.value) } as FieldDoc };

  if (parsedBefore.size < mostRemembered) parsedBefore.set(text, read);
  return read;
}

const schemas = new Map<string, z.ZodType<Readonly<Record<string, unknown>>>>();

/** The schema of a field of a kind: what every field may say, and what this kind may say. */
function fieldSchema(kind: string): z.ZodType<Readonly<Record<string, unknown>>> {
  const knownSchema = schemas.get(kind);
  if (knownSchema) return knownSchema;
  const schema = z.strictObject({ kind: z.literal(kind), ...commonOptions, ...kinds.get(kind)?.shape });
  schemas.set(kind, schema);
  return schema;
}

const normalInside = (inner: Json | undefined): Json | undefined => {
  if (isList(inner)) return inner.map((item) => (isObject(item) ? normal(item) : item));
  if (!isObject(inner)) return inner;
  return normal(inner);
};

/** Parsed options without the keys that are absent, at any depth. */
function normal(value: unknown): JsonObject {
  return compact(
    Object.fromEntries(
      Object.entries(value as Record<string, Json | undefined>).map(([key, inner]) => [key, normalInside(inner)]),
    ),
  );
}
