import type { FieldDoc } from '../definition/field.ts';
import type { TypeDoc } from '../definition/type.ts';
import { TypeFile } from '../definition/type.ts';
import { compact, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import type { Mistake } from './mistakes.ts';
import type { ParsedFile, Parts } from './parsedDefinition.ts';
import { readField } from './readField.ts';
import { isFieldName, readHead, readRawFields } from './readHead.ts';

/** The content of a type's file, with every mistake in it but those inside fields. */
export function readType(data: JsonObject): ParsedFile {
  const head = readHead(TypeFile, data, 'type', 'a type');
  const { fields, mistakes } = readRawFields(ownValue(data, 'fields'));
  const allMistakes = [...head.mistakes, ...mistakes];
  if (head.name === undefined) return { mistakes: allMistakes };

  const { $schema: _, type: __, fields: ___, extends: base, kits, ...options } = head.options ?? { type: '' };
  const uses = compact({ extends: base, kits });
  return { found: { what: 'type', name: head.name, options, uses, fields }, mistakes: allMistakes };
}

/** Reads what a type's file says below its name, where nothing in it comes from elsewhere. */
export function readTypeParts(data: Json): Parts<TypeDoc> {
  const { found: definition, mistakes } = readType({ ...Object(data), type: 'a' });
  if (definition?.what !== 'type') return { problem: mistakes };

  const inFields: Mistake[] = [];
  const fields: [string, FieldDoc][] = [];

  for (const { name, data, path } of definition.fields) {
    const read = readField(data);
    inFields.push(...read.mistakes.map((mistake) => ({ ...mistake, path: [...path, ...mistake.path] })));
    if (read.field && isFieldName(name)) fields.push([name, read.field]);
  }

  const allMistakes = [...mistakes, ...inFields];

  if (allMistakes.length > 0) return { problem: allMistakes };
  return { value: { ...definition.options, fields: Object.fromEntries(fields) } };
}
