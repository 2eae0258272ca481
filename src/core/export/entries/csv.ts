import { keysOfFacts } from '../../definition/builtIn.ts';
import { isEmpty } from '../../entry/entry.ts';
import type { Field, Type } from '../../model/link.ts';
import { cellOf, listSeparator, written } from '../../plain/cells.ts';
import { at, isObject, type Json, type JsonObject, type Path } from '../../plain/json.ts';
import type { Exported } from '../formats/define.ts';
import type { EntryFormat } from './define.ts';

/** A table for each type. */
export const csv: EntryFormat = {
  name: 'csv',
  about: 'CSV (RFC 4180), a table for each type; what has parts in columns of its own, or as JSON',
  isFolder: ({ types }) => types.length !== 1,
  writing: (exported) => {
    const { types } = exported;
    const isOne = types.length === 1;
    const tables = new Map(types.map((type) => [type.name, columnsOf(type, exported)]));
    const begun = new Set<string>();
    const head = (type: string, columns: readonly Column[]): string => {
      if (begun.has(type)) return '';
      begun.add(type);
      return line(columns.map(({ name }) => name));
    };
    return {
      put: ({ type, id, values }, lost) => {
        const columns = tables.get(type) ?? [];
        const cells = columns.map(({ path }) => cellOf(path === undefined ? id : at(values, path), listSeparator));
        for (const says of unheld(values, columns)) lost(says);
        return [{ ...(isOne ? {} : { of: { type } }), ending: '.csv', text: head(type, columns) + line(cells) }];
      },
      finish: () =>
        // Of a type without entries there is a table as well.
        types.map(({ name }) => ({
          ...(isOne ? {} : { of: { type: name } }),
          ending: '.csv',
          text: head(name, tables.get(name) ?? []),
        })),
    };
  },
};

interface Column {
  readonly name: string;
  /** Where its values stand; absent of the identifier. */
  readonly path?: Path;
}

const line = (cells: readonly string[]): string => `${cells.map((cell) => written(cell, ',', false)).join(',')}\n`;

function columnsOf(type: Type, { storeKeys, model, reading }: Exported): readonly Column[] {
  const facts = keysOfFacts(storeKeys).filter(([, key]) => !type.fields.has(key));
  const [id] = facts.find(([fact]) => fact === 'id')?.slice(1) ?? ['id'];
  const others = facts.filter(([fact]) => fact !== 'id' && fact !== 'type');
  const languages = reading?.order ? [] : model.definition.languages;
  return [
    { name: id ?? 'id' },
    ...others.map(([, key]) => ({ name: key, path: [key] })),
    ...[...type.fields.values()].flatMap((field) => columnsOfField(field, [field.name], languages)),
  ];
}

/** A column for each language, and for each field of an object that stands once. */
function columnsOfField(
  { common, kind, fields }: Field,
  path: readonly string[],
  languages: readonly string[],
): readonly Column[] {
  const isGroup = kind.nests && !common.many && !common.localized && fields.size > 0;
  if (isGroup) return [...fields].flatMap(([key, one]) => columnsOfField(one, [...path, key], languages));
  if (common.localized && !kind.nests && !kind.maps && languages.length > 0)
    return languages.map((language) => ({ name: [...path, language].join('.'), path: [...path, language] }));
  return [{ name: path.join('.'), path }];
}

/** What no column holds, by its place. */
function unheld(values: JsonObject, columns: readonly Column[]): readonly string[] {
  const held = new Set(columns.flatMap(({ path }) => (path === undefined ? [] : [JSON.stringify(path)])));
  const above = new Set(
    columns.flatMap(({ path = [] }) => path.slice(0, -1).map((_, index) => JSON.stringify(path.slice(0, index + 1)))),
  );
  const found: string[] = [];
  const look = (value: Json, path: Path): void => {
    const own = JSON.stringify(path);
    if (held.has(own) || isEmpty(value)) return;
    if (path.length > 0 && !above.has(own)) found.push(`${path.join('.')} is in no column`);
    else if (!isObject(value)) found.push(`${path.join('.')} has no keys, and its columns are of such`);
    else for (const [key, one] of Object.entries(value)) look(one, [...path, key]);
  };
  look(values, []);
  return found;
}
