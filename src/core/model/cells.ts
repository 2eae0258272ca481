import { cellOf } from '../plain/cells.ts';
import { equal, isList, type Json } from '../plain/json.ts';
import type { Field, Model } from './link.ts';
import { fieldsWithin } from './nestedFields.ts';

/** What the text of a cell of a table stands for. A table does not say it; the model does. */
export interface CellKind {
  /** `any` is free JSON: whatever can be read as JSON is JSON. */
  readonly is: 'text' | 'number' | 'boolean' | 'json' | 'any';
  readonly many: boolean;
  /** Whether one value may be alone where a list may stand. */
  readonly orOne?: boolean;
}

/** What cells stand for, by type and by the path of a field: plain data. */
export type CellKinds = Readonly<Record<string, Readonly<Record<string, CellKind>>>>;

/** What the cells of tables stand for under a model. */
export const cellKindsOf = ({ types, context }: Model): CellKinds =>
  Object.fromEntries(
    [...types.values()].map(({ name, fields }) => [
      name,
      Object.fromEntries(fieldsWithin(fields).map((field) => [field.name, cellKindOf(field, context)])),
    ]),
  );

function cellKindOf({ kind, options, common }: Field, context: Model['context']): CellKind {
  const many = common.many !== undefined;
  const number = many && common.many?.orOne ? ({ many, orOne: true } as const) : { many };
  switch (kind.stores(options, context).is) {
    case 'number':
    case 'integer':
      return { is: 'number', ...number };
    case 'boolean':
      return { is: 'boolean', ...number };
    case 'text':
    case 'one of':
      return { is: 'text', ...number };
    case 'anything':
      return { is: 'any', ...number };
    default:
      return { is: 'json', ...number };
  }
}

const text: CellKind = { is: 'text', many: false };

/** What a column stands for: the field of its name, or in one language the field before the last dot. */
export function cellKind(kinds: CellKinds, type: string, column: string): CellKind {
  const fields = kinds[type] ?? {};
  return fields[column] ?? fields[column.slice(0, Math.max(0, column.lastIndexOf('.')))] ?? text;
}

/** The value that a cell stands for; nothing where it is empty. What does not fit is the text that it is. */
export function cellValue(
  cell: string,
  { is: form, many, orOne = false }: CellKind,
  separator: string,
): Json | undefined {
  if (cell === '') return undefined;

  const parsedCell = /^[[{]/u.test(cell) || form === 'any' ? parsed(cell) : undefined;
  if (parsedCell !== undefined && (many || form === 'json' || form === 'any')) return parsedCell;
  if (!many) return single(cell, form);

  const items = cell
    .split(separator.trim() === '' ? separator : separator.trim())
    .map((item) => item.trim())
    .filter((item) => item !== '')
    .map((item) => single(item, form));
  const [only] = items;

  if (orOne && items.length === 1 && only !== undefined) return only;
  return items;
}

function single(cell: string, form: CellKind['is']): Json {
  if (form === 'number' && /^[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?$/iu.test(cell)) return Number(cell);
  if (form === 'boolean' && /^(?:true|false)$/iu.test(cell)) return cell.toLowerCase() === 'true';
  return cell;
}

function parsed(cell: string): Json | undefined {
  try {
    return JSON.parse(cell) as Json;
  } catch {
    return undefined;
  }
}

/**
 * The cell that stands for a value: plainly written where that reads back as the value, else as JSON.
 * @returns `undefined` where no cell does.
 */
export function exactCell(value: Json | undefined, kind: CellKind, separator: string): string | undefined {
  if (value === undefined) return '';
  if (kind.is === 'text' && !kind.many && typeof value === 'string') return value === '' ? undefined : value;
  // Of one alone that may be a list, the plain text is the one.
  const isListOfOne = isList(value) && value.length === 1 && kind.orOne;
  const ways = [isListOfOne ? undefined : cellOf(value, separator), JSON.stringify(value)];
  return ways.find((cell) => cell !== undefined && equal(cellValue(cell, kind, separator), value));
}
