import { isList, isObject, type Json } from '../plain/json.ts';
import type { Limits } from '../plain/limits.ts';
import { JsonSource } from './jsonSource.ts';
import { type Reading, readYaml } from './yaml.ts';
import { deepestLevel } from './yamlDepth.ts';

/** The content read, and whether it is written as JSON, which is stricter than YAML. */
export type JsonReading = Reading & { readonly isJson: boolean };

/**
 * Reads JSON (RFC 8259). Places are worked out on request. A text that is not plain JSON, has a key twice or
 * is larger or deeper than files may be, is read as YAML, of which JSON is a part: that tells the problem, and where.
 */
export function readJson(text: string, limits: Pick<Limits, 'fileNodes'>): JsonReading {
  const data = parsed(text);
  if (data !== undefined && (isPlainlyWritten(text, data, limits) || isWithinBounds(text, data, limits)))
    return { value: new JsonSource(text, data), isJson: true };
  return { ...readYaml(text, limits), isJson: data !== undefined };
}

/**
 * Whether each key of a text is written once, and all of it is small, told by a few looks at the whole text. A colon right
 * behind a quotation mark ends a key, or begins a text; where no blank stands before a colon there are never fewer of them
 * than keys. So where there are as many as the value has, no key is there twice. Most texts are reported so; others are not.
 */
function isPlainlyWritten(text: string, data: Json, { fileNodes }: Pick<Limits, 'fileNodes'>): boolean {
  if (text.length >= 2 * deepestLevel || text.length > fileNodes) return false;

  let colons = 0;
  for (let index = text.indexOf(':'); index >= 0; index = text.indexOf(':', index + 1)) {
    const before = text.charCodeAt(index - 1);
    if (before <= 0x20) return false;
    if (before === 0x22) colons += 1;
  }

  return colons === keysIn(data);
}

/** The same for any text: one look at each character. */
function isWithinBounds(text: string, data: Json, { fileNodes }: Pick<Limits, 'fileNodes'>): boolean {
  const { keys, parts, depth } = outlineOf(text);
  return depth <= deepestLevel && parts <= fileNodes && keys === keysIn(data);
}

function parsed(text: string): Json | undefined {
  try {
    return JSON.parse(text) as Json;
  } catch {
    return undefined;
  }
}

/** Counts the keys, and all parts, that are written in a text of JSON, and how deep they are nested: one look at each character. */
function outlineOf(text: string): { readonly keys: number; readonly parts: number; readonly depth: number } {
  let keys = 0;
  let parts = 0;
  let depth = 0;
  let deepestHere = 0;

  for (let index = 0; index < text.length; index += 1) {
    switch (text.charCodeAt(index)) {
      case 0x22: // "
        index = endOfString(text, index);
        break;
      case 0x3a: // :
        keys += 1;
        parts += 2;
        break;
      case 0x2c: // ,
        parts += 1;
        break;
      case 0x5b: // [
      case 0x7b: // {
        parts += 1;
        depth += 1;
        if (depth > deepestHere) deepestHere = depth;
        break;
      case 0x5d: // ]
      case 0x7d: // }
        depth -= 1;
        break;
    }
  }

  return { keys, parts, depth: deepestHere };
}

/** Where the closing quotation mark stands of a string that opens somewhere: the first that no backslash belongs to. */
export function endOfString(text: string, opening: number): number {
  let end = text.indexOf('"', opening + 1);
  while (end >= 0 && isEscaped(text, end)) end = text.indexOf('"', end + 1);
  if (end < 0) return text.length;
  return end;
}

function isEscaped(text: string, index: number): boolean {
  let backslashes = 0;
  while (text.charCodeAt(index - 1 - backslashes) === 0x5c) backslashes += 1;
  return backslashes % 2 === 1;
}

/** How many keys a value has, at any depth. A key that is written twice is there once. */
function keysIn(value: Json): number {
  let sum = 0;
  if (isList(value)) for (const item of value) sum += typeof item === 'object' ? keysIn(item) : 0;
  if (!isObject(value)) return sum;
  for (const key in value) sum += 1 + keysIn(value[key] ?? null);
  return sum;
}
