import { type FactKeys, noFactKeys } from '../definition/builtIn.ts';
import { NewEntries } from '../definition/earlierForm.ts';
import type { FieldDoc } from '../definition/field.ts';
import type { TypeDoc } from '../definition/type.ts';
import { TypeFile } from '../definition/type.ts';
import { compact, type Json, type JsonObject, ownValue } from '../plain/json.ts';
import { type Mistake, parseWith } from './mistakes.ts';
import type { ParsedFile, Parts } from './parsedDefinition.ts';
import { readField } from './readField.ts';
import { isFieldName, mistakeInFieldName, readHead, readRawFields } from './readHead.ts';

/** The content of a type's file, with every mistake in it but those inside fields. */
export function readType(data: JsonObject, factKeys: FactKeys): ParsedFile {
  const head = readHead(TypeFile, data, 'type', 'a type');
  const { fields, mistakes } = readRawFields(ownValue(data, 'fields'), mistakeInFieldName(factKeys));
  const allMistakes = [...head.mistakes.flatMap((mistake) => withPresentPlace(mistake, data)), ...mistakes];
  if (head.name === undefined) return { mistakes: allMistakes };

  const { $schema: _, type: __, fields: ___, extends: base, kits, ...options } = head.options ?? { type: '' };
  const uses = compact({ extends: base, kits });
  return { found: { what: 'type', name: head.name, options, uses, fields }, mistakes: allMistakes };
}

/** What is wrong inside a key of earlier models, where its settings cannot be read; else where they are now. */
function withPresentPlace(mistake: Mistake, data: JsonObject): readonly Mistake[] {
  const [key] = mistake.path;
  if (key !== 'newEntries' || mistake.path.length > 1) return [mistake];

  const read = parseWith(NewEntries, data.newEntries ?? null, `\`${key}\``);
  if ('problem' in read)
    return read.problem.map((inner) => ({
      ...inner,
      path: [key, ...inner.path],
      mend: `${inner.mend} Then run lumbrik upgrade.`,
    }));
  return [
    {
      ...mistake,
      says: '`newEntries` is a key of earlier models',
      mend: 'Run lumbrik upgrade. It puts the status into `builtIn: { status: { default: … } }`, `versions` and `byline` into the type, and `required` into `previews`.',
    },
  ];
}

/**
 * Reads what a type's file says below its name, where nothing in it comes from elsewhere. No key is reserved: a step of a
 * migration makes the type, and the model that it leads to is checked as a whole.
 */
export function readTypeParts(data: Json): Parts<TypeDoc> {
  const { found: definition, mistakes } = readType({ ...Object(data), type: 'a' }, noFactKeys);
  if (definition?.what !== 'type') return { problem: mistakes };

  const inFields: Mistake[] = [];
  const fields: [string, FieldDoc][] = [];

  for (const { name, data, path } of definition.fields) {
    const read = readField(data);
    inFields.push(...read.mistakes.map((mistake) => ({ ...mistake, path: [...path, ...mistake.path] })));
    if (read.field && isFieldName(name, noFactKeys)) fields.push([name, read.field]);
  }

  const allMistakes = [...mistakes, ...inFields];

  if (allMistakes.length > 0) return { problem: allMistakes };
  return { value: { ...definition.options, fields: Object.fromEntries(fields) } };
}
