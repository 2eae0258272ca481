import { z } from 'zod';
import { keyOf } from '../core/entry/entry.ts';
import { type Column, cellIn, columnOf } from '../core/listing/column.ts';
import { mayTell, mostTelling } from '../core/listing/telling.ts';
import { valueIn } from '../core/model/languages.ts';
import type { Field, Model } from '../core/model/link.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { titleRead } from '../core/model/traversal.ts';
import type { Json } from '../core/plain/json.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { eachEntry } from '../passes/pass.ts';
import { walk } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore } from '../stores/store.ts';
import type { Call } from './call.ts';
import { columnNamed, orderOf, type Row, Rows, sortKey } from './list/rows.ts';
import { type Selection, selected } from './list/selection.ts';
import { readIn, reading } from './openForCall.ts';
import { head, resultVersion } from './result.ts';
import { sayValue, type ValueContext } from './show/sayValue.ts';

/** The result of `lumbrik list`. */
export const ListResult = z.strictObject({
  ...head('list'),
  /** The type, term or condition that was requested; everything where it is not given. */
  about: z.string().optional(),
  where: z.string().optional(),
  columns: z.array(
    z.strictObject({
      name: z.string(),
      label: z.string(),
      isNumber: z.boolean(),
      /** The paths whose keys are columns of their own in a table. */
      opened: z.array(z.string()),
    }),
  ),
  /** Whether the columns were requested; else the most telling come first. */
  areChosen: z.boolean(),
  /** The number of matching entries, and of all that were considered. */
  entries: z.int(),
  of: z.int(),
  rows: z.array(
    z.strictObject({
      entry: z.string(),
      /** The value in each column, by its name; columns without a value are absent. */
      values: z.record(z.string(), JsonValue),
      /** The same in words: references by title, terms by label. */
      says: z.record(z.string(), z.string()),
    }),
  ),
  unreadable: z.int(),
});
export type ListResult = z.output<typeof ListResult>;

/** The options of a list. */
export interface ListCall {
  /** A type, a term with its taxonomy, or a condition in CEL. */
  readonly about?: string | undefined;
  readonly where?: string | undefined;
  /** Names of columns. */
  readonly columns?: readonly string[] | undefined;
  /** Names of columns that rows are ordered by, with `desc` behind those that go down. */
  readonly sort?: readonly string[] | undefined;
  readonly language?: string | undefined;
  /** So many rows are reported; all of them where it is not given. */
  readonly limit?: number | undefined;
  /** Whether every field is a column where none is named: for other programs. */
  readonly isExact: boolean;
  /** Whether values are stated in words as well. */
  readonly inWords: boolean;
}

/** Lists entries in rows and columns. */
export async function list(call: Call, request: ListCall): Promise<ListResult> {
  const workspace = await reading(call);
  const model = readIn(workspace, request.language);
  const selection = selected(request, model);
  const columns = columnsOf(request, selection);
  const order = orderOf(request.sort ?? [], selection.types, model);
  const rows = new Rows(order, request.limit);
  const looked = [...new Map([...columns, ...order.columns].map((column) => [column.name, column])).values()];
  const pointed = request.inWords ? targetsOf(columns, selection, model) : new Set<string>();
  const { titles, ...counted } = await gather(openStore(workspace), call, {
    model,
    selection,
    columns: looked,
    rows,
    pointed,
  });
  const keptRows = rows.done();
  const shown = request.columns || request.isExact ? columns : telling(columns, keptRows, request, selection);
  const describe = saying(model, titles);

  return {
    lumbrik: resultVersion,
    command: 'list',
    ...(request.about === undefined ? {} : { about: request.about }),
    ...(request.where === undefined ? {} : { where: request.where }),
    columns: shown.map(({ name, label, isNumber, opened }) => ({ name, label, isNumber, opened: [...opened] })),
    areChosen: request.columns !== undefined,
    ...counted,
    rows: keptRows.map(({ entry, cells }) => {
      const filled = shown.flatMap((column) => {
        const value = cells.get(column.name);
        if (value === undefined) return [];
        return [{ column, value }];
      });
      return {
        entry: keyOf(entry),
        values: Object.fromEntries(filled.map(({ column, value }) => [column.name, value])),
        says: Object.fromEntries(
          request.inWords
            ? filled.map(({ column, value }) => [column.name, describe(column.fieldIn(entry.type), value)])
            : [],
        ),
      };
    }),
  };
}

/** The columns that are looked at. @throws {Trouble} where one is named that there is not. */
function columnsOf({ columns, isExact }: ListCall, { types }: Selection): readonly Column[] {
  if (columns) return columns.map((name) => columnNamed(name, types));
  if (!isExact) return mayTell(types);
  const names = new Set(['status', ...types.flatMap(({ fields }) => [...fields.keys()])]);
  return [...names].flatMap((name) => columnOf(name, types) ?? []);
}

/** The titles of so many entries are enough for a list that people read. */
const mostTitles = 200_000;

interface Gathering {
  readonly model: Model;
  readonly selection: Selection;
  readonly columns: readonly Column[];
  readonly rows: Rows;
  /** The types whose entries are pointed at, and called something there. */
  readonly pointed: ReadonlySet<string>;
}

interface GatheredRows {
  readonly entries: number;
  readonly of: number;
  readonly unreadable: number;
  /** What entries are called that others may point at, by address. */
  readonly titles: ReadonlyMap<string, string>;
}

/** The types that references in some columns point at. */
const targetsOf = (columns: readonly Column[], { types }: Selection, { context }: Model): ReadonlySet<string> =>
  new Set(
    columns.flatMap((column) =>
      types.flatMap(({ name }) => {
        const field = column.fieldIn(name);
        if (!field) return [];
        return field.kind.pointsAt(field.options).types.flatMap(context.acceptedAs);
      }),
    ),
  );

async function gather(
  store: EntryStore,
  call: Call,
  { model, selection, columns, rows, pointed }: Gathering,
): Promise<GatheredRows> {
  const isAskedFor = await selection.wanting(store);
  const titles = new Map<string, string>();
  let [entries, total, unreadable] = [0, 0, 0];
  const pass = eachEntry({
    see: ({ entry }) => {
      const type = model.types.get(entry.type);
      const title = pointed.has(entry.type) && titles.size < mostTitles ? titleRead(entry, type, model) : undefined;
      if (title !== undefined) titles.set(keyOf(entry), title);
      if (!type || !selection.isOf(entry)) return;

      total += 1;
      if (!isAskedFor(entry)) return;

      entries += 1;
      const fields = fieldsOf(entry, type);
      const cells = new Map<string, Json>();
      for (const column of columns) {
        const value = cellIn(column, entry, { type, fields, model });
        if (value !== undefined && value !== '') cells.set(column.name, value);
      }

      rows.add({ entry: { type: entry.type, id: entry.id }, cells });
    },
    unreadable: () => {
      unreadable += 1;
    },
    finish: () => undefined,
  });
  await walk(store, [pass], call);

  return { entries, of: total, unreadable, titles };
}

/** So many columns are reported at most where nobody names any. */
const mostColumns = 8;

function telling(
  columns: readonly Column[],
  rows: readonly Row[],
  { sort = [] }: ListCall,
  { types, conditions }: Selection,
): readonly Column[] {
  const named = conditions.flatMap((condition) =>
    [...condition.matchAll(/\bentry\.([\p{L}\p{N}_$-]+)/gu)].map(([, name = '']) => name),
  );
  const askedNames = new Set([...named, ...sort.map((key) => sortKey(key).name)]);
  return mostTelling(
    columns,
    rows.map(({ cells }) => cells),
    { types, asked: askedNames, most: mostColumns },
  );
}

/** How values are stated in a list: in the language that is read, with its fall-backs. */
function saying(model: Model, titles: ReadonlyMap<string, string>) {
  const words: ValueContext = { model, titles, isShort: true };
  const [language = 'en'] = model.readingOrder;

  return (field: Field | undefined, value: Json): string => {
    if (!field) return String(value);
    const read = field.common.localized ? valueIn(value, model.readingOrder) : undefined;
    const { localized: _, ...common } = field.common;
    if (read) return sayValue({ ...field, common }, read.value, read.language, words);
    return sayValue(field, value, language, words);
  };
}
