import { renameInCalls, renameInComparisons } from '../cel/names.ts';
import type { FieldDoc } from '../definition/field.ts';
import { beside, celName } from '../definition/fieldName.ts';
import type { Rename } from '../definition/rename.ts';
import type { TypeDoc } from '../definition/type.ts';
import { ownValue } from '../plain/json.ts';
import { linkField } from './link.ts';
import { fieldsInside } from './nestedFields.ts';

/** The type in which an expression stands, among all types. */
export interface Place {
  readonly type: string;
  readonly types: Readonly<Record<string, Pick<TypeDoc, 'fields'>>>;
}

/** The name of a field, or of one inside it, after the field got another name. */
export const renamedPath = (path: string, from: string, to: string): string => {
  if (path === from || path.startsWith(`${from}.`)) return beside(from, to) + path.slice(from.length);
  return path;
};

/** The functions that take texts for what a model calls something. */
const naming = ['lookUp', 'under', 'termLabel'];

/** An expression with the names in its texts renamed. @param targets the types that `target` may have. */
export const renameNamed = (
  source: string,
  renames: readonly Rename[],
  place: Place,
  targets: readonly string[] = [],
): string =>
  renames.reduce((text, rename) => {
    const called = renameInCalls(text, naming, ({ call, index, text, first }) => {
      if (call === 'lookUp') return index === 1 ? renamedField(text, rename) : text;
      if (call === 'under') return renamedTerm(text, rename);
      if (index === 0) return rename.what === 'taxonomy' && text === rename.from ? rename.to : text;
      return renamedTerm(`${first}:${text}`, rename).replace(/^[^:]*:/u, '');
    });
    if (!called.includes(JSON.stringify(rename.from).slice(1, -1))) return called;
    return renameInComparisons(called, (text, path) => renamedValue(text, path, { ...place, targets }, rename));
  }, source);

/** A text that an expression compares with a value, as values of that field are after a rename. */
function renamedValue(
  text: string,
  [variable, ...names]: readonly string[],
  { type, types, targets }: Place & { readonly targets: readonly string[] },
  rename: Rename,
): string {
  const holders = variable === 'target' ? targets : [type];
  for (const holder of holders) {
    const field = fieldOnWay(ownValue(types, holder)?.fields ?? {}, names);
    const linked = field && linkField({ type: holder }, field.name, field.definition);
    if (linked) {
      const { kind, options } = linked;
      const renamed = kind.renameInValue?.(text, options, rename, { type: holder, field: field.name });
      if (renamed !== undefined && renamed !== text) return String(renamed);
    } else if (rename.what === 'type' && names.join('.') === 'type' && text === rename.from) return rename.to;
  }

  return text;
}

/** The field to which names lead as expressions write them, with its name. */
function fieldOnWay(
  fields: TypeDoc['fields'],
  [first = '', ...inner]: readonly string[],
  above = '',
): { readonly name: string; readonly definition: FieldDoc } | undefined {
  const [key, definition] = Object.entries(fields).find(([name]) => celName(name) === first) ?? [];
  if (key === undefined || !definition) return undefined;
  const name = `${above}${key}`;
  if (inner.length === 0) return { name, definition };
  return fieldOnWay(fieldsInside(definition), inner, `${name}.`);
}

/** The address of a field after a rename. */
function renamedField(address: string, rename: Rename): string {
  const [type = '', ...field] = address.split('.');
  if (rename.what === 'type' && type === rename.from) return [rename.to, ...field].join('.');
  if (rename.what === 'field' && type === rename.type)
    return `${type}.${renamedPath(field.join('.'), rename.from, rename.to)}`;
  return address;
}

/** The address of a term after a rename: `region:north/skerries`. */
function renamedTerm(address: string, rename: Rename): string {
  const [taxonomy = '', terms = ''] = address.split(/:(.*)/su);
  if (rename.what === 'taxonomy' && taxonomy === rename.from) return `${rename.to}:${terms}`;
  if (rename.what !== 'term' || taxonomy !== rename.taxonomy) return address;
  return `${taxonomy}:${terms
    .split('/')
    .map((term) => (term === rename.from ? rename.to : term))
    .join('/')}`;
}
