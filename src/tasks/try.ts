import { z } from 'zod';
import { byType } from '../core/check/lookedUpValues.ts';
import { isPublicAt } from '../core/check/visibility.ts';
import { parseAddress } from '../core/definition/address.ts';
import { type Entry, keyOf, statusOf } from '../core/entry/entry.ts';
import type { Type } from '../core/model/link.ts';
import { fieldsOf } from '../core/model/ownFields.ts';
import { compact } from '../core/plain/json.ts';
import { JsonValue } from '../core/plain/jsonValue.ts';
import { quote } from '../core/plain/words.ts';
import { type EntryView, type Expression, ExpressionFailed, expressionsOver } from '../core/rules/expression.ts';
import type { Look } from '../core/rules/lookUp.ts';
import { readLookUps } from '../passes/lookUps.ts';
import { entriesOf } from '../passes/walk.ts';
import { openStore } from '../stores/open.ts';
import type { EntryStore } from '../stores/store.ts';
import { timestamp } from '../workspace/clock.ts';
import type { Workspace } from '../workspace/open.ts';
import { Trouble } from '../workspace/trouble.ts';
import type { Call } from './call.ts';
import { inAnyForm } from './normalForms.ts';
import { reading } from './openForCall.ts';
import { head, resultVersion } from './result.ts';
import { noEntry } from './show/entry.ts';
import { typeNamed } from './show/type.ts';

const Row = z.strictObject({
  /** The entry that it was computed for; absent where it needs none. */
  entry: z.string().optional(),
  value: JsonValue.optional(),
  /** Why it cannot be computed. */
  failed: z.string().optional(),
});

/** The result of `lumbrik try`. */
export const TryResult = z.strictObject({
  ...head('try'),
  expression: z.string(),
  /** Whether it could be computed for each of them. */
  ok: z.boolean(),
  rows: z.array(Row),
  /** The types that have more entries than were tried. */
  more: z.array(z.string()),
});
export type TryResult = z.output<typeof TryResult>;

/** So many entries of a type are tried where none is named. */
export const usual = 10;

/** Computes an expression: for some entries, for the first of some types (0 as the limit: all), or without any. */
export async function tryExpression(
  call: Call,
  source: string,
  names: readonly string[],
  limit = usual,
): Promise<TryResult> {
  const workspace = await reading(call);
  const store = openStore(workspace);
  const rows: TryResult['rows'] = [];
  const more: string[] = [];
  const alone = { ...bare, taxonomies: workspace.model.taxonomies, types: workspace.model.types };
  if (names.length === 0) {
    const expression = compiledOver(alone, source);
    const look = await readLookUps(store, workspace.model, byType(expression.looksUp, workspace.model));
    const { expressionSteps } = workspace.limits;
    rows.push(computed(expression, { type: '', id: '', status: '', fields: {}, expressionSteps, look }));
  }

  for (const name of names) {
    const { type, entries, isPart } = await inAnyForm(name, (form) =>
      entriesNamed(workspace, store, form, limit || Number.POSITIVE_INFINITY),
    );
    const expression = compiledOver(type, source);
    const look = await readLookUps(store, workspace.model, byType(expression.looksUp, workspace.model));
    for (const entry of entries) rows.push(computed(expression, viewOf(entry, type, look), keyOf(entry)));
    if (isPart) more.push(type.name);
  }

  return {
    lumbrik: resultVersion,
    command: 'try',
    expression: source,
    ok: rows.every(({ failed }) => failed === undefined),
    rows,
    more,
  };
}

/** A type without fields, for what needs no entry. */
const bare: Type = {
  name: '',
  definition: { fields: {} },
  label: { one: '', many: '' },
  fields: new Map(),
  taxonomies: new Map(),
  types: new Map(),
  arriving: () => [],
  body: undefined,
};

function compiledOver(type: Type, source: string): Expression {
  const compiled = expressionsOver(type)(source);
  if (!('problem' in compiled)) return compiled;
  const { offset, problem, mend } = compiled;
  throw new Trouble('malformed-expression', `in ${quote(source, 60)}, at character ${offset + 1}: ${problem}`, {
    mend,
  });
}

async function entriesNamed(
  workspace: Workspace,
  store: EntryStore,
  name: string,
  limit: number,
): Promise<{ readonly type: Type; readonly entries: readonly Entry[]; readonly isPart: boolean }> {
  const address = parseAddress(name);
  if (address?.what === 'entry') {
    const stored = await store.get(address);
    if (!stored) throw await noEntry(workspace, store, address.type, address.id);
    return { type: typeNamed(workspace, address.type), entries: [stored.entry], isPart: false };
  }
  if (address?.what !== 'type')
    throw new Trouble('malformed-address', `“${name}” is no address of an entry or a type`, {
      mend: "Write lumbrik try 'entry.name' lighthouse/skerry-point, or lighthouse for the first of them.",
    });

  const type = typeNamed(workspace, address.type);
  const entries: Entry[] = [];
  for await (const { entry } of entriesOf(store)) {
    if (entry.type !== type.name) continue;
    if (entries.length === limit) return { type, entries, isPart: true };
    entries.push(entry);
  }

  return { type, entries, isPart: false };
}

/** What an expression sees of an entry. */
const viewOf = (entry: Entry, type: Type, look: Look | undefined): EntryView => ({
  type: entry.type,
  id: entry.id,
  status: statusOf(entry),
  isPublic: isPublicAt(entry, timestamp()),
  fields: fieldsOf(entry, type),
  expressionSteps: entry.expressionSteps,
  look,
});

function computed(expression: Expression, view: EntryView, named?: string): TryResult['rows'][number] {
  try {
    return compact({ entry: named, value: expression.evaluate(view) });
  } catch (error) {
    if (!(error instanceof ExpressionFailed)) throw error;
    return compact({ entry: named, failed: error.message });
  }
}
