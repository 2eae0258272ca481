import { type Entry, keyOf } from '../../core/entry/entry.ts';
import { type Column, columnOf, rankIn } from '../../core/listing/column.ts';
import type { Model, Type } from '../../core/model/link.ts';
import { fieldsWithin } from '../../core/model/nestedFields.ts';
import { compareText } from '../../core/plain/compareText.ts';
import type { Json } from '../../core/plain/json.ts';
import { didYouMean } from '../../core/plain/nearest.ts';
import { list as inWords, quote } from '../../core/plain/words.ts';
import { Trouble } from '../../workspace/trouble.ts';

/** A column by its name. @throws {Trouble} where there is none. */
export function columnNamed(name: string, types: readonly Type[]): Column {
  const column = columnOf(name, types);
  if (column) return column;

  const knownFields = new Set(types.flatMap(({ fields }) => fieldsWithin(fields).map((field) => field.name)));
  const ofType = types.length === 1 ? ` of ${types[0]?.name}` : '';
  throw new Trouble('no-column', `${quote(name)} is no field${ofType}, and nothing that every entry has`, {
    mend: didYouMean(name, knownFields) ?? `Name some of ${inWords([...knownFields].slice(0, 8), 'or')}.`,
  });
}

/** How rows are ordered. */
export interface Order {
  readonly columns: readonly Column[];
  readonly compare: (a: Row, b: Row) => number;
  readonly isSorted: boolean;
}

/** @throws {Trouble} where a column is named that there is not. */
export function orderOf(sort: readonly string[], types: readonly Type[], model: Model): Order {
  const collator = new Intl.Collator(model.readingOrder[0], { numeric: true });
  const keys = sort.map((text) => {
    const { name, isDown } = sortKey(text);
    return { isDown, column: columnNamed(name, types) };
  });

  return {
    isSorted: keys.length > 0,
    columns: keys.map(({ column }) => column),
    compare: (a, b) => {
      for (const { column, isDown } of keys) {
        const [first, other] = [a, b].map(({ entry, cells }) =>
          rankIn(column.fieldIn(entry.type), cells.get(column.name), model),
        );
        // What has no value stands last, whichever way.
        if (first === undefined || other === undefined) {
          if (first !== other) return first === undefined ? 1 : -1;
          continue;
        }

        const order = compareRanks(first, other, collator);
        if (order !== 0) return isDown ? -order : order;
      }

      return compareText(keyOf(a.entry), keyOf(b.entry));
    },
  };
}

/** Numbers by size and before texts; texts as people who read that language order them. */
function compareRanks(first: number | string, other: number | string, collator: Intl.Collator): number {
  if (typeof first === 'number' && typeof other === 'number') return first - other;
  if (typeof first === 'string' && typeof other === 'string') return collator.compare(first, other);
  if (typeof first !== 'number') return 1;
  return -1;
}

/** `range desc` and `-range` go down. */
export function sortKey(text: string): { readonly name: string; readonly isDown: boolean } {
  const [, minus = '', name = text, way = ''] = /^(-?)(.*?)(?:\s+(asc|desc))?$/iu.exec(text) ?? [];
  return { name, isDown: minus === '-' || way.toLowerCase() === 'desc' };
}

/** An entry with its cells, by column. */
export interface Row {
  readonly entry: Pick<Entry, 'type' | 'id'>;
  readonly cells: ReadonlyMap<string, Json>;
}

/** Keeps the first rows in an order: of many, no more than are reported. */
export class Rows {
  readonly #order: Order;
  readonly #limit: number;
  #rows: Row[] = [];

  constructor(order: Order, limit: number | undefined) {
    this.#order = order;
    this.#limit = limit ?? Number.POSITIVE_INFINITY;
  }

  add(row: Row): void {
    if (!this.#order.isSorted && this.#rows.length >= this.#limit) return;
    this.#rows.push(row);
    if (this.#rows.length > 2 * this.#limit + 1000) this.#rows = this.#first();
  }

  #first(): Row[] {
    return this.#rows.sort(this.#order.compare).slice(0, this.#limit);
  }

  done(): readonly Row[] {
    if (this.#order.isSorted) return this.#first();
    return this.#rows;
  }
}
