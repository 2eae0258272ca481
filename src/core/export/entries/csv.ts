import { keysOfFacts } from '../../definition/builtIn.ts';
import { isEmpty } from '../../entry/entry.ts';
import { type CellKind, cellKind, cellKindsOf, exactCell } from '../../model/cells.ts';
import type { Field, Type } from '../../model/link.ts';
import { cellOf, isFormula, listSeparator, written } from '../../plain/cells.ts';
import { at, compact, isObject, type Json, type JsonObject, ownValue, type Path, put } from '../../plain/json.ts';
import type { Exported } from '../formats/define.ts';
import type { EntryFormat } from './define.ts';

/** A table for each type. */
export const csv: EntryFormat = {
  name: 'csv',
  about: 'CSV (RFC 4180), a table for each type; what has parts in several columns, or as JSON',
  isFolder: ({ types }) => types.length !== 1,
  writing: (exported) => {
    const { types, guard = false } = exported;
    const isOne = types.length === 1;
    const tables = new Map(types.map((type) => [type.name, columnsOf(type, exported)]));
    const held = new Map([...tables].map(([type, columns]) => [type, heldBy(columns)]));
    const begun = new Set<string>();

    const head = (type: string, columns: readonly Column[]): string => {
      if (begun.has(type)) return '';
      begun.add(type);
      return line(columns.map(({ name }) => name));
    };

    return {
      put: ({ type, id, values }, lost, warn) => {
        const columns = tables.get(type) ?? [];
        const cells = columns.map(({ name, path, kind }) => {
          const value = path === undefined ? id : at(values, path);
          const cell = exactCell(value, kind, listSeparator);
          if (cell === undefined) lost(`${name}: ${whyInexact(value)}`);
          const text = cell ?? cellOf(value, listSeparator);
          if (!isFormula(text)) return text;

          if (guard) lost(`${name} begins with a sign of a formula, and has an apostrophe before it`);
          else warn(`${name} begins with ${text.charAt(0)}`);
          if (!guard) return text;
          return `'${text}`;
        });
        for (const loss of unheld(values, held.get(type) ?? {})) lost(loss);

        return [
          compact({ entry: isOne ? undefined : { type }, ending: '.csv', text: head(type, columns) + line(cells) }),
        ];
      },
      finish: () =>
        // Of a type without entries there is a table as well.
        types.map(({ name }) =>
          compact({
            entry: isOne ? undefined : { type: name },
            ending: '.csv',
            text: head(name, tables.get(name) ?? []),
          }),
        ),
    };
  },
};

interface Column {
  readonly name: string;
  /** Where its values stand; absent of the identifier. */
  readonly path?: Path;
  readonly kind: CellKind;
}

/** Why no cell stands for a value. */
function whyInexact(value: Json | undefined): string {
  if (value === '' || value === null) return 'an empty value comes back as none';
  if (typeof value === 'string') return 'a text comes back as the number, the yes or no or the list that it looks like';
  return 'a value of another kind than the field comes back as a text';
}

const line = (cells: readonly string[]): string => `${cells.map((cell) => written(cell, ',', false)).join(',')}\n`;

function columnsOf(type: Type, { factKeys, model, reading }: Exported): readonly Column[] {
  const facts = keysOfFacts(factKeys).filter(([, key]) => !type.fields.has(key));
  const [id] = facts.find(([fact]) => fact === 'id')?.slice(1) ?? ['id'];
  const otherFacts = facts.filter(([fact]) => fact !== 'id' && fact !== 'type');
  const languages = reading?.order ? [] : model.definition.languages;
  const kinds = cellKindsOf(model);

  return [
    { name: id ?? 'id' },
    ...otherFacts.map(([, key]) => ({ name: key, path: [key] })),
    ...[...type.fields.values()].flatMap((field) => columnsOfField(field, [field.name], languages)),
  ].map((column) => ({ ...column, kind: cellKind(kinds, type.name, column.name) }));
}

/** A column for each language, and for each field of an object that stands once. */
function columnsOfField(
  { common, kind, fields }: Field,
  path: readonly string[],
  languages: readonly string[],
): readonly Omit<Column, 'kind'>[] {
  const isGroup = kind.nests && !common.many && !common.localized && fields.size > 0;
  if (isGroup) return [...fields].flatMap(([key, field]) => columnsOfField(field, [...path, key], languages));
  if (common.localized && !kind.nests && !kind.maps && languages.length > 0)
    return languages.map((language) => ({ name: [...path, language].join('.'), path: [...path, language] }));
  return [{ name: path.join('.'), path }];
}

/** What columns hold, key by key: all that stands under one, or some of the keys in it. */
interface Held {
  readonly [key: string]: Held | true;
}

function heldBy(columns: readonly Column[]): Held {
  const held: Record<string, Held | true> = {};
  for (const { path } of columns) {
    if (path === undefined) continue;

    let holder = held;
    for (const key of path.slice(0, -1)) {
      const inner = ownValue(holder, String(key));
      const next: Record<string, Held | true> = typeof inner === 'object' ? { ...inner } : {};
      put(holder, String(key), next);
      holder = next;
    }

    put(holder, String(path.at(-1)), true as const);
  }

  return held;
}

/** What no column holds, by its place. */
function unheld(values: JsonObject, held: Held, above = ''): readonly string[] {
  let names: string[] | undefined;
  for (const key in values) {
    const inner = ownValue(held, key);
    if (inner === true) continue;

    const value = values[key];
    const place = above + key;
    names ??= [];

    if (isEmpty(value)) names.push(`${place}: ${whyInexact(null)}`);
    else if (inner === undefined) names.push(`${place} is in no column`);
    else if (isObject(value)) names.push(...unheld(value, inner, `${place}.`));
    else names.push(`${place} has no keys, and its columns are of such`);
  }

  return names ?? [];
}
